using System.Text.RegularExpressions;

namespace Zoltric.Core.Notation;

/// <summary>
/// Puts something that was found on the machine and is not on its sheet into a wire of it: the wire is cut, the found part stands between
/// its two halves, and everything else stays as it was typed.
/// </summary>
public static partial class FoundPart
{
    /// <summary>The sheet with the part in it.</summary>
    /// <param name="sheet">Text of the sheet.</param>
    /// <param name="wire">Id of the wire that was cut, as written in a path.</param>
    /// <param name="lines">The part as a sheet would say it, contacts under it; controls it needs may stand before it.</param>
    /// <returns>The new text, or the problem that stands against it.</returns>
    public static Parsed<string> Insert(string sheet, string wire, string lines)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(wire);
        var found = (lines ?? "").ReplaceLineEndings("\n").Trim('\n');
        var parts = PartLine().Matches(found);
        if (parts.Count != 1)
            return Fail(
                "One part at a time.",
                $"{parts.Count} part lines",
                "one line that begins with part",
                "write for example  part F9 fuse 10A \"found fuse\" at \"behind the panel\""
            );
        var tag = parts[0].Groups[1].Value;
        var joins = Regex.Matches(sheet, $@"-\[\s*{Regex.Escape(wire)}(?<rest>[^\]]*)\]-");
        if (joins.Count != 1)
            return Fail(
                $"Wire {wire} is not written once in a path.",
                wire,
                "a wire with its id in the sheet, like -[w12 RD]-",
                "correct the sheet by hand"
            );
        var second = wire + "x";
        while (Regex.IsMatch(sheet, $@"\[\s*{Regex.Escape(second)}\b"))
            second += "x";
        var rest = joins[0].Groups["rest"].Value;
        var cut = sheet[..joins[0].Index] + $"-[{wire}{rest}]- {tag} -[{second}{rest}]-" + sheet[(joins[0].Index + joins[0].Length)..];
        var path = FirstPath().Match(cut);
        var text = cut[..path.Index] + found + "\n\n" + cut[path.Index..];
        var read = SheetReader.Read(text);
        return read.Ok ? new Parsed<string>(text, read.Problems) : new Parsed<string>(null, read.Problems);
    }

    private static Parsed<string> Fail(string message, string found, string expected, string suggestion) =>
        new(null, [new Problem(Severity.Error, 1, 1, message, found, expected, suggestion)]);

    [GeneratedRegex(@"^part\s+(\S+)", RegexOptions.Multiline)]
    private static partial Regex PartLine();

    [GeneratedRegex(@"^path\s", RegexOptions.Multiline)]
    private static partial Regex FirstPath();
}
