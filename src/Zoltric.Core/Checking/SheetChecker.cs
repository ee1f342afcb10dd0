using System.Globalization;
using System.Numerics;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Checking;

/// <summary>
/// Electrical sense of a sheet that reads well: loads with a way back, sources not shorted, functions that can work, wires that suit their
/// fuses. Each problem stands at the line it is about.
/// </summary>
public static partial class SheetChecker
{
    /// <summary>From this many times its rating a fuse was opened by a short, not by its load; common practice, no source.</summary>
    private const double ShortRatio = 5;

    public static IReadOnlyList<Problem> Check(Circuit circuit, string text)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(text);
        if (circuit.Parts.Count == 0 || !circuit.Sources.Any())
            return [];
        var where = new Places(text);
        var graph = new Connectivity(circuit);
        var machine = new Machine(circuit);
        return
        [
            .. Families(circuit, where),
            .. Unreached(circuit, where),
            .. Unrated(circuit, where),
            .. NoWayBack(circuit, graph, where),
            .. States(circuit, machine, where),
            .. Functions(circuit, machine, where),
            .. NotAsked(circuit, machine, where),
            .. NotStopped(circuit, machine, where),
            .. WireSizes(circuit, graph, where),
            .. Unprotected(circuit, graph, where),
            .. Volts(circuit, where),
            .. SeriesBatteries(circuit, where),
            .. Halves(circuit, where),
            .. PhaseOrder(circuit, machine, where),
            .. ModuleVolts(circuit, where),
            .. ChargerVolts(circuit, where),
        ];
    }

    /// <summary>A family that is not known brings none of its cautions.</summary>
    private static IEnumerable<Problem> Families(Circuit circuit, Places where)
    {
        if (circuit.Family is { } family && !MachineFamily.All.Contains(family))
            yield return where.Machine(
                Severity.Warning,
                $"There is no family “{family}”, so none of its cautions are shown.",
                family,
                Spelling.DidYouMean(family, MachineFamily.All) ?? $"write one of {string.Join(", ", MachineFamily.All)}"
            );
    }

    /// <summary>
    /// Volts are read to the first source's negative when the sheet is silent. With batteries in series that may be the middle of them,
    /// where nobody puts the black lead.
    /// </summary>
    private static IEnumerable<Problem> SeriesBatteries(Circuit circuit, Places where)
    {
        if (circuit.Reference is not null)
            yield break;
        var nets = Nets.Of(circuit);
        var batteries = circuit.Parts.Where(p => p.Kind is Battery).ToList();
        var (first, lowest) = (circuit.ReferencePoint, circuit.ReferencePoint);
        for (var step = 0; step < batteries.Count; step++)
            if (batteries.Find(b => nets.SameNet(new Terminal(b.Tag, "+"), lowest)) is { } below)
                lowest = new Terminal(below.Tag, "-");
        if (lowest != first)
            yield return where.Mended(
                where.Part(
                    Severity.Warning,
                    first.Tag,
                    $"Volts are read to {first}, which is the middle of batteries in series.",
                    first.Tag,
                    $"write  reference {lowest}"
                ),
                new Regex($@"^\s*part\s+{Regex.Escape(first.Tag)}\b"),
                found => $"reference {lowest}\n{found}"
            );
    }

    /// <summary>Monitors that have all three phases in the wrong order, and so never hold.</summary>
    private static IEnumerable<Problem> PhaseOrder(Circuit circuit, Machine machine, Places where)
    {
        var monitors = circuit.Parts.Select((p, i) => (Part: p, Index: i)).Where(x => x.Part.Model.Coil is { InOrder: true }).ToList();
        if (monitors.Count == 0)
            yield break;
        var runs = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
            .OfType<Setup>()
            .Append(Setup.Rest)
            .Distinct()
            .Select(s => machine.Run(s))
            .ToList();
        foreach (var (part, index) in monitors)
        {
            var coil = part.Model.Coil!;
            Complex Across(OperatingPoint op, int link) =>
                op.AcVolts(
                    op.Node(new Terminal(part.Tag, part.Model.Links[link].A)),
                    op.Node(new Terminal(part.Tag, part.Model.Links[link].B))
                );
            if (
                runs.Exists(op =>
                    coil.Links.All(l => Across(op, l).Magnitude > coil.PullInVolts)
                    && !Phases.TurnRight(Across(op, coil.Links[0]), Across(op, coil.Links[1]))
                )
            )
                yield return where.Part(
                    Severity.Warning,
                    part.Tag,
                    $"{part.Spoken} has its phases in the wrong order: it never pulls in.",
                    part.Tag,
                    "change two of its three wires about"
                );
        }
    }

    /// <summary>Modules whose supply, by the volts of the sheet's header, would have to be more than their section ever has.</summary>
    private static IEnumerable<Problem> ModuleVolts(Circuit circuit, Places where)
    {
        var nets = Nets.Of(circuit);
        foreach (var part in circuit.Parts.Where(p => p.Kind is Module && p.Model.Coil is not null))
        {
            var supply = part.Model.Links[part.Model.Coil!.Link];
            var has = nets.FindSection(new Terminal(part.Tag, supply.A)) is { Own: var own } ? Math.Max(own.DcVolts, own.AcVolts) : 0;
            if (has <= 0 || part.Model.Coil.PullInVolts <= has)
                continue;
            var from = Math.Round(LeastOfSupply * has);
            var comesUp = where.Part(
                Severity.Warning,
                part.Tag,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{part.Spoken} comes up from {part.Model.Coil.PullInVolts:0.#} V, by the header, and its supply has {has:0.#} V."
                ),
                part.Tag,
                string.Create(CultureInfo.InvariantCulture, $"write from={from:0}V behind its supply pins")
            );
            yield return where.Mended(comesUp, SupplyPins(), found =>
                string.Create(CultureInfo.InvariantCulture, $"{found} from={from:0}V")
            );
        }
    }

    /// <summary>Chargers whose stated volts are the machine's own: what they charge must be more than the battery has by itself.</summary>
    private static IEnumerable<Problem> ChargerVolts(Circuit circuit, Places where)
    {
        static double Emf(Part p) => p.Model.Links.OfType<Link.Source>().Max(l => l.Emf);
        var nets = Nets.Of(circuit);
        GalvanicSection? At(Part p) => nets.FindSection(new Terminal(p.Tag, "+"));
        var batteries = circuit.Parts.Where(p => p.Kind is Battery).ToList();
        foreach (var part in circuit.Parts.Where(p => p.Kind is Charger))
            if (batteries.FirstOrDefault(b => At(b) == At(part) && Emf(b) >= Emf(part)) is { } battery)
                yield return where.Part(
                    Severity.Warning,
                    part.Tag,
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{part.Spoken} gives {Emf(part):0.#} V and {battery.Tag} has {Emf(battery):0.#} V by itself: it never charges it."
                    ),
                    part.Tag,
                    "write the volts that it charges at, or leave them out"
                );
    }

    [GeneratedRegex(@"(?<=^\s+)supply [^\s]+(?: ground [^\s]+)?")]
    private static partial Regex SupplyPins();

    /// <summary>Share of its supply from which a module is said to come up; common practice, no source.</summary>
    private const double LeastOfSupply = 0.75;

    /// <summary>Pins of a plug whose halves a and b lie on other sides than those of its other pins.</summary>
    private static IEnumerable<Problem> Halves(Circuit circuit, Places where)
    {
        foreach (var (tag, pin) in PlugSides.TurnedPins(circuit))
        {
            // Where the sides have names nobody needs the letters.
            if (circuit.FindPart(tag) is not { Sides: null })
                continue;
            var turned = circuit.EntersAtHalfB(tag, pin);
            var half = where.Pin(
                Severity.Warning,
                tag,
                pin,
                $"Half a of {tag}:{pin} is on the other side of the plug than half a of its other pins.",
                turned ? $"write {tag}:{pin}, without “<”, or name the sides" : $"write {tag}:{pin}<, or name the sides:  sides one|other"
            );
            yield return where.Mended(
                half,
                new Regex($"(?<![A-Za-z0-9_]){Regex.Escape(tag)}:{Regex.Escape(pin)}(?![0-9ab@]){(turned ? "<" : "(?!<)")}"),
                found => turned ? found[..^1] : found + "<"
            );
        }
    }

    private static IEnumerable<Problem> Unreached(Circuit circuit, Places where)
    {
        var wired = circuit
            .Wires.SelectMany(w => new[] { w.From, w.To })
            .Concat(circuit.Bonds.SelectMany(b => new[] { b.A, b.B }))
            .ToHashSet();
        foreach (var part in circuit.Parts)
        {
            var pins = part.Kind is PinRow;
            var free = part.Model.Terminals.Select(t => new Terminal(part.Tag, t, pins)).Where(t => !wired.Contains(t)).ToList();
            if (free.Count == 0)
                continue;
            if (part.Model.Coil is not null)
                // A relay's spare contacts are silent; its coil is not.
                free = free.Where(t => part.Model.Links[part.Model.Coil.Link] is var coil && (t.Name == coil.A || t.Name == coil.B))
                    .ToList();
            // So are spare poles and auxiliary contacts of switchgear.
            if (part.Kind is ProtectiveDevice && free.Count < part.Model.Terminals.Count)
                free = [.. free.Where(t => part.Model.Links.Any(l => (l.A == t.Name || l.B == t.Name) && !IsSpare(l, free)))];
            // A connector wired on one side only is a socket: nothing is missing on the other.
            if (
                pins
                && free.Any(t => t.Name[^1] == 'b')
                && part.Model.Terminals.Where(t => t[^1] == 'b').All(t => free.Exists(x => x.Name == t))
            )
                continue;
            if (pins)
                free = free.Where(t => wired.Contains(t with { Name = t.Name[..^1] + (t.Name[^1] == 'a' ? "b" : "a") })).ToList();
            foreach (var t in free.Where(t => t.Name != "PE" && !part.Model.Posts.Contains(t.Name)))
                yield return where.Part(
                    Severity.Warning,
                    part.Tag,
                    $"No path reaches {t}.",
                    t.ToString(),
                    $"name {t} in a path, or leave the part out"
                );
        }

        static bool IsSpare(Link link, List<Terminal> free) => free.Exists(t => t.Name == link.A) && free.Exists(t => t.Name == link.B);
    }

    private static IEnumerable<Problem> Unrated(Circuit circuit, Places where) =>
        circuit
            .Parts.Where(p => p.Kind is Fuse && p.Value(Dimension.Ampere) is null)
            .Select(p =>
                where.Part(
                    Severity.Warning,
                    p.Tag,
                    $"{p.Tag} has no amps: it is taken never to open.",
                    p.Tag,
                    "write its rating, such as 15A"
                )
            );

    private static IEnumerable<Problem> NoWayBack(Circuit circuit, Connectivity graph, Places where)
    {
        foreach (var part in circuit.Parts)
        {
            if (part.Model.Load is not { } load)
                continue;
            var link = part.Model.Links[load.Link];
            foreach (var end in new[] { link.A, link.B }.Where(part.Model.Terminals.Contains).Except(part.Model.Posts))
            {
                var t = new Terminal(part.Tag, end);
                if (
                    !graph
                        .Reach(t, crossed => crossed.Part?.Tag != part.Tag)
                        .Any(x => circuit.FindPart(x.Tag) is { Kind.IsSource: true } or { Model.Coupling: not null })
                )
                    yield return where.Part(
                        Severity.Error,
                        part.Tag,
                        $"{part.Spoken} has no way from {t} back to a source.",
                        t.ToString(),
                        $"draw a path from {t} to the source or its ground"
                    );
            }
        }
    }

    /// <summary>Runs the machine at rest and in every state one move or one function away from it.</summary>
    private static IEnumerable<Problem> States(Circuit circuit, Machine machine, Places where)
    {
        var setups = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
            .OfType<Setup>()
            .Concat(
                circuit.Controls.SelectMany(c =>
                    c.Positions.Where((_, i) => i != c.Rest)
                        .Select(p => new Setup(
                            [],
                            [
                                [new ControlMove(c.Name, p)],
                            ]
                        ))
                )
            );
        var said = new HashSet<string>();
        foreach (var setup in setups.Prepend(Setup.Rest).Distinct())
        {
            var op = machine.Run(setup);
            var state = setup.IsRest ? "at rest" : $"with {setup}";
            foreach (var (tag, amps) in op.Blown)
            {
                var rated = circuit.FindPart(tag)!.Value(Dimension.Ampere) ?? 1;
                var shorted = amps > ShortRatio * rated;
                if (!said.Add(tag + shorted))
                    continue;
                var message = shorted
                    ? string.Create(CultureInfo.InvariantCulture, $"The source is shorted {state}: {amps:0} A through {tag}, which opens.")
                    : string.Create(
                        CultureInfo.InvariantCulture,
                        $"{tag} ({rated:0.##} A) would open {state}: {amps:0.0} A is what its own load draws."
                    );
                yield return where.Part(
                    shorted && setup.IsRest ? Severity.Error : Severity.Warning,
                    tag,
                    message,
                    tag,
                    shorted ? "look for a path that misses its load" : "check the fuse against the load"
                );
            }
            for (var p = 0; p < circuit.Parts.Count; p++)
            {
                if (circuit.Parts[p].Model.Links is not [Link.Source source] || double.IsInfinity(source.Emf))
                    continue;
                var amps = -op.LinkAmps(p, 0);
                var collapsed = Math.Abs(op.LinkVolts(p, 0)) < 0.5 * source.Emf;
                if (!collapsed || amps <= 0 || !said.Add(circuit.Parts[p].Tag))
                    continue;
                yield return where.Part(
                    setup.IsRest ? Severity.Error : Severity.Warning,
                    circuit.Parts[p].Tag,
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{circuit.Parts[p].Tag} is shorted {state}: {amps:0} A and no more than {Math.Abs(op.LinkVolts(p, 0)):0.0} V left."
                    ),
                    circuit.Parts[p].Tag,
                    "look for a path from + to − that misses its load"
                );
            }
        }
    }

    private static IEnumerable<Problem> Functions(Circuit circuit, Machine machine, Places where)
    {
        foreach (var f in circuit.Functions)
        {
            if (FunctionSetups.SetupFor(circuit, f) is not { } setup)
            {
                yield return where.Function(
                    Severity.Error,
                    f.Name,
                    $"No setting of the controls makes “{f.When}” true.",
                    "a condition that can hold"
                );
                continue;
            }
            if (MeantShare.Of(circuit, f) is < 1 and var meant)
                yield return where.Function(
                    Severity.Warning,
                    f.Name,
                    $"“{f.Name}” is weak in its own state ({setup}): {meant:P0} of its rating. What it has there is taken for working.",
                    "nothing where it is meant so, as behind a resistor; else follow the path and the ratings"
                );
            else if (FunctionState.Judge(machine.Run(setup), f) is not Answer.Works and var state)
                yield return where.Function(
                    Severity.Error,
                    f.Name,
                    $"“{f.Name}” cannot work in its own state ({setup}): it is {state.Text()}.",
                    "follow the path and the contacts' conditions"
                );
        }
    }

    /// <summary>
    /// Functions that go on with a control of their condition at rest: a contact is missing on the sheet, or the condition asks too much; a
    /// condition of the machine, as an engine that runs, needs no contact.
    /// On such a sheet "dead" and "works" are no symptoms.
    /// </summary>
    private static IEnumerable<Problem> NotAsked(Circuit circuit, Machine machine, Places where)
    {
        foreach (var f in circuit.Functions.Where(f => f is { After: null, Test: FunctionTest.LoadWorks }))
        {
            if (FunctionSetups.SetupFor(circuit, f) is not { Steps: [var moves] } setup)
                continue;
            foreach (var move in moves.Where(m => circuit.FindControl(m.Control) is { Given: false }))
            {
                var without = setup with
                {
                    Steps =
                        moves.Count == 1
                            ? []
                            :
                            [
                                [.. moves.Where(m => m != move)],
                            ],
                };
                if (FunctionState.Judge(machine.Run(without), f) == Answer.StuckOn)
                    yield return where.Function(
                        Severity.Warning,
                        f.Name,
                        $"“{f.Name}” works without {move.Control}={move.Position}, which its condition asks for.",
                        $"the contact that {move.Control} works is missing in its path, or {move.Control} has no place in its condition"
                    );
            }
        }
    }

    /// <summary>
    /// Interlocks that change nothing on the sheet. Where another contactor pulls in instead the motor may turn, the other way.
    /// </summary>
    private static IEnumerable<Problem> NotStopped(Circuit circuit, Machine machine, Places where)
    {
        foreach (var i in circuit.Interlocks)
            if (
                circuit.FindFunction(i.Stops) is { Test: FunctionTest.LoadWorks } f
                && FunctionSetups.SetupAgainst(circuit, f, i.When) is { Steps: [var moves] } together
                && Foremost(together, moves, i.When) is var against
                && FunctionSetups.SetupFor(circuit, f) is { } due
                && (machine.Run(due), machine.Run(against)) is var (works, stopped)
                && FunctionState.Judge(stopped, f) is Answer.Works or Answer.StuckOn
                && Enumerable.Range(0, circuit.Parts.Count).All(p => works.PulledIn(p) == stopped.PulledIn(p))
            )
                yield return where.Function(
                    Severity.Warning,
                    f.Name,
                    $"With {i.When} “{f.Name}” works, though the sheet says that it is stopped.",
                    "the contact that stops it is missing on the sheet"
                );
    }

    /// <summary>The setup with what a condition speaks of done first: of two contactors that lock each other out the first one
    /// wins.</summary>
    private static Setup Foremost(Setup together, IReadOnlyList<ControlMove> moves, Condition condition)
    {
        var first = moves
            .Where(m =>
                condition.Leaves().OfType<Condition.Position>().Any(p => p.Control.Equals(m.Control, StringComparison.OrdinalIgnoreCase))
            )
            .ToList();
        IReadOnlyList<IReadOnlyList<ControlMove>> steps = [first, [.. moves.Except(first)]];
        return together with { Steps = [.. steps.Where(s => s.Count > 0)] };
    }

    private static IEnumerable<Problem> WireSizes(Circuit circuit, Connectivity graph, Places where)
    {
        var said = new HashSet<string>();
        HashSet<Terminal> home = circuit.Sources.Any() ? graph.Reach(circuit.ReferencePoint, e => e.IsConductor) : [];
        foreach (var fuse in circuit.Parts.Where(p => p.Model.Links is [Link.Fuse { RatedAmps: < double.PositiveInfinity }]))
        {
            var amps = ((Link.Fuse)fuse.Model.Links[0]).RatedAmps;
            foreach (
                var wire in Behind(graph, fuse, home)
                    .Where(w => w.Size is not null && Conductor.LargestFuse(Conductor.SquareMillimetres(w.Size!.Value)) < amps)
            )
                if (said.Add(wire.Id))
                    yield return where.Wire(
                        Severity.Warning,
                        wire,
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{wire.Id} ({QuantityText.Write(wire.Size!.Value)}) is too small for {fuse.Tag} ({amps:0.##} A) before it."
                        ),
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"a fuse of {Conductor.LargestFuse(Conductor.SquareMillimetres(wire.Size!.Value)):0.##} A at "
                                + $"most, or a larger wire"
                        )
                    );
        }
    }

    /// <summary>Loads other than starters that a battery feeds with nothing in between to open.</summary>
    private static IEnumerable<Problem> Unprotected(Circuit circuit, Connectivity graph, Places where)
    {
        foreach (var battery in circuit.Parts.Where(p => p.Kind is Battery))
        foreach (var tag in Fed(graph, new Terminal(battery.Tag, "+")).Where(t => circuit.FindPart(t)!.Kind is Load).Distinct())
            yield return where.Part(
                Severity.Warning,
                tag,
                $"{circuit.FindPart(tag)!.Spoken} is fed from {battery.Tag} without a fuse or breaker.",
                tag,
                "put a fuse near the source"
            );
    }

    /// <summary>
    /// Wires past a fuse, seen from the source, up to the loads, the next fuses and the way home: the contacts of a change-over
    /// that reverses a motor never join feed and home at once.
    /// </summary>
    private static IEnumerable<Wire> Behind(Connectivity graph, Part fuse, HashSet<Terminal> home)
    {
        var link = fuse.Model.Links[0];
        var (a, b) = (new Terminal(fuse.Tag, link.A), new Terminal(fuse.Tag, link.B));
        bool Fed(Terminal t) =>
            graph
                .Reach(t, e => e.PassesSupply && e.Part?.Tag != fuse.Tag)
                .Any(x => graph.From(x).Any(e => e.Link is Link.Source s && s.A == x.Name));
        var from =
            Fed(a) ? b
            : Fed(b) ? a
            : b;
        return graph
            .Reach(from, e => e.PassesSupply && e.Link is not Link.Fuse, home.Contains)
            .Where(t => !home.Contains(t))
            .SelectMany(graph.From)
            .Where(e => e.Wire is not null)
            .Select(e => e.Wire!)
            .Distinct();
    }

    /// <summary>Tags of parts whose load links touch what a source feeds without a fuse or breaker between.</summary>
    private static IEnumerable<string> Fed(Connectivity graph, Terminal source) =>
        graph
            .Reach(source, e => e.PassesSupply && e.Link is not Link.Fuse)
            .SelectMany(graph.From)
            .Where(e => e.Link is Link.Resistance && e.Part?.Model.Load is not null)
            .Select(e => e.Part!.Tag);

    /// <summary>Share of the header's volts that a section may be off and still be the one it speaks of.</summary>
    private const double HeaderTolerance = 0.25;

    /// <summary>
    /// A header that the sources contradict, and sides that one fault would join because nothing says that they are separated.
    /// </summary>
    private static IEnumerable<Problem> Volts(Circuit circuit, Places where)
    {
        var nets = Nets.Of(circuit);
        bool Stated(GalvanicSection s) =>
            Math.Abs((circuit.Alternating ? s.Own.AcVolts : s.Own.DcVolts) - circuit.NominalVolts)
            <= HeaderTolerance * circuit.NominalVolts;
        var header = new Exposure(circuit.Alternating ? circuit.NominalVolts : 0, circuit.Alternating ? 0 : circuit.NominalVolts);
        var worst = nets.Sections.MaxBy(s => s.Own.Volts);
        if (
            worst is { Own.Volts: > 0, Sources.Count: > 0 }
            && (!nets.Sections.Any(Stated) || SafetyLimits.IsDangerous(worst.Own) && !SafetyLimits.IsDangerous(header))
        )
            yield return where.Part(
                Severity.Warning,
                worst.Sources[0],
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"The header says {circuit.NominalVolts:0.#} V {(circuit.Alternating ? "AC" : "DC")}; {worst.Sources[0]} "
                        + $"gives {Bridges.Said(worst.Own)}. Safety goes by the sources."
                ),
                worst.Sources[0],
                "correct the nominal line, or leave it if this sheet holds both"
            );
        foreach (var part in circuit.Parts.Where(p => !p.Has(Nets.Separated) && (p.Model.Coupling is not null || p.Kind is Psu)))
        {
            var low = nets.FindSection(new Terminal(part.Tag, part.Model.Coupling is null ? "+" : "S1"));
            if (low is not null && !SafetyLimits.IsDangerous(low.Own) && SafetyLimits.IsDangerous(low.Exposure))
            {
                var joined = where.Part(
                    Severity.Warning,
                    part.Tag,
                    $"{part.Tag} is not said to be separated: its {Bridges.Said(low.Own)} side counts as {Bridges.Said(low.ByFault)}.",
                    part.Tag,
                    "write “separated” if it is a safety isolating transformer or a supply with double insulation (IEC 61558-2-6)"
                );
                yield return where.Mended(joined, new Regex($@"(?<=^\s*part\s+){Regex.Escape(part.Tag)}\s+{part.Kind.Word}\b"), found =>
                    $"{found} {Nets.Separated}"
                );
            }
        }
        foreach (
            var (a, b) in nets
                .UnseparatedPins.Where(x =>
                    SafetyLimits.IsDangerous(nets.FindSection(x.A)!.Own) != SafetyLimits.IsDangerous(nets.FindSection(x.B)!.Own)
                )
                .DistinctBy(x => x.A.Tag)
        )
            yield return where.Part(
                Severity.Warning,
                a.Tag,
                $"{a} and {b} are neighbours at different volts: one fault joins them.",
                a.Tag,
                $"leave a pin free, or write “separated” if a barrier stands between"
            );
    }
}
