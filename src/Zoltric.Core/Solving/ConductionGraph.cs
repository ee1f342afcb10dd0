namespace Zoltric.Core.Solving;

/// <summary>
/// What conductors join in a base state, and what is left of that when a few branches open or close: nodes that reach each other
/// through less than a megohm. An opened branch parts only what hangs on it alone (a bridge of the graph), and that is one stretch of a
/// walk through the graph.
/// </summary>
/// <remarks>Source: bridges by depth-first search, Tarjan (1974). Nodes are counted from the reference, which is 0 here.</remarks>
internal sealed class ConductionGraph
{
    /// <summary>Least conductance that ties two points, S: behind more than a megohm, damp decides as much as the circuit.</summary>
    public const double Least = 1e-6;

    private readonly Network _network;
    private readonly bool[] _ties;

    /// <summary>
    /// Tree of each node; where the walk came to it and left it; by branch that the walk took, the node it led to, else -1.
    /// </summary>
    private readonly int[] _tree,
        _enter,
        _leave,
        _below;

    /// <summary>Nodes in the order in which the walk came to them.</summary>
    private readonly int[] _walk;

    /// <summary>By branch: true where what is below it hangs on it alone.</summary>
    private readonly bool[] _bridge;

    /// <param name="g">Conductance by branch, S.</param>
    public ConductionGraph(Network network, double[] g)
    {
        (_network, _ties) = (network, [.. g.Select((x, i) => x > Least || network.Layout.TiesAlternating(i))]);
        var n = network.Size + 1;
        (_tree, _enter, _leave, _below, _bridge) = (new int[n], new int[n], new int[n], new int[g.Length], new bool[g.Length]);
        _walk = new int[n];
        Array.Fill(_below, -1);
        var (start, edges) = Edges(n);
        var (low, next, arrived, stack) = (new int[n], start.AsSpan(0, n).ToArray(), new int[n], new Stack<int>());
        Array.Fill(_enter, -1);
        var time = 0;
        for (var root = 0; root < n; root++)
        {
            if (_enter[root] >= 0)
                continue;
            arrived[root] = -1;
            Enter(root, root);
            while (stack.TryPeek(out var node))
            {
                if (next[node] < start[node + 1])
                {
                    var edge = edges[next[node]++];
                    if (edge == arrived[node])
                        continue;
                    var other = network.A(edge) + 1 + network.B(edge) + 1 - node;
                    if (_enter[other] >= 0)
                        low[node] = Math.Min(low[node], _enter[other]);
                    else
                    {
                        (arrived[other], _below[edge]) = (edge, other);
                        Enter(other, root);
                    }
                    continue;
                }
                stack.Pop();
                _leave[node] = time;
                if (!stack.TryPeek(out var above))
                    continue;
                low[above] = Math.Min(low[above], low[node]);
                _bridge[arrived[node]] = low[node] > _enter[above];
            }
        }

        void Enter(int node, int root)
        {
            _tree[node] = root;
            _walk[time] = node;
            _enter[node] = low[node] = time++;
            stack.Push(node);
        }
    }

    /// <summary>Branches that tie, by the nodes at both their ends.</summary>
    private (int[] Start, int[] Edges) Edges(int n)
    {
        var start = new int[n + 1];
        bool Joins(int b) => _ties[b] && _network.A(b) != _network.B(b);
        for (var b = 0; b < _ties.Length; b++)
            if (Joins(b))
            {
                start[_network.A(b) + 2]++;
                start[_network.B(b) + 2]++;
            }
        for (var i = 0; i < n; i++)
            start[i + 1] += start[i];
        var (edges, at) = (new int[start[n]], (int[])start.Clone());
        for (var b = 0; b < _ties.Length; b++)
            if (Joins(b))
            {
                edges[at[_network.A(b) + 1]++] = b;
                edges[at[_network.B(b) + 1]++] = b;
            }
        return (start, edges);
    }

    /// <summary>True when a changed branch joins what was apart, or parts what was joined.</summary>
    public bool Changes(in ChangedLink c) => c.G > Least != _ties[c.Branch];

    /// <summary>Whether conductors join two nodes of the base state; the reference is -1.</summary>
    public bool Tied(int p, int q) => _tree[p + 1] == _tree[q + 1];

    /// <summary>The same on a machine of which a few branches are changed; null where that takes a walk of its own.</summary>
    public bool? Tied(int p, int q, ReadOnlySpan<ChangedLink> changed)
    {
        var (opened, closed, loops, onWay) = (0, 0, 0, false);
        Span<int> hanging = stackalloc int[changed.Length];
        foreach (var c in changed)
        {
            var (ties, tied) = (c.G > Least, _ties[c.Branch]);
            if (ties == tied)
                continue;
            if (ties)
                closed++;
            else if (_bridge[c.Branch])
                hanging[opened++] = _below[c.Branch];
            else if (_network.A(c.Branch) != _network.B(c.Branch))
            {
                loops++;
                onWay |= _below[c.Branch] is >= 0 and var below && Under(p + 1, below) != Under(q + 1, below);
            }
        }
        // One branch of a ring opened leaves the ring joined; two may not, unless the walk from the one node to the other took neither.
        if (loops > 1 && (onWay || closed > 0))
            return null;
        hanging = hanging[..opened];
        if (closed == 0)
            return Together(p, q, hanging);
        Span<int> ends = stackalloc int[2 * closed + 2],
            set = stackalloc int[2 * closed + 2];
        (ends[0], ends[1]) = (p, q);
        var count = 2;
        foreach (var c in changed)
            if (c.G > Least && !_ties[c.Branch])
            {
                ends[count++] = _network.A(c.Branch);
                ends[count++] = _network.B(c.Branch);
            }
        for (var i = 0; i < count; i++)
            set[i] = i;
        for (var i = 1; i < count; i++)
        for (var k = 0; k < i; k++)
            if (i % 2 == 1 && i > 1 && k == i - 1 || Together(ends[i], ends[k], hanging))
                Join(set, set[i], set[k]);
        return set[0] == set[1];
    }

    /// <summary>By node, counted from the reference, the tree it is in; nodes of one tree are tied. Shared: not to be written to.</summary>
    public int[] Trees => _tree;

    /// <summary>The same on a machine of which a few branches are changed; null where that takes a walk of its own.</summary>
    public int[]? TreesWith(ReadOnlySpan<ChangedLink> changed)
    {
        var loops = 0;
        foreach (var c in changed)
        {
            if (Changes(c) && c.G <= Least && !_bridge[c.Branch] && _network.A(c.Branch) != _network.B(c.Branch))
                loops++;
        }
        if (loops > 1)
            return null;
        var tree = (int[])_tree.Clone();
        // What hangs on an opened bridge is a stretch of the walk; of two, one inside the other, the inner one is parted last.
        var hanging = new List<int>();
        foreach (var c in changed)
            if (Changes(c) && c.G <= Least && _bridge[c.Branch])
                hanging.Add(_below[c.Branch]);
        hanging.Sort((a, b) => _enter[a].CompareTo(_enter[b]));
        foreach (var below in hanging)
            for (var at = _enter[below]; at < _leave[below]; at++)
                tree[_walk[at]] = below;
        foreach (var c in changed)
        {
            if (!Changes(c) || c.G <= Least)
                continue;
            var (a, b) = (tree[_network.A(c.Branch) + 1], tree[_network.B(c.Branch) + 1]);
            if (a != b)
                for (var i = 0; i < tree.Length; i++)
                    if (tree[i] == a)
                        tree[i] = b;
        }
        return tree;
    }

    private static void Join(Span<int> set, int a, int b)
    {
        if (a == b)
            return;
        for (var i = 0; i < set.Length; i++)
            if (set[i] == a)
                set[i] = b;
    }

    private bool Together(int p, int q, ReadOnlySpan<int> hanging)
    {
        if (_tree[p + 1] != _tree[q + 1])
            return false;
        foreach (var below in hanging)
            if (Under(p + 1, below) != Under(q + 1, below))
                return false;
        return true;
    }

    private bool Under(int node, int below) => _enter[node] >= _enter[below] && _enter[node] < _leave[below];
}
