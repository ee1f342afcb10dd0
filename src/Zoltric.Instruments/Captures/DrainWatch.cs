namespace Zoltric.Instruments.Captures;

/// <summary>A stretch over which a draw stayed about the same.</summary>
/// <param name="From">s from the beginning.</param>
/// <param name="Length">s.</param>
/// <param name="Amps">The middle of what was drawn.</param>
/// <param name="Waked">How often something drew more, or less, for a moment and let go again.</param>
public sealed record DrainStage(double From, double Length, double Amps, int Waked);

/// <summary>
/// A draw watched over minutes to hours: its stages, as modules fall asleep one after another, and what it comes to. Levels are told apart
/// by a fifth or 15 mA, whichever is more, for half a minute at least; estimates, no source.
/// </summary>
/// <param name="AmpHoursADay">Of the last stage, wakes included.</param>
public sealed record DrainWatch(IReadOnlyList<DrainStage> Stages, double AmpHoursADay)
{
    private const double Share = 0.2,
        Least = 0.015,
        Lasting = 30;

    /// <summary>Shorter than this it is no watch, s.</summary>
    public const double ShortestWatch = 120;

    private const int MostBins = 20_000;

    /// <summary>What is drawn at the end.</summary>
    public double RestAmps => Stages[^1].Amps;

    /// <summary>Days until so many ampere-hours are gone, of which only this share may be taken.</summary>
    /// <param name="usable">Half of what a battery holds, where it still has to crank; common practice, no source.</param>
    public double DaysToFlat(double ampHours, double usable = 0.5) =>
        AmpHoursADay > 0 ? ampHours * usable / AmpHoursADay : double.PositiveInfinity;

    /// <summary>Null where it was not watched for two minutes.</summary>
    public static DrainWatch? Of(double[] seconds, double[] amps)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        ArgumentNullException.ThrowIfNull(amps);
        if (seconds.Length < 4 || seconds[^1] - seconds[0] < ShortestWatch)
            return null;
        var bins = Bins(seconds, amps);
        if (bins.Count < 4)
            return null;
        var stages = new List<DrainStage>();
        var first = 0;
        while (first < bins.Count)
        {
            var (end, waked) = StageFrom(bins, first);
            var to = end < bins.Count ? bins[end].At : seconds[^1];
            stages.Add(new DrainStage(bins[first].At - seconds[0], to - bins[first].At, Middle(bins, first, end), waked));
            first = end;
        }
        var last = stages[^1].From + seconds[0];
        return new DrainWatch(stages, Mean(seconds, amps, last) * 24);
    }

    /// <summary>Where a stage ends: at the first bin from which on another level lasts.</summary>
    private static (int End, int Waked) StageFrom(List<(double At, double Amps)> bins, int first)
    {
        var waked = 0;
        var off = -1;
        for (var i = first + 1; i < bins.Count; i++)
        {
            var level = Middle(bins, first, off < 0 ? i : off);
            if (Math.Abs(bins[i].Amps - level) <= Math.Max(Least, Share * Math.Abs(level)))
            {
                if (off >= 0)
                    waked++;
                off = -1;
                continue;
            }
            if (off < 0)
                off = i;
            if (bins[i].At - bins[off].At >= Lasting)
                return (off, waked);
        }
        return (bins.Count, waked);
    }

    /// <summary>Median of some bins; of many, of those spread over them.</summary>
    private static double Middle(List<(double At, double Amps)> bins, int from, int to)
    {
        var step = Math.Max(1, (to - from) / 101);
        var some = new List<double>();
        for (var i = from; i < to; i += step)
            some.Add(bins[i].Amps);
        some.Sort();
        return some[some.Count / 2];
    }

    /// <summary>Means of a second or more each.</summary>
    private static List<(double At, double Amps)> Bins(double[] seconds, double[] amps)
    {
        var width = Math.Max(1, (seconds[^1] - seconds[0]) / MostBins);
        var bins = new List<(double, double)>();
        for (var i = 0; i < seconds.Length; )
        {
            var (at, sum, n) = (seconds[i], 0.0, 0);
            for (; i < seconds.Length && seconds[i] < at + width; i++)
                if (!double.IsNaN(amps[i]))
                    (sum, n) = (sum + amps[i], n + 1);
            if (n > 0)
                bins.Add((at, sum / n));
        }
        return bins;
    }

    private static double Mean(double[] seconds, double[] amps, double from)
    {
        var start = Array.FindIndex(seconds, s => s >= from);
        return Measures.Of(seconds[start..], amps[start..])?.Mean ?? amps[^1];
    }
}
