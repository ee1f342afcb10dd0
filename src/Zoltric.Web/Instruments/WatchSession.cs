using System.Data.Common;
using System.Globalization;
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

/// <summary>What a watch begins with.</summary>
/// <param name="Supply">A second meter, on the supply; null for none.</param>
/// <param name="AsleepAfter">s that the last module of the sheet takes to fall asleep, and its name; null where none does.</param>
/// <param name="Speed">How many times faster than the clock time goes: 1, but for a machine that is not there.</param>
/// <param name="WhyNot">Why nothing more may be kept of the job; null where it may.</param>
/// <param name="Left">Called once the meters are free again.</param>
public sealed record WatchStart(
    long Job,
    string Who,
    WatchPlan Plan,
    InstrumentAddress Meter,
    InstrumentAddress? Supply,
    (double Seconds, string Name)? AsleepAfter,
    MeterClass Class,
    double Speed,
    Func<Task<string?>> WhyNot,
    Action Left
);

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

    /// <summary>How often it is asked whether anything may be kept still.</summary>
    private static readonly TimeSpan AskedEvery = TimeSpan.FromSeconds(2);

    private readonly WatchStart _start;
    private readonly CaptureStore _captures;
    private readonly TimeProvider _clock;
    private readonly CancellationTokenSource _stop = new();
    private readonly Lock _gate = new();
    private readonly Screens<WatchShown> _screens = new(WatchShown.Nothing);
    private readonly LongWatch _watch;
    private readonly long _began;
    private readonly Task _running;
    private int _keptAt;
    private long _asked;

    public WatchSession(WatchStart start, CaptureStore captures, TimeProvider clock)
    {
        ArgumentNullException.ThrowIfNull(start);
        ArgumentNullException.ThrowIfNull(clock);
        (_start, _captures, _clock) = (start, captures, clock);
        _watch = new LongWatch(Plan.On, Plan.Unit);
        _began = _asked = clock.GetTimestamp();
        _running = Task.Run(Run);
    }

    public string Who => _start.Who;
    public WatchPlan Plan => _start.Plan;
    public string Address => _start.Meter.ToString()!;
    public string Meter { get; private set; } = "";
    public WatchShown Shown => _screens.Shown;
    public bool Ended => _running.IsCompleted;

    /// <summary>The capture it is kept as; null before the first time.</summary>
    public long? Capture { get; private set; }

    public IAsyncEnumerable<WatchShown> Watch(CancellationToken gone) => _screens.Watch(gone);

    /// <summary>s from the beginning, as the machine has them.</summary>
    private double Now => _clock.GetElapsedTime(_began).TotalSeconds * _start.Speed;

    /// <param name="on">What the tips lie on from now on; null where they stay.</param>
    public void Mark(string what, string setup, bool wakes, bool putsBack = false, string? on = null)
    {
        lock (_gate)
            _watch.Mark(new WatchMark(Now, what, setup, wakes) { PutsBack = putsBack, On = on });
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
        string? ended = null;
        try
        {
            while (!_stop.IsCancellationRequested)
            {
                if (await WhyNot() is { } why)
                {
                    ended = why;
                    return;
                }
                try
                {
                    meter ??= await ScpiMeter.Open(await _start.Meter.Open(_stop.Token), _stop.Token);
                    Meter = meter.Name;
                    if (_start.Supply is not null)
                        supply ??= await ScpiMeter.Open(await _start.Supply.Open(_stop.Token), _stop.Token);
                    if (meter.Function is not { } dial || !Plan.IsReadOn(dial))
                    {
                        var stands = meter.Function?.Spoken() ?? "something else";
                        var turn = $"The meter stands on {stands}. Turn its dial to {Plan.Dial.Spoken()} by hand, tips off first.";
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
                    // Figures since the dial was last asked for may be of another one.
                    if (meter is not null && !(meter.Function is { } now && Plan.IsReadOn(now)))
                        lock (_gate)
                            _watch.Withdraw(meter.ReadSinceDial);
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
            _start.Left();
            if (ended is not null)
                Show(double.NaN, null, "trouble", $"{ended} What was seen before stands under captures.", false);
            else
                await TryToKeep();
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
                || Math.Abs(value - before) > 2 * _start.Class.Band(Math.Max(Math.Abs(before), Math.Abs(value)), Plan.Test.Probe.Dimension);
            _watch.Add(Now, value, volts);
        }
        Show(value, volts, "watching", Waiting(), jumped);
    }

    /// <summary>How long it is until everything sleeps, by the sheet.</summary>
    private string Waiting()
    {
        if (!Plan.IsDraw)
            return "Watched. A tone at every change. Move one place, and say which below.";
        if (_start.AsleepAfter is not { } asleep)
            return "No module of this sheet is said to sleep. Wait until the figure has stood for ten minutes.";
        var drawn = Math.Abs(Read(w => w.Now));
        var left = asleep.Seconds - (Now - Read(w => w.AwakeSince));
        if (left <= 0 && Plan.Shunts.Count > 0)
            return "Everything sleeps, by the sheet. Across one fuse after another, none pulled; "
                + $"{Plan.Allowed.By} {Amps(Plan.Allowed.Amps)} in all.";
        return left > 0
            ? $"Leave it alone: {asleep.Name} sleeps in {Words.Long(left)}, by the sheet."
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

    private static string Amps(double value) => MeterReading.Format(value, Dimension.Ampere);

    /// <summary>A figure of the watch as it is read; across a fuse in millivolts, with the amps that its rating makes of it.</summary>
    /// <param name="on">What the tips lay on; null for what they lay on first.</param>
    public string FigureAndAmps(double value, string? on) =>
        Plan.Amps(value, on) is { } amps && double.IsFinite(amps) ? $"{Figure(value)} ≈ {Amps(amps)}" : Figure(value);

    /// <summary>A figure of the watch as the meter shows it.</summary>
    public string Figure(double value) =>
        double.IsNaN(value) ? "–"
        : double.IsInfinity(value) ? "OL"
        : Plan.Shunts.Count > 0 ? string.Create(CultureInfo.InvariantCulture, $"{value * 1000:0.00} mV")
        : MeterReading.Format(value, Plan.Test.Probe.Dimension);

    private string Spread(LongWatch w) =>
        w.Count == 0 ? ""
        // Of several fuses together least and most say nothing.
        : Plan.Shunts.Count > 0
            ? $"≈ {Amps(Plan.Amps(w.Now, w.On) ?? double.NaN)} through {(w.On ?? Plan.On)[5..]} · {Words.Long(w.Length)}"
        : $"least {Figure(w.Least)} · mean {Figure(w.Mean)} · most {Figure(w.Most)} · {Words.Long(w.Length)}"
            + (double.IsFinite(w.Supply) ? $" · supply {MeterReading.Format(w.Supply, Dimension.Volt)}" : "");

    private async Task KeepNowAndThen()
    {
        var count = Read(w => w.Count);
        if (count - _keptAt >= Math.Max(KeptAgainLeast, _keptAt / KeptAgainPart))
            await TryToKeep();
    }

    /// <summary>What cannot be written now, the disk being full or busy, is written with the next part.</summary>
    private async Task TryToKeep()
    {
        try
        {
            await Keep();
        }
        catch (DbException e)
        {
            Show(double.NaN, null, "trouble", $"What was seen is not on the disk yet: {e.Message}", false);
        }
    }

    private async Task<string?> WhyNot()
    {
        if (_clock.GetElapsedTime(_asked) < AskedEvery)
            return null;
        _asked = _clock.GetTimestamp();
        return await _start.WhyNot();
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
            await _captures.Replace(_start.Job, id, name, said, CaptureFile.Write(capture));
        else
            Capture = await _captures.Add(_start.Job, name, Plan.Test.Setup.ToString(), said, CaptureFile.Write(capture), Who);
    }

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        await _running;
        _stop.Dispose();
    }
}
