namespace Zoltric.Instruments.Captures;

/// <summary>A stretch in which a channel was below a level.</summary>
/// <param name="From">s.</param>
/// <param name="Length">s.</param>
public sealed record Dropout(double From, double Length, double Lowest);

/// <summary>A channel that goes up and down.</summary>
/// <param name="Hertz">Of the rising edges.</param>
/// <param name="Duty">Share of the time above the middle, 0 to 1.</param>
public sealed record Cycles(double Hertz, double Duty, int Count)
{
    /// <summary>What it stands at as a rule while it is down, and while it is up: a bus at its two levels.</summary>
    public double Low { get; init; }
    public double High { get; init; }
}

/// <summary>Figures of one channel over the time of its capture, in its unit. Instants over the range have no say.</summary>
public sealed record Measures(double Min, double Max, double Mean, double Ripple)
{
    public double PeakToPeak => Max - Min;

    /// <summary>
    /// Mean over time by trapezoids, and what alternates on it as effective value. Null where there are fewer than two instants.
    /// </summary>
    public static Measures? Of(double[] seconds, double[] values)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        ArgumentNullException.ThrowIfNull(values);
        var (min, max) = (double.PositiveInfinity, double.NegativeInfinity);
        double area = 0,
            squares = 0,
            time = 0;
        for (var i = 0; i < values.Length; i++)
        {
            if (double.IsNaN(values[i]))
                continue;
            (min, max) = (Math.Min(min, values[i]), Math.Max(max, values[i]));
            if (i == 0 || double.IsNaN(values[i - 1]))
                continue;
            var (a, b, dt) = (values[i - 1], values[i], seconds[i] - seconds[i - 1]);
            area += (a + b) / 2 * dt;
            // The square of a straight line from a to b, over its time.
            squares += (a * a + a * b + b * b) / 3 * dt;
            time += dt;
        }
        if (time <= 0)
            return null;
        var mean = area / time;
        return new Measures(min, max, mean, Math.Sqrt(Math.Max(0, squares / time - mean * mean)));
    }

    /// <summary>
    /// Stretches below a level for longer than a time, s; where they begin and end lies between two instants by a straight line.
    /// </summary>
    public static IReadOnlyList<Dropout> Below(double[] seconds, double[] values, double level, double longer)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        ArgumentNullException.ThrowIfNull(values);
        var found = new List<Dropout>();
        double? from = null;
        var lowest = double.PositiveInfinity;
        for (var i = 0; i < values.Length; i++)
        {
            if (double.IsNaN(values[i]))
                continue;
            var below = values[i] < level;
            if (below && from is null)
                (from, lowest) = (i == 0 || double.IsNaN(values[i - 1]) ? seconds[i] : Crossing(i), values[i]);
            else if (below)
                lowest = Math.Min(lowest, values[i]);
            else if (from is { } f)
            {
                Add(f, Crossing(i));
                from = null;
            }
        }
        if (from is { } open)
            Add(open, seconds[^1]);
        return found;

        double Crossing(int i) =>
            double.IsNaN(values[i - 1])
                ? seconds[i]
                : seconds[i - 1] + (seconds[i] - seconds[i - 1]) * (level - values[i - 1]) / (values[i] - values[i - 1]);

        void Add(double f, double to)
        {
            if (to - f > longer)
                found.Add(new Dropout(f, to - f, lowest));
        }
    }

    /// <summary>A move counts as an edge from this share of the whole swing below the middle to as much above it.</summary>
    private const double Hysteresis = 0.15;

    /// <summary>The middle one by size, the upper of two; there must be one at least.</summary>
    internal static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToArray();
        return sorted[sorted.Length / 2];
    }

    /// <summary>Fewer rounds than this are a contact that bounces unless they go on for <see cref="GoesOn"/> of the capture.</summary>
    private const int Many = 10;
    private const double GoesOn = 0.25;

    /// <summary>
    /// How often it rises, and how long it is up. Null where it does not go round at least twice, or only for a moment of the capture.
    /// </summary>
    public static Cycles? Rounds(double[] seconds, double[] values)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        if (Of(seconds, values) is not { PeakToPeak: > 0 } m)
            return null;
        var (middle, swing) = ((m.Min + m.Max) / 2, Hysteresis * m.PeakToPeak);
        var edges = new List<(double At, bool Up)>();
        bool? up = null;
        double? crossed = null;
        for (var i = 0; i < values.Length; i++)
        {
            if (double.IsNaN(values[i]))
                continue;
            if (i > 0 && !double.IsNaN(values[i - 1]) && (values[i - 1] < middle) != (values[i] < middle))
                crossed = seconds[i - 1] + (seconds[i] - seconds[i - 1]) * (middle - values[i - 1]) / (values[i] - values[i - 1]);
            bool? now =
                values[i] > middle + swing ? true
                : values[i] < middle - swing ? false
                : null;
            if (now is not { } state || state == up)
                continue;
            if (up is not null && crossed is { } at)
                edges.Add((at, state));
            up = state;
        }
        var rises = edges.Where(e => e.Up).Select(e => e.At).ToList();
        if (rises.Count < 3)
            return null;
        var (first, last) = (rises[0], rises[^1]);
        if (rises.Count <= Many && last - first < GoesOn * (seconds[^1] - seconds[0]))
            return null;
        double high = 0;
        for (var i = 0; i + 1 < edges.Count; i++)
            if (edges[i].Up && edges[i].At < last)
                high += edges[i + 1].At - edges[i].At;
        return new Cycles((rises.Count - 1) / (last - first), high / (last - first), rises.Count - 1)
        {
            Low = Median(values.Where(v => v < middle)),
            High = Median(values.Where(v => v > middle)),
        };
    }
}
