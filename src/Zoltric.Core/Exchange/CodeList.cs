using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;

namespace Zoltric.Core.Exchange;

/// <summary>A code as a reader gave it.</summary>
/// <param name="Status">active, stored or absent.</param>
/// <param name="Count">How often it was set; null where the reader does not say.</param>
public sealed record ReadCode(TroubleCode Code, string Status, int? Count);

/// <summary>
/// Codes typed, pasted, or out of a reader's file: a line each (<c>168-1 active 3</c>, separated by blanks, commas, semicolons or tabs), or
/// a JSON array of objects with code, status and count. What cannot be read is said by its line, never dropped.
/// </summary>
public static partial class CodeList
{
    private const int Most = 500;

    public static (IReadOnlyList<ReadCode> Codes, IReadOnlyList<string> Problems) Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return text.TrimStart().StartsWith('[') ? OfJson(text) : OfLines(text);
    }

    private static (IReadOnlyList<ReadCode>, IReadOnlyList<string>) OfLines(string text)
    {
        var (codes, problems) = (new List<ReadCode>(), new List<string>());
        foreach (var (line, i) in text.Split('\n').Select((l, i) => (l.Trim(), i + 1)))
        {
            if (line.Length == 0 || i == 1 && Heading().IsMatch(line))
                continue;
            if (codes.Count >= Most)
            {
                problems.Add($"Only the first {Most} codes were taken.");
                break;
            }
            var match = Line().Match(line);
            if (!match.Success)
            {
                problems.Add($"Line {i}, “{Short(line)}”: expected a code, then active or stored, then how often.");
                continue;
            }
            codes.Add(
                new ReadCode(
                    TroubleCode.Read(match.Groups["code"].Value),
                    StatusOf(match.Groups["status"].Value),
                    int.TryParse(match.Groups["count"].Value, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : null
                )
            );
        }
        return (codes, problems);
    }

    private static (IReadOnlyList<ReadCode>, IReadOnlyList<string>) OfJson(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = 4 });
            var (codes, problems) = (new List<ReadCode>(), new List<string>());
            foreach (var (item, i) in document.RootElement.EnumerateArray().Take(Most).Select((e, i) => (e, i + 1)))
            {
                if (
                    item.ValueKind == JsonValueKind.Object
                    && item.TryGetProperty("code", out var code)
                    && code.ValueKind is JsonValueKind.String or JsonValueKind.Number
                    && code.ToString() is { Length: > 0 and < 40 } number
                )
                    codes.Add(
                        new ReadCode(
                            TroubleCode.Read(number),
                            StatusOf(item.TryGetProperty("status", out var s) ? s.ToString() : ""),
                            item.TryGetProperty("count", out var c)
                            && c.ValueKind == JsonValueKind.Number
                            && c.TryGetInt32(out var n)
                            && n >= 0
                                ? n
                                : null
                        )
                    );
                else
                    problems.Add($"Entry {i}: expected an object with code, status and count.");
            }
            return (codes, problems);
        }
        catch (JsonException e)
        {
            return ([], [$"This is no list of codes: {e.Message}"]);
        }
        catch (Exception e) when (HalfCharacter.Is(e))
        {
            return ([], [$"This is no list of codes: {HalfCharacter.Said}"]);
        }
    }

    private static string StatusOf(string word) =>
        word.ToUpperInvariant() switch
        {
            "STORED" or "PREVIOUS" or "INACTIVE" or "HISTORY" or "HISTORIC" or "PREVIOUSLY ACTIVE" => "stored",
            "ABSENT" or "CLEARED" or "GONE" => "absent",
            _ => "active",
        };

    private static string Short(string line) => line.Length > 40 ? line[..40] + "…" : line;

    [GeneratedRegex(
        @"^""?(?<code>SPN\s*\d{1,6}\s*FMI\s*\d{1,2}|\d{1,6}\s*[-/]\s*\d{1,2}|[A-Za-z]{0,3}\d[0-9A-Za-z]{0,9})""?"
            + @"(?:[\s,;:]+""?(?<status>active|stored|previously active|previous|inactive|history|historic|absent|cleared|gone)""?)?"
            + @"(?:[\s,;:x×]+(?<count>\d{1,6}))?[\s,;]*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Line();

    [GeneratedRegex(@"^""?(code|number|spn)\b\D*(status|state|count|active)\D*$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Heading();
}
