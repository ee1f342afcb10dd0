using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Drawing.Schematic;

/// <summary>
/// Which half of a connector's pin lies on the side of the supply: what can be reached from the source without going through that connector
/// and without the frame. The near halves are drawn above, so that the bulkhead reads as one line across the page.
/// </summary>
internal static class HarnessSides
{
    /// <summary>Pins whose half b is the near one, as (tag, pin name without half).</summary>
    public static HashSet<(string Tag, string Pin)> Turned(Circuit circuit)
    {
        var turned = new HashSet<(string, string)>();
        var source = circuit.Sources.FirstOrDefault();
        if (source is null)
            return turned;
        var next = new Dictionary<Terminal, List<(Terminal To, string? Through)>>();
        void Join(Terminal a, Terminal b, string? through)
        {
            (next.TryGetValue(a, out var x) ? x : next[a] = []).Add((b, through));
            (next.TryGetValue(b, out var y) ? y : next[b] = []).Add((a, through));
        }

        foreach (var w in circuit.Wires)
            Join(w.From, w.To, null);
        foreach (var b in circuit.Bonds)
            Join(b.A, b.B, null);
        foreach (var part in circuit.Parts.Where(p => !p.Kind.IsSource))
        foreach (var link in part.Model.Links)
            Join(new(part.Tag, link.A, part.Kind is PinRow), new(part.Tag, link.B, part.Kind is PinRow), part.Tag);
        var starts = source.Model.Terminals.Where(t => t is not ("-" or "N" or "PE")).Select(t => new Terminal(source.Tag, t)).ToList();
        foreach (var connector in circuit.Parts.Where(p => p.Kind is Connector))
        {
            var seen = starts.ToHashSet();
            var queue = new Queue<Terminal>(starts);
            while (queue.TryDequeue(out var t))
            {
                if (circuit.FindPart(t.Tag)?.Kind is Stud)
                    continue;
                foreach (var (to, through) in next.GetValueOrDefault(t) ?? [])
                    if (through != connector.Tag && seen.Add(to))
                        queue.Enqueue(to);
            }
            foreach (var link in connector.Model.Links)
            {
                var (a, b) = (seen.Contains(new(connector.Tag, link.A, true)), seen.Contains(new(connector.Tag, link.B, true)));
                if (b && !a)
                    turned.Add((connector.Tag, link.Name));
            }
        }
        return turned;
    }
}
