namespace Zoltric.Instruments.Captures;

/// <summary>What volts at a load and the current it takes say of its feed.</summary>
/// <param name="Open">Volts with no current, by the straight line through all instants.</param>
/// <param name="Ohms">What the volts fall by for each ampere: source, feed and ground together.</param>
/// <param name="LeastVolts">The lowest, and <paramref name="AtAmps"/> the current then.</param>
/// <param name="Fit">How well a straight line fits, 0 to 1.</param>
public sealed record FeedVerdict(double Open, double Ohms, double LeastVolts, double AtAmps, double Fit)
{
    /// <summary>Least swing of the current that a resistance is read from, as a share of its largest.</summary>
    private const double LeastSwing = 0.2;

    /// <summary>A line through less order than this says nothing of a feed.</summary>
    private const double LeastFit = 0.5;

    /// <summary>
    /// By least squares. Null where the current does not move enough, or where the volts do not follow it: no ground on the probe, a clamp
    /// on another wire.
    /// </summary>
    public static FeedVerdict? Of(double[] volts, double[] amps)
    {
        ArgumentNullException.ThrowIfNull(volts);
        ArgumentNullException.ThrowIfNull(amps);
        var pairs = volts.Zip(amps).Where(p => !double.IsNaN(p.First) && !double.IsNaN(p.Second)).ToList();
        if (pairs.Count < 10)
            return null;
        var (v, a) = (pairs.Average(p => p.First), pairs.Average(p => p.Second));
        double aa = 0,
            vv = 0,
            av = 0;
        foreach (var (y, x) in pairs)
        {
            aa += (x - a) * (x - a);
            vv += (y - v) * (y - v);
            av += (x - a) * (y - v);
        }
        var (lowest, highest) = (pairs.Min(p => p.Second), pairs.Max(p => p.Second));
        if (vv <= 0 || highest - lowest < LeastSwing * Math.Max(Math.Abs(highest), Math.Abs(lowest)) || highest == lowest)
            return null;
        var slope = av / aa;
        var fit = av * av / (aa * vv);
        if (slope >= 0 || fit < LeastFit)
            return null;
        var least = pairs.MinBy(p => p.First);
        return new FeedVerdict(v - slope * a, -slope, least.First, least.Second, fit);
    }
}
