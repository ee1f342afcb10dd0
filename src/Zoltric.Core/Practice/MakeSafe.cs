using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;

namespace Zoltric.Core.Practice;

/// <summary>When something must have been said before a test.</summary>
public enum SafetyNeed
{
    /// <summary>Before the first test of any kind.</summary>
    Any,

    /// <summary>Before a control is moved that may set the machine going.</summary>
    Moving,

    /// <summary>Before a tip touches dangerous volts.</summary>
    Live,

    /// <summary>Before ohms on a circuit that has dangerous volts: locked, and proved dead.</summary>
    Dead,
}

/// <summary>One thing to be understood and done before a test that needs it.</summary>
/// <param name="Id">Stable name under which the answer is kept.</param>
public sealed record SafetyItem(string Id, SafetyNeed Need, string Say);

/// <summary>A point to isolate at, with what isolates it.</summary>
public sealed record IsolationPoint(Part Source, Part? By)
{
    /// <summary>What to do, as an order.</summary>
    public string Say => By is { } b ? $"{b.Spoken}{At(b)}: off and locked, for {Source.Spoken}" : $"{Source.Spoken}{At(Source)}: disconnect it and keep it from being put back";

    private static string At(Part p) => p.Place is { } place ? $", {place}" : "";
}

/// <summary>
/// What is to be said, isolated, locked and proved dead on a machine, from the hazards of its sheet, its volts and its family. Common practice
/// unless a source stands beside it; local codes and licensed practice come first.
/// </summary>
public static class MakeSafe
{
    public static IReadOnlyList<SafetyItem> Of(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var hazards = circuit.Parts.SelectMany(p => p.Hazards).ToHashSet(StringComparer.OrdinalIgnoreCase);
        string Named(string hazard) => string.Join(", ", circuit.Parts.Where(p => p.Hazards.Contains(hazard, StringComparer.OrdinalIgnoreCase)).Select(p => p.Spoken).Take(3));
        var items = new List<SafetyItem> { new("local", SafetyNeed.Any, "Local codes, the maker's procedure and licensed practice come first. What is computed is calculated, never “safe”.") };
        var stations = circuit.Parts.Where(p => p.Place is not null && p.Contacts.Any(c => (c.When?.Leaves() ?? []).OfType<Condition.Position>().Any(x => circuit.FindControl(x.Control) is { Given: false }))).Select(p => p.Place!).Distinct().ToList();
        if (stations.Count > 0) items.Add(new("others", SafetyNeed.Any, $"Who else can start it, and from where: {string.Join(", ", stations.Take(6))}{(stations.Count > 6 ? " …" : "")}. They know, and keep their hands off it."));
        switch (circuit.Family)
        {
            case "lift": items.Add(new("lift", SafetyNeed.Any, "Rescue plan known, a competent person there, nobody on or under it, the station selected, emergency lowering known.")); break;
            case "truck": items.Add(new("stand", SafetyNeed.Any, "Parked, braked, wheels chocked; raised bodies propped.")); break;
            case "offroad": items.Add(new("stand", SafetyNeed.Any, "Parked and chocked; booms and implements lowered or blocked, hydraulics bled.")); break;
            case "appliance": items.Add(new("stand", SafetyNeed.Any, "Plug or feed known and in sight, gas shut where there is any; capacitors hold their charge after isolation.")); break;
            case "industrial": items.Add(new("stand", SafetyNeed.Any, "Raised parts lowered or blocked, air and springs let go; DC links hold their charge for minutes after isolation.")); break;
        }
        if (hazards.Contains("self-start")) items.Add(new("self-start", SafetyNeed.Any, $"It may start by itself ({Named("self-start")}; float, thermostat, timer, remote). Hands clear of what it drives; never push a contactor in by hand."));
        if (hazards.Contains("acid") || circuit.Parts.Any(p => p.Kind is Circuits.Kinds.Battery)) items.Add(new("battery", SafetyNeed.Any, "Batteries: gas, acid and short-circuit current. Ground lead off first, on last; no metal jewellery. Never lift a battery lead with the engine running."));
        if (hazards.Contains("capacitor")) items.Add(new("capacitor", SafetyNeed.Any, $"{Named("capacitor")} holds its charge: discharge and measure before touching."));
        if (hazards.Contains("hot")) items.Add(new("hot", SafetyNeed.Any, $"{Named("hot")}: hot long after; let it cool before reaching in."));
        foreach (var never in ForbiddenTests.NeverOhms)
            if (hazards.Contains(never)) items.Add(new(never, SafetyNeed.Any, $"{Named(never)}: no ohms, no jumpers, nothing unplugged with the supply on."));
        if (hazards.Contains("rotating") || circuit.Parts.Any(p => p.Kind is Circuits.Kinds.Motor or Circuits.Kinds.Motor3 or Circuits.Kinds.Starter))
            items.Add(new("moving", SafetyNeed.Moving, "It may move when a control is operated: chocked, and everyone clear of belts, drums and wheels. Engines outdoors."));
        if (IsDangerous(circuit))
        {
            items.Add(new("permitted", SafetyNeed.Live, $"Live {circuit.NominalVolts:0} V: I am permitted to work on it here. Meter and leads of the right category (IEC 61010-031), one hand, insulated tips. A lost neutral: stop."));
            items.Add(new("locked", SafetyNeed.Dead, "Isolated, my own lock on, proved dead with a tester shown live before and after (OSHA 29 CFR 1910.147 and 1910.333, EN 50110-1)."));
        }
        return items;
    }

    /// <summary>What a test needs, of all that the machine has.</summary>
    public static IReadOnlyList<SafetyItem> Needed(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        if (test.Probe is Probe.Code or Probe.Replaced) return [];
        var dead = ForbiddenTests.AllOff(circuit, test.Setup);
        return [.. Of(circuit).Where(i => i.Need switch
        {
            SafetyNeed.Any => true,
            SafetyNeed.Moving => !dead && test.Setup.Steps.Count > 0,
            SafetyNeed.Live => ForbiddenTests.IsLive(circuit, test),
            _ => dead && test.Probe is Probe.Ohms or Probe.Beep or Probe.Insulation,
        })];
    }

    /// <summary>True above 50 V AC or 120 V DC (IEC 61140).</summary>
    public static bool IsDangerous(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return ForbiddenTests.IsDangerous(circuit);
    }

    /// <summary>Every source with the isolator that its first live terminal leads to, if the sheet has one.</summary>
    public static IReadOnlyList<IsolationPoint> Isolation(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return [.. circuit.Sources.SelectMany(s => LiveTerminals(circuit, s).Select(t => Isolator(circuit, t)).Distinct().DefaultIfEmpty(null).Select(i => new IsolationPoint(s, i)))];
    }

    /// <summary>Pairs of points between which volts must be near nothing: behind the isolators, each to each and each to the reference and the earth.</summary>
    public static IReadOnlyList<(Terminal P, Terminal Q)> ToProveDead(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var pairs = new List<(Terminal, Terminal)>();
        foreach (var source in circuit.Sources.Where(s => s.Kind is not Circuits.Kinds.Charger))
        {
            var points = LiveTerminals(circuit, source).Select(t => Isolator(circuit, t) is { } by && by.Model.Through is { } through ? new Terminal(by.Tag, through.Second) : t).ToList();
            for (var i = 0; i < points.Count; i++)
            {
                for (var j = i + 1; j < points.Count; j++) pairs.Add((points[i], points[j]));
                foreach (var earth in new[] { ReturnOf(source), new Terminal(source.Tag, "PE") }) if (source.Model.Terminals.Contains(earth.Name) && earth != points[i]) pairs.Add((points[i], earth));
            }
        }
        return [.. pairs.Distinct()];
    }

    private static IEnumerable<Terminal> LiveTerminals(Circuit circuit, Part source) =>
        source.Model.Terminals.Where(t => t is not ("-" or "N" or "PE")).Select(t => new Terminal(source.Tag, t)).Where(t => circuit.Wires.Any(w => w.From == t || w.To == t) || circuit.Bonds.Any(b => b.A == t || b.B == t));

    private static Terminal ReturnOf(Part source) => new(source.Tag, source.Model.Terminals.Contains("N") ? "N" : "-");

    /// <summary>The isolator that wires from a terminal lead to, over studs, splices, fuses and breakers; null when there is none.</summary>
    private static Part? Isolator(Circuit circuit, Terminal from)
    {
        var (seen, queue) = (new HashSet<Terminal> { from }, new Queue<Terminal>([from]));
        while (queue.TryDequeue(out var t))
        {
            foreach (var next in circuit.Wires.Where(w => w.From == t || w.To == t).Select(w => w.From == t ? w.To : w.From).Concat(circuit.Bonds.Where(b => b.A == t || b.B == t).Select(b => b.A == t ? b.B : b.A)))
            {
                if (!seen.Add(next) || circuit.FindPart(next.Tag) is not { } part) continue;
                if (part.Kind is Circuits.Kinds.Isolator) return part;
                if (part.Model.IsPoint) queue.Enqueue(next);
                else if (part.Kind is Circuits.Kinds.Fuse or Circuits.Kinds.Breaker && part.Model.Through is { } through)
                {
                    var other = new Terminal(part.Tag, next.Name == through.First ? through.Second : through.First);
                    if (seen.Add(other)) queue.Enqueue(other);
                }
            }
        }
        return null;
    }
}
