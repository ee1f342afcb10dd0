using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Bench.Stranger;

/// <summary>
/// A faulty machine and the person at it, drawn without regard to what the diagnosis assumes: no spread, tolerance, odds or likelihood of
/// the product is used here. The solver gives true values; everything that strays is drawn here. Frozen: a figure is changed only with a
/// source, never because a job failed.
/// </summary>
/// <remarks>
/// Every figure is common practice without a source or an estimate, unless it says otherwise; the kinds of straying are those a technician
/// meets: a supply that sags, a cheap meter, tips that touch the neighbour, words that mean less than they say.
/// </remarks>
internal sealed class StrangersMachine
{
    // The machine. Loads are stated by nominal watts and stray by a fifth; lengths of wire are guessed; contacts are new or tired.
    private const double LoadsOff = 0.2,
        WiresOff = 0.4,
        SourcesOff = 0.3,
        BestContact = 0.3,
        WorstContact = 4,
        RelaysOff = 0.08;

    // The supply. 12.0 to 13.0 V on a battery of 12.6; key on takes up to 0.4 % a reading, 4 % at most; a charger may be put on.
    private const double LowestBattery = 0.955,
        HighestBattery = 1.03,
        MostSag = 0.004,
        DeepestSag = 0.04,
        ChargerChance = 0.06,
        OnCharge = 1.055,
        MainsOff = 0.03,
        MainsWander = 0.005;

    // The meter: 2,000 counts, 0.8 % and one digit (a cheap meter's data sheet); half of its owners say a tenth of a volt and no more.
    private const double MeterOff = 0.008,
        RoundsChance = 0.5,
        LeastLeads = 0.1,
        MostLeads = 0.5,
        TipsOff = 0.1,
        OhmsOff = 0.015,
        ClampOff = 0.03,
        ClampZero = 0.08;

    // What a point that hangs on nothing shows: mostly nothing, now and then tenths; on alternating looms up to 40 V on a plain meter.
    private const double GhostChance = 0.2,
        MostGhost = 0.3,
        MostAcGhost = 40,
        SoftOhms = 100_000,
        SoftShare = 0.5;

    // Words. What runs weakly is called dead by two of five owners, and fine by one of ten.
    private const double CalledDead = 0.4,
        CalledFine = 0.1;

    // Slips: the tip on the neighbour, a control not moved, a point misplaced.
    private const double SlipChance = 0.03;

    /// <summary>
    /// How often a joint that comes and goes stays as it is from one reading to the next, and is open while its own place is moved.
    /// </summary>
    private const double Stays = 0.8,
        OpenWhenMoved = 0.5;

    private readonly Machine _machine;
    private readonly Random _random;
    private readonly IReadOnlyList<Fault> _faults;
    private readonly bool _jumps,
        _battery,
        _rounds;
    private readonly double _meter,
        _leads,
        _rest;
    private readonly ToleranceDraw _spread;
    private readonly int _chargerAt;
    private double _sag;
    private int _read;
    private bool _open = true;

    public StrangersMachine(Machine machine, IReadOnlyList<Fault> faults, Random random, bool jumps)
    {
        (_machine, _faults, _random, _jumps) = (machine, faults, random, jumps);
        _battery = machine.Circuit.Sources.First().Kind is Battery;
        _rest = _battery ? Between(LowestBattery, HighestBattery) : 1 + Off(MainsOff);
        _chargerAt = _battery && random.NextDouble() < ChargerChance ? random.Next(2, 10) : int.MaxValue;
        (_meter, _rounds, _leads) = (Off(MeterOff), random.NextDouble() < RoundsChance, Between(LeastLeads, MostLeads));
        var circuit = machine.Circuit;
        _spread = new ToleranceDraw(
            1,
            [
                .. new Layout(circuit).Branches.Select(b =>
                    b.Owner == BranchOwner.Wire ? 1 / (1 + Off(WiresOff))
                    : b.Owner == BranchOwner.Link && circuit.Parts[b.Part].Kind.IsSource ? 1 / (1 + Off(SourcesOff))
                    : b.Owner == BranchOwner.Link && circuit.Parts[b.Part].Model.Links[b.Index] is Link.Resistance ? 1 / (1 + Off(LoadsOff))
                    : 1 / (BestContact * Math.Pow(WorstContact / BestContact, random.NextDouble()))
                ),
            ],
            [.. circuit.Parts.Select(_ => 1 + Off(RelaysOff))]
        );
    }

    /// <summary>
    /// True where the machine would do as it should without the fault, also on its supply at the lowest: what is marginal by itself is no
    /// symptom of a fault.
    /// </summary>
    public bool IsSoundWithout(MachineFunction f, Setup setup) =>
        new[] { Now(), Now() with { Emf = _rest - (_battery ? DeepestSag : MainsWander) } }.All(s =>
            Meter.Read(_machine, new Test(setup, new Probe.Sees(f.Name, true)), [], s).Text == "works"
        );

    /// <summary>What the person says that the test showed; null where it cannot be done.</summary>
    public ReadingResult? Measure(Test test)
    {
        if (_jumps)
            _open =
                IsMoved(test.Setup) ? _random.NextDouble() < OpenWhenMoved
                : _random.NextDouble() < Stays ? _open
                : !_open;
        _read++;
        if (_battery && !test.Setup.Interventions.Any(i => i is Intervention.Off) && !test.Setup.IsRest)
            _sag = Math.Min(DeepestSag, _sag + MostSag * _random.NextDouble());
        // Who looks or listens looks twice; slips are of the meter.
        var slip = test.Probe is not (Probe.Sees or Probe.Hears) && _random.NextDouble() < SlipChance;
        var kind = _random.Next(3);
        var done =
            slip && kind == 0 ? Neighbour(test)
            : slip && kind == 1 ? test with { Setup = test.Setup with { Steps = [] } }
            : test;
        var faults = _open ? _faults : [];
        var shown = Meter.Read(_machine, done, faults, Now());
        if (shown.Refused)
            return null;
        if (shown.Answer == Answer.OverLimit)
            return new ReadingResult.OverLimit();
        // A machine that never did better is not said to be worse.
        if (test.Probe is Probe.Sees && shown.Answer == Answer.Weak && Meter.Read(_machine, done, [], Now()).Answer == Answer.Weak)
            return new ReadingResult.Word(Answer.Works);
        if (shown.Value is not { } v)
            return new ReadingResult.Word(shown.Answer == Answer.Weak && test.Probe is Probe.Sees ? Said() : shown.Answer!.Value);
        if (shown.Dimension == Dimension.Volt && Math.Abs(v) > 0.02 && IsSoft(done, faults, v))
            v =
                IsAlternating(done) ? MostAcGhost * _random.NextDouble()
                : _random.NextDouble() < GhostChance ? MostGhost * _random.NextDouble()
                : 0;
        if (slip && kind == 2)
            v *= _random.Next(2) == 0 ? 10 : 0.1;
        return new ReadingResult.Number(Displayed(v, shown.Dimension), shown.Dimension);
    }

    /// <summary>True where the place of what is wrong is moved: of a wire, that of either end.</summary>
    private bool IsMoved(Setup setup)
    {
        var circuit = _machine.Circuit;
        return _faults
            .SelectMany(f => circuit.FindWire(f.Target) is { } w ? new[] { w.From.Tag, w.To.Tag } : [f.Target.Split(':')[0]])
            .Any(tag => setup.Moved.Contains(circuit.FindPart(tag)?.PlaceOrTag ?? tag, StringComparer.OrdinalIgnoreCase));
    }

    private double Displayed(double v, Dimension dimension)
    {
        if (dimension == Dimension.Ampere)
            return Math.Round(v * (1 + Off(ClampOff)) + Off(ClampZero), 2);
        if (dimension == Dimension.Ohm)
            return Math.Round(Math.Max(0, v * (1 + Off(OhmsOff)) + _leads + Off(TipsOff)), 1);
        var read = v * (1 + _meter);
        var digit =
            Math.Abs(read) < 0.2 ? 0.001
            : Math.Abs(read) < 20 ? 0.01
            : 0.1;
        read += digit * _random.Next(-1, 2);
        return Math.Round(
            read,
            _rounds && Math.Abs(read) >= 1 ? 1
                : digit < 0.01 ? 3
                : 2
        );
    }

    /// <summary>True where a soft load takes most of the volts away: the point hangs on leakage.</summary>
    private bool IsSoft(Test test, IReadOnlyList<Fault> faults, double volts)
    {
        var (p, q) = test.Probe switch
        {
            Probe.Volts v => (v.P, v.Q ?? _machine.Circuit.ReferencePoint),
            Probe.Drop d => (d.X.P.Terminal, d.X.Q.Terminal),
            _ => (default, default),
        };
        if (p == default || p == q)
            return false;
        var op = _machine.Run(test.Setup, faults, (p, q, SoftOhms), vary: Now());
        var loaded = IsAlternating(test) ? op.AcVolts(op.Node(p), op.Node(q)).Magnitude : op.Volts(op.Node(p)) - op.Volts(op.Node(q));
        return Math.Abs(loaded) < SoftShare * Math.Abs(volts);
    }

    private bool IsAlternating(Test test) =>
        test.Probe is Probe.Volts { Function: not VoltsFunction.Dc } || test.Probe is Probe.Drop && _machine.Circuit.Alternating;

    private Answer Said() =>
        _random.NextDouble() switch
        {
            < CalledDead => Answer.Dead,
            < CalledDead + CalledFine => Answer.Works,
            _ => Answer.Weak,
        };

    /// <summary>The same test with the red tip on another terminal of the part.</summary>
    private Test Neighbour(Test test)
    {
        if (test.Probe is not Probe.Volts v || _machine.Circuit.FindPart(v.P.Tag) is not { } part)
            return test;
        var others = part
            .Model.Terminals.Where(t => t != v.P.Name)
            .Select(t => new Terminal(part.Tag, t, v.P.IsPin))
            .Where(t => _machine.Circuit.Wires.Any(w => w.From == t || w.To == t) && t != v.Q)
            .ToList();
        return others.Count == 0 ? test : test with { Probe = v with { P = others[_random.Next(others.Count)] } };
    }

    private ToleranceDraw Now() =>
        _spread with
        {
            Emf =
                _read >= _chargerAt ? OnCharge
                : _battery ? _rest - _sag
                : _rest + Off(MainsWander),
        };

    private double Between(double low, double high) => low + (high - low) * _random.NextDouble();

    private double Off(double most) => most * (2 * _random.NextDouble() - 1);
}
