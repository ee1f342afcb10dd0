namespace Zoltric.Core.Circuits;

/// <summary>
/// The circuit as terminals joined by wires, bonds and links: the one model of what is joined to what. It knows no state; who asks says
/// which links pass. Storage: one list of edges a terminal; a walk visits every edge once.
/// </summary>
public sealed class Connectivity
{
    /// <summary>One way from a terminal: along a wire or bond (no part), or through a link of a part.</summary>
    public readonly record struct Edge(Terminal To, Part? Part, Link? Link, Wire? Wire)
    {
        /// <summary>True for what always conducts: a wire, a bond, a seated pin.</summary>
        public bool IsConductor => Link is null || Part?.Kind.HasHalves == true;

        /// <summary>True for what passes supply on while closed or whole: conductors, contacts, fuses.</summary>
        public bool PassesSupply => IsConductor || Link is Link.Contact or Link.Fuse;
    }

    private readonly Dictionary<Terminal, List<Edge>> _edges = [];

    public Connectivity(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        foreach (var w in circuit.Wires)
            Add(w.From, w.To, null, null, w);
        foreach (var b in circuit.Bonds)
            Add(b.A, b.B, null, null, null);
        foreach (var part in circuit.Parts)
        {
            foreach (var name in part.Model.Terminals)
                EdgesOf(At(part, name));
            foreach (var link in part.Model.Links)
                Add(At(part, link.A), At(part, link.B), part, link, null);
        }
    }

    /// <summary>The terminal of a part by its name; pins of a connector are named as such.</summary>
    public static Terminal At(Part part, string name)
    {
        ArgumentNullException.ThrowIfNull(part);
        return new Terminal(part.Tag, name, part.Kind.HasHalves);
    }

    public IEnumerable<Terminal> Terminals => _edges.Keys;

    public IReadOnlyList<Edge> From(Terminal t) => _edges.TryGetValue(t.Bare, out var list) ? list : [];

    /// <summary>Terminals that can be reached over edges that pass, the first one among them.</summary>
    /// <param name="stops">Terminals that are reached and not gone beyond.</param>
    public HashSet<Terminal> Reach(Terminal from, Func<Edge, bool> passes, Func<Terminal, bool>? stops = null)
    {
        ArgumentNullException.ThrowIfNull(passes);
        var seen = new HashSet<Terminal> { from.Bare };
        var queue = new Queue<Terminal>([from]);
        while (queue.TryDequeue(out var t))
            foreach (var e in stops?.Invoke(t) == true ? [] : From(t))
                if (passes(e) && seen.Add(e.To))
                    queue.Enqueue(e.To);
        return seen;
    }

    private void Add(Terminal a, Terminal b, Part? part, Link? link, Wire? wire)
    {
        EdgesOf(a).Add(new Edge(b, part, link, wire));
        EdgesOf(b).Add(new Edge(a, part, link, wire));
    }

    private List<Edge> EdgesOf(Terminal t) => _edges.TryGetValue(t, out var list) ? list : _edges[t] = [];
}
