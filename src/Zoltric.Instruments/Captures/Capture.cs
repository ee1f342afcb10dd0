namespace Zoltric.Instruments.Captures;

/// <summary>One channel of a capture.</summary>
/// <param name="Unit">V, A, or what its file says.</param>
/// <param name="Values">One for each instant, in that unit; not a number where the instrument was over its range.</param>
public sealed record CaptureChannel(string Name, string Unit, double[] Values)
{
    /// <summary>The same through a probe or clamp: each value times what one unit of the file stands for.</summary>
    /// <param name="per">New units for one of the old: 10 for a clamp of 100 mV per ampere.</param>
    public CaptureChannel Scaled(double per, string unit) =>
        double.IsFinite(per) && per != 0
            ? this with
            {
                Unit = unit,
                Values = Array.ConvertAll(Values, v => v * per),
            }
            : throw new ArgumentOutOfRangeException(nameof(per));
}

/// <summary>What an instrument wrote over time.</summary>
/// <param name="Seconds">Rising.</param>
public sealed record Capture(double[] Seconds, IReadOnlyList<CaptureChannel> Channels)
{
    /// <summary>From the first instant to the last, s.</summary>
    public double Length => Seconds.Length > 1 ? Seconds[^1] - Seconds[0] : 0;
}
