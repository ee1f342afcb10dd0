using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>A place on the backbone of a bus and what hangs there.</summary>
/// <param name="Name">What it is.</param>
/// <param name="IsEnd">True for an end of the line.</param>
/// <param name="Stubs">What hangs on it, nearest first.</param>
public sealed record BusPlace(string Name, bool IsEnd, IReadOnlyList<string> Stubs);

/// <summary>
/// The backbone of a two-wire bus as it runs from end to end, read off the wires of its high line, with the stubs that hang on it.
/// </summary>
public static class BusLine
{
    /// <summary>Places from the first end to the last; none where the part is on no bus or the bus has no two ends.</summary>
    public static IReadOnlyList<BusPlace> Of(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (BusLadder.LinesOf(part) is not var (high, _))
            return [];
        var nets = Nets.Of(circuit);
        var net = nets.NetOf(new Terminal(part.Tag, high));
        var near = circuit
            .Wires.Where(w => nets.NetOf(w.From) == net && w.From.Tag != w.To.Tag)
            .SelectMany(w => new[] { (w.From.Tag, w.To.Tag), (w.To.Tag, w.From.Tag) })
            .ToLookup(x => x.Item1, x => x.Item2);
        var ends = circuit
            .Parts.Where(p => p.Kind is Terminator && nets.NetOf(new Terminal(p.Tag, "H")) == net)
            .Select(p => p.Tag)
            .ToList();
        if (ends.Count < 2 || Way(near, ends[0], ends[^1]) is not { } backbone)
            return [];
        var taken = backbone.ToHashSet();
        return
        [
            .. backbone.Select(t => new BusPlace(
                circuit.FindPart(t)!.Spoken,
                t == ends[0] || t == ends[^1],
                [.. Behind(near, t, taken).Select(s => circuit.FindPart(s)!.Spoken)]
            )),
        ];
    }

    /// <summary>Shortest way from one to the other; null for none.</summary>
    private static List<string>? Way(ILookup<string, string> near, string from, string to)
    {
        var before = new Dictionary<string, string?> { [from] = null };
        var queue = new Queue<string>([from]);
        while (queue.TryDequeue(out var at))
            foreach (var next in near[at].Where(n => before.TryAdd(n, at)))
                queue.Enqueue(next);
        if (!before.ContainsKey(to))
            return null;
        var way = new List<string>();
        for (var t = to; t is not null; t = before[t])
            way.Insert(0, t);
        return way;
    }

    /// <summary>What hangs behind a place and is not on the backbone.</summary>
    private static IEnumerable<string> Behind(ILookup<string, string> near, string place, HashSet<string> taken)
    {
        var queue = new Queue<string>([place]);
        while (queue.TryDequeue(out var at))
            foreach (var next in near[at].Where(taken.Add))
            {
                queue.Enqueue(next);
                yield return next;
            }
    }
}
