using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>A line of a sheet with its statement and the indented ones below it.</summary>
internal sealed record SheetLine(int Number, string Text, Statement Statement, List<(int Number, Statement Statement, string Text)> Below);

/// <summary>A sheet while it is being read: what is bound so far, and the problems.</summary>
internal sealed class SheetDraft
{
    public const int MostProblems = 100;

    public List<Problem> Problems { get; } = [];

    public Dictionary<string, Part> Parts { get; } = new(StringComparer.Ordinal);

    public Dictionary<string, Wire> Wires { get; } = new(StringComparer.Ordinal);

    public List<Control> Controls { get; } = [];

    public Names Names { get; }

    public SheetDraft() => Names = new Names(Parts, Wires, Controls);

    /// <summary>
    /// Does something, and keeps its problem where it cannot be done; not one that only follows from a line reported already.
    /// </summary>
    /// <returns>True where it was done.</returns>
    public bool Guard(Action action)
    {
        if (Problems.Count >= MostProblems)
            return false;
        try
        {
            action();
            return true;
        }
        catch (NotationException e)
        {
            if (!e.Follows)
                Problems.Add(e.Problem);
            return false;
        }
    }

    public void Warn(int line, Placed at, string message, string? suggestion = null) =>
        Problems.Add(new Problem(Severity.Warning, line, at.Column, message, NotationTokenizer.Clip(at.Text), null, suggestion));
}
