using System.Globalization;
using System.Threading.Channels;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;
using Zoltric.Instruments;
using Zoltric.Instruments.HandsFree;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Meters;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Instruments;

/// <summary>
/// One job read hands-free: the meter is read without end, what comes to rest is kept as a line of the job, and the next order is asked
/// for. Ends when it is stopped, or when the job is closed or taken over by somebody else.
/// </summary>
public sealed class MeterSession : IAsyncDisposable
{
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);

    private readonly long _job;
    private readonly InstrumentAddress _address;
    private readonly bool _proved;
    private readonly IServiceScopeFactory _scopes;
    private readonly TimeProvider _clock;
    private readonly Action _left;
    private readonly CancellationTokenSource _stop = new();
    private readonly Channel<Key> _keys = Channel.CreateBounded<Key>(4);
    private readonly Screens<MeterShown> _screens = new(MeterShown.Nothing);
    private readonly Task _running;
    private readonly Stack<long> _kept = new();
    private readonly SupplyMeter? _supply;

    private HandsFreeTrace? _trace;
    private string? _byHand;
    private string _setup = "",
        _moved = "";
    private double? _shown;
    private string? _mark;
    private long _looked;
    private string _judgement = "";

    /// <summary>What a foot or a thumb says.</summary>
    public enum Key
    {
        /// <summary>It is so; keep it.</summary>
        Pedal,

        /// <summary>Not this one: read again.</summary>
        Reject,

        /// <summary>The last one kept was wrong: it is struck out and asked for again.</summary>
        Back,
    }

    /// <param name="proved">True where people prove who they are: then only the holder's readings are kept.</param>
    /// <param name="supply">A second meter, on the supply; null for none.</param>
    /// <param name="left">Called once the meter is free again.</param>
    public MeterSession(
        long job,
        string who,
        bool proved,
        InstrumentAddress address,
        InstrumentAddress? supply,
        IServiceScopeFactory scopes,
        TimeProvider clock,
        Action left
    )
    {
        _supply = supply is null ? null : new SupplyMeter(supply, clock);
        (_job, Who, _proved, _address, _scopes, _clock, _left) = (job, who, proved, address, scopes, clock, left);
        _running = Task.Run(Run);
    }

    public string Who { get; }

    /// <summary>The meter's own name; its address until it has said one.</summary>
    public string Meter { get; private set; } = "";

    public string Address => _address.ToString()!;

    public MeterShown Shown => _screens.Shown;

    public bool Ended => _running.IsCompleted;

    /// <summary>Takes one press; what comes faster than it is worked off is dropped.</summary>
    public void Press(Key key) => _keys.Writer.TryWrite(key);

    /// <summary>Everything shown from now on, until the session ends or the screen goes.</summary>
    public IAsyncEnumerable<MeterShown> Watch(CancellationToken gone) => _screens.Watch(gone);

    private async Task Run()
    {
        ScpiMeter? meter = null;
        try
        {
            while (!_stop.IsCancellationRequested)
            {
                try
                {
                    if (meter is null)
                    {
                        meter = await ScpiMeter.Open(await _address.Open(_stop.Token), _stop.Token);
                        Meter = meter.Name;
                        _mark = null;
                    }
                    if (!await Look(meter))
                        return;
                    while (_keys.Reader.TryRead(out var key))
                        await Take(key, meter);
                    if (_supply is not null)
                        await _supply.Look(_stop.Token);
                    var sample = await meter.Read(_stop.Token);
                    var at = _clock.GetTimestamp();
                    var taken = _trace!.Add(sample.Value, _clock.GetElapsedTime(0, at));
                    var jumped = _trace.Stage == HandsFreeStage.Watching && _shown is { } before && _trace.Jumped(before, sample.Value);
                    _shown = sample.Value;
                    // What is kept is shown with the next order, not between the two.
                    if (taken is { } steady)
                        await Keep(steady, meter);
                    else
                        Show(MeterFigure(sample), StageNow, SayNow, jumped);
                }
                catch (InstrumentException e)
                {
                    Show("", "trouble", e.Message);
                    if (meter is not null && meter.Function != _dial)
                        DialIs(meter.Function);
                    else if (meter is not null)
                    {
                        await meter.DisposeAsync();
                        meter = null;
                    }
                    await Task.Delay(Again, _clock, _stop.Token);
                }
            }
        }
        catch (OperationCanceledException) { }
        finally
        {
            if (meter is not null)
                await meter.DisposeAsync();
            if (_supply is not null)
                await _supply.DisposeAsync();
            _left();
            _screens.End();
        }
    }

    private MeterFunction? _dial;

    private void DialIs(MeterFunction? dial)
    {
        _dial = dial;
        _trace?.DialIs(dial);
    }

    private string? _asked;
    private Test? _test;

    /// <summary>Asks what the job's next probe is, where anything in the job has changed. False where the session is over.</summary>
    private async Task<bool> Look(ScpiMeter meter)
    {
        var now = _clock.GetTimestamp();
        if (_mark is not null && _clock.GetElapsedTime(_looked, now) < Again)
            return true;
        _looked = now;
        using var scope = _scopes.CreateScope();
        var mark = await scope.ServiceProvider.GetRequiredService<JobStore>().Mark(_job);
        if (mark == _mark)
            return true;
        _mark = mark;
        if (mark is null || await scope.ServiceProvider.GetRequiredService<JobDesk>().Load(_job) is not { } view)
            return false;
        return Asked(view, meter);
    }

    private bool Asked(JobView view, ScpiMeter meter)
    {
        if (JobDesk.MayWrite(view, Who, _proved) is { } refusal)
        {
            Show("", "by-hand", refusal.Problem.Message);
            return false;
        }
        _trace ??= new HandsFreeTrace(view.Options.Meter, view.Circuit.NominalVolts);
        DialIs(meter.Function);
        var safe = view.SafetyFor(Who);
        _byHand = view.Findings.Stop
            ?? (
                view.Next is not { } n ? (view.Findings.Solved ? "Found. Record the finding." : "There is no further probe.")
                : safe.Unsaid(n.Test) is [var first, ..] ? $"Before this test: {first.Say}"
                : n.Kind == Core.Diagnosis.Explanation.AdviceKind.ProveDead ? "Prove it dead first, by hand."
                : HandsFree.WhyByHand(view.Circuit, n.Test, safe.State, view.Options.Facts.Wet)
            );
        var test = view.Next?.Test;
        var asked = _byHand is null ? test!.ToString() : null;
        if (asked == _trace.Test && asked is not null)
            return true;
        (_asked, _test, _setup) = (asked, test, test?.Setup is { IsRest: false } s ? s.ToString() : "everything at rest");
        _moved = string.Join(", ", test?.Setup.Moved ?? []);
        _trace.Ask(asked, asked is null ? null : MeterFunctions.Of(view.Circuit, test!.Probe), _setup, _moved.Length > 0);
        return true;
    }

    private async Task Take(Key key, ScpiMeter meter)
    {
        switch (key)
        {
            case Key.Reject:
                _trace!.Reject();
                break;
            case Key.Back when _kept.TryPop(out var line):
            {
                using var scope = _scopes.CreateScope();
                await scope.ServiceProvider.GetRequiredService<JobStore>().Strike(_job, line, true, Who);
                (_mark, _judgement) = (null, "");
                await Look(meter);
                break;
            }
            case Key.Pedal:
            {
                var turn = _trace!.Stage == HandsFreeStage.TipsOff ? _trace.Wanted : null;
                if (_trace.Pedal() is { } steady)
                    await Keep(steady, meter);
                else if (turn is { } dial)
                {
                    await meter.Select(dial, _stop.Token);
                    DialIs(dial);
                }
                break;
            }
        }
    }

    private async Task Keep(Steady steady, ScpiMeter meter)
    {
        if (_asked is not { } test || _dial is not { } dial)
            return;
        using var scope = _scopes.CreateScope();
        var desk = scope.ServiceProvider.GetRequiredService<JobDesk>();
        if (await desk.Load(_job) is not { } view)
            return;
        if (JobDesk.MayWrite(view, Who, _proved) is { } may)
        {
            Refuse(may);
            return;
        }
        // The dial may have been turned by hand since it was last asked for: a figure of another one is no reading.
        if (await meter.Asked(_stop.Token) != dial)
        {
            _mark = null;
            throw new InstrumentException("The dial was turned. Nothing was kept.");
        }
        var supplied = _supply is null ? null : await _supply.Now(view, _test!, view.Options.Meter, _stop.Token);
        if (supplied is { Line: { } volts })
            view = (await desk.Add(view, volts, Who, taken: new TakenBy(supplied.Meter, MeterFunction.DcVolts.Spoken(), 0))).View;
        var before = view.Lines.Count;
        var (after, refusal) = await desk.Add(
            view,
            $"{test} = {Result(steady, dial)}",
            Who,
            taken: new TakenBy(meter.Name, dial.Spoken() + (supplied is null ? "" : $", supply {supplied.Text}"), steady.Span)
        );
        if (refusal is not null)
        {
            Refuse(refusal);
            return;
        }
        if (after.Lines.Count > before)
            _kept.Push(after.Lines[^1].Row.Id);
        _judgement = after.Findings.Verdicts is [.., var verdict] ? Words.For(verdict.Judgement) : "";
        _mark = await scope.ServiceProvider.GetRequiredService<JobStore>().Mark(_job);
        Asked(after, meter);
        Show(Shown.Figure, StageNow, SayNow);

        void Refuse(Refusal why)
        {
            _byHand = $"Not kept: {why.Problem.Message}";
            Show(Shown.Figure, StageNow, SayNow);
        }
    }

    /// <summary>As a reading line has it: a probe of continuity is answered by a word.</summary>
    private static string Result(Steady steady, MeterFunction dial) =>
        steady.Watched is { } w && w.High > w.Low && dial != MeterFunction.Continuity
            ? $"{Figure(w.Low)}..{(double.IsInfinity(w.High) ? "OL" : Figure(w.High) + Units.Short(dial.Reads()))}"
        : dial == MeterFunction.Continuity ? (steady.Value < Core.Metering.Meter.BeepOhms ? Answer.Beep : Answer.Silent).Text()
        : steady.IsOverload ? "OL"
        : Figure(steady.Value) + Units.Short(dial.Reads());

    private static string Figure(double value) =>
        value.ToString("G6", CultureInfo.InvariantCulture) is var figure && figure.Contains('E', StringComparison.Ordinal)
            ? value.ToString("0.#########", CultureInfo.InvariantCulture)
            : figure;

    private static string MeterFigure(MeterSample sample) =>
        sample.IsOverload ? "OL" : MeterReading.Format(sample.Value, sample.Function.Reads());

    private string StageNow =>
        _trace?.Stage switch
        {
            HandsFreeStage.TipsOff => "tips-off",
            HandsFreeStage.SetMachine => "set-machine",
            HandsFreeStage.Settling => "settling",
            HandsFreeStage.Confirm => "confirm",
            HandsFreeStage.Move => "move",
            HandsFreeStage.Watching => "watching",
            _ => "by-hand",
        };

    private string SayNow =>
        _trace?.Stage switch
        {
            HandsFreeStage.TipsOff => (_dial == MeterFunction.DcAmps ? "Leads out of the amps sockets, into the volts sockets. " : "")
                + $"Tips off the machine. The meter then goes to {_trace.Wanted?.Spoken()}. Set: {_setup}. Then the pedal.",
            HandsFreeStage.SetMachine => $"Set: {_setup}. Then the pedal.",
            HandsFreeStage.Confirm when _trace.IsLastPoint =>
                "The same as at the last point. If the tips are on the new one: pedal keeps it.",
            HandsFreeStage.Confirm => "Tips in the air read the same. If they are on the point: pedal keeps it.",
            HandsFreeStage.Settling => "Tips on. Hold still.",
            HandsFreeStage.Move => $"Tips on. Then the pedal, and move: {_moved}.",
            HandsFreeStage.Watching => $"Watched. Move: {_moved}. A tone at every change; the pedal ends it.",
            _ => _byHand ?? "",
        };

    private void Show(string figure, string stage, string say, bool jumped = false)
    {
        _screens.Show(
            new MeterShown(
                figure,
                stage,
                say,
                _kept.Count,
                _judgement,
                _mark ?? "",
                Meter,
                jumped,
                _supply?.Says ?? "",
                _clock.GetUtcNow().ToUnixTimeMilliseconds()
            )
        );
    }

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        await _running;
        _stop.Dispose();
    }
}
