using Zoltric.Core.Circuits;

namespace Zoltric.Web.Wording;

/// <summary>
/// Which function of a machine a complaint is about, by the words of both: "lift will not lower" is about what lowers. Words that mean the
/// same stand in one row; a word that follows "not" counts double. Common practice, no source.
/// </summary>
public static class ComplaintMatch
{
    private static readonly string[][] Alike =
    [
        ["crank", "start", "starter"],
        ["lower", "descend", "down", "sink"],
        ["rise", "raise", "lift", "hoist", "ascend", "up"],
        ["heat", "hot", "warm", "cold", "oven"],
        ["light", "lamp", "beacon", "headlamp", "dark"],
        ["charge", "alternator"],
        ["run", "turn", "rotate", "spin", "move"],
        ["drive", "travel", "go"],
        ["horn", "sound", "silent"],
        ["open", "valve"],
        ["wipe", "wiper"],
        ["sleep", "drain", "flat", "morning", "overnight"],
        ["display", "screen"],
        ["pump"],
        ["brake"],
        ["stop"],
    ];

    /// <summary>The function of a machine that a complaint is about, or null.</summary>
    public static MachineFunction? Find(string? complaint, Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return Find(complaint, circuit.Functions.Select(f => f.Name)) is { } name ? circuit.FindFunction(name) : null;
    }

    /// <summary>The function that shares most words with the complaint, or null where none does, or two do alike.</summary>
    public static string? Find(string? complaint, IEnumerable<string> functions)
    {
        ArgumentNullException.ThrowIfNull(functions);
        var said = Tokens(complaint ?? "");
        var scores = functions
            .Select(f => (Name: f, Score: Score(said, f)))
            .Where(x => x.Score > 0)
            .OrderByDescending(x => x.Score)
            .ToList();
        return scores switch
        {
            [] => null,
            [var first, var second, ..] when first.Score == second.Score => null,
            [var first, ..] => first.Name,
        };
    }

    private static int Score(List<string> said, string function)
    {
        var names = Tokens(function);
        var (score, negated) = (0, false);
        foreach (var word in said)
        {
            if (word is "not" or "no" or "cannot" or "wont" or "doesnt" or "never")
            {
                negated = true;
                continue;
            }
            if (names.Exists(n => n == word))
                score += negated ? 6 : 3;
            else if (names.Exists(n => Row(n) is { } row && row == Row(word)))
                score += negated ? 4 : 2;
            negated = false;
        }
        return score;
    }

    private static string[]? Row(string word) => Alike.FirstOrDefault(a => a.Contains(word));

    private static List<string> Tokens(string text) =>
        [
            .. text.ToLowerInvariant()
                .Replace("'", "", StringComparison.Ordinal)
                .Replace("’", "", StringComparison.Ordinal)
                .Split([' ', ',', '.', ';', ':', '-', '/', '"', '“', '”'], StringSplitOptions.RemoveEmptyEntries)
                .Select(Stem),
        ];

    /// <summary>Without the endings of verbs and plurals.</summary>
    private static string Stem(string word)
    {
        foreach (var ending in (string[])["ing", "es", "s"])
            if (
                word.Length > ending.Length + 2
                && word.EndsWith(ending, StringComparison.Ordinal)
                && !word.EndsWith("ss", StringComparison.Ordinal)
            )
            {
                var stem = word[..^ending.Length];
                return Array.Exists(Alike, a => a.Contains(stem + "e")) ? stem + "e" : stem;
            }
        return word;
    }
}
