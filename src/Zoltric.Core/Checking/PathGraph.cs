using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Checking;

/// <summary>The circuit as terminals joined by wires, bonds and links, every contact taken as closed.</summary>
internal sealed class PathGraph
{
    /// <summary>One way from a terminal: along a wire or bond (no part), or through a link of a part.</summary>
    public readonly record struct Edge(Terminal To, Part? Part, Link? Link, Wire? Wire);

    private readonly Dictionary<Terminal, List<Edge>> _edges = [];

    public PathGraph(Circuit circuit)
    {
        foreach (var w in circuit.Wires) Add(w.From, w.To, null, null, w);
        foreach (var b in circuit.Bonds) Add(b.A, b.B, null, null, null);
        foreach (var part in circuit.Parts)
            foreach (var link in part.Model.Links)
            {
                Terminal At(string name) => new(part.Tag, name, part.Kind is PinRow);
                Add(At(link.A), At(link.B), part, link, null);
            }
    }

    private void Add(Terminal a, Terminal b, Part? part, Link? link, Wire? wire)
    {
        Of(a).Add(new Edge(b, part, link, wire));
        Of(b).Add(new Edge(a, part, link, wire));
    }

    private List<Edge> Of(Terminal t) => _edges.TryGetValue(t, out var list) ? list : _edges[t] = [];

    /// <summary>Terminals that can be reached over edges that pass.</summary>
    public HashSet<Terminal> Reach(Terminal from, Func<Edge, bool> passes)
    {
        var seen = new HashSet<Terminal> { from };
        var queue = new Queue<Terminal>([from]);
        while (queue.TryDequeue(out var t))
            foreach (var e in Of(t))
                if (passes(e) && seen.Add(e.To)) queue.Enqueue(e.To);
        return seen;
    }

    private static bool Conducts(Edge e) => e.Link is null or Link.Contact or Link.Fuse || e.Part?.Kind is PinRow;

    /// <summary>Wires past a fuse, seen from the source, up to the loads and the next fuses.</summary>
    public IEnumerable<Wire> Behind(Part fuse)
    {
        var link = fuse.Model.Links[0];
        var (a, b) = (new Terminal(fuse.Tag, link.A), new Terminal(fuse.Tag, link.B));
        bool Passes(Edge e) => Conducts(e) && e.Link is not Link.Fuse;
        bool Fed(Terminal t) => Reach(t, e => Conducts(e) && e.Part?.Tag != fuse.Tag).Any(x => Of(x).Exists(e => e.Link is Link.Source s && s.A == x.Name));
        var from = Fed(a) ? b : Fed(b) ? a : b;
        var reached = Reach(from, Passes);
        return reached.SelectMany(t => Of(t)).Where(e => e.Wire is not null).Select(e => e.Wire!).Distinct();
    }

    /// <summary>Tags of parts whose load links touch what a source feeds without a fuse or breaker between.</summary>
    public IEnumerable<string> Fed(Terminal source) =>
        Reach(source, e => Conducts(e) && e.Link is not Link.Fuse).SelectMany(t => Of(t)).Where(e => e.Link is Link.Resistance && e.Part?.Model.Load is not null).Select(e => e.Part!.Tag);
}
