using System.Text.RegularExpressions;

namespace Zoltric.Web.Tests;

/// <summary>Every screen and every sentence keeps to docs/words.md.</summary>
public sealed partial class WordListTests
{
    /// <summary>Sentences that are shown: what the core says of a reading, an order, a caution, a cause, and all of the screens'
    /// own.</summary>
    private static readonly string[] Spoken =
    [
        "src/Zoltric.Core/Diagnosis/Explanation",
        "src/Zoltric.Core/Safety",
        "src/Zoltric.Core/Practice",
        "src/Zoltric.Core/Checking",
        "src/Zoltric.Core/Circuits/Probes",
        "src/Zoltric.Web",
    ];

    /// <summary>Names of codes by SAE J1939-73 are the standard's own.</summary>
    private static readonly string[] StandardsWords = ["TroubleCode.cs"];

    private static IEnumerable<string> Texts(string file)
    {
        var text = File.ReadAllText(file);
        return file.EndsWith(".cshtml", StringComparison.Ordinal)
            ? Between().Matches(Comments().Replace(text, "")).Select(m => m.Groups[1].Value)
            : text.Split('\n')
                .Where(l => !l.TrimStart().StartsWith("//", StringComparison.Ordinal))
                .SelectMany(l => Literals().Matches(l).Select(m => m.Groups[1].Value))
                // A sentence has blanks; a key, a column, a class has none, and SQL is no sentence.
                .Where(t => t.Contains(' ', StringComparison.Ordinal) && !Sql().IsMatch(t));
    }

    [Fact]
    public void No_screen_says_what_the_word_list_does_not()
    {
        var banned = File.ReadAllLines(Path.Combine(ServerProcess.Root, "docs", "words.md"))
            .Where(l => l.StartsWith("| ", StringComparison.Ordinal) && l.Contains('`', StringComparison.Ordinal))
            .SelectMany(l => Quoted().Matches(l.Split('|')[2]).Select(m => m.Groups[1].Value))
            .ToList();
        banned.Count.ShouldBeGreaterThan(40);
        var files = Spoken
            .SelectMany(d => Directory.EnumerateFiles(Path.Combine(ServerProcess.Root, d), "*.*", SearchOption.AllDirectories))
            .Where(f => f.EndsWith(".cs", StringComparison.Ordinal) || f.EndsWith(".cshtml", StringComparison.Ordinal))
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal) && !f.Contains("/bin/", StringComparison.Ordinal))
            .Where(f => !StandardsWords.Contains(Path.GetFileName(f)))
            .ToList();
        var texts = files.SelectMany(f => Texts(f).Select(t => (File: Path.GetFileName(f), Text: t))).ToList();
        texts.Count.ShouldBeGreaterThan(2000);
        var found =
            from t in texts
            from word in banned
            where Regex.IsMatch(t.Text, $@"(?<![\w-]){Regex.Escape(word)}(?![\w-])", RegexOptions.IgnoreCase)
            select $"{t.File}: “{word}” in “{t.Text.Trim()}”";
        found.Distinct().ShouldBeEmpty();
    }

    [GeneratedRegex(@">([^<>{}@]{3,})<")]
    private static partial Regex Between();

    [GeneratedRegex(@"@\*.*?\*@", RegexOptions.Singleline)]
    private static partial Regex Comments();

    [GeneratedRegex("\"((?:[^\"\\\\]|\\\\.)*)\"")]
    private static partial Regex Literals();

    [GeneratedRegex(@"\b(SELECT|INSERT|UPDATE|DELETE FROM|WHERE|CREATE TABLE)\b")]
    private static partial Regex Sql();

    [GeneratedRegex("`([^`]+)`")]
    private static partial Regex Quoted();
}
