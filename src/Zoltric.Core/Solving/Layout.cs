using System.Numerics;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>What a branch of the network stands for.</summary>
internal enum BranchOwner
{
    Wire,
    Lug,
    Link,
    Lead,
}

/// <summary>A branch between two points; <paramref name="Part"/> and <paramref name="Index"/> say of what.</summary>
internal readonly record struct BranchSpec(int P, int Q, BranchOwner Owner, int Part, int Index);

/// <summary>
/// Every point of a circuit and every branch between points. Each terminal is two points, the part's metal and the loom's, joined
/// unless the part is unplugged or the wires lifted. A stud is one point with a lug point per wire.
/// </summary>
internal sealed class Layout
{
    public Circuit Circuit { get; }
    public IReadOnlyList<BranchSpec> Branches => _branches;
    public int PointCount { get; private set; }

    /// <summary>Branch of each part's links: [part][link].</summary>
    public int[][] LinkBranches { get; }

    /// <summary>Branches of sources of alternating volts.</summary>
    public int[] Alternating { get; }
    public int[] WireBranches { get; }

    private readonly Dictionary<string, int> _partIndex = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> _wireIndex = new(StringComparer.Ordinal);
    private readonly List<BranchSpec> _branches = [];
    private readonly Dictionary<Terminal, (int Part, int Loom)> _points = [];
    private readonly List<(Terminal Terminal, int Part, int Loom)> _joints = [];
    private readonly List<(int A, int B)> _bonds = [];
    private readonly Dictionary<(string Stud, string Wire, bool Start), (int Point, int Branch)> _lugs = [];

    public Layout(Circuit circuit)
    {
        Circuit = circuit;
        LinkBranches = new int[circuit.Parts.Count][];
        WireBranches = new int[circuit.Wires.Count];
        for (var i = 0; i < circuit.Parts.Count; i++)
        {
            _partIndex[circuit.Parts[i].Tag] = i;
            AddPart(i, circuit.Parts[i]);
        }
        for (var i = 0; i < circuit.Wires.Count; i++)
        {
            var w = circuit.Wires[i];
            var (p, q) = (WireEnd(w, true), WireEnd(w, false));
            _wireIndex[w.Id] = i;
            WireBranches[i] = _branches.Count;
            _branches.Add(new BranchSpec(p, q, BranchOwner.Wire, -1, i));
        }
        foreach (var b in circuit.Bonds)
            _bonds.Add((_points[b.A].Loom, _points[b.B].Loom));
        var alternates = circuit.Parts.Any(p => p.Model.Links.Any(l => l is Link.Source { Ac: var ac } && ac != Complex.Zero));
        _tiesAlternating =
        [
            .. _branches.Select(b =>
                alternates
                && b.Owner == BranchOwner.Link
                && circuit.Parts[b.Part].Model.Links[b.Index] is Link.Reactance { Microfarads: not null }
            ),
        ];
        Alternating =
        [
            .. circuit.Parts.SelectMany(
                (p, i) => LinkBranches[i].Where((_, k) => p.Model.Links[k] is Link.Source { Ac: var ac } && ac != Complex.Zero)
            ),
        ];
        Watched = [.. circuit.Parts.SelectMany((p, i) => WatchedLinks(p.Model).Select(k => LinkBranches[i][k])).Distinct()];
        WatchedPlace = new int[_branches.Count];
        Array.Fill(WatchedPlace, -1);
        for (var i = 0; i < Watched.Length; i++)
            WatchedPlace[Watched[i]] = i;
    }

    /// <summary>
    /// Branches whose volts decide what the machine does next, coils and inputs, fuses, sources, diodes, filaments, and the contacts that
    /// do it.
    /// </summary>
    public int[] Watched { get; }

    /// <summary>Place of each branch among the watched ones, or -1.</summary>
    public int[] WatchedPlace { get; }

    /// <summary>True for a capacitor where something alternates: it joins what direct current finds apart.</summary>
    public bool TiesAlternating(int branch) => branch < _tiesAlternating.Length && _tiesAlternating[branch];

    private readonly bool[] _tiesAlternating;

    /// <summary>How far a branch strays from part to part: standard deviation of the logarithm of its conductance.</summary>
    public double SpreadOf(BranchSpec branch) =>
        branch.Owner switch
        {
            BranchOwner.Wire => Spread.OfWire(Circuit.Wires[branch.Index].Ohms),
            BranchOwner.Link => Circuit.Parts[branch.Part].Model.Links[branch.Index].LogSpread,
            _ => Spread.Contact,
        };

    /// <summary>How far the volts that a branch keeps for itself stray from part to part, V; 0 for what has none.</summary>
    public double StrayVoltsOf(BranchSpec branch) =>
        branch.Owner == BranchOwner.Link ? Circuit.Parts[branch.Part].Model.Links[branch.Index].StrayVolts : 0;

    private static IEnumerable<int> WatchedLinks(PartModel model)
    {
        for (var k = 0; k < model.Links.Count; k++)
            if (model.Links[k] is Link.Source or Link.Diode or Link.Fuse or Link.Contact or Link.Resistance { ColdOhms: not null })
                yield return k;
        foreach (var k in model.Coil?.AllLinks ?? [])
            yield return k;
        foreach (var input in model.Inputs)
            yield return input.Link;
    }

    private void AddPart(int index, Part part)
    {
        var model = part.Model;
        var inner = new Dictionary<string, int>();
        foreach (var name in model.Terminals)
        {
            var terminal = new Terminal(part.Tag, name, part.Kind is Circuits.Kinds.PinRow);
            var p = PointCount++;
            var loom = model.IsPoint ? p : PointCount++;
            _points[terminal] = (p, loom);
            if (!model.IsPoint)
                _joints.Add((terminal, p, loom));
            inner[name] = p;
        }
        LinkBranches[index] = new int[model.Links.Count];
        for (var l = 0; l < model.Links.Count; l++)
        {
            var link = model.Links[l];
            LinkBranches[index][l] = _branches.Count;
            _branches.Add(new BranchSpec(Inner(link.A), Inner(link.B), BranchOwner.Link, index, l));
        }

        int Inner(string name)
        {
            if (!inner.TryGetValue(name, out var p))
                inner[name] = p = PointCount++;
            return p;
        }
    }

    private int WireEnd(Wire w, bool start)
    {
        var terminal = start ? w.From : w.To;
        var point = _points[terminal];
        if (terminal.Name.Length > 0)
            return point.Loom;
        var lug = PointCount++;
        _lugs[(terminal.Tag, w.Id, start)] = (lug, _branches.Count);
        _branches.Add(new BranchSpec(lug, point.Part, BranchOwner.Lug, -1, _lugs.Count));
        return lug;
    }

    /// <summary>Place of a part in the circuit's list, or -1.</summary>
    public int PartIndex(string tag) => _partIndex.GetValueOrDefault(tag, -1);

    /// <summary>Place of a wire in the circuit's list, or -1.</summary>
    public int WireIndex(string id) => _wireIndex.GetValueOrDefault(id, -1);

    public int PartPoint(Terminal t) => _points[t.Bare].Part;

    public int LoomPoint(Terminal t) => _points[t.Bare].Loom;

    /// <summary>The side that a terminal names; the loom's where it names none.</summary>
    public int PointOf(Terminal t) => t.Side == TerminalSide.Part ? PartPoint(t) : LoomPoint(t);

    /// <summary>Where a tip on a wire's own end sits: its lug on a stud, else the loom side of the terminal.</summary>
    public int WirePoint(Wire w, bool start)
    {
        var t = start ? w.From : w.To;
        return t.Name.Length == 0 ? _lugs[(t.Tag, w.Id, start)].Point : LoomPoint(t);
    }

    /// <summary>Lug branches of a stud or splice with the wires they hold, in the order of the sheet.</summary>
    public IEnumerable<(string Wire, bool Start, int Point, int Branch)> Lugs(string stud) =>
        _lugs
            .Where(l => l.Key.Stud == stud)
            .OrderBy(l => l.Value.Branch)
            .Select(l => (l.Key.Wire, l.Key.Start, l.Value.Point, l.Value.Branch));

    /// <summary>Numbers the nodes: joined points share one, the reference is -1.</summary>
    public int[] Nodes(Func<Terminal, bool> parted, out int count)
    {
        var parent = Enumerable.Range(0, PointCount).ToArray();
        int Find(int x)
        {
            while (parent[x] != x)
                x = parent[x] = parent[parent[x]];
            return x;
        }

        foreach (var (terminal, p, loom) in _joints)
            if (!parted(terminal))
                parent[Find(p)] = Find(loom);
        foreach (var (a, b) in _bonds)
            parent[Find(a)] = Find(b);
        var reference = Find(LoomPoint(Circuit.ReferencePoint));
        var number = new Dictionary<int, int> { [reference] = -1 };
        var nodes = new int[PointCount];
        count = 0;
        for (var i = 0; i < PointCount; i++)
        {
            var root = Find(i);
            if (!number.TryGetValue(root, out var node))
                number[root] = node = count++;
            nodes[i] = node;
        }
        return nodes;
    }
}
