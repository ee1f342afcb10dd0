using System.Text.RegularExpressions;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Figures;

/// <summary>A pin as a list on paper has it.</summary>
/// <param name="Says">Wire, colour, far end: what stands behind the pin's name, column by column.</param>
public sealed record ListedPin(string Pin, IReadOnlyList<string> Says);

/// <summary>A pin in which two lists differ.</summary>
/// <param name="First">What the first says; null where it has no such pin.</param>
/// <param name="Second">What the second says; null likewise.</param>
/// <param name="Differs">What is different, in words.</param>
public sealed record PinDifference(string Pin, string? First, string? Second, string Differs);

/// <summary>A pin list as it is pasted from a table, and two of them compared: sheet and machine, old part and new.</summary>
public static partial class PinList
{
    private const int MostPins = 400,
        MostSaid = 80;

    /// <summary>
    /// Reads lines of a pin and what belongs to it, parted by tabs, semicolons, commas, bars or two spaces. A first line without any pin
    /// is a heading.
    /// </summary>
    /// <returns>The pins, and what could not be read, by line.</returns>
    public static (IReadOnlyList<ListedPin> Pins, IReadOnlyList<string> Problems) Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var (pins, problems) = (new List<ListedPin>(), new List<string>());
        var lines = text.ReplaceLineEndings("\n").Split('\n');
        for (var n = 0; n < lines.Length; n++)
        {
            var cells = Parting().Split(lines[n].Trim().Trim('|')).Select(c => c.Trim()).ToList();
            if (cells.All(c => c.Length == 0))
                continue;
            var pin = PinName().Match(cells[0]);
            if (!pin.Success)
            {
                if (pins.Count > 0 || problems.Count > 0 || cells[0].Any(char.IsAsciiDigit))
                    problems.Add($"Line {n + 1}: {NotationTokenizer.Clip(cells[0])} is no pin: write its number first.");
                continue;
            }
            var name = pin.Groups[1].Value;
            if (pins.Any(p => p.Pin.Equals(name, StringComparison.OrdinalIgnoreCase)))
                problems.Add($"Line {n + 1}: pin {name} stands twice; the first is taken.");
            else if (pins.Count == MostPins)
            {
                problems.Add($"Line {n + 1}: no more than {MostPins} pins are read.");
                break;
            }
            else
                pins.Add(
                    new ListedPin(name, [.. cells.Skip(1).Where(c => c.Length > 0).Select(c => c.Length > MostSaid ? c[..MostSaid] : c)])
                );
        }
        return (pins, problems);
    }

    /// <summary>Pins in which they differ, in the order of the first. Case, spaces and the order of columns do not matter.</summary>
    public static IReadOnlyList<PinDifference> Compare(IReadOnlyList<ListedPin> first, IReadOnlyList<ListedPin> second)
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        List<PinDifference> all = [];
        foreach (var a in first)
        {
            var b = second.FirstOrDefault(p => p.Pin.Equals(a.Pin, StringComparison.OrdinalIgnoreCase));
            if (b is null)
                all.Add(new PinDifference(a.Pin, Joined(a), null, "only in the first"));
            else if (Missing(a, b).ToList() is var here && Missing(b, a).ToList() is var there && here.Count + there.Count > 0)
            {
                var moved = second.FirstOrDefault(p => p != b && !Missing(a, p).Any() && a.Says.Count > 0);
                all.Add(
                    new PinDifference(
                        a.Pin,
                        Joined(a),
                        Joined(b),
                        moved is not null ? $"stands at pin {moved.Pin} in the second"
                            : here.Count == 0 ? $"the second says more: {string.Join(", ", there)}"
                            : there.Count == 0 ? $"the first says more: {string.Join(", ", here)}"
                            : $"{string.Join(", ", here)} against {string.Join(", ", there)}"
                    )
                );
            }
        }
        all.AddRange(
            second
                .Where(b => !first.Any(a => a.Pin.Equals(b.Pin, StringComparison.OrdinalIgnoreCase)))
                .Select(b => new PinDifference(b.Pin, null, Joined(b), "only in the second"))
        );
        return all;
    }

    private static string Joined(ListedPin p) => p.Says.Count == 0 ? "nothing" : string.Join(", ", p.Says);

    private static IEnumerable<string> Missing(ListedPin of, ListedPin from)
    {
        var there = from.Says.Select(Plain).ToHashSet(StringComparer.Ordinal);
        return of.Says.Where(s => !there.Contains(Plain(s)));
    }

    private static string Plain(string text) => string.Concat(text.Where(c => !char.IsWhiteSpace(c))).ToUpperInvariant();

    [GeneratedRegex(@"\t|;|,|\||\s{2,}")]
    private static partial Regex Parting();

    [GeneratedRegex(@"^(?:pin\s*)?([A-Za-z]{0,2}-?\d{1,3}[A-Za-z]?|[A-Za-z])[.:)]?$", RegexOptions.IgnoreCase)]
    private static partial Regex PinName();
}
