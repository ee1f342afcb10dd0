using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Simulation;

/// <summary>
/// A machine that is not there: a sheet with hidden faults, its controls as somebody left them, and two tips that lie somewhere. A meter on
/// the tips shows what a real one would, on whatever function it stands. A fuse that has blown stays so until a new one is put in. Safe to
/// use from several threads.
/// </summary>
/// <param name="hidden">None for a sound machine.</param>
/// <param name="clock">Its own time, s: modules fall asleep by it. Null for one that is looked at the moment it was set.</param>
public sealed class SimulatedMachine(Machine machine, IReadOnlyList<Fault> hidden, Func<double>? clock = null)
{
    private readonly Lock _gate = new();
    private OperatingPoint? _settled;

    public Circuit Circuit => machine.Circuit;

    /// <summary>How the machine stands.</summary>
    public Setup Setup { get; private set; } = Setup.Rest;

    /// <summary>Where the tips lie; null for in the air.</summary>
    public Probe? Tips { get; private set; }

    /// <summary>Moves controls, sources, plugs, leads: the machine stands so from now on.</summary>
    public void Stand(Setup setup)
    {
        ArgumentNullException.ThrowIfNull(setup);
        lock (_gate)
        {
            if (!setup.Equals(Setup))
                (_settled, _open) = (null, null);
            // What only parts or bridges something wakes nothing; a control that is moved does.
            if (!setup.Steps.SelectMany(s => s).SequenceEqual(Setup.Steps.SelectMany(s => s)))
                Wake();
            Setup = setup;
        }
    }

    /// <summary>Lays both tips on, as this probe has them.</summary>
    public void Touch(Probe probe)
    {
        ArgumentNullException.ThrowIfNull(probe);
        lock (_gate)
            Tips = Ends(probe) is null && probe is not (Probe.Amps or Probe.Clamp) ? null : probe;
    }

    /// <summary>Somebody touches it: a door, the key. What sleeps is awake again, and its time begins anew.</summary>
    public void Wake()
    {
        lock (_gate)
            (_since, _settled, _open) = (clock?.Invoke() ?? 0, null, null);
    }

    /// <summary>Puts a new fuse in, which goes again where its cause is still there.</summary>
    /// <returns>False for what is no fuse of the sheet.</returns>
    public bool Renew(string tag)
    {
        lock (_gate)
        {
            if (Circuit.FindPart(tag)?.Kind is not Circuits.Kinds.Fuse)
                return false;
            _fuses.Renew(tag);
            (_settled, _open, _amps) = (null, null, null);
            return true;
        }
    }

    private readonly BlownFuses _fuses = new(machine);

    private double _since = clock?.Invoke() ?? 0;
    private double _asleepFrom;

    /// <summary>Amps as a meter in series or a clamp would have them, by what is awake now.</summary>
    private MeterReading? Drawn(Probe probe)
    {
        if (_amps is { } known && known.Setup.Equals(Timed()) && known.Probe.Equals(probe))
            return known.Shown;
        var shown = _fuses.Read(new Test(Timed(), probe), _hidden);
        _amps = (Timed(), probe, shown);
        return shown.Refused ? null : shown;
    }

    private (Setup Setup, Probe Probe, MeterReading Shown)? _amps;

    private readonly double[] _sleeps =
    [
        .. machine.Circuit.Parts.SelectMany(p => p.ModuleLines.OfType<ModuleLine.Sleeps>()).Select(s => s.AfterSeconds).Distinct().Order(),
    ];

    /// <summary>The setup, with as much waited as has put another module to sleep.</summary>
    private Setup Timed()
    {
        if (clock is null)
            return Setup;
        var waited = clock() - _since;
        var past = _sleeps.LastOrDefault(s => s <= waited);
        if (past != _asleepFrom)
            (_asleepFrom, _settled, _open) = (past, null, null);
        return past > Setup.AfterSeconds ? Setup with { AfterSeconds = past } : Setup;
    }

    public void LiftTips()
    {
        lock (_gate)
            Tips = null;
    }

    /// <summary>
    /// What a meter on the tips shows. Null with the tips in the air, or where it would show nothing that means anything: ohms on what is
    /// live.
    /// </summary>
    public MeterReading? Shows(MeterFunction function)
    {
        lock (_gate)
        {
            if (Tips is Probe.Amps or Probe.Clamp)
                return function == MeterFunction.DcAmps ? Drawn(Tips) : null;
            if (Tips is null || function == MeterFunction.DcAmps || Ends(Tips) is not { } ends)
                return null;
            var instruments = new Instruments(Settled(), false);
            var shown =
                function.Reads() == Dimension.Volt
                    ? instruments.Volts(
                        new BetweenTips(ends.P, ends.Q, function == MeterFunction.AcVolts ? VoltsFunction.Ac : VoltsFunction.Dc)
                    )
                    : instruments.Ohms(new Across("tips", ends.P, ends.Q ?? new ProbePoint(Circuit.ReferencePoint)));
            return shown.Refused ? null : shown;
        }
    }

    /// <summary>The same machine, as it stands now, with a second pair of tips on it.</summary>
    public SimulatedMachine With(Probe tips)
    {
        lock (_gate)
        {
            var second = new SimulatedMachine(machine, _fuses.With(_hidden));
            second.Stand(Timed());
            second.Touch(tips);
            return second;
        }
    }

    /// <summary>Anything else that is seen, heard, clamped or loaded, as the machine stands.</summary>
    public MeterReading Observe(Probe probe)
    {
        ArgumentNullException.ThrowIfNull(probe);
        lock (_gate)
            return probe.Loads ? _fuses.Read(new Test(Setup, probe), _hidden) : Meter.Read(Settled(), probe, spread: false);
    }

    /// <summary>
    /// What its modules say to a code reader: active while a hidden fault sits in what a code of the sheet is about, or a part of that does
    /// not do what it does in a sound machine that stands so; stored once that is over; else nothing. Null where modules are drawn and none
    /// has power.
    /// </summary>
    public IReadOnlyList<(FaultCode Code, Answer State)>? Codes()
    {
        lock (_gate)
        {
            var stands = Settled();
            var modules = Circuit.Parts.Where(p => p.ModuleLines.Count > 0).ToList();
            if (modules.Count > 0 && !modules.Exists(m => Does(stands, m) == Answer.Works))
                return null;
            var sound = machine.Run(Timed());
            foreach (var code in Circuit.Codes)
                if (
                    code.About.Any(a => _hidden.Any(f => f.Target.Split(':', '/')[0] == a))
                    || code.About.Select(Circuit.FindPart).OfType<Part>().Any(p => Does(stands, p) != Does(sound, p))
                )
                    _set[code] = Answer.Active;
                else if (_set.ContainsKey(code))
                    _set[code] = Answer.Stored;
            return [.. Circuit.Codes.Where(_set.ContainsKey).Select(c => (c, _set[c]))];
        }
    }

    private readonly Dictionary<FaultCode, Answer> _set = [];

    private static Answer? Does(OperatingPoint stands, Part part) =>
        Meter.Read(stands, new Probe.Sees(part.Tag, false), spread: false).Answer;

    /// <summary>What is watched over time while controls are moved, in so many points.</summary>
    /// <inheritdoc cref="TimeSimulation.Run" path="/exception"/>
    public Waveforms Over(Setup before, IEnumerable<TimedMove> moves, double seconds, int points, IReadOnlyList<Probe> probes)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(points, 2);
        var step = seconds / (points - 1);
        // Finer than it is shown, so that what is fast is reckoned right.
        var finer = Math.Clamp((int)Math.Ceiling(step / FinestStep), 1, Math.Max(1, TimeSimulation.MostSteps / points));
        lock (_gate)
        {
            var all = new TimeSimulation(machine, [.. _hidden.Except(_comesAndGoes)]).Run(before, moves, seconds, step / finer, probes);
            double[] Every(double[] values) => finer == 1 ? values : [.. values.Where((_, i) => i % finer == 0)];
            return new Waveforms(Every(all.Seconds), [.. all.Channels.Select(c => c with { Values = Every(c.Values) })]);
        }
    }

    /// <summary>s; a hundredth of the fastest coil's time.</summary>
    private const double FinestStep = 2e-5;

    /// <summary>
    /// What comes and goes is there now and then while its place is moved, and not else. How often is the machine's own affair: every
    /// third
    /// look.
    /// </summary>
    private OperatingPoint Settled()
    {
        var setup = Timed();
        var opens = _comesAndGoes.Length > 0 && _comesAndGoes.Any(f => IsMoved(f.Target)) && ++_looks % 3 == 0;
        return opens
            ? _open ??= _fuses.Run(setup, [.. _hidden.Except(_comesAndGoes), .. _comesAndGoes.SelectMany(ForGood)])
            : _settled ??= _fuses.Run(setup, [.. _hidden.Except(_comesAndGoes)]);
    }

    private readonly Fault[] _comesAndGoes = [.. hidden.Where(f => f.ComesAndGoes)];
    private readonly IReadOnlyList<Fault> _hidden = hidden;
    private OperatingPoint? _open;
    private int _looks;

    private bool IsMoved(string target)
    {
        IEnumerable<string> tags = Circuit.FindWire(target) is { } w ? [w.From.Tag, w.To.Tag] : [target.Split(':', '/')[0]];
        return tags.Select(Circuit.FindPart)
            .Any(p => p is not null && Setup.Moved.Contains(p.PlaceOrTag, StringComparer.OrdinalIgnoreCase));
    }

    /// <summary>The same joint, contact or winding open for good; the same touch for good.</summary>
    private IEnumerable<Fault> ForGood(Fault f)
    {
        if (f.TouchesByTurns)
            return [f with { TouchesByTurns = false }];
        var what = f.Toward;
        string[] words = what is null
            ? [$"{f.Target} open", $"{f.Target} blown"]
            : [$"{f.Target} contact {what} open", $"{f.Target} open {what}", $"{f.Target} {what}-open"];
        return words.Select(w => FaultReader.Read(Circuit, w).Value).FirstOrDefault(v => v is not null) ?? [];
    }

    private (ProbePoint P, ProbePoint? Q)? Ends(Probe probe) =>
        probe.VoltsOn(Circuit) is { } v ? (v.P, v.Q)
        : probe.OhmsAcross is { } x ? (x.P, x.Q)
        : probe is Probe.Beep { X: var b } ? (b.P, b.Q)
        : null;
}
