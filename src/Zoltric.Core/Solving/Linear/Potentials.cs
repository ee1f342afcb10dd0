using System.Numerics;

namespace Zoltric.Core.Solving.Linear;

internal static class Potentials
{
    /// <summary>Difference of the entries of two nodes, of potentials in V or of a response in Ω; the reference is -1 and has 0.</summary>
    public static double Across(ReadOnlySpan<double> x, int a, int b) => (a < 0 ? 0 : x[a]) - (b < 0 ? 0 : x[b]);

    public static Complex Across(ReadOnlySpan<Complex> x, int a, int b) => (a < 0 ? 0 : x[a]) - (b < 0 ? 0 : x[b]);

    /// <summary>Adds a current that comes in at one node and goes out at another; the reference is -1.</summary>
    /// <param name="step">From one node's place to the next.</param>
    public static void Inject(Span<double> into, int a, int b, double amps, int step = 1)
    {
        if (a >= 0)
            into[a * step] += amps;
        if (b >= 0)
            into[b * step] -= amps;
    }
}
