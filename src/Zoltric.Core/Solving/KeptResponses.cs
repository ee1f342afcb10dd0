using System.Collections.Concurrent;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// Responses of one base state to a unit current, by branch, by node against the reference and by any two nodes, each made once. Those
/// with a number are kept without a lock: a response made twice at the same time is the same response.
/// </summary>
internal sealed class KeptResponses(ResponseBound bound)
{
    private double[]?[]? _byBranch,
        _byNode;
    private ConcurrentDictionary<(int A, int B), double[]>? _byNodes;
    private ConcurrentDictionary<(int A, int B), int[]>? _carriers;
    private bool _counted;

    /// <summary>Potentials for one ampere in at the first node of the branch and out at its second, V per A.</summary>
    public double[] Response(int branch, Network network, INodalSolver<double> solver)
    {
        var all = _byBranch ??= new double[]?[network.Branches.Count];
        if (all[branch] is { } known)
            return known;
        var z = Make(network.A(branch), network.B(branch), network.Size, solver);
        return all[branch] = z;
    }

    /// <summary>The response of a branch if it was made before.</summary>
    public double[]? KnownOf(int branch) => branch < 0 ? null : _byBranch?[branch];

    /// <summary>The same for two nodes; the reference is -1.</summary>
    public double[] Response(int a, int b, int size, INodalSolver<double> solver)
    {
        if (b < 0 && a >= 0)
        {
            var single = _byNode ??= new double[]?[size];
            return single[a] ??= Make(a, b, size, solver);
        }
        var all = _byNodes ??= new();
        return all.TryGetValue((a, b), out var known) ? known : all[(a, b)] = Make(a, b, size, solver);
    }

    /// <summary>Branches that a unit current between two nodes takes, made once.</summary>
    public int[] Carriers(int a, int b, Func<int[]> make)
    {
        var all = _carriers ??= new();
        return all.TryGetValue((a, b), out var known) ? known : all[(a, b)] = make();
    }

    /// <summary>The response of a node against the reference if it was made before.</summary>
    public double[]? Known(int node) => _byNode?[node];

    /// <summary>
    /// By node, what a unit current from it to the reference makes across each of some pairs of nodes, the pairs side by side; null before
    /// they are made. Kept as long as the state, of which few have them.
    /// </summary>
    public double[]? Rows { get; private set; }

    /// <summary>Makes them; null where the machine has as many as it may.</summary>
    public double[]? MakeRows((int A, int B)[] pairs, int size, SparseLdl<double> factor)
    {
        lock (_rowsLock)
            return Rows ?? (bound.TakesRows((long)pairs.Length * size) ? MadeRows(pairs, size, factor) : null);
    }

    private readonly Lock _rowsLock = new();

    private double[] MadeRows((int A, int B)[] pairs, int size, SparseLdl<double> factor)
    {
        var rows = new double[pairs.Length * size];
        // By reciprocity: what a unit current through each pair makes at every node.
        for (var i = 0; i < pairs.Length; i++)
            Potentials.Inject(rows.AsSpan(i), pairs[i].A, pairs[i].B, 1, pairs.Length);
        factor.SolveSideBySide(rows, pairs.Length);
        return Rows = rows;
    }

    private double[] Make(int a, int b, int size, INodalSolver<double> solver)
    {
        var z = Solved(a, b, size, solver);
        Count(size);
        return z;
    }

    /// <summary>Potentials for one ampere in at a and out at b, V, made and not kept; the reference is -1.</summary>
    public static double[] Solved(int a, int b, int size, INodalSolver<double> solver)
    {
        var z = new double[size];
        Potentials.Inject(z, a, b, 1);
        solver.Solve(z);
        return z;
    }

    private void Count(int numbers)
    {
        bound.Add(numbers);
        if (_counted)
            return;
        _counted = true;
        bound.Counts(this);
    }

    public void Clear() => (_byBranch, _byNode, _byNodes, _carriers, _counted) = (null, null, null, null, false);
}

/// <summary>
/// Bounds the responses of one machine over all its base states: a fault tried in one state may need thousands and in the next a
/// handful. What is over the bound is thrown away as a whole and made again as it is asked for.
/// </summary>
internal sealed class ResponseBound
{
    /// <summary>Numbers kept, 8 bytes each.</summary>
    private const long MostNumbers = 4_000_000;

    /// <summary>The same of rows, which are not thrown away: no more are made.</summary>
    private const long MostRowNumbers = 4_000_000;

    private readonly ConcurrentQueue<KeptResponses> _all = new();
    private long _numbers,
        _rowNumbers;

    /// <summary>Bytes that responses and rows hold.</summary>
    public long HeldBytes => (Interlocked.Read(ref _numbers) + Interlocked.Read(ref _rowNumbers)) * sizeof(double);

    /// <summary>True where so many more numbers may be kept as rows.</summary>
    public bool TakesRows(long numbers)
    {
        if (Interlocked.Add(ref _rowNumbers, numbers) <= MostRowNumbers)
            return true;
        Interlocked.Add(ref _rowNumbers, -numbers);
        return false;
    }

    /// <summary>When all networks of the machine are forgotten.</summary>
    public void ForgetRows() => Interlocked.Exchange(ref _rowNumbers, 0);

    public void Counts(KeptResponses kept) => _all.Enqueue(kept);

    public void Add(int numbers)
    {
        if (Interlocked.Add(ref _numbers, numbers) <= MostNumbers)
            return;
        Interlocked.Exchange(ref _numbers, 0);
        while (_all.TryDequeue(out var kept))
            kept.Clear();
    }
}
