using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Faults;

/// <summary>
/// One thing that may be wrong: fault words, the values it may have (one empty value for faults without), its odds, and the repair that
/// mends it. All odds are estimates, relative to a wire that is open (1).
/// </summary>
/// <param name="Template">Fault without its value.</param>
/// <param name="Values">Values to weigh, in base units, rising; empty when the words carry none.</param>
/// <param name="Continuous">True when values between the listed ones are meant too.</param>
/// <param name="RepairUnit">What is renewed or mended: a wire, a pin, a stud, a part.</param>
public sealed record Suspect(Fault Template, IReadOnlyList<double> Values, bool Continuous, double Odds, string RepairUnit)
{
    /// <summary>A second fault that is there as well.</summary>
    public Fault? Also { get; init; }

    /// <summary>The repair unit of the second fault.</summary>
    public string? AlsoUnit { get; init; }

    /// <summary>Joints that have aged with this one, each as much: an accumulated loss.</summary>
    public IReadOnlyList<Fault> Together { get; init; } = [];

    /// <summary>Fuses and breakers that carry too much with it and have not opened yet.</summary>
    public IReadOnlyList<Fault> Held { get; init; } = [];

    /// <summary>The load whose string has aged, for an accumulated loss.</summary>
    public string? String { get; init; }

    public Fault With(double value) => Values.Count == 0 ? Template : Template with { Value = value };

    /// <summary>Everything that is wrong with the machine at a value.</summary>
    public IReadOnlyList<Fault> All(double value)
    {
        if (Also is null && Together.Count == 0 && Held.Count == 0)
            return [With(value)];
        return [With(value), .. Also is null ? (IEnumerable<Fault>)[] : [Also], .. Together.Select(t => t with { Value = value }), .. Held];
    }

    public override string ToString() => Template.ToString();
}

/// <summary>Every single fault of a circuit, per part, pin, lug and wire.</summary>
public static class FaultCatalogue
{
    private const double WireOpen = 1,
        WireResists = 0.7,
        WireGrounded = 0.4,
        WireToSupply = 0.15;
    private const double PinOpen = 1.2,
        PinResists = 1.2,
        PinToNeighbour = 0.25;

    /// <summary>Odds that the two wires of a bus, twisted together, touch each other between two parts; estimate.</summary>
    private const double PairTouches = 0.25;

    /// <summary>
    /// Odds that a wire touches the common of a control circuit that stands on no frame: the two run in one cable; estimate.
    /// </summary>
    private const double WireToCommon = 0.3;

    /// <summary>Odds that two phases were put on crossed when the run was last worked on; estimate.</summary>
    private const double PhasesCrossed = 0.05;
    private const double StudOpen = 0.6,
        StudResists = 1.5;

    /// <summary>An added resistance matters from this share of what limits the largest working current through it.</summary>
    private const double LeastShare = 0.04;
    private const double MostOhms = 30e3;

    /// <summary>
    /// Least share of the largest working current that a source with too much resistance of its own still gives; estimate.
    /// </summary>
    private const double LeastGiven = 0.01;
    private const double StepsPerDecade = 4;

    /// <summary>Paths to ground that are weighed: rubbed through on bare metal up to damp and rust; estimate.</summary>
    internal static readonly double[] GroundOhms = [0.05, 0.1, 0.2, 0.5, 1, 2, 5];

    public static IReadOnlyList<Suspect> Suspects(Machine machine) =>
        Suspects(machine ?? throw new ArgumentNullException(nameof(machine)), new WorkingCurrents(machine));

    /// <param name="amps">Currents of the machine at work, which the aged strings ask for as well.</param>
    internal static IReadOnlyList<Suspect> Suspects(Machine machine, WorkingCurrents amps)
    {
        var circuit = machine.Circuit;
        var wired = circuit
            .Wires.SelectMany(w => new[] { w.From, w.To })
            .Concat(circuit.Bonds.SelectMany(b => new[] { b.A, b.B }))
            .ToHashSet();
        var (referenceNet, supplyNet) = (ReferenceNet(machine), SupplyNet(machine));
        var all = new List<Suspect>();
        foreach (var w in circuit.Wires)
        {
            all.Add(new Suspect(new Fault(w.Id, "open"), [], false, WireOpen, w.Id));
            all.Add(new Suspect(new Fault(w.Id, "resists", null, Dimension.Ohm), Grid(circuit, amps.Wire(w.Id)), true, WireResists, w.Id));
            if (!referenceNet.Contains(w.Id))
                all.Add(new Suspect(new Fault(w.Id, "grounded", null, Dimension.Ohm), GroundOhms, true, WireGrounded, w.Id));
            // Rubbed against another that is live; of mains against mains the fuse knows.
            if (!circuit.Alternating && !supplyNet.Contains(w.Id) && !referenceNet.Contains(w.Id))
                all.Add(new Suspect(new Fault(w.Id, "to-supply", null, Dimension.Ohm), GroundOhms, true, WireToSupply, w.Id));
        }
        foreach (var (high, low) in BusPairs(circuit))
            all.Add(new Suspect(new Fault(high, "shorts", null, Dimension.Ohm, low.ToString()), GroundOhms, true, PairTouches, high));
        foreach (var (wire, common) in ToCommon(machine))
            all.Add(new Suspect(new Fault(wire, "shorts", null, Dimension.Ohm, common.ToString()), GroundOhms, true, WireToCommon, wire));
        foreach (var (one, other) in PhasePairs(circuit))
            all.Add(new Suspect(new Fault(one, Fault.Crossed) { Toward = other }, [], false, PhasesCrossed, one));
        foreach (var part in circuit.Parts.Where(p => !p.Model.IsPoint || machine.SourceSideWire(p.Tag) is not null))
            all.AddRange(OfPart(circuit, part, amps, wired));
        return all;
    }

    /// <summary>Wires of the high line of a bus that have one of the low line beside them from part to part, and an end of that.</summary>
    private static IEnumerable<(string High, Terminal Low)> BusPairs(Circuit circuit)
    {
        var nets = Nets.Of(circuit);
        var lines = circuit.Parts.Where(p => p.Model.Bus is not null).Select(Ends).DistinctBy(e => nets.NetOf(e.High));
        foreach (var (high, low) in lines)
        foreach (var w in circuit.Wires.Where(w => nets.SameNet(w.From, high)))
            if (circuit.Wires.FirstOrDefault(v => nets.SameNet(v.From, low) && IsBeside(v, w)) is { } beside)
                yield return (w.Id, beside.From.Tag == w.From.Tag ? beside.From : beside.To);

        static (Terminal High, Terminal Low) Ends(Part p) =>
            (new Terminal(p.Tag, p.Model.Links[p.Model.Bus!.High].A), new Terminal(p.Tag, p.Model.Links[p.Model.Bus.Low].A));

        static bool IsBeside(Wire v, Wire w) =>
            v.From.Tag == w.From.Tag && v.To.Tag == w.To.Tag || v.From.Tag == w.To.Tag && v.To.Tag == w.From.Tag;
    }

    /// <summary>
    /// Wires of circuits behind a transformer or a supply whose common nothing joins to the frame, with that common; a bonded one is
    /// reached by the frame.
    /// </summary>
    private static IEnumerable<(string Wire, Terminal Common)> ToCommon(Machine machine)
    {
        var (circuit, nets) = (machine.Circuit, Nets.Of(machine.Circuit));
        var rest = machine.Run(Setup.Rest);
        var bonded = new Dictionary<(Terminal, Terminal), bool>();
        foreach (var w in circuit.Wires)
        {
            if (nets.CommonOf(w.From) is not { } common || circuit.FindPart(common.Tag)?.Kind.IsMains == true)
                continue;
            var frame = circuit.FrameFor(w.From);
            if (!bonded.TryGetValue((common, frame), out var joined))
                bonded[(common, frame)] = joined = rest.Ohms(rest.Node(common), rest.Node(frame)) < BondOhms;
            if (!joined)
                yield return (w.Id, common);
        }
    }

    /// <summary>Less than this joins a common to the frame, Ω.</summary>
    private const double BondOhms = 0.5;

    /// <summary>Wires of two phases of one three-phase mains that run side by side from part to part.</summary>
    private static IEnumerable<(string, string)> PhasePairs(Circuit circuit)
    {
        var phases = circuit
            .Sources.Where(s => s.Kind.IsMains && s.Has("3ph"))
            .SelectMany(s => s.Model.Links.OfType<Link.Source>().Select(l => new Terminal(s.Tag, l.A)))
            .ToList();
        if (phases.Count == 0)
            yield break;
        var connectivity = Nets.Of(circuit).Connectivity;
        var phaseOf = new Dictionary<string, Terminal>();
        foreach (var phase in phases)
        {
            var fed = connectivity.Reach(phase, e => e.PassesSupply);
            foreach (var w in circuit.Wires.Where(w => fed.Contains(w.From.Bare)))
                phaseOf.TryAdd(w.Id, phase);
        }
        var wires = circuit.Wires.Where(w => phaseOf.ContainsKey(w.Id)).ToList();
        for (var i = 0; i < wires.Count; i++)
        for (var k = i + 1; k < wires.Count; k++)
            if (
                phaseOf[wires[i].Id] != phaseOf[wires[k].Id]
                && wires[i].From.Tag == wires[k].From.Tag
                && wires[i].To.Tag == wires[k].To.Tag
            )
                yield return (wires[i].Id, wires[k].Id);
    }

    private static IEnumerable<Suspect> OfPart(Circuit circuit, Part part, WorkingCurrents amps, HashSet<Terminal> wired)
    {
        if (part.Kind is Circuits.Kinds.PinRow)
        {
            foreach (var link in part.Model.Links)
            {
                if (!wired.Contains(new Terminal(part.Tag, link.A, true)) || !wired.Contains(new Terminal(part.Tag, link.B, true)))
                    continue;
                var pin = $"{part.Tag}:{link.Name}";
                yield return new Suspect(new Fault(pin, "open"), [], false, PinOpen * part.Odds, pin);
                yield return new Suspect(
                    new Fault(pin, "resists", null, Dimension.Ohm),
                    Grid(circuit, amps.Pin(part.Tag, link.Name)),
                    true,
                    PinResists * part.Odds,
                    pin
                );
                // Water between neighbours.
                if (
                    int.TryParse(link.Name, out var n)
                    && part.Model.LinkIndex($"{n + 1}") >= 0
                    && wired.Contains(new Terminal(part.Tag, $"{n + 1}a", true))
                    && wired.Contains(new Terminal(part.Tag, $"{n + 1}b", true))
                )
                    yield return new Suspect(
                        new Fault(pin, "shorts", null, Dimension.Ohm, $"{part.Tag}:{n + 1}a"),
                        GroundOhms,
                        true,
                        PinToNeighbour * part.Odds,
                        pin
                    );
            }
            yield break;
        }
        if (part.Model.IsPoint)
        {
            if (!circuit.Wires.Any(w => w.From.Tag == part.Tag || w.To.Tag == part.Tag))
                yield break;
            yield return new Suspect(new Fault(part.Tag, "open"), [], false, StudOpen * part.Odds, part.Tag);
            yield return new Suspect(
                new Fault(part.Tag, "resists", null, Dimension.Ohm),
                Grid(circuit, amps.Largest),
                true,
                StudResists * part.Odds,
                part.Tag
            );
            yield break;
        }
        foreach (var mode in part.Model.Faults)
        {
            if (mode.Odds <= 0 || !Reachable(part, mode, wired))
                continue;
            var (values, continuous) = Values(circuit, part, mode, amps);
            yield return new Suspect(
                new Fault(part.Tag, mode.Words, null, mode.Value ?? Dimension.None),
                values,
                continuous,
                mode.Odds * part.Odds,
                part.Tag
            );
        }
    }

    /// <summary>A fault of a contact that nothing is wired to cannot be noticed.</summary>
    private static bool Reachable(Part part, FaultMode mode, HashSet<Terminal> wired)
    {
        // Of several poles held in, two that are used tell it from the weld of one.
        if (mode is { Kind: FaultKind.Welded, Effect: FaultEffect.Tripped held })
            return held.Made.Count(Used) >= Math.Min(2, held.Made.Length);
        var links = mode.Effect switch
        {
            FaultEffect.Open e => e.Links,
            FaultEffect.Series e => e.Links,
            FaultEffect.Holder e => [e.Link],
            FaultEffect.SetOhms e => e.Links,
            FaultEffect.SetMicrofarads e => [e.Link],
            FaultEffect.Awake e => e.Links,
            FaultEffect.Closed e => e.Links,
            FaultEffect.Tripped e => e.Opened,
            FaultEffect.Sticks e => e.Links,
            _ => [],
        };
        return links.All(Used);

        bool Used(int link) => Wired(part.Model.Links[link].A) && Wired(part.Model.Links[link].B);

        // Points inside a part have no wire of their own.
        bool Wired(string name) =>
            !part.Model.Terminals.Contains(name) || part.Model.Posts.Contains(name) || wired.Contains(new Terminal(part.Tag, name));
    }

    private static (IReadOnlyList<double>, bool) Values(Circuit circuit, Part part, FaultMode mode, WorkingCurrents amps)
    {
        var index = circuit.IndexOf(part.Tag);
        if (mode.Values is { } values)
            return (values, true);
        switch (mode.Effect)
        {
            case FaultEffect.Series s:
                return (Grid(circuit, amps.Link(index, s.Links[0])), true);
            case FaultEffect.Holder h when mode.Value is not null:
                return (Grid(circuit, amps.Link(index, h.Link)), true);
            // A source that lets through a hundredth of what the machine takes is dead, and a fault of its own.
            case FaultEffect.SetOhms when part.Kind.IsSource:
                return (Grid(circuit, amps.Largest, circuit.NominalVolts / Math.Max(amps.Largest, 0.01) / LeastGiven), true);
            case FaultEffect.SetOhms s:
                var shorted = part.Model.Links[s.Links[0]];
                double[] shares = [0.02, 0.1, 0.25, 0.5];
                // Where the maker states its ohms, what is just below them counts.
                if (part.GoodOhms is { } good && part.Model.Through == (shorted.A, shorted.B) && JustBelow * good.Low > 0.6 * shorted.Ohms)
                    shares = [.. shares, Math.Sqrt(0.5 * JustBelow * good.Low / shorted.Ohms), JustBelow * good.Low / shorted.Ohms];
                return (Shorts(shorted.Ohms, shares), true);
            case FaultEffect.Grounded or FaultEffect.Across:
                return (GroundOhms, true);
            case FaultEffect.EmfScale e:
                return ([.. new[] { 0.3, 0.5, 0.6, 0.7, 0.8, 0.88 }.Select(f => f * e.NominalVolts)], true);
            // Across a resistance anything lowers it: a sensor whose ohms are off reads some of them, seldom none.
            case FaultEffect.Short when part.Model.Links.All(l => l is Link.Resistance):
                return (Shorts(part.Model.Links.Sum(l => l.Ohms), [0.02, 0.3, 1, 3, .. BelowTheRange(part)]), true);
            case FaultEffect.Short:
                return (Shorts(part.Model.Links.Sum(l => l.Ohms), 0.02, 0.3), true);
            case FaultEffect.Emf e:
                var emf = ((Link.Source)part.Model.Links[e.Link]).Emf;
                return ([.. new[] { 0.1, 0.3, 0.5, 0.6, 0.7, 0.76, 0.82, 0.87, 0.91 }.Select(f => f * emf)], true);
            default:
                return ([], false);
        }
    }

    /// <summary>Metal on metal inside a part, as a socket bent against its shell or a winding burnt through, Ω; estimate.</summary>
    private const double DeadShortOhms = 0.1;

    /// <summary>Share of the least that a maker allows, from which on turns are said to be lost; estimate.</summary>
    private const double JustBelow = 0.95;

    /// <summary>What lies across the part, as a share of its ohms, where it reads just below the least that its maker allows.</summary>
    private static double[] BelowTheRange(Part part)
    {
        var ohms = part.Model.Links.Sum(l => l.Ohms);
        return part.GoodOhms is { } good && JustBelow * good.Low is var left && left < ohms && left / (ohms - left) is > 3 and var share
            ? [share]
            : [];
    }

    /// <summary>What is left of a load's ohms at some shares of them, and a dead short where that is well below.</summary>
    private static double[] Shorts(double ohms, params double[] shares)
    {
        double[] left = [.. shares.Select(s => s * ohms)];
        return left[0] > 2 * DeadShortOhms ? [DeadShortOhms, .. left] : left;
    }

    /// <summary>
    /// Added resistances to weigh, uniform in the logarithm: from what takes <see cref="LeastShare"/> of the nominal volts at the working
    /// current up to 30 kΩ, past which the meter cannot tell it from an open.
    /// </summary>
    private static List<double> Grid(Circuit circuit, double workingAmps, double most = MostOhms)
    {
        var least = Math.Max(LeastShare * circuit.NominalVolts / Math.Max(workingAmps, 0.01), 0.001);
        var steps = Math.Max(2, (int)Math.Ceiling(Math.Log10(most / least) * StepsPerDecade));
        return Enumerable.Range(0, steps + 1).Select(i => least * Math.Pow(most / least, (double)i / steps)).ToList();
    }

    /// <summary>Wires that hang on the reference whatever is set.</summary>
    internal static HashSet<string> ReferenceNet(Machine machine) => NetAt(machine.Run(Setup.Rest), -1, machine.Circuit.ReferencePoint);

    /// <summary>Wires that hang on the supply whatever is set.</summary>
    internal static HashSet<string> SupplyNet(Machine machine)
    {
        var (rest, positive) = (machine.Run(Setup.Rest), FaultEffects.SupplyPositive(machine.Circuit));
        return NetAt(rest, rest.Node(positive), positive);
    }

    /// <summary>
    /// Wires that hang on a node already: joining them to it changes nothing worth a suspicion. Behind a contact that happens to be
    /// closed at rest it does, once that opens: an oil switch that earths its lamp, a stop button.
    /// </summary>
    private static HashSet<string> NetAt(OperatingPoint op, int at, Terminal from)
    {
        var always = Nets.Of(op.Circuit)
            .Connectivity.Reach(from, e => e.PassesSupply && e.Link is not Link.Contact { Rule: not ClosedRule.Always });
        return op
            .Circuit.Wires.Where(w =>
            {
                var node = op.WireNode(w, true);
                return node == at
                    || always.Contains(w.From.Bare)
                        && op.Ohms(node, at) < 0.2
                        && Math.Abs(op.Volts(node) - op.Volts(at)) < 0.05
                        && op.AcVolts(node, at).Magnitude < 0.05;
            })
            .Select(w => w.Id)
            .ToHashSet();
    }

    /// <summary>Largest healthy current in each wire, pin and link over all states of all functions, A.</summary>
    internal sealed class WorkingCurrents
    {
        private readonly Dictionary<string, double> _wires = [];
        private readonly Dictionary<(int, int), double> _links = [];
        private readonly Circuit _circuit;

        public WorkingCurrents(Machine machine)
        {
            _circuit = machine.Circuit;
            var setups = _circuit
                .Functions.Select(f => FunctionSetups.SetupFor(_circuit, f))
                .OfType<Setup>()
                .Append(Setup.Rest)
                .Distinct()
                .ToList();
            foreach (var setup in setups.Append(Together(setups)))
            {
                var op = machine.Run(setup);
                foreach (var w in _circuit.Wires)
                    Keep(_wires, w.Id, op.WireAmps(w.Id));
                for (var p = 0; p < _circuit.Parts.Count; p++)
                for (var l = 0; l < _circuit.Parts[p].Model.Links.Count; l++)
                    Keep(_links, (p, l), op.LinkAmps(p, l));
            }
            Largest = _wires.Values.DefaultIfEmpty(1).Max();
        }

        /// <summary>As many functions at once as the controls allow: what a shared feed carries at most.</summary>
        private static Setup Together(IEnumerable<Setup> setups)
        {
            var moves = new Dictionary<string, ControlMove>(StringComparer.OrdinalIgnoreCase);
            foreach (var setup in setups.Where(s => s.Steps.Count == 1))
                if (setup.Steps[0].All(m => !moves.TryGetValue(m.Control, out var known) || known == m))
                    foreach (var m in setup.Steps[0])
                        moves[m.Control] = m;
            return moves.Count == 0
                ? Setup.Rest
                : new Setup(
                    [],
                    [
                        [.. moves.Values],
                    ]
                );
        }

        public double Largest { get; }

        public double Wire(string id) => _wires[id];

        public double Link(int part, int link) => _links[(part, link)];

        public double Pin(string tag, string pin)
        {
            var part = _circuit.IndexOf(tag);
            return _links[(part, _circuit.Parts[part].Model.LinkIndex(pin))];
        }

        /// <summary>Most amps through what a fault sits on: a pin, a stud's busiest wire, a part's busiest link.</summary>
        public double At(Fault fault)
        {
            var colon = fault.Target.IndexOf(':', StringComparison.Ordinal);
            if (colon > 0)
                return Pin(fault.Target[..colon], fault.Target[(colon + 1)..]);
            if (_circuit.FindPart(fault.Target) is not { } part)
                return Wire(fault.Target);
            if (part.Model.IsPoint)
                return _circuit
                    .Wires.Where(w => w.From.Tag == part.Tag || w.To.Tag == part.Tag)
                    .Select(w => Wire(w.Id))
                    .DefaultIfEmpty()
                    .Max();
            var index = _circuit.IndexOf(part.Tag);
            var links = part.Model.Faults.FirstOrDefault(m => m.Words == fault.Words)?.Effect is FaultEffect.Series s ? s.Links : [0];
            return links.Max(l => Link(index, l));
        }

        private static void Keep<TKey>(Dictionary<TKey, double> of, TKey key, double amps)
            where TKey : notnull => of[key] = Math.Max(of.GetValueOrDefault(key), Math.Abs(amps));
    }
}
