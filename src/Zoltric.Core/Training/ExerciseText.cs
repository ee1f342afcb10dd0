using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Training;

/// <summary>An exercise as text: a word and what belongs to it on each line. The form stands in docs/notation.md.</summary>
public static partial class ExerciseText
{
    public const int MostCharacters = 20_000;

    private static readonly string[] Acts = ["ohms", "parts", "hints", "lamp"];

    private const string Expected = "exercise, sheet, level, teaches, complaint, story, fault, moved, without, no drawing or lesson";

    public static string Write(Exercise e)
    {
        ArgumentNullException.ThrowIfNull(e);
        var s = new StringBuilder();
        s.Append(CultureInfo.InvariantCulture, $"exercise \"{Plain(e.Title)}\"\nsheet {e.Sheet}\nlevel {e.Level}\n");
        foreach (var skill in e.Skills)
            s.Append(CultureInfo.InvariantCulture, $"teaches \"{Plain(skill)}\"\n");
        s.Append(CultureInfo.InvariantCulture, $"complaint \"{Plain(e.Function)}\" {e.Seen}\n");
        if (e.Story.Length > 0)
            s.Append(CultureInfo.InvariantCulture, $"story \"{Plain(e.Story)}\"\n");
        if (e.Undrawn is { } undrawn)
            s.Append(CultureInfo.InvariantCulture, $"undrawn {undrawn.Wire} {undrawn.Line}\n");
        foreach (var fault in e.Faults)
            s.Append(CultureInfo.InvariantCulture, $"fault {fault}\n");
        if (e.ComesAndGoes)
            s.Append(CultureInfo.InvariantCulture, $"moved \"{Plain(e.Moved)}\"\n");
        foreach (var code in e.Codes)
            s.Append(CultureInfo.InvariantCulture, $"code {code.Number} {code.State.Text()}\n");
        if (e.Without.Count > 0)
            s.Append(CultureInfo.InvariantCulture, $"without {string.Join(", ", e.Without)}\n");
        if (!e.Drawing)
            s.Append("no drawing\n");
        if (e.Lesson.Length > 0)
            s.Append(CultureInfo.InvariantCulture, $"lesson \"{Plain(e.Lesson)}\"\n");
        return s.ToString();
    }

    private static string Plain(string text) => text.Replace('"', '\'').ReplaceLineEndings(" ");

    /// <summary>Reads the text; every line that is not understood is a problem of its own.</summary>
    public static Parsed<Exercise> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var problems = new List<Problem>();
        if (text.Length > MostCharacters)
            return new(null, [new Problem(Severity.Error, 1, 1, $"An exercise has at most {MostCharacters / 1000} thousand characters.")]);
        var e = new Exercise("", "", "", "", []);
        foreach (var (line, n) in text.ReplaceLineEndings("\n").Split('\n').Select((l, i) => (l.Trim(), i + 1)))
        {
            if (line.Length == 0 || line[0] == '#')
                continue;
            var (word, rest) = line.IndexOf(' ', StringComparison.Ordinal) is > 0 and var space
                ? (line[..space], line[(space + 1)..].Trim())
                : (line, "");
            var quoted = rest.Length > 1 && rest[0] == '"' && rest[^1] == '"' ? rest[1..^1] : rest;
            switch (word)
            {
                case "exercise" when quoted.Length is > 0 and <= 120:
                    e = e with { Title = quoted };
                    break;
                case "sheet" when quoted.Length > 0:
                    e = e with { Sheet = quoted };
                    break;
                case "level"
                    when int.TryParse(rest, NumberStyles.None, CultureInfo.InvariantCulture, out var level) && level is >= 1 and <= 5:
                    e = e with { Level = level };
                    break;
                case "teaches" when quoted.Length is > 0 and <= 80:
                    e = e with { Skills = [.. e.Skills, quoted] };
                    break;
                case "complaint" when Complaint().Match(rest) is { Success: true } c && IsSeen(c.Groups[2].Value):
                    e = e with { Function = c.Groups[1].Value, Seen = c.Groups[2].Value };
                    break;
                case "story":
                    e = e with { Story = quoted };
                    break;
                case "fault" when rest.Length > 0:
                    e = e with { Faults = [.. e.Faults, rest] };
                    break;
                case "undrawn" when Undrawn().Match(rest) is { Success: true } u:
                    e = e with { Undrawn = new UndrawnPart(u.Groups[1].Value, u.Groups[2].Value) };
                    break;
                case "moved" when quoted.Length > 0:
                    e = e with { Moved = quoted };
                    break;
                case "code" when Code().Match(rest) is { Success: true } c && AnswerText.TryParse(c.Groups[2].Value, out var state):
                    e = e with { Codes = [.. e.Codes, new ShownCode(c.Groups[1].Value, state)] };
                    break;
                case "without" when rest.Split(',', StringSplitOptions.TrimEntries) is var acts && acts.All(Acts.Contains):
                    e = e with { Without = acts };
                    break;
                case "no" when rest == "drawing":
                    e = e with { Drawing = false };
                    break;
                case "lesson":
                    e = e with { Lesson = quoted };
                    break;
                default:
                    problems.Add(
                        new Problem(
                            Severity.Error,
                            n,
                            1,
                            $"{NotationTokenizer.Clip(line)} is not understood here.",
                            null,
                            Expected,
                            $"write {Expected}"
                        )
                    );
                    break;
            }
        }
        if (problems.Count == 0)
            foreach (
                var (missing, say) in new[]
                {
                    (e.Title.Length == 0, "exercise \"what it is called\""),
                    (e.Sheet.Length == 0, "sheet QS-5"),
                    (e.Function.Length == 0, "complaint \"function\" dead"),
                }
            )
                if (missing)
                    problems.Add(new Problem(Severity.Error, 1, 1, $"A line is missing: {say}.", null, say, $"write {say}"));
        return problems.Count > 0 ? new(null, problems) : new(e, []);
    }

    private static bool IsSeen(string word) =>
        AnswerText.TryParse(word, out var answer) && answer is Answer.Dead or Answer.Weak or Answer.StuckOn or Answer.Flickers;

    /// <summary>What of an exercise does not go with its sheet; none where it can be given out.</summary>
    public static IReadOnlyList<string> Against(Exercise exercise, Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(exercise);
        ArgumentNullException.ThrowIfNull(circuit);
        var wrong = new List<string>();
        if (circuit.Functions.All(f => f.Name != exercise.Function))
            wrong.Add($"The sheet has no function “{exercise.Function}”: {string.Join(", ", circuit.Functions.Select(f => f.Name))}.");
        var built = exercise.Undrawn?.In(circuit) ?? new(circuit, []);
        if (built.Value is null)
            wrong.Add($"{exercise.Undrawn!.Line}: {built.Problems[0].Message}");
        foreach (var fault in exercise.Faults)
            if (FaultReader.Read(built.Value ?? circuit, fault) is { Value: null } bad)
                wrong.Add($"Fault {fault}: {bad.Problems[0].Message}");
        foreach (var code in exercise.Codes.Where(x => circuit.Codes.All(y => y.Code != x.Number)))
            wrong.Add($"The sheet has no code {code.Number}: {string.Join(", ", circuit.Codes.Select(c => c.Code))}.");
        if (exercise.ComesAndGoes && circuit.Parts.All(p => p.Place != exercise.Moved))
            wrong.Add($"No part of the sheet is at “{exercise.Moved}”.");
        return wrong;
    }

    [GeneratedRegex("^([A-Za-z0-9-]{1,20}) (active|stored)$", RegexOptions.CultureInvariant)]
    private static partial Regex Code();

    [GeneratedRegex("^(\\S{1,40}) (part .{1,200})$", RegexOptions.CultureInvariant)]
    private static partial Regex Undrawn();

    [GeneratedRegex("^\"([^\"]{1,120})\" ([a-z-]+)$", RegexOptions.CultureInvariant)]
    private static partial Regex Complaint();
}
