using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Checking;

/// <summary>
/// Electrical sense of a sheet that reads well: loads with a way back, sources not shorted, functions that can work, wires that suit their
/// fuses. Each problem stands at the line it is about.
/// </summary>
public static class SheetChecker
{
    /// <summary>From this many times its rating a fuse was opened by a short, not by its load; common practice, no source.</summary>
    private const double ShortRatio = 5;

    public static IReadOnlyList<Problem> Check(Circuit circuit, string text)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(text);
        if (circuit.Parts.Count == 0 || !circuit.Sources.Any()) return [];
        var where = new Places(text);
        var graph = new PathGraph(circuit);
        var machine = new Machine(circuit);
        return [.. Unreached(circuit, where), .. Unrated(circuit, where), .. NoWayBack(circuit, graph, where), .. States(circuit, machine, where), .. Functions(circuit, machine, where),
            .. WireSizes(circuit, graph, where), .. Unprotected(circuit, graph, where)];
    }

    private static IEnumerable<Problem> Unreached(Circuit circuit, Places where)
    {
        var wired = circuit.Wires.SelectMany(w => new[] { w.From, w.To }).Concat(circuit.Bonds.SelectMany(b => new[] { b.A, b.B })).ToHashSet();
        foreach (var part in circuit.Parts)
        {
            var pins = part.Kind is PinRow;
            var free = part.Model.Terminals.Select(t => new Terminal(part.Tag, t, pins)).Where(t => !wired.Contains(t)).ToList();
            if (free.Count == 0) continue;
            if (part.Model.Coil is not null)
                // A relay's spare contacts are silent; its coil is not.
                free = free.Where(t => part.Model.Links[part.Model.Coil.Link] is var coil && (t.Name == coil.A || t.Name == coil.B)).ToList();
            // A connector wired on one side only is a socket: nothing is missing on the other.
            if (pins && free.Any(t => t.Name[^1] == 'b') && part.Model.Terminals.Where(t => t[^1] == 'b').All(t => free.Exists(x => x.Name == t))) continue;
            if (pins) free = free.Where(t => wired.Contains(t with { Name = t.Name[..^1] + (t.Name[^1] == 'a' ? "b" : "a") })).ToList();
            foreach (var t in free.Where(t => t.Name != "PE"))
                yield return where.Part(Severity.Warning, part.Tag, $"No path reaches {t}.", t.ToString(), $"name {t} in a path, or leave the part out");
        }
    }

    private static IEnumerable<Problem> Unrated(Circuit circuit, Places where) =>
        circuit.Parts.Where(p => p.Kind is Fuse && p.Value(Dimension.Ampere) is null)
            .Select(p => where.Part(Severity.Warning, p.Tag, $"{p.Tag} has no amps: it is taken never to open.", p.Tag, "write its rating, such as 15A"));

    private static IEnumerable<Problem> NoWayBack(Circuit circuit, PathGraph graph, Places where)
    {
        foreach (var part in circuit.Parts)
        {
            if (part.Model.Load is not { } load) continue;
            var link = part.Model.Links[load.Link];
            foreach (var end in new[] { link.A, link.B }.Where(part.Model.Terminals.Contains))
            {
                var t = new Terminal(part.Tag, end);
                if (!graph.Reach(t, crossed => crossed.Part?.Tag != part.Tag).Any(x => circuit.FindPart(x.Tag) is { Kind.IsSource: true } or { Model.Coupling: not null }))
                    yield return where.Part(Severity.Error, part.Tag, $"{part.Spoken} has no way from {t} back to a source.", t.ToString(), $"draw a path from {t} to the source or its ground");
            }
        }
    }

    /// <summary>Runs the machine at rest and in every state one move or one function away from it.</summary>
    private static IEnumerable<Problem> States(Circuit circuit, Machine machine, Places where)
    {
        var setups = circuit.Functions.Select(f => FunctionState.SetupFor(circuit, f)).OfType<Setup>()
            .Concat(circuit.Controls.SelectMany(c => c.Positions.Where((_, i) => i != c.Rest).Select(p => new Setup([], [[new ControlMove(c.Name, p)]]))));
        var said = new HashSet<string>();
        foreach (var setup in setups.Prepend(Setup.Rest).Distinct())
        {
            var op = machine.Run(setup);
            var state = setup.IsRest ? "at rest" : $"with {setup}";
            foreach (var (tag, amps) in op.Blown)
            {
                var rated = circuit.FindPart(tag)!.Value(Dimension.Ampere) ?? 1;
                var shorted = amps > ShortRatio * rated;
                if (!said.Add(tag + shorted)) continue;
                var message = shorted
                    ? string.Create(CultureInfo.InvariantCulture, $"The source is shorted {state}: {amps:0} A through {tag}, which opens.")
                    : string.Create(CultureInfo.InvariantCulture, $"{tag} ({rated:0.##} A) would open {state}: {amps:0.0} A is what its own load draws.");
                yield return where.Part(shorted && setup.IsRest ? Severity.Error : Severity.Warning, tag, message, tag, shorted ? "look for a path that misses its load" : "check the fuse against the load");
            }
            for (var p = 0; p < circuit.Parts.Count; p++)
            {
                if (circuit.Parts[p].Model.Links is not [Link.Source source] || double.IsInfinity(source.Emf)) continue;
                var amps = -op.LinkAmps(p, 0);
                var collapsed = Math.Abs(op.LinkVolts(p, 0)) < 0.5 * source.Emf;
                if (!collapsed || amps <= 0 || !said.Add(circuit.Parts[p].Tag)) continue;
                yield return where.Part(setup.IsRest ? Severity.Error : Severity.Warning, circuit.Parts[p].Tag,
                    string.Create(CultureInfo.InvariantCulture, $"{circuit.Parts[p].Tag} is shorted {state}: {amps:0} A and no more than {Math.Abs(op.LinkVolts(p, 0)):0.0} V left."), circuit.Parts[p].Tag, "look for a path from + to − that misses its load");
            }
        }
    }

    private static IEnumerable<Problem> Functions(Circuit circuit, Machine machine, Places where)
    {
        foreach (var f in circuit.Functions)
        {
            if (FunctionState.SetupFor(circuit, f) is not { } setup)
            {
                yield return where.Function(Severity.Error, f.Name, $"No setting of the controls makes “{f.When}” true.", "a condition that can hold");
                continue;
            }
            var state = FunctionState.Of(machine.Run(setup), f);
            if (state == "works") continue;
            yield return where.Function(state == "weak" ? Severity.Warning : Severity.Error, f.Name, $"“{f.Name}” cannot work in its own state ({setup}): it is {state}.", "follow the path and the contacts' conditions");
        }
    }

    private static IEnumerable<Problem> WireSizes(Circuit circuit, PathGraph graph, Places where)
    {
        var said = new HashSet<string>();
        foreach (var fuse in circuit.Parts.Where(p => p.Model.Links is [Link.Fuse { RatedAmps: < double.PositiveInfinity }]))
        {
            var amps = ((Link.Fuse)fuse.Model.Links[0]).RatedAmps;
            foreach (var wire in graph.Behind(fuse).Where(w => w.Size is not null && Conductor.LargestFuse(Conductor.SquareMillimetres(w.Size!.Value)) < amps))
                if (said.Add(wire.Id))
                    yield return where.Wire(Severity.Warning, wire, string.Create(CultureInfo.InvariantCulture, $"{wire.Id} ({QuantityText.Write(wire.Size!.Value)}) is too small for {fuse.Tag} ({amps:0.##} A) before it."),
                        string.Create(CultureInfo.InvariantCulture, $"a fuse of {Conductor.LargestFuse(Conductor.SquareMillimetres(wire.Size!.Value)):0.##} A at most, or a larger wire"));
        }
    }

    /// <summary>Loads other than starters that a battery feeds with nothing in between to open.</summary>
    private static IEnumerable<Problem> Unprotected(Circuit circuit, PathGraph graph, Places where)
    {
        foreach (var battery in circuit.Parts.Where(p => p.Kind is Battery))
            foreach (var tag in graph.Fed(new Terminal(battery.Tag, "+")).Where(t => circuit.FindPart(t)!.Kind is Load).Distinct())
                yield return where.Part(Severity.Warning, tag, $"{circuit.FindPart(tag)!.Spoken} is fed from {battery.Tag} without a fuse or breaker.", tag, "put a fuse near the source");
    }
}
