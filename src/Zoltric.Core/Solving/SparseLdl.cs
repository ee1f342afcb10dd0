using System.Buffers;
using System.Numerics;

namespace Zoltric.Core.Solving;

/// <summary>
/// The pattern of a nodal system: elimination order and where each fill-in goes. Made once per network, shared by every factor.
/// </summary>
/// <remarks>
/// The system is A x = b with A = sum of conductances: a Laplacian over the free nodes plus the conductance of each node to the
/// reference. Column j holds the nodes after j that elimination joins to it. <see cref="Targets"/> lists, for column j and each pair
/// (i, k) of its entries in order, the entry (i, k) that the elimination of j adds to, so that the numeric phase never searches.
/// </remarks>
public sealed class NodalPattern
{
    internal int[] Position { get; }

    /// <summary>Node eliminated at each position.</summary>
    internal int[] Node { get; }
    internal int[] ColumnStart { get; }
    internal int[] Rows { get; }
    internal int[] Targets { get; }

    /// <summary>Where in <see cref="Targets"/> the pairs that begin with each entry stand.</summary>
    internal int[] TargetStart { get; }

    /// <summary>Column of each entry.</summary>
    internal int[] ColumnOf { get; }

    /// <summary>Entries of each row, by their columns in order: <see cref="RowEntries"/> from RowStart[j] to RowStart[j + 1].</summary>
    internal int[] RowStart { get; }
    internal int[] RowEntries { get; }

    /// <summary>Number of free nodes.</summary>
    public int Size { get; }

    /// <summary>Off-diagonal entries of the factor.</summary>
    public int Entries => Rows.Length;

    private readonly Dictionary<(int, int), int> _entryOf = [];

    /// <param name="size">Free nodes, numbered from 0.</param>
    /// <param name="edges">Pairs of free nodes that share a branch.</param>
    public NodalPattern(int size, IReadOnlyCollection<(int A, int B)> edges)
    {
        Size = size;
        var (order, columns) = EliminationOrder.MinimumDegree(size, edges);
        Position = new int[size];
        Node = order;
        for (var k = 0; k < size; k++) Position[order[k]] = k;
        ColumnStart = new int[size + 1];
        var rows = new List<int>();
        for (var j = 0; j < size; j++)
        {
            ColumnStart[j] = rows.Count;
            var column = columns[j].Select(i => Position[i]).Order().ToArray();
            foreach (var i in column)
            {
                _entryOf[(j, i)] = rows.Count;
                rows.Add(i);
            }
        }
        ColumnStart[size] = rows.Count;
        Rows = [.. rows];
        var targets = new List<int>();
        (TargetStart, ColumnOf, RowStart, RowEntries) = (new int[Rows.Length], new int[Rows.Length], new int[size + 1], new int[Rows.Length]);
        for (var j = 0; j < size; j++)
            for (var p = ColumnStart[j]; p < ColumnStart[j + 1]; p++)
            {
                (TargetStart[p], ColumnOf[p]) = (targets.Count, j);
                RowStart[Rows[p] + 1]++;
                for (var q = p + 1; q < ColumnStart[j + 1]; q++) targets.Add(_entryOf[(Rows[p], Rows[q])]);
            }
        Targets = [.. targets];
        for (var j = 0; j < size; j++) RowStart[j + 1] += RowStart[j];
        var next = (int[])RowStart.Clone();
        for (var p = 0; p < Rows.Length; p++) RowEntries[next[Rows[p]]++] = p;
    }

    /// <summary>Index of the factor entry that a branch between two free nodes adds to.</summary>
    public int EntryOf(int a, int b)
    {
        var (i, j) = (Position[a], Position[b]);
        return _entryOf[i < j ? (i, j) : (j, i)];
    }
}

/// <summary>A solver of the nodal equations: right side in, node potentials out, in place.</summary>
/// <typeparam name="T"><see cref="double"/> for DC, <see cref="Complex"/> for AC phasors.</typeparam>
public interface INodalSolver<T> where T : struct, INumberBase<T>
{
    /// <param name="b">In: injected currents by node, A. Out: potentials, V. Length is the pattern's size.</param>
    void Solve(Span<T> b);
}

/// <summary>
/// LDLᵀ factor of a nodal matrix, formed without subtraction: beside the weights w between nodes it carries each node's conductance
/// to the reference e, and forms every pivot as the sum e + Σ w. Eliminating j adds w_ij·w_jk/d_j to each pair of its neighbours and
/// w_ij·e_j/d_j to each neighbour's own path to the reference. With positive conductances nothing ever cancels, so a gigaohm beside a
/// milliohm keeps all its digits.
/// </summary>
/// <remarks>
/// Source: the subtraction-free elimination of Grassmann, Taksar and Heyman (1985) for Markov chains, applied to grounded
/// Laplacians. Storage: one value per entry of the pattern and one per node. Limit: every node must reach the reference through
/// positive conductance; the network sees to that with an island leak.
/// </remarks>
public sealed class SparseLdl<T> : INodalSolver<T> where T : struct, INumberBase<T>
{
    private readonly NodalPattern _pattern;
    private readonly T[] _lower;
    private readonly T[] _inversePivot;

    /// <summary>Each column's own path to the reference when it was eliminated.</summary>
    private readonly T[] _excess;

    /// <param name="weights">Conductance per pattern entry, S; overwritten by the elimination.</param>
    /// <param name="toReference">Conductance per node to the reference, S, by node; not modified.</param>
    public SparseLdl(NodalPattern pattern, T[] weights, ReadOnlySpan<T> toReference)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        _pattern = pattern;
        _lower = weights;
        var n = pattern.Size;
        _inversePivot = new T[n];
        var excess = _excess = new T[n];
        for (var node = 0; node < n; node++) excess[pattern.Position[node]] = toReference[node];
        var (start, rows, targets) = (pattern.ColumnStart, pattern.Rows, pattern.Targets);
        var t = 0;
        for (var j = 0; j < n; j++)
        {
            var pivot = excess[j];
            for (var p = start[j]; p < start[j + 1]; p++) pivot += weights[p];
            var inverse = T.One / pivot;
            _inversePivot[j] = inverse;
            for (var p = start[j]; p < start[j + 1]; p++)
            {
                // share of j's current that goes to this neighbour: also the entry of L, up to sign
                var share = weights[p] * inverse;
                excess[rows[p]] += share * excess[j];
                for (var q = p + 1; q < start[j + 1]; q++) weights[targets[t++]] += share * weights[q];
            }
            for (var p = start[j]; p < start[j + 1]; p++) weights[p] *= inverse;
        }
    }

    private SparseLdl(SparseLdl<T> o)
    {
        _pattern = o._pattern;
        (_lower, _inversePivot, _excess) = ((T[])o._lower.Clone(), (T[])o._inversePivot.Clone(), (T[])o._excess.Clone());
    }

    /// <summary>
    /// The factor after changes of a few entries: only the columns on their way to the root of the elimination tree are formed anew, from the
    /// assembled conductances and what their children give them, so nothing cancels here either.
    /// </summary>
    /// <param name="weights">Assembled conductance per pattern entry with the change in it, S; not modified.</param>
    /// <param name="toReference">The same per node.</param>
    /// <param name="nodes">Nodes whose branches changed.</param>
    public SparseLdl<T> Changed(ReadOnlySpan<T> weights, ReadOnlySpan<T> toReference, IEnumerable<int> nodes)
    {
        ArgumentNullException.ThrowIfNull(nodes);
        var made = new SparseLdl<T>(this);
        var (start, rows, targets) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Targets);
        var way = new SortedSet<int>();
        foreach (var node in nodes)
            for (var j = _pattern.Position[node]; way.Add(j) && start[j] < start[j + 1];) j = rows[start[j]];
        foreach (var j in way)
        {
            var excess = toReference[_pattern.Node[j]];
            var lower = made._lower;
            for (var p = start[j]; p < start[j + 1]; p++) lower[p] = weights[p];
            for (var r = _pattern.RowStart[j]; r < _pattern.RowStart[j + 1]; r++)
            {
                var p = _pattern.RowEntries[r];
                var k = _pattern.ColumnOf[p];
                var share = lower[p];
                excess += share * made._excess[k];
                var weight = share / made._inversePivot[k];
                var t = _pattern.TargetStart[p];
                for (var q = p + 1; q < start[k + 1]; q++) lower[targets[t++]] += weight * lower[q];
            }
            var pivot = excess;
            for (var p = start[j]; p < start[j + 1]; p++) pivot += lower[p];
            made._excess[j] = excess;
            made._inversePivot[j] = T.One / pivot;
            for (var p = start[j]; p < start[j + 1]; p++) lower[p] *= made._inversePivot[j];
        }
        return made;
    }

    /// <inheritdoc/>
    public void Solve(Span<T> b)
    {
        var (start, rows, position) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Position);
        // Rented, not kept: one factor serves several requests at a time.
        var rented = ArrayPool<T>.Shared.Rent(b.Length);
        var y = rented.AsSpan(0, b.Length);
        for (var node = 0; node < b.Length; node++) y[position[node]] = b[node];
        for (var j = 0; j < y.Length; j++)
        {
            var yj = y[j];
            if (yj != T.Zero)
                for (var p = start[j]; p < start[j + 1]; p++) y[rows[p]] += _lower[p] * yj;
        }
        for (var j = y.Length - 1; j >= 0; j--)
        {
            var x = y[j] * _inversePivot[j];
            for (var p = start[j]; p < start[j + 1]; p++) x += _lower[p] * y[rows[p]];
            y[j] = x;
        }
        for (var node = 0; node < b.Length; node++) b[node] = y[position[node]];
        ArrayPool<T>.Shared.Return(rented);
    }
}
