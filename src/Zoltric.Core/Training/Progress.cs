namespace Zoltric.Core.Training;

/// <summary>When an exercise comes again: what was missed at once, what was solved after longer and longer.</summary>
public static class Progress
{
    /// <summary>
    /// Days until it comes again, by how often in a row it was solved; estimates after common practice of spaced repetition.
    /// </summary>
    private static readonly int[] Days = [0, 3, 10, 30, 90];

    /// <summary>Days from the last try until it is due; null where it was never tried.</summary>
    /// <param name="right">How each try ended, in order.</param>
    public static int? DaysUntilDue(IReadOnlyList<bool> right)
    {
        ArgumentNullException.ThrowIfNull(right);
        return right.Count == 0 ? null : Days[Math.Min(right.Reverse().TakeWhile(r => r).Count(), Days.Length - 1)];
    }
}
