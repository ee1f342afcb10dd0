using System.Buffers;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// A solver corrected by its own residual. Coupled windings are updates that take away what they add, which costs digits where a gigaohm
/// hangs on a loaded transformer; the residual, summed from branch currents, shows what is lost and one or two more solutions bring it
/// back.
/// </summary>
/// <remarks>Source: iterative refinement, Wilkinson (1963); the residual needs no higher precision because neighbouring potentials subtract
/// exactly.</remarks>
/// <param name="g">Conductances as they are, S; windings as insulation.</param>
internal sealed class RefinedSolver(
    INodalSolver<double> inner,
    Network network,
    double[] g,
    IReadOnlyList<(int A, int B, double G)> joins,
    IReadOnlyList<CoupledWindings> couplings
) : INodalSolver<double>
{
    private const int MostRounds = 4;

    /// <summary>A correction of this share of the largest potential is the last: microvolts at mains.</summary>
    private const double Enough = 1e-9;

    private readonly CoupledWindings[] _couplings = [.. couplings];

    public void Solve(Span<double> b)
    {
        var lent = ArrayPool<double>.Shared.Rent(2 * b.Length);
        var injected = lent.AsSpan(0, b.Length);
        var correction = lent.AsSpan(b.Length, b.Length);
        b.CopyTo(injected);
        inner.Solve(b);
        for (var round = 0; round < MostRounds; round++)
        {
            injected.CopyTo(correction);
            Residual(correction, b);
            inner.Solve(correction);
            var (largest, most) = (0.0, 0.0);
            for (var i = 0; i < b.Length; i++)
            {
                b[i] += correction[i];
                largest = Math.Max(largest, Math.Abs(b[i]));
                most = Math.Max(most, Math.Abs(correction[i]));
            }
            if (most <= Enough * largest)
                break;
        }
        ArrayPool<double>.Shared.Return(lent);
    }

    /// <summary>Takes from what is injected what flows away at these potentials.</summary>
    private void Residual(Span<double> r, ReadOnlySpan<double> v)
    {
        for (var i = 0; i < g.Length; i++)
            Flow(r, v, network.A(i), network.B(i), g[i]);
        foreach (var (a, b, siemens) in joins)
            Flow(r, v, a, b, siemens);
        for (var n = 0; n < r.Length; n++)
            r[n] -= network.LeakOf(n) * v[n];
        foreach (var (p, s, ratio, siemens, _) in _couplings)
        {
            var amps = siemens * (At(v, network.A(p)) - At(v, network.B(p)) - ratio * (At(v, network.A(s)) - At(v, network.B(s))));
            Take(r, network.A(p), amps);
            Take(r, network.B(p), -amps);
            Take(r, network.A(s), -ratio * amps);
            Take(r, network.B(s), ratio * amps);
        }
    }

    private static void Flow(Span<double> r, ReadOnlySpan<double> v, int a, int b, double siemens)
    {
        if (siemens == 0 || a == b)
            return;
        var amps = siemens * (At(v, a) - At(v, b));
        Take(r, a, amps);
        Take(r, b, -amps);
    }

    private static double At(ReadOnlySpan<double> v, int node) => node < 0 ? 0 : v[node];

    private static void Take(Span<double> r, int node, double amps)
    {
        if (node >= 0)
            r[node] -= amps;
    }
}
