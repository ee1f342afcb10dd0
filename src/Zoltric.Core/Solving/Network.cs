using System.Buffers;
using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// The nodal equations of a circuit with its interventions in place: nodes, branches, pattern, and the baseState factors of the
/// switching states met so far. Faults are changes on a baseState factor.
/// </summary>
internal sealed class Network
{
    private const int MostStates = 256;
    private const int FewestStates = 16;

    /// <summary>Branches of all states kept together.</summary>
    private const int MostNumbers = 600_000;

    /// <summary>An island that nothing ties to the reference leaks to it through this, S, so that its potential is defined.</summary>
    public const double IslandLeak = 1e-12;

    public Layout Layout { get; }
    public int[] Nodes { get; }
    public int Size { get; }
    public IReadOnlyList<BranchSpec> Branches { get; }
    public NodalPattern Pattern { get; }

    /// <summary>Interventions as they bear on branches: sources that are off, connector pins and lugs that are apart.</summary>
    public bool[] Removed { get; }

    /// <summary>True where a source of alternating volts is on. With all of them off direct current alone is left.</summary>
    public bool Alternates { get; }

    /// <summary>How far each branch's conductance strays from part to part: standard deviation of its logarithm.</summary>
    public double[] Spread { get; }

    /// <summary>By branch, how far the volts that an electronic output keeps for itself stray, V; nothing elsewhere.</summary>
    public double[] StrayVolts { get; }

    /// <summary>Volts of a charger put on a battery, by the battery's branch, V.</summary>
    public IReadOnlyDictionary<int, double> Supported => _supported;

    private readonly Dictionary<int, double> _supported = [];
    private readonly HashSet<Terminal> _lifted = [];

    /// <summary>True for a terminal whose wires were taken off it.</summary>
    public bool IsLifted(Terminal t) => _lifted.Count > 0 && _lifted.Contains(t);

    private readonly int[] _a;
    private readonly int[] _b;
    private readonly int[] _entry;
    private readonly double[] _leak;
    private readonly int[] _island;
    private readonly int[] _end;

    public Network(Layout layout, Setup setup, IReadOnlyList<(int P, int Q)> leads)
    {
        Layout = layout;
        var circuit = layout.Circuit;
        var parted = new HashSet<Terminal>();
        var removed = new HashSet<int>();
        foreach (var i in setup.Interventions)
            Part(circuit, i, parted, removed);
        Nodes = layout.Nodes(parted.Contains, out var size);
        Size = size;
        Branches = [.. layout.Branches, .. leads.Select((l, i) => new BranchSpec(l.P, l.Q, BranchOwner.Lead, -1, i))];
        Removed = new bool[Branches.Count];
        foreach (var r in removed)
            Removed[r] = true;
        Alternates = layout.Alternating.Any(b => !Removed[b]);
        _a = new int[Branches.Count];
        _b = new int[Branches.Count];
        var edges = new List<(int, int)>();
        for (var i = 0; i < Branches.Count; i++)
        {
            (_a[i], _b[i]) = (Nodes[Branches[i].P], Nodes[Branches[i].Q]);
            if (_a[i] >= 0 && _b[i] >= 0 && _a[i] != _b[i])
                edges.Add((_a[i], _b[i]));
        }
        Pattern = new NodalPattern(Size, edges);
        _entry = new int[Branches.Count];
        for (var i = 0; i < Branches.Count; i++)
            _entry[i] = _a[i] >= 0 && _b[i] >= 0 && _a[i] != _b[i] ? Pattern.EntryOf(_a[i], _b[i]) : -1;
        _island = new int[Size + 1];
        Spread = [.. Branches.Select(layout.SpreadOf)];
        StrayVolts = [.. Branches.Select(layout.StrayVoltsOf)];
        _leak = Leaks();
        _end = Ends();
        WatchedNodes = Array.ConvertAll(layout.Watched, b => (_a[b], _b[b]));
    }

    /// <summary>Nodes at the ends of the branches of <see cref="Layout.Watched"/>.</summary>
    public (int A, int B)[] WatchedNodes { get; }

    /// <summary>Writes the volts across the watched branches out of all potentials, V.</summary>
    public void Watch(double[] volts, Span<double> into)
    {
        for (var i = 0; i < WatchedNodes.Length; i++)
        {
            var (a, b) = WatchedNodes[i];
            into[i] = Potentials.Across(volts, a, b);
        }
    }

    private void Part(Circuit circuit, Intervention i, HashSet<Terminal> parted, HashSet<int> removed)
    {
        switch (i)
        {
            case Intervention.Off off:
                RemoveLinks(circuit, off.Tag, removed);
                break;
            case Intervention.Unplug u when circuit.FindPart(u.Tag)!.Kind is Circuits.Kinds.PinRow:
                RemoveLinks(circuit, u.Tag, removed);
                break;
            case Intervention.Unplug u:
                PartAll(circuit, u.Tag, parted);
                break;
            case Intervention.Pull p:
                PartAll(circuit, p.Tag, parted);
                break;
            case Intervention.Lift { P.Name.Length: 0 } l:
                foreach (var lug in Layout.Lugs(l.P.Tag))
                    removed.Add(lug.Branch);
                break;
            case Intervention.Lift l:
                parted.Add(l.P.Bare);
                _lifted.Add(l.P.Bare);
                break;
            case Intervention.Support s:
                _supported[Layout.LinkBranches[Layout.PartIndex(s.Tag)][0]] = s.Volts;
                break;
        }
    }

    private static void PartAll(Circuit circuit, string tag, HashSet<Terminal> parted)
    {
        foreach (var t in circuit.FindPart(tag)!.Model.Terminals)
            parted.Add(new Terminal(tag, t));
    }

    private void RemoveLinks(Circuit circuit, string tag, HashSet<int> removed)
    {
        for (var p = 0; p < circuit.Parts.Count; p++)
            if (circuit.Parts[p].Tag == tag)
                foreach (var b in Layout.LinkBranches[p])
                    removed.Add(b);
    }

    /// <summary>One node of each island without a path to the reference gets the leak. Removed branches join nothing.</summary>
    private double[] Leaks()
    {
        var parent = Enumerable.Range(0, Size + 1).ToArray();
        int Find(int x)
        {
            while (parent[x] != x)
                x = parent[x] = parent[parent[x]];
            return x;
        }

        for (var i = 0; i < Branches.Count; i++)
            if (!Removed[i])
                parent[Find(_a[i] + 1)] = Find(_b[i] + 1);
        var leak = new double[Size];
        for (var n = 0; n <= Size; n++)
            _island[n] = Find(n);
        var seen = new HashSet<int> { Find(0) };
        for (var n = 0; n < Size; n++)
            if (seen.Add(Find(n + 1)))
                leak[n] = IslandLeak;
        return leak;
    }

    /// <summary>By branch, the node at its end that nothing else hangs on, open contacts included, or -1.</summary>
    private int[] Ends()
    {
        var hanging = new int[Size];
        for (var i = 0; i < Branches.Count; i++)
            if (!Removed[i] && _a[i] != _b[i])
            {
                if (_a[i] >= 0)
                    hanging[_a[i]]++;
                if (_b[i] >= 0)
                    hanging[_b[i]]++;
            }
        return
        [
            .. Enumerable
                .Range(0, Branches.Count)
                .Select(i =>
                    Removed[i] || _a[i] == _b[i] ? -1
                    : Alone(_a[i]) ? _a[i]
                    : Alone(_b[i]) ? _b[i]
                    : -1
                ),
        ];

        bool Alone(int node) => node >= 0 && hanging[node] == 1 && _leak[node] == 0;
    }

    /// <summary>
    /// The node at a branch's end that nothing else hangs on, or -1: an unwired contact. No current flows there, so that no potential hangs
    /// on what the branch conducts.
    /// </summary>
    public int End(int branch) => _end[branch];

    public bool IsEnd(int node) => node >= 0 && Array.IndexOf(_end, node) >= 0;

    public int A(int branch) => _a[branch];

    public int B(int branch) => _b[branch];

    public double LeakOf(int node) => _leak[node];

    /// <summary>
    /// Islands that hang on their leak alone: the node with the leak, and all nodes of the island. No current leaves by one leak, so that
    /// its node is at the reference's potential, whatever hundreds of amps round to.
    /// </summary>
    /// <param name="joins">Paths that a fault makes; an island that one of them joins to another hangs on more than its leak.</param>
    public IEnumerable<(int Leak, int[] Nodes)> Floating(IReadOnlyList<(int A, int B, double G)> joins)
    {
        foreach (var (leak, nodes) in _floating ??= [.. AllFloating()])
        {
            var held = false;
            foreach (var (a, b, siemens) in joins)
                held |= siemens != 0 && !SameIsland(a, b) && (SameIsland(a, leak) || SameIsland(b, leak));
            if (!held)
                yield return (leak, nodes);
        }
    }

    private List<(int Leak, int[] Nodes)>? _floating;

    private IEnumerable<(int, int[])> AllFloating()
    {
        for (var leak = 0; leak < Size; leak++)
            if (LeakOf(leak) > 0)
                yield return (leak, [.. Enumerable.Range(0, Size).Where(n => SameIsland(n, leak))]);
    }

    /// <summary>Whether branches, open contacts included, lead from one node to the other.</summary>
    public bool SameIsland(int a, int b) => _island[a + 1] == _island[b + 1];

    /// <summary>
    /// A solver for alternating current: windings carry nothing of their own, each pair is one conductance across its primary volts less
    /// the ratio times its secondary volts.
    /// </summary>
    /// <param name="g">Conductances as they are, S; windings as insulation.</param>
    public INodalSolver<double> AlternatingSolver(
        double[] g,
        IReadOnlyList<(int A, int B, double G)> joins,
        IEnumerable<CoupledWindings> couplings
    )
    {
        INodalSolver<double> solver = Factor(g);
        // Added conductance never cancels, so these cannot fail.
        foreach (var (a, b, siemens) in joins)
            if (a != b)
                solver = UpdatedSolver<double>.TryMake(solver, Size, a, b, siemens)!;
        foreach (var (p, s, ratio, y, _) in couplings)
            solver = UpdatedSolver<double>.TryMake(solver, Size, [(_a[p], 1), (_b[p], -1), (_a[s], -ratio), (_b[s], ratio)], y)!;
        return solver;
    }

    private readonly record struct BaseStateKey(byte[] Switches, double Waited, ToleranceDraw? Vary)
    {
        public bool Equals(BaseStateKey o) =>
            ReferenceEquals(Vary, o.Vary) && Waited.Equals(o.Waited) && Switches.AsSpan().SequenceEqual(o.Switches);

        public override int GetHashCode()
        {
            var hash = new HashCode();
            hash.AddBytes(Switches);
            return hash.ToHashCode();
        }
    }

    private readonly ConcurrentDictionary<BaseStateKey, BaseState> _base = new();
    private int _states;

    /// <summary>BaseState states that are kept.</summary>
    public int States => Volatile.Read(ref _states);

    /// <summary>The first base states made, of which others may be small changes.</summary>
    private BaseState[] _first = [];
    private const int MostFirst = 12,
        FewestFirst = 6;

    /// <summary>Numbers that making these ready may take, all together.</summary>
    private const int MostRowNumbers = 8_000_000;

    /// <summary>The base state of these switches, made once, or one near it.</summary>
    /// <param name="near">Null to have no other state than that; in, a list; out, branches that are changed on the state returned.</param>
    /// <param name="endsAlone">True where no fault joins anything to a node that nothing else hangs on.</param>
    public BaseState BaseState(
        MachineState state,
        ToleranceDraw? vary,
        IReadOnlyList<(int P, int Q, double Ohms)> leads,
        List<(int Branch, double G)>? near,
        bool endsAlone,
        Func<BaseState> make
    )
    {
        near?.Clear();
        if (_base.TryGetValue(new BaseStateKey(state.Switches, state.Waited, vary), out var known))
            return known;
        if (near is not null)
        {
            foreach (var first in _first)
                if (first.Near(state, leads, near, endsAlone))
                    return first;
            near.Clear();
        }
        var made = make();
        made.ServesMany =
            near is not null
            && _first.Length < Math.Clamp(MostRowNumbers / Math.Max(1, WatchedNodes.Length * Size), FewestFirst, MostFirst);
        if (made.ServesMany)
            _first = [.. _first, made];
        // A count of its own: a concurrent dictionary stops every thread to count itself.
        if (Interlocked.Increment(ref _states) > Math.Clamp(MostNumbers / Math.Max(Branches.Count, 1), FewestStates, MostStates))
        {
            _base.Clear();
            _states = 1;
            foreach (var first in _first)
                _base[new BaseStateKey(first.Switches, first.Waited, null)] = first;
        }
        return _base[new BaseStateKey([.. state.Switches], state.Waited, vary)] = made;
    }

    private readonly ConcurrentDictionary<BaseStateKey, ConductionGraph> _ties = new();

    /// <summary>What conductors join in a switching state.</summary>
    /// <param name="conductances">By branch, S; asked for once a state.</param>
    public ConductionGraph TiesOf(MachineState state, Func<double[]> conductances)
    {
        if (_ties.TryGetValue(new BaseStateKey(state.Switches, state.Waited, null), out var known))
            return known;
        var made = new ConductionGraph(this, conductances());
        if (_ties.Count > MostStates)
            _ties.Clear();
        return _ties[new BaseStateKey([.. state.Switches], state.Waited, null)] = made;
    }

    private readonly ConcurrentDictionary<int, MachineState> _ends = new();
    private const int MostEnds = 1024;

    /// <summary>One object for all machines that end in the same way; most end as a sound one does.</summary>
    public MachineState Shared(MachineState end)
    {
        var key = end.Key();
        if (_ends.TryGetValue(key, out var known))
            return known.IsSame(end) ? known : end;
        if (_ends.Count > MostEnds)
            _ends.Clear();
        return _ends[key] = end;
    }

    /// <summary>A factor of its own for these conductances.</summary>
    public SparseLdl<double> Factor(double[] g)
    {
        // The factor keeps its weights.
        var (weights, toReference) = (new double[Pattern.Entries], ArrayPool<double>.Shared.Rent(Size));
        Assemble(g, weights, toReference.AsSpan(0, Size));
        var factor = new SparseLdl<double>(Pattern, weights, toReference.AsSpan(0, Size));
        ArrayPool<double>.Shared.Return(toReference);
        return factor;
    }

    /// <summary>The factor of a base state with a few branches changed, without cancellation.</summary>
    /// <param name="g">All conductances, changes included, S.</param>
    public SparseLdl<double> Factor(SparseLdl<double> baseState, ReadOnlySpan<double> g, IEnumerable<int> changed)
    {
        var (weights, toReference) = (ArrayPool<double>.Shared.Rent(Pattern.Entries), ArrayPool<double>.Shared.Rent(Size));
        Assemble(g, weights.AsSpan(0, Pattern.Entries), toReference.AsSpan(0, Size));
        var factor = baseState.Changed(weights, toReference, changed.SelectMany(b => new[] { _a[b], _b[b] }).Where(n => n >= 0));
        ArrayPool<double>.Shared.Return(weights);
        ArrayPool<double>.Shared.Return(toReference);
        return factor;
    }

    /// <summary>The solver of a base state with a few branches changed and paths of a fault added, without cancellation.</summary>
    public INodalSolver<double> Afresh(BaseState baseState, IReadOnlyList<ChangedLink> changed, FaultSet faults)
    {
        INodalSolver<double> solver = Refactor(baseState, changed);
        // Added conductance never cancels, so this cannot fail.
        foreach (var (p, q, ohms) in faults.Joins)
            if (Nodes[p] != Nodes[q])
                solver = UpdatedSolver<double>.TryMake(solver, Size, Nodes[p], Nodes[q], 1 / ohms)!;
        return solver;
    }

    private int[][]? _byEntry,
        _byNode;

    /// <summary>The factor of a base state with a few branches changed, laid over it, without cancellation.</summary>
    /// <param name="changed">Their conductances now.</param>
    public RefactoredLdl<double> Refactor(BaseState baseState, IReadOnlyList<ChangedLink> changed)
    {
        var (weights, toReference) = baseState.Assembled;
        var (entries, atNodes, nodes) = (
            new List<(int, double)>(changed.Count),
            new List<(int, double)>(changed.Count),
            new List<int>(2 * changed.Count)
        );
        foreach (var c in changed)
        {
            var (a, b) = (_a[c.Branch], _b[c.Branch]);
            if (a >= 0)
                nodes.Add(a);
            if (b >= 0)
                nodes.Add(b);
            // Summed anew: what is taken from a sum of large ones would leave nothing of the small.
            if (_entry[c.Branch] is >= 0 and var e)
                entries.Add((e, (_byEntry ??= By(_entry, Pattern.Entries))[e].Sum(G)));
            else if (a < 0 != b < 0)
                atNodes.Add((Math.Max(a, b), _leak[Math.Max(a, b)] + (_byNode ??= By(Grounding(), Size))[Math.Max(a, b)].Sum(G)));
        }
        return baseState.Factor.Refactored(
            weights,
            toReference,
            CollectionsMarshal.AsSpan(entries),
            CollectionsMarshal.AsSpan(atNodes),
            nodes
        );

        double G(int branch)
        {
            foreach (var c in changed)
                if (c.Branch == branch)
                    return c.G;
            return baseState.G[branch];
        }
    }

    /// <summary>By branch, the node it ties to the reference, or -1.</summary>
    private int[] Grounding() => [.. Enumerable.Range(0, _a.Length).Select(i => _a[i] < 0 != _b[i] < 0 ? Math.Max(_a[i], _b[i]) : -1)];

    private static int[][] By(int[] place, int places)
    {
        var by = new List<int>?[places];
        for (var i = 0; i < place.Length; i++)
            if (place[i] >= 0)
                (by[place[i]] ??= []).Add(i);
        return Array.ConvertAll(by, x => x?.ToArray() ?? []);
    }

    /// <summary>Conductance per entry of the pattern and per node to the reference.</summary>
    public Assembled Assembled(double[] g)
    {
        var assembled = new Assembled(new double[Pattern.Entries], new double[Size]);
        Assemble(g, assembled.Weights, assembled.ToReference);
        return assembled;
    }

    private void Assemble(ReadOnlySpan<double> g, Span<double> weights, Span<double> toReference)
    {
        weights.Clear();
        _leak.CopyTo(toReference);
        for (var i = 0; i < g.Length; i++)
        {
            if (_entry[i] >= 0)
                weights[_entry[i]] += g[i];
            else if (_a[i] >= 0 && _b[i] < 0)
                toReference[_a[i]] += g[i];
            else if (_b[i] >= 0 && _a[i] < 0)
                toReference[_b[i]] += g[i];
        }
    }
}

/// <summary>
/// Conductance per entry of the pattern and per node to the reference, S. A class, so that it is made once and never seen half.
/// </summary>
internal sealed record Assembled(double[] Weights, double[] ToReference);
