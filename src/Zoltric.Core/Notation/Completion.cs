using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Notation;

/// <summary>One word that may stand at a place of a sheet.</summary>
/// <param name="Detail">What it is, in a few words; empty where the word says it.</param>
public sealed record CompletionItem(string Word, string Detail);

/// <summary>Words that may stand at a place, to replace the text from <see cref="From"/> (0-based) up to it.</summary>
public sealed record Completions(int From, IReadOnlyList<CompletionItem> Items);

/// <summary>What may be typed next in a sheet: statements, kinds, tags, terminals, controls and their positions.</summary>
public static partial class Completion
{
    private static readonly string[] Statements =
    [
        "sheet",
        "machine",
        "nominal",
        "drawn from",
        "reference",
        "frame",
        "control",
        "given",
        "part",
        "path",
        "function",
        "interlock",
        "code",
    ];
    private static readonly string[] Indented = ["closed", "open", "supply", "input", "output", "bus", "sleeps after"];
    private static readonly string[] Attributes = ["at \"", "reach ", "sealed", "safety", "hazard ", "odds ", "good "];
    private static readonly string[] Colours = ["BK", "BN", "RD", "OG", "YE", "GN", "BU", "VT", "GY", "WH", "PK", "TQ", "GNYE"];

    [GeneratedRegex(@"[\p{L}\p{N}_]+$")]
    private static partial Regex LastWord();

    [GeneratedRegex(@"(?<tag>[\p{L}\p{N}_]+)(?<mark>[.:>])(?<typed>[\p{L}\p{N}_+\-]*)$")]
    private static partial Regex AfterTag();

    [GeneratedRegex(@"(?<control>[\p{L}\p{N}_]+)=(?<typed>[\p{L}\p{N}_]*)$")]
    private static partial Regex AfterControl();

    /// <param name="at">Characters of the text before the cursor.</param>
    public static Completions At(string text, int at)
    {
        ArgumentNullException.ThrowIfNull(text);
        at = Math.Clamp(at, 0, text.Length);
        var start = at == 0 ? 0 : text.LastIndexOf('\n', at - 1) + 1;
        var before = text[start..at];
        var typed = LastWord().Match(before).Value;
        var items = Items(text, before, start, ref typed)
            .Where(i => i.Word.StartsWith(typed, StringComparison.OrdinalIgnoreCase) && i.Word != typed)
            .DistinctBy(i => i.Word)
            .Take(60)
            .ToList();
        return new Completions(at - typed.Length, items);
    }

    private static IEnumerable<CompletionItem> Items(string text, string before, int start, ref string typed)
    {
        var line = before.TrimStart();
        var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        // A place in quotes or a comment is free text.
        if (before.Count(c => c == '"') % 2 == 1 || line.StartsWith('#'))
            return [];
        if (words.Length == 0 || words.Length == 1 && !line.EndsWith(' '))
            return Plain(before.Length > line.Length ? Indented : Statements);
        var sheet = new Lazy<Circuit?>(() => Known(text, start));
        if (AfterControl().Match(before) is { Success: true } set)
        {
            typed = set.Groups["typed"].Value;
            return sheet.Value?.FindControl(set.Groups["control"].Value) is { } c
                ? c.Positions.Select(
                    (p, i) =>
                        new CompletionItem(
                            p,
                            i == c.Rest ? "at rest"
                                : c.Held.Contains(p) ? "must be held"
                                : ""
                        )
                )
                : [];
        }
        var first = words[0];
        if (
            first == "path"
            || first == "function" && line.Contains(':', StringComparison.Ordinal) && !line.Contains(" when ", StringComparison.Ordinal)
            || first is "reference" or "frame" or "code"
        )
        {
            if (AfterTag().Match(before) is { Success: true } tag)
            {
                typed = tag.Groups["typed"].Value;
                return sheet.Value?.FindPart(tag.Groups["tag"].Value) is { } part ? Terminals(part, tag.Groups["mark"].Value) : [];
            }
            if (before.LastIndexOf('[') > before.LastIndexOf(']'))
                return Plain(Colours);
            return (sheet.Value?.Parts ?? []).Select(p => new CompletionItem(p.Tag, p.Label ?? p.Kind.Spoken));
        }
        if (first == "part")
        {
            if (words.Length < 3 && !(words.Length == 2 && line.EndsWith(' ')))
                return [];
            if (words.Length == 2 || words.Length == 3 && !line.EndsWith(' '))
                return PartKind
                    .All.Values.OrderBy(k => k.Word, StringComparer.Ordinal)
                    .Select(k => new CompletionItem(k.Word, k.Spoken == k.Word ? "" : k.Spoken));
            return PartKind.All.TryGetValue(words[2], out var kind)
                ?
                [
                    .. kind.OwnWords.Select(w => new CompletionItem(w, "")),
                    .. kind.TakesNamed.Select(n => new CompletionItem(n.Key + "=", Units.Sign(n.Value))),
                    .. Plain(Attributes),
                    .. kind.TakesCondition ? Plain(["when "]) : [],
                ]
                : Plain(Attributes);
        }
        if (first == "drawn")
            return Plain(line.Contains("from", StringComparison.Ordinal) ? ["traced", "maker", "sister", "memory"] : ["from"]);
        if (first == "machine")
            return Plain(line.Contains("family ", StringComparison.Ordinal) ? [.. MachineFamily.All] : ["family"]);
        if (first is "interlock" && line.Contains("stops", StringComparison.Ordinal))
            return (sheet.Value?.Functions ?? []).Select(f => new CompletionItem($"\"{f.Name}\"", ""));
        if (
            first is "closed" or "open" or "function" or "interlock" or "output"
            && (first == "interlock" || line.Contains("when", StringComparison.Ordinal))
        )
            return
            [
                .. (sheet.Value?.Controls ?? []).Select(c => new CompletionItem(c.Name + "=", string.Join(", ", c.Positions))),
                .. Plain(first == "interlock" ? ["stops"] : ["and", "or", "not"]),
            ];
        return Plain(first is "closed" or "open" or "function" ? ["when"] : []);
    }

    private static IEnumerable<CompletionItem> Plain(string[] words) => words.Select(w => new CompletionItem(w, ""));

    private static IEnumerable<CompletionItem> Terminals(Part part, string mark) =>
        part.Kind is PinRow
            ? Enumerable
                .Range(1, part.Pins)
                .Select(p => new CompletionItem(p.ToString(System.Globalization.CultureInfo.InvariantCulture), part.Label ?? ""))
            : part
                .Model.Terminals.Where(t => t.Length > 0)
                .Select(t => new CompletionItem(
                    t,
                    mark == ">"
                        ? "leaves here"
                        : string.Join(", ", part.Model.Links.Where(l => l.A == t || l.B == t).Select(l => l.Name).Take(2))
                ));

    /// <summary>The parts and controls of the text, whatever else is wrong with it: the line being typed and the paths left out.</summary>
    private static Circuit? Known(string text, int start)
    {
        var (kept, at) = (new List<string>(), 0);
        foreach (var line in text.Split('\n'))
        {
            var word = line.TrimStart().Split(' ')[0];
            if (at != start && word is not ("path" or "code" or "interlock" or "reference" or "frame" or "function"))
                kept.Add(line);
            at += line.Length + 1;
        }
        var all = SheetReader.Read(text);
        return all.Value ?? SheetReader.Read(string.Join('\n', kept)).Value;
    }
}
