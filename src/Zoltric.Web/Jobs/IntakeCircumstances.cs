using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Web.Jobs;

/// <summary>When a machine fails, in the words that the intake offers, and what they are to the diagnosis and to safety.</summary>
public static class IntakeCircumstances
{
    private static readonly (string Word, Circumstances Is)[] Words =
    [
        ("when hot", Circumstances.Hot),
        ("when cold", Circumstances.Cold),
        ("in the wet", Circumstances.Wet),
        ("after a wash", Circumstances.Wet),
        ("while moving", Circumstances.Moving),
        ("over bumps", Circumstances.Moving),
        ("after standing", Circumstances.Standing),
        ("under load", Circumstances.Hot),
        ("now and then", Circumstances.NowAndThen),
        ("always", Circumstances.None),
    ];

    /// <summary>The words, in the order in which they are offered.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Words.Select(w => w.Word)];

    /// <summary>What was said, as kept with the job: words joined by a comma and a space. Words of other versions say nothing.</summary>
    public static Circumstances Of(string? said)
    {
        var words = (said ?? "").Split(", ");
        return Words.Where(w => words.Contains(w.Word)).Aggregate(Circumstances.None, (all, w) => all | w.Is);
    }
}
