using System.Buffers;
using System.Numerics;

namespace Zoltric.Core.Solving.Linear;

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
        for (var k = 0; k < size; k++)
            Position[order[k]] = k;
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
        (TargetStart, ColumnOf, RowStart, RowEntries) = (
            new int[Rows.Length],
            new int[Rows.Length],
            new int[size + 1],
            new int[Rows.Length]
        );
        for (var j = 0; j < size; j++)
        for (var p = ColumnStart[j]; p < ColumnStart[j + 1]; p++)
        {
            (TargetStart[p], ColumnOf[p]) = (targets.Count, j);
            RowStart[Rows[p] + 1]++;
            for (var q = p + 1; q < ColumnStart[j + 1]; q++)
                targets.Add(_entryOf[(Rows[p], Rows[q])]);
        }
        Targets = [.. targets];
        for (var j = 0; j < size; j++)
            RowStart[j + 1] += RowStart[j];
        var next = (int[])RowStart.Clone();
        for (var p = 0; p < Rows.Length; p++)
            RowEntries[next[Rows[p]]++] = p;
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
public interface INodalSolver<T>
    where T : struct, INumberBase<T>
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
public sealed class SparseLdl<T> : INodalSolver<T>
    where T : struct, INumberBase<T>
{
    private readonly NodalPattern _pattern;
    private readonly T[] _lower;
    private readonly T[] _inversePivot;

    internal NodalPattern Pattern => _pattern;
    internal ReadOnlySpan<T> Lower => _lower;
    internal ReadOnlySpan<T> InversePivot => _inversePivot;

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
        for (var node = 0; node < n; node++)
            excess[pattern.Position[node]] = toReference[node];
        var (start, rows, targets) = (pattern.ColumnStart, pattern.Rows, pattern.Targets);
        var t = 0;
        for (var j = 0; j < n; j++)
        {
            var pivot = excess[j];
            for (var p = start[j]; p < start[j + 1]; p++)
                pivot += weights[p];
            var inverse = T.One / pivot;
            _inversePivot[j] = inverse;
            for (var p = start[j]; p < start[j + 1]; p++)
            {
                // share of j's current that goes to this neighbour: also the entry of L, up to sign
                var share = weights[p] * inverse;
                excess[rows[p]] += share * excess[j];
                for (var q = p + 1; q < start[j + 1]; q++)
                    weights[targets[t++]] += share * weights[q];
            }
            for (var p = start[j]; p < start[j + 1]; p++)
                weights[p] *= inverse;
        }
    }

    private SparseLdl(SparseLdl<T> o)
    {
        _pattern = o._pattern;
        (_lower, _inversePivot, _excess) = ((T[])o._lower.Clone(), (T[])o._inversePivot.Clone(), (T[])o._excess.Clone());
    }

    /// <summary>
    /// The factor after changes of a few entries: only the columns on their way to the root of the elimination tree are formed anew, from
    /// the assembled conductances and what their children give them, so nothing cancels here either.
    /// </summary>
    /// <param name="weights">Assembled conductance per pattern entry with the change in it, S; not modified.</param>
    /// <param name="toReference">The same per node.</param>
    /// <param name="nodes">Nodes whose branches changed.</param>
    public SparseLdl<T> Changed(ReadOnlySpan<T> weights, ReadOnlySpan<T> toReference, IEnumerable<int> nodes)
    {
        var changed = Refactored(weights, toReference, [], [], nodes);
        var made = new SparseLdl<T>(this);
        for (var i = 0; i < changed.Way.Length; i++)
        {
            var j = changed.Way[i];
            (made._inversePivot[j], made._excess[j]) = (changed.InversePivot[i], changed.Excess[i]);
            changed
                .Lower.AsSpan(changed.LowerStart[i], _pattern.ColumnStart[j + 1] - _pattern.ColumnStart[j])
                .CopyTo(made._lower.AsSpan(_pattern.ColumnStart[j]));
        }
        return made;
    }

    /// <summary>The same as columns laid over this factor, for a solution or two.</summary>
    /// <param name="weights">Assembled conductance per pattern entry, S.</param>
    /// <param name="toReference">The same per node.</param>
    /// <param name="entries">Entries with another conductance than that.</param>
    /// <param name="atNodes">Nodes with another conductance to the reference than that.</param>
    internal RefactoredLdl<T> Refactored(
        ReadOnlySpan<T> weights,
        ReadOnlySpan<T> toReference,
        ReadOnlySpan<(int Entry, T Weight)> entries,
        ReadOnlySpan<(int Node, T Weight)> atNodes,
        IEnumerable<int> nodes
    )
    {
        ArgumentNullException.ThrowIfNull(nodes);
        var (start, rows, targets) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Targets);
        var way = new List<int>();
        // Place on the way by column, -1 for columns off it.
        var place = ArrayPool<int>.Shared.Rent(_pattern.Size);
        Array.Fill(place, -1, 0, _pattern.Size);
        foreach (var node in nodes)
            for (var j = _pattern.Position[node]; place[j] < 0; j = rows[start[j]])
            {
                place[j] = 0;
                way.Add(j);
                if (start[j] == start[j + 1])
                    break;
            }
        way.Sort();
        var lowerStart = new int[way.Count + 1];
        for (var i = 0; i < way.Count; i++)
        {
            place[way[i]] = i;
            lowerStart[i + 1] = lowerStart[i] + start[way[i] + 1] - start[way[i]];
        }
        var (lower, inversePivot, ownExcess) = (new T[lowerStart[^1]], new T[way.Count], new T[way.Count]);
        for (var i = 0; i < way.Count; i++)
        {
            var j = way[i];
            var column = lower.AsSpan(lowerStart[i], lowerStart[i + 1] - lowerStart[i]);
            weights[start[j]..start[j + 1]].CopyTo(column);
            foreach (var (entry, weight) in entries)
                if (_pattern.ColumnOf[entry] == j)
                    column[entry - start[j]] = weight;
            var excess = toReference[_pattern.Node[j]];
            foreach (var (node, weight) in atNodes)
                if (node == _pattern.Node[j])
                    excess = weight;
            for (var r = _pattern.RowStart[j]; r < _pattern.RowStart[j + 1]; r++)
            {
                var p = _pattern.RowEntries[r];
                var k = _pattern.ColumnOf[p];
                var on = place[k];
                // From one of the children that are formed anew, or as it is.
                var (from, at) = on >= 0 ? (lower, lowerStart[on] - start[k]) : (_lower, 0);
                var share = from[p + at];
                excess += share * (on >= 0 ? ownExcess[on] : _excess[k]);
                var weight = share / (on >= 0 ? inversePivot[on] : _inversePivot[k]);
                var t = _pattern.TargetStart[p];
                for (var q = p + 1; q < start[k + 1]; q++)
                    column[targets[t++] - start[j]] += weight * from[q + at];
            }
            var pivot = excess;
            foreach (var w in column)
                pivot += w;
            (ownExcess[i], inversePivot[i]) = (excess, T.One / pivot);
            for (var p = 0; p < column.Length; p++)
                column[p] *= inversePivot[i];
        }
        ArrayPool<int>.Shared.Return(place);
        return new RefactoredLdl<T>(this, [.. way], lowerStart, lower, inversePivot, ownExcess);
    }

    /// <inheritdoc/>
    public void Solve(Span<T> b)
    {
        var (start, rows, position) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Position);
        // Rented, not kept: one factor serves several requests at a time.
        var rented = ArrayPool<T>.Shared.Rent(b.Length);
        var y = rented.AsSpan(0, b.Length);
        for (var node = 0; node < b.Length; node++)
            y[position[node]] = b[node];
        for (var j = 0; j < y.Length; j++)
        {
            var yj = y[j];
            if (yj != T.Zero)
                for (var p = start[j]; p < start[j + 1]; p++)
                    y[rows[p]] += _lower[p] * yj;
        }
        for (var j = y.Length - 1; j >= 0; j--)
        {
            var x = y[j] * _inversePivot[j];
            for (var p = start[j]; p < start[j + 1]; p++)
                x += _lower[p] * y[rows[p]];
            y[j] = x;
        }
        for (var node = 0; node < b.Length; node++)
            b[node] = y[position[node]];
        ArrayPool<T>.Shared.Return(rented);
    }

    /// <summary>Solves for many right sides at once.</summary>
    /// <param name="b">In: injected currents, A. Out: potentials, V. Node by node, the right sides of a node side by side.</param>
    /// <param name="count">Right sides.</param>
    internal void SolveSideBySide(Span<T> b, int count)
    {
        var (start, rows, position) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Position);
        var rented = ArrayPool<T>.Shared.Rent(b.Length);
        var y = rented.AsSpan(0, b.Length);
        for (var node = 0; node < _pattern.Size; node++)
            b.Slice(node * count, count).CopyTo(y[(position[node] * count)..]);
        for (var j = 0; j < _pattern.Size; j++)
        {
            var from = y.Slice(j * count, count);
            if (!from.ContainsAnyExcept(T.Zero))
                continue;
            for (var p = start[j]; p < start[j + 1]; p++)
                AddTimes(y.Slice(rows[p] * count, count), _lower[p], from);
        }
        for (var j = _pattern.Size - 1; j >= 0; j--)
        {
            var x = y.Slice(j * count, count);
            Scale(x, _inversePivot[j]);
            for (var p = start[j]; p < start[j + 1]; p++)
                AddTimes(x, _lower[p], y.Slice(rows[p] * count, count));
        }
        for (var node = 0; node < _pattern.Size; node++)
            y.Slice(position[node] * count, count).CopyTo(b[(node * count)..]);
        ArrayPool<T>.Shared.Return(rented);
    }

    private static void AddTimes(Span<T> to, T times, ReadOnlySpan<T> x)
    {
        var i = 0;
        if (Vector<T>.IsSupported)
            for (var all = new Vector<T>(times); i <= x.Length - Vector<T>.Count; i += Vector<T>.Count)
                (new Vector<T>(to[i..]) + all * new Vector<T>(x[i..])).CopyTo(to[i..]);
        for (; i < x.Length; i++)
            to[i] += times * x[i];
    }

    private static void Scale(Span<T> x, T times)
    {
        for (var i = 0; i < x.Length; i++)
            x[i] *= times;
    }

    /// <summary>
    /// Potential difference from p to q for a unit current in at a and out at b; the reference is -1. Only the columns on the way from
    /// these nodes to the root of the elimination tree are looked at: forward from where the current enters, backward to where it is read.
    /// </summary>
    public T Between(int a, int b, int p, int q)
    {
        var (start, rows, position) = (_pattern.ColumnStart, _pattern.Rows, _pattern.Position);
        var rented = ArrayPool<T>.Shared.Rent(_pattern.Size);
        var way = ArrayPool<int>.Shared.Rent(_pattern.Size);
        Span<int> at = [a < 0 ? -1 : position[a], b < 0 ? -1 : position[b], p < 0 ? -1 : position[p], q < 0 ? -1 : position[q]];
        var count = 0;
        while (true)
        {
            var j = int.MaxValue;
            foreach (var k in at)
                if (k >= 0 && k < j)
                    j = k;
            if (j == int.MaxValue)
                break;
            way[count++] = j;
            rented[j] = T.Zero;
            var parent = start[j] < start[j + 1] ? rows[start[j]] : -1;
            for (var k = 0; k < at.Length; k++)
                if (at[k] == j)
                    at[k] = parent;
        }
        if (a >= 0)
            rented[position[a]] += T.One;
        if (b >= 0)
            rented[position[b]] -= T.One;
        for (var i = 0; i < count; i++)
        {
            var yj = rented[way[i]];
            if (yj == T.Zero)
                continue;
            for (var e = start[way[i]]; e < start[way[i] + 1]; e++)
                rented[rows[e]] += _lower[e] * yj;
        }
        for (var i = count - 1; i >= 0; i--)
        {
            var j = way[i];
            var x = rented[j] * _inversePivot[j];
            for (var e = start[j]; e < start[j + 1]; e++)
                x += _lower[e] * rented[rows[e]];
            rented[j] = x;
        }
        var between = (p < 0 ? T.Zero : rented[position[p]]) - (q < 0 ? T.Zero : rented[position[q]]);
        ArrayPool<T>.Shared.Return(rented);
        ArrayPool<int>.Shared.Return(way);
        return between;
    }
}
