namespace Zoltric.Core.Training;

/// <summary>One end of an exercise, for progress.</summary>
public sealed record PastRun(DateTimeOffset At, bool Right);

/// <summary>When an exercise comes again: what was missed at once, what was solved after longer and longer.</summary>
public static class Progress
{
    /// <summary>
    /// Days until it comes again, by how often in a row it was solved; estimates after common practice of spaced repetition.
    /// </summary>
    private static readonly int[] Days = [0, 3, 10, 30, 90];

    /// <summary>Moment from which it is due; null where it was never tried.</summary>
    /// <param name="runs">In order of time.</param>
    public static DateTimeOffset? DueAt(IReadOnlyList<PastRun> runs)
    {
        ArgumentNullException.ThrowIfNull(runs);
        if (runs.Count == 0)
            return null;
        var solved = runs.Reverse().TakeWhile(r => r.Right).Count();
        return runs[^1].At.AddDays(Days[Math.Min(solved, Days.Length - 1)]);
    }
}
