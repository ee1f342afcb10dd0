using System.Runtime.CompilerServices;

namespace Zoltric.Core.Circuits;

/// <summary>
/// Which half of each pin lies on the same physical side of a plug. A path names the half it enters a, so a return that is written from the
/// load home has its halves the other way round unless it says so with <c>&lt;</c>.
/// </summary>
/// <remarks>
/// Two halves lie on one side when wires and parts join them without going through the plug, a source or the common return: the frame
/// joins both sides. Pins that nothing relates keep the halves of their path.
/// </remarks>
public static class PlugSides
{
    private static readonly ConditionalWeakTable<Circuit, HashSet<(string Tag, string Pin)>> Made = [];

    /// <summary>Pins of plugs whose half b lies on the side of the other pins' halves a, by tag and pin number; made once.</summary>
    public static IReadOnlySet<(string Tag, string Pin)> TurnedPins(Circuit circuit) => Made.GetValue(circuit, Find);

    /// <summary>
    /// The plug that is parted while one tip is on each of its two sides; null otherwise. Nothing joins them there but what runs past the
    /// plug, so who writes it has most likely meant one side.
    /// </summary>
    public static Part? Between(Circuit circuit, Setup setup, IReadOnlyList<Terminal> tips)
    {
        ArgumentNullException.ThrowIfNull(setup);
        ArgumentNullException.ThrowIfNull(tips);
        return
            tips is [{ IsPin: true } p, { IsPin: true } q]
            && p.Tag == q.Tag
            && p.Name[..^1] != q.Name[..^1]
            && setup.Interventions.OfType<Intervention.Unplug>().Any(u => u.Tag == p.Tag)
            && IsFirstSide(circuit, p) != IsFirstSide(circuit, q)
            ? circuit.FindPart(p.Tag)
            : null;
    }

    /// <summary>Pins by their halves on one side of a plug, the first pin's.</summary>
    public static IReadOnlyList<Terminal> ToSideOf(Circuit circuit, IReadOnlyList<Terminal> pins)
    {
        ArgumentNullException.ThrowIfNull(pins);
        var (first, turned) = (IsFirstSide(circuit, pins[0]), TurnedPins(circuit));
        return [.. pins.Select(p => p with { Name = HalfOn(first, p.Name[..^1], turned.Contains((p.Tag, p.Name[..^1]))) })];
    }

    /// <summary>The half of a pin on a side: a is the first one's, except for pins that the paths run through the other way.</summary>
    internal static string HalfOn(bool first, string pin, bool turned) => pin + (first != turned ? "a" : "b");

    private static bool IsFirstSide(Circuit circuit, Terminal half) =>
        HalfOn(true, half.Name[..^1], TurnedPins(circuit).Contains((half.Tag, half.Name[..^1]))) == half.Name;

    private static HashSet<(string, string)> Find(Circuit circuit)
    {
        var turned = new HashSet<(string, string)>();
        if (!circuit.Sources.Any())
            return turned;
        var graph = new Connectivity(circuit);
        var posts = circuit
            .Sources.SelectMany(s => s.Model.Terminals.Select(t => Connectivity.At(s, t)))
            .Append(circuit.ReferencePoint)
            .ToList();
        foreach (var plug in circuit.Parts.Where(p => p.Kind.ComesApart))
        {
            var ends = posts.SelectMany(t => graph.Reach(t, e => e.IsConductor && e.Part?.Tag != plug.Tag)).ToHashSet();
            var pins = plug
                .Model.Links.Select(l => (l.Name, A: new Terminal(plug.Tag, l.A, true), B: new Terminal(plug.Tag, l.B, true)))
                .Where(p => graph.From(p.A).Any(e => e.Part is null) && graph.From(p.B).Any(e => e.Part is null))
                .ToList();
            var reach = pins.ConvertAll(p => (A: Side(p.A), B: Side(p.B)));
            var turn = new bool?[pins.Count];
            for (var first = 0; first < pins.Count; first++)
            {
                if (turn[first] is not null)
                    continue;
                turn[first] = false;
                var queue = new Queue<int>([first]);
                while (queue.TryDequeue(out var i))
                    for (var j = 0; j < pins.Count; j++)
                    {
                        if (turn[j] is not null)
                            continue;
                        var same = reach[i].A.Contains(pins[j].A) || reach[i].B.Contains(pins[j].B);
                        var other = reach[i].A.Contains(pins[j].B) || reach[i].B.Contains(pins[j].A);
                        // Both or neither says nothing.
                        if (same == other)
                            continue;
                        turn[j] = turn[i]!.Value != other;
                        queue.Enqueue(j);
                    }
            }
            for (var i = 0; i < pins.Count; i++)
                if (turn[i] == true)
                    turned.Add((plug.Tag, pins[i].Name));

            HashSet<Terminal> Side(Terminal half) =>
                ends.Contains(half) ? [] : graph.Reach(half, e => e.Part?.Tag != plug.Tag && e.Part?.Kind.IsSource != true, ends.Contains);
        }
        return turned;
    }
}
