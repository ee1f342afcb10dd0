using System.Numerics;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// A conductance changed between two nodes, S, and the current that comes in at the first and goes out at the second with it, A.
/// </summary>
/// <param name="Branch">The branch changed, or -1 for a path that is none.</param>
/// <param name="Now">What the branch conducts with it, S.</param>
internal readonly record struct Modification(int A, int B, double Siemens, double Amps, int Branch = -1, double Now = double.NaN);

/// <summary>
/// A few modifications on a base state at once. Potentials are the baseState ones less what each modification takes through its own
/// response z_k, and any other response is corrected likewise: with K the matrix of the modifications as they bear on each other, y − Σ z_k
/// K_kl (y across l).
/// </summary>
/// <remarks>
/// Source: the formula of Woodbury (1950), formed one modification after the other (Sherman and Morrison, 1950), so that one that would
/// cancel is seen. Whole responses are made only when many nodes are asked for; for a few, the response of the node asked for is read at
/// the modifications (reciprocity).
/// </remarks>
internal sealed class LowRankUpdate : INodalSolver<double>
{
    /// <summary>
    /// Nodes nobody has asked for yet that are read by their own response before those of the modifications are written out.
    /// </summary>
    private const int FewNodes = 4;

    /// <summary>Changes between which it is less work to solve for each pair than to make their whole responses.</summary>
    private const int FewChanges = 5;

    /// <summary>
    /// The last digit of a number, and the share of one that may be lost: as much as a single update may, see
    /// <see cref="UpdatedSolver{T}.Safe"/>.
    /// </summary>
    private const double Digit = 1e-16,
        MostLost = 2 * Digit / UpdatedSolver<double>.Safe;

    /// <summary>What of a difference may be noise, V.</summary>
    private const double MostNoise = 1e-6;

    private readonly BaseState _base;
    private readonly Modification[] _changes;
    private readonly double[] _through;
    private readonly double[] _inner;
    private double[][]? _responses;
    private int _asked;

    private LowRankUpdate(BaseState baseState, Modification[] changes, double[] through, double[] inner) =>
        (_base, _changes, _through, _inner) = (baseState, changes, through, inner);

    /// <summary>No change at all.</summary>
    public static LowRankUpdate None(BaseState baseState) => new(baseState, [], [], []);

    public int Count => _changes.Length;

    /// <summary>
    /// Null where a modification would cancel and the machine must be factored afresh: where what is left of 1 + δ·R is so small against
    /// what it was made of, with what the modifications before it have lost of R, that half its digits are gone.
    /// </summary>
    public static LowRankUpdate? TryMake(BaseState baseState, List<Modification> changes)
    {
        var n = changes.Count;
        Span<double> seen = stackalloc double[n * n],
            own = stackalloc double[n * n],
            volts = stackalloc double[n],
            lost = stackalloc double[n];
        var (through, inner) = (new double[n], new double[n * n]);
        // Each pair of many is a look-up in a response that all machines with these changes share.
        if (n > FewChanges)
            foreach (var m in changes)
                if (m.Branch >= 0)
                    baseState.Response(m.Branch);
        own.Clear();
        for (var i = 0; i < n; i++)
        {
            volts[i] = Across(baseState.Volts, changes[i]);
            own[i * n + i] = 1;
            for (var j = 0; j <= i; j++)
                seen[i * n + j] = seen[j * n + i] = baseState.Seen(changes[i], changes[j]);
            lost[i] = Digit * Math.Abs(seen[i * n + i]);
        }
        // Modification m, with those before it made: its response is a sum of baseState ones, by the shares in its row of "own".
        for (var m = 0; m < n; m++)
        {
            var self = seen[m * n + m];
            var denominator = 1 + changes[m].Siemens * self;
            var share = (Math.Abs(changes[m].Siemens) * lost[m] + Digit) / Math.Abs(denominator);
            if (!(share < MostLost))
                return n == 1 ? Parting(baseState, changes[0]) : null;
            var factor = changes[m].Siemens / denominator;
            var scale = factor * (volts[m] + changes[m].Amps * self) - changes[m].Amps;
            for (var k = 0; k <= m; k++)
            {
                through[k] += scale * own[m * n + k];
                for (var l = 0; l <= m; l++)
                    inner[k * n + l] += factor * own[m * n + k] * own[m * n + l];
            }
            for (var i = m + 1; i < n; i++)
            {
                var along = factor * seen[i * n + m];
                volts[i] -= scale * seen[i * n + m];
                for (var k = 0; k <= m; k++)
                    own[i * n + k] -= along * own[m * n + k];
                for (var j = m + 1; j < n; j++)
                    seen[i * n + j] -= along * seen[j * n + m];
                lost[i] += Math.Abs(along * seen[i * n + m]) * share;
            }
        }
        return new LowRankUpdate(baseState, [.. changes], through, inner);
    }

    /// <summary>
    /// One branch that parts what hangs on it from the rest, but for insulation: what is left of 1 + δ·R is worked out from what lies
    /// beside the branch, so that nothing cancels.
    /// </summary>
    private static LowRankUpdate? Parting(BaseState baseState, in Modification m)
    {
        if (m.Branch < 0 || m.Amps != 0 || baseState.Emf[m.Branch] != 0)
            return null;
        var (beside, volts) = baseState.Beside(m.Branch);
        var (before, after) = (baseState.G[m.Branch] + beside, m.Now + beside);
        if (!(after > 0))
            return null;
        var factor = m.Siemens * before / after;
        return new LowRankUpdate(baseState, [m], [factor * volts], [factor]);
    }

    public static double Across(ReadOnlySpan<double> x, in Modification m) => Potentials.Across(x, m.A, m.B);

    /// <summary>Potential of a node, V; the reference is -1.</summary>
    public double Volts(int node)
    {
        if (node < 0)
            return 0;
        var volts = _base.Volts[node];
        if (_changes.Length == 0)
            return volts;
        if (_responses is { } z)
        {
            for (var k = 0; k < z.Length; k++)
                volts -= _through[k] * z[k][node];
            return volts;
        }
        var y = _base.KnownResponse(node);
        if (y is null)
        {
            if (_asked >= FewNodes || !_base.ServesMany)
            {
                WriteOut();
                return Volts(node);
            }
            _asked++;
            y = _base.Response(node, -1);
        }
        for (var k = 0; k < _changes.Length; k++)
            volts -= _through[k] * Across(y, _changes[k]);
        return volts;
    }

    /// <summary>Makes the whole responses of all modifications, so that every node is a look-up.</summary>
    public double[][] WriteOut() =>
        _responses ??= Array.ConvertAll(_changes, m => m.Branch >= 0 ? _base.Response(m.Branch) : _base.Response(m.A, m.B));

    /// <summary>Writes all potentials, V.</summary>
    public void WriteVolts(Span<double> into)
    {
        _base.Volts.CopyTo(into);
        for (var k = 0; k < _changes.Length; k++)
            Subtract(into, _through[k], WriteOut()[k]);
    }

    /// <summary>Adds to each node the current by whose potentials in the base state this machine's are lower, A.</summary>
    /// <param name="step">From one node's place to the next.</param>
    public void AddTaken(Span<double> at, int step)
    {
        for (var k = 0; k < _changes.Length; k++)
            Potentials.Inject(at, _changes[k].A, _changes[k].B, _through[k], step);
    }

    /// <summary>Writes a response of the base state as this machine has it.</summary>
    public void WriteCorrected(double[] y, Span<double> into)
    {
        y.CopyTo(into);
        for (var k = 0; k < _changes.Length; k++)
            if (Along(y, k) is var along && along != 0)
                Subtract(into, along, WriteOut()[k]);
    }

    private static void Subtract(Span<double> from, double times, ReadOnlySpan<double> z)
    {
        var i = 0;
        for (; i <= z.Length - Vector<double>.Count; i += Vector<double>.Count)
            (new Vector<double>(from[i..]) - new Vector<double>(times) * new Vector<double>(z[i..])).CopyTo(from[i..]);
        for (; i < z.Length; i++)
            from[i] -= times * z[i];
    }

    /// <summary>Solves the nodal equations of the changed machine: injected currents in, A, potentials out, V.</summary>
    public void Solve(Span<double> b)
    {
        _base.Factor.Solve(b);
        Span<double> along = stackalloc double[_changes.Length];
        along.Clear();
        for (var k = 0; k < along.Length; k++)
        for (var l = 0; l < along.Length; l++)
            along[k] += _inner[k * along.Length + l] * Across(b, _changes[l]);
        for (var k = 0; k < along.Length; k++)
            Subtract(b, along[k], WriteOut()[k]);
    }

    /// <summary>The same in an array of its own, or the response itself where nothing is changed.</summary>
    public double[] Corrected(double[] y)
    {
        if (_changes.Length == 0)
            return y;
        var corrected = new double[y.Length];
        WriteCorrected(y, corrected);
        return corrected;
    }

    /// <summary>What the changes take away from the resistance behind a response, Ω.</summary>
    public double Taken(double[] y)
    {
        var taken = 0.0;
        for (var k = 0; k < _changes.Length; k++)
            taken += Along(y, k) * Across(y, _changes[k]);
        return taken;
    }

    /// <summary>
    /// Difference between the nodes of a response in a solution of the base state, as this machine has it; NaN where too few digits of
    /// it are left.
    /// </summary>
    /// <param name="y">Response from p to q.</param>
    public double Moved(double[] solution, double[] y, int p, int q)
    {
        var across = Potentials.Across(solution, p, q);
        for (var k = 0; k < _changes.Length; k++)
        {
            var along = Along(y, k);
            var (a, b) = (_changes[k].A < 0 ? 0 : solution[_changes[k].A], _changes[k].B < 0 ? 0 : solution[_changes[k].B]);
            if (Math.Abs(along) * Math.Max(Math.Abs(a), Math.Abs(b)) * Digit > MostNoise)
                return double.NaN;
            across -= along * (a - b);
        }
        return across;
    }

    public Modification Change(int k) => _changes[k];

    /// <summary>What a change takes through its own response, A.</summary>
    public double Through(int k) => _through[k];

    /// <summary>Current that a unit current of a response sends another way through one change.</summary>
    public double Along(double[] y, int k)
    {
        var along = 0.0;
        for (var l = 0; l < _changes.Length; l++)
            along += _inner[k * _changes.Length + l] * Across(y, _changes[l]);
        return along;
    }

    /// <summary>
    /// True when the changes move the reading of a response by little: its volts, the ohms behind it, the way of its current.
    /// </summary>
    public bool MovesLittle(double[] y, double volts, double ohms, double share)
    {
        var (moved, taken) = (0.0, 0.0);
        for (var k = 0; k < _changes.Length; k++)
        {
            var (across, along) = (Across(y, _changes[k]), Math.Abs(Along(y, k)));
            if (along >= share)
                return false;
            moved += Math.Abs(_through[k] * across);
            taken += along * Math.Abs(across);
        }
        return moved < volts && taken < ohms;
    }

    /// <summary>
    /// Most that the potential of any node differs from that under another update of the same one conductance, V; NaN where the two are not
    /// of that kind. A response is largest where its current enters or leaves (maximum principle).
    /// </summary>
    public double MostApart(LowRankUpdate o)
    {
        if (_base != o._base || Count > 1 || o.Count > 1)
            return double.NaN;
        if (Count == 0 && o.Count == 0)
            return 0;
        var m = Count == 1 ? _changes[0] : o._changes[0];
        if (Count == 1 && o.Count == 1 && (o._changes[0].A != m.A || o._changes[0].B != m.B))
            return double.NaN;
        var apart = Math.Abs((Count == 1 ? _through[0] : 0) - (o.Count == 1 ? o._through[0] : 0));
        return apart == 0
            ? 0
            : apart * Math.Max(Math.Abs(_base.Factor.Between(m.A, m.B, m.A, -1)), Math.Abs(_base.Factor.Between(m.A, m.B, m.B, -1)));
    }

    /// <summary>Takes from the baseState volts of the watched branches what the changes take, V.</summary>
    public void Watched(Span<double> volts)
    {
        if (_changes.Length == 0)
            return;
        if (_base.WatchedRows() is { } rows)
        {
            for (var k = 0; k < _changes.Length; k++)
            {
                if (_changes[k].A >= 0)
                    Subtract(volts, _through[k], rows.AsSpan(_changes[k].A * volts.Length, volts.Length));
                if (_changes[k].B >= 0)
                    Subtract(volts, -_through[k], rows.AsSpan(_changes[k].B * volts.Length, volts.Length));
            }
            return;
        }
        var z = WriteOut();
        var watched = _base.WatchedNodes;
        for (var k = 0; k < z.Length; k++)
        for (var i = 0; i < volts.Length; i++)
        {
            var (a, b) = watched[i];
            volts[i] -= _through[k] * Potentials.Across(z[k], a, b);
        }
    }

    /// <summary>With one change: where it is, δ / (1 + δ·z) and its response. Null with any other number.</summary>
    public (Modification At, double Factor, double[] Z)? Single => _changes.Length == 1 ? (_changes[0], _inner[0], WriteOut()[0]) : null;
}
