namespace Zoltric.Core.Solving;

internal static class Potentials
{
    /// <summary>Difference of the entries of two nodes, of potentials in V or of a response in Ω; the reference is -1 and has 0.</summary>
    public static double Across(ReadOnlySpan<double> x, int a, int b) => (a < 0 ? 0 : x[a]) - (b < 0 ? 0 : x[b]);
}
