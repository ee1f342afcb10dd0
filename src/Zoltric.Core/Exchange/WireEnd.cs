using System.Text.RegularExpressions;

namespace Zoltric.Core.Exchange;

/// <summary>One end of a wire as a list names it: a part, a terminal of it, and the name as it was written where that is no tag.</summary>
/// <param name="Terminal">Empty where none is named.</param>
/// <param name="Label">Null where the tag says it all.</param>
internal sealed partial record WireEnd(string Tag, string Terminal, string? Label)
{
    public override string ToString() => Terminal.Length == 0 ? Tag : $"{Tag}.{Terminal}";

    /// <summary>Whether both are the same point, however their part was written.</summary>
    public bool Is(WireEnd other) => Tag == other.Tag && Terminal == other.Terminal;

    /// <summary>Function and location before a product, as in <c>=A1+B2-K1</c> (IEC 81346-1).</summary>
    [GeneratedRegex(@"^(?:[=+][\w.+]*)?-?(?=[A-Za-z])")]
    private static partial Regex Prefix();

    /// <summary><c>BAT+</c>, <c>BATT -</c>.</summary>
    [GeneratedRegex(@"^(?<name>[A-Za-z][\w ]*?)\s*(?<pin>[+\-])$")]
    private static partial Regex Pole();

    /// <summary><c>K1:86</c>, <c>S1/2</c>, <c>K1.A1</c>, <c>PTO SW / 1</c>.</summary>
    [GeneratedRegex(@"^(?<name>[A-Za-z][\w ]*?)\s*[:/.]\s*(?:(?i:pin|term|terminal)\.?\s*)?(?<pin>[\w+\-]{1,12})$")]
    private static partial Regex Parted();

    /// <summary><c>X12-3</c>, <c>TB1-A2</c>.</summary>
    [GeneratedRegex(@"^(?<name>[A-Za-z][\w ]*)-(?<pin>\d{1,3}[A-Za-z]?|[A-Z]\d{0,2})$")]
    private static partial Regex Dashed();

    /// <summary><c>K1 86</c>, <c>S1 NO</c>, <c>X3 pin 4</c>.</summary>
    [GeneratedRegex(
        @"^(?<name>[A-Za-z][\w ]*?)\s+(?:(?i:pin|term|terminal)\.?\s*)?(?<pin>\d{1,3}[a-zA-Z]?|A[12]|[+\-]|NO|NC|COM|IN|OUT|POS|NEG|[A-Z])$"
    )]
    private static partial Regex Spaced();

    [GeneratedRegex(@"^[A-Za-z]\w*$")]
    private static partial Regex OneWord();

    /// <summary>The end a cell names, with the terminal of its own column where there is one; null where it names none.</summary>
    public static WireEnd? Read(string cell, string terminal)
    {
        var text = Prefix().Replace(cell.Trim(), "");
        if (terminal.Length > 0)
            return Named(text, Clean(terminal), marked: true);
        foreach (var shape in new[] { Pole(), Parted(), Dashed() })
            if (shape.Match(text) is { Success: true } m && Named(m.Groups["name"].Value, m.Groups["pin"].Value, marked: true) is { } end)
                return end;
        if (Spaced().Match(text) is { Success: true } spaced)
        {
            var (name, pin) = (spaced.Groups["name"].Value, spaced.Groups["pin"].Value);
            // Of several grounds or splices the figure is part of the name.
            if (WireListWords.KindOf(name) is "stud" or "splice")
                return Named(text, "");
            if (Named(name, pin) is { } end)
                return end;
        }
        return Named(text, "");
    }

    /// <param name="marked">True where a sign or a column sets the terminal apart from the name.</param>
    private static WireEnd? Named(string name, string pin, bool marked = false)
    {
        pin = pin.ToUpperInvariant() switch
        {
            "POS" or "POSITIVE" => "+",
            "NEG" or "NEGATIVE" => "-",
            _ => pin,
        };
        name = name.Trim();
        if (OneWord().IsMatch(name))
            return new WireEnd(name, pin, null);
        // Several words are a part where one of them says of what kind, or a terminal follows; the rest is a remark.
        var words = name.ToUpperInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return
            words.Length is > 1 and <= MostWords
            && char.IsAsciiLetter(name[0])
            && words.All(w => w.All(c => char.IsAsciiLetterOrDigit(c) || c == '_'))
            && (marked || WireListWords.KindByWords(name) is not null)
            ? new WireEnd(string.Join('_', words), pin, name)
            : null;
    }

    private const int MostWords = 4;

    private static string Clean(string terminal) =>
        Regex.Replace(terminal.Trim(), @"^(?i:pin|term|terminal|cavity)\.?\s*(?=\w)", "").Replace(" ", "", StringComparison.Ordinal);
}
