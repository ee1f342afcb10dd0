using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Checking;

/// <summary>Finds the line and column where a part, wire or function stands in the text.</summary>
internal sealed class Places(string text)
{
    private readonly string[] _lines = text.Split('\n');

    public Problem Part(Severity severity, string tag, string message, string found, string suggestion) =>
        At(severity, l => Starts(l, "part", tag), tag, message, found, suggestion);

    public Problem Machine(Severity severity, string message, string found, string suggestion) =>
        At(severity, l => Starts(l, "machine", null), found, message, found, suggestion);

    public Problem Wire(Severity severity, Wire wire, string message, string suggestion) =>
        At(
            severity,
            l => Starts(l, "path", null) && l.Contains(wire.Numbered ? $"[{wire.Id}" : wire.From.Tag, StringComparison.Ordinal),
            wire.Numbered ? wire.Id : wire.From.Tag,
            message,
            wire.Id,
            suggestion
        );

    public Problem Function(Severity severity, string name, string message, string suggestion) =>
        At(
            severity,
            l => Starts(l, "function", null) && l.Contains($"\"{name}\"", StringComparison.OrdinalIgnoreCase),
            "function",
            message,
            name,
            suggestion
        );

    /// <summary>
    /// The same problem at the first text that fits in the lines of a part, its own or those indented below it, with what would mend it
    /// there; unchanged where nothing fits.
    /// </summary>
    /// <param name="mend">From what was found to what should stand there.</param>
    public Problem Mended(Problem problem, Regex fits, Func<string, string> mend)
    {
        for (var i = problem.Line - 1; i < _lines.Length && (i == problem.Line - 1 || _lines[i].StartsWith(' ')); i++)
            if (fits.Match(_lines[i]) is { Success: true } m)
                return problem with { Line = i + 1, Column = m.Index + 1, Found = m.Value, Replacement = mend(m.Value) };
        return problem;
    }

    public Problem Pin(Severity severity, string tag, string pin, string message, string suggestion)
    {
        var mark = new Regex($@"(?<![A-Za-z0-9_]){Regex.Escape(tag)}:{Regex.Escape(pin)}(?![0-9])");
        var written = Array.FindIndex(_lines, l => Starts(l, "path", null) && mark.IsMatch(l));
        return written < 0
            ? Part(severity, tag, message, $"{tag}:{pin}", suggestion)
            : new Problem(severity, written + 1, mark.Match(_lines[written]).Index + 1, message, $"{tag}:{pin}", null, suggestion);
    }

    private static bool Starts(string line, string word, string? next)
    {
        var words = line.Split(' ', 3, StringSplitOptions.RemoveEmptyEntries);
        return words.Length > 1 && words[0] == word && (next is null || words[1] == next);
    }

    private Problem At(Severity severity, Func<string, bool> fits, string mark, string message, string found, string suggestion)
    {
        for (var i = 0; i < _lines.Length; i++)
            if (fits(_lines[i]))
                return new Problem(
                    severity,
                    i + 1,
                    Math.Max(0, _lines[i].IndexOf(mark, StringComparison.Ordinal)) + 1,
                    message,
                    found,
                    null,
                    suggestion
                );
        return new Problem(severity, 1, 1, message, found, null, suggestion);
    }
}
