using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Instruments;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Meters;
using Zoltric.Instruments.Watching;
using Zoltric.Store;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Instruments;

/// <summary>
/// One figure of a job watched for minutes to hours. The dial is never turned from here. What has been seen is kept as a capture of the job
/// as it goes, so that a cable, a power cut or a closed window loses no more than the last part.
/// </summary>
public sealed class WatchSession : IAsyncDisposable
{
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);

    /// <summary>It is kept again when so much more has come, as a share of what there is, and at least so many figures.</summary>
    private const int KeptAgainPart = 10,
        KeptAgainLeast = 600;

    private readonly long _job;
    private readonly InstrumentAddress _address;
    private readonly InstrumentAddress? _supplyAddress;
    private readonly CaptureStore _captures;
    private readonly TimeProvider _clock;
    private readonly double _speed;
    private readonly MeterClass _class;
    private readonly CancellationTokenSource _stop = new();
    private readonly Lock _gate = new();
    private readonly Screens<WatchShown> _screens = new(WatchShown.Nothing);
    private readonly LongWatch _watch;
    private readonly long _began;
    private readonly Task _running;
    private int _keptAt;

    /// <param name="addresses">Of the meter, and of a second one on the supply; null for none.</param>
    /// <param name="asleepAfter">s that the last module of the sheet takes to fall asleep; null where none does.</param>
    /// <param name="speed">How many times faster than the clock time goes: 1, but for a machine that is not there.</param>
    public WatchSession(
        long job,
        string who,
        WatchPlan plan,
        (InstrumentAddress Meter, InstrumentAddress? Supply) addresses,
        (double Seconds, string Names)? asleepAfter,
        MeterClass meterClass,
        CaptureStore captures,
        TimeProvider clock,
        double speed = 1
    )
    {
        ArgumentNullException.ThrowIfNull(plan);
        (_job, Who, Plan, _captures, _clock, _speed, _class) = (job, who, plan, captures, clock, speed, meterClass);
        (_address, _supplyAddress) = addresses;
        AsleepAfter = asleepAfter;
        _watch = new LongWatch(plan.On, plan.Unit);
        _began = clock.GetTimestamp();
        _running = Task.Run(Run);
    }

    public string Who { get; }
    public WatchPlan Plan { get; }
    public string Address => _address.ToString()!;
    public string? SupplyAddress => _supplyAddress?.ToString();
    public string Meter { get; private set; } = "";
    public (double Seconds, string Names)? AsleepAfter { get; }
    public WatchShown Shown => _screens.Shown;
    public bool Ended => _running.IsCompleted;

    /// <summary>The capture it is kept as; null before the first time.</summary>
    public long? Capture { get; private set; }

    public IAsyncEnumerable<WatchShown> Watch(CancellationToken gone) => _screens.Watch(gone);

    /// <summary>s from the beginning, as the machine has them.</summary>
    private double Now => _clock.GetElapsedTime(_began).TotalSeconds * _speed;

    public void Mark(string what, string setup, bool wakes, bool putsBack = false)
    {
        lock (_gate)
            _watch.Mark(new WatchMark(Now, what, setup, wakes) { PutsBack = putsBack });
    }

    /// <summary>What has been seen so far.</summary>
    public T Read<T>(Func<LongWatch, T> read)
    {
        ArgumentNullException.ThrowIfNull(read);
        lock (_gate)
            return read(_watch);
    }

    private async Task Run()
    {
        ScpiMeter? meter = null,
            supply = null;
        try
        {
            while (!_stop.IsCancellationRequested)
            {
                try
                {
                    meter ??= await ScpiMeter.Open(await _address.Open(_stop.Token), _stop.Token);
                    Meter = meter.Name;
                    if (_supplyAddress is not null)
                        supply ??= await ScpiMeter.Open(await _supplyAddress.Open(_stop.Token), _stop.Token);
                    if (meter.Function is not { } dial || !Plan.IsReadOn(dial))
                    {
                        var stands = meter.Function?.Spoken() ?? "something else";
                        var turn = $"The meter stands on {stands}. Turn its dial to {Plan.Dial} by hand, tips off first.";
                        Show(double.NaN, null, "dial", turn, false);
                        await meter.DisposeAsync();
                        meter = null;
                        await Task.Delay(Again, _clock, _stop.Token);
                        continue;
                    }
                    var sample = await meter.Read(_stop.Token);
                    var volts = supply is null ? null : (double?)(await supply.Read(_stop.Token)).Value;
                    Take(sample.Value * Plan.Per, volts);
                    await KeepNowAndThen();
                }
                catch (InstrumentException e)
                {
                    Show(double.NaN, null, "trouble", $"{e.Message} What was seen so far is kept; it is called again.", false);
                    await Close(meter);
                    await Close(supply);
                    (meter, supply) = (null, null);
                    await Task.Delay(Again, _clock, _stop.Token);
                }
            }
        }
        catch (OperationCanceledException) { }
        finally
        {
            await Close(meter);
            await Close(supply);
            await Keep();
            _screens.End();
        }
    }

    private static async ValueTask Close(ScpiMeter? meter)
    {
        if (meter is not null)
            await meter.DisposeAsync();
    }

    private void Take(double value, double? volts)
    {
        bool jumped;
        lock (_gate)
        {
            var before = _watch.Now;
            jumped =
                double.IsInfinity(before) != double.IsInfinity(value)
                || Math.Abs(value - before) > 2 * _class.Band(Math.Max(Math.Abs(before), Math.Abs(value)), Plan.Test.Probe.Dimension);
            _watch.Add(Now, value, volts);
        }
        Show(value, volts, "watching", Waiting(), jumped);
    }

    /// <summary>How long it is until everything sleeps, by the sheet.</summary>
    private string Waiting()
    {
        if (Plan.Test.Probe.Dimension != Dimension.Ampere)
            return "Watched. A tone at every change. Move one place, and say which below.";
        if (AsleepAfter is not { } asleep)
            return "No module of this sheet is said to sleep. Wait until the figure has stood for ten minutes.";
        var drawn = Math.Abs(Read(w => w.Now));
        var left = asleep.Seconds - (Now - Read(w => w.AwakeSince));
        return left > 0
            ? $"Leave it alone: {asleep.Names} sleeps in {Words.Long(left)}, by the sheet."
            : $"Everything sleeps, by the sheet; {Figure(drawn)} is drawn, {Plan.Allowed.By} {Figure(Plan.Allowed.Amps)}."
                + (drawn <= Plan.Allowed.Amps ? " That is within it." : " Now fuse after fuse.");
    }

    private void Show(double value, double? volts, string stage, string say, bool jumped)
    {
        var (spread, marks, at) = Read(w => (Spread(w), w.Marks.Count, Now));
        _screens.Show(
            new WatchShown(
                at,
                double.IsFinite(value) ? value : null,
                double.IsNaN(value) ? "" : Figure(value),
                volts,
                stage,
                say,
                spread,
                jumped,
                marks,
                _clock.GetUtcNow().ToUnixTimeMilliseconds()
            )
        );
    }

    /// <summary>A figure of the watch as it is read.</summary>
    public string Figure(double value) =>
        double.IsNaN(value) ? "–"
        : double.IsInfinity(value) ? "OL"
        : MeterReading.Format(value, Plan.Test.Probe.Dimension);

    private string Spread(LongWatch w) =>
        w.Count == 0
            ? ""
            : $"least {Figure(w.Least)} · mean {Figure(w.Mean)} · most {Figure(w.Most)} · {Words.Long(w.Length)}"
                + (double.IsFinite(w.Supply) ? $" · supply {MeterReading.Format(w.Supply, Dimension.Volt)}" : "");

    private async Task KeepNowAndThen()
    {
        var count = Read(w => w.Count);
        if (count - _keptAt >= Math.Max(KeptAgainLeast, _keptAt / KeptAgainPart))
            await Keep();
    }

    private async Task Keep()
    {
        var (capture, marks, length, count) = Read(w => (w.ToCapture(Plan.Per, Plan.ShownIn), w.Marks.ToList(), w.Length, w.Count));
        if (capture is null)
            return;
        _keptAt = count;
        var said = KeptCapture.Write(
            capture.Channels.Select(
                (c, i) =>
                    i == 0
                        ? new ChannelSaid(c.Name, Plan.On, Plan.Per) { Marks = [.. marks.Select(m => new SaidMark(m.At, m.What))] }
                        : new ChannelSaid(c.Name, "", 1)
            )
        );
        var name = $"Watched, {Words.Long(length)}: {Plan.On}";
        if (Capture is { } id)
            await _captures.Replace(_job, id, name, said, CaptureFile.Write(capture));
        else
            Capture = await _captures.Add(_job, name, Plan.Test.Setup.ToString(), said, CaptureFile.Write(capture), Who);
    }

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        await _running;
        _stop.Dispose();
    }
}
