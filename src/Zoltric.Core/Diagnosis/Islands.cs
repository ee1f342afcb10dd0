using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// Parts of a circuit that no metal joins, such as the two sides of a transformer. A reading there needs its black tip on the same side:
/// on the return of that side's own source or winding.
/// </summary>
internal sealed class Islands
{
    private readonly Dictionary<Terminal, Terminal> _parent = [];
    private readonly Terminal _reference;
    private readonly Dictionary<Terminal, Terminal> _commons = [];

    public Islands(Circuit circuit)
    {
        _reference = circuit.ReferencePoint;
        foreach (var w in circuit.Wires) Join(w.From, w.To);
        foreach (var b in circuit.Bonds) Join(b.A, b.B);
        foreach (var part in circuit.Parts)
            foreach (var link in part.Model.Links)
                Join(new Terminal(part.Tag, link.A, part.Kind is Circuits.Kinds.PinRow), new Terminal(part.Tag, link.B, part.Kind is Circuits.Kinds.PinRow));
        foreach (var part in circuit.Parts.Where(p => p.Kind.IsSource || p.Model.Coupling is not null))
            foreach (var common in Returns(part))
                _commons.TryAdd(Find(common), common);
        // Straight to the root: the chains of a large circuit are long, and nothing is joined from here on.
        foreach (var t in _parent.Keys.ToList()) _parent[t] = Find(t);
    }

    private static IEnumerable<Terminal> Returns(Part part) =>
        (part.Model.Coupling is not null ? ["P2", "S2"] : part.Model.Terminals.Where(t => t is "-" or "N")).Select(t => new Terminal(part.Tag, t));

    /// <summary>Where the black tip goes for a point: null for the reference, else the return of its own side.</summary>
    public Terminal? CommonOf(Terminal t) =>
        Find(t) == Find(_reference) ? null : _commons.TryGetValue(Find(t), out var common) && common != t ? common : null;

    private Terminal Find(Terminal t)
    {
        while (_parent.TryGetValue(t, out var up) && up != t) t = up;
        return t;
    }

    private void Join(Terminal a, Terminal b)
    {
        var (x, y) = (Find(a), Find(b));
        if (x != y) _parent[x] = y;
    }
}
