namespace Zoltric.Bench;

/// <summary>95 % interval of a share that was met some times in so many (Wilson, 1927).</summary>
internal static class Interval
{
    private const double Z = 1.96;

    /// <summary>Ends of the interval for k met in n, n above 0; from 0 to 1.</summary>
    public static (double Low, double High) Of(int k, int n)
    {
        var p = k / (double)n;
        var scale = 1 + Z * Z / n;
        var (middle, half) = ((p + Z * Z / (2 * n)) / scale, Z * Math.Sqrt(p * (1 - p) / n + Z * Z / (4.0 * n * n)) / scale);
        return (middle - half, middle + half);
    }
}
