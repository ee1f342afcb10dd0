using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>
/// Reads a sheet: every line gets its statement parsed, then parts, controls, paths and functions are bound in that order, so that
/// a statement may name what stands below it. A bad line is reported and left out; the rest is still read.
/// </summary>
public static class SheetReader
{
    public const int LargestText = 400_000;

    /// <summary>Reads a sheet. The value is null only when nothing usable stands there or an error was met.</summary>
    public static Parsed<Circuit> Read(string text)
    {
        text ??= "";
        if (text.Length > LargestText)
            return new Parsed<Circuit>(
                null,
                [
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        $"This text has {text.Length} characters; a sheet has at most {LargestText}.",
                        null,
                        "a circuit sheet",
                        "split the machine into several sheets"
                    ),
                ]
            );
        var draft = new SheetDraft();
        var circuit = new SheetBinder(draft).Bind(text);
        return new Parsed<Circuit>(
            draft.Problems.Exists(p => p.Severity == Severity.Error) ? null : circuit,
            draft.Problems.OrderBy(p => p.Line).ThenBy(p => p.Column).ToList()
        );
    }
}
