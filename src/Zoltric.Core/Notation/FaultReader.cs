using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Reads fault words such as <c>S2 resists 2.9ohm</c> or <c>K1 contact 30-87 open</c>; several are joined by <c> + </c>.</summary>
public static class FaultReader
{
    /// <summary>Reads one or several faults. The words themselves are checked where the fault is put into the circuit.</summary>
    public static Parsed<IReadOnlyList<Fault>> Read(Circuit circuit, string text, int lineNumber = 1)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var names = Names.Of(circuit);
        var faults = new List<Fault>();
        try
        {
            var column = 1;
            foreach (var one in (text ?? "").Split(" + "))
            {
                faults.Add(ReadOne(names, one, column, lineNumber));
                column += one.Length + 3;
            }
        }
        catch (NotationException e)
        {
            return new Parsed<IReadOnlyList<Fault>>(null, [e.Problem]);
        }
        return new Parsed<IReadOnlyList<Fault>>(faults, []);
    }

    private static Fault ReadOne(Names names, string text, int column, int line)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        Placed At(int i) => new(words[i], column + text.IndexOf(words[i], StringComparison.Ordinal));
        if (words.Length < 2)
            throw new NotationException(
                new Problem(
                    Severity.Error,
                    line,
                    column,
                    "A fault is a tag, pin or wire and what is wrong with it.",
                    words.Length == 0 ? "nothing" : words[0],
                    "TAG words",
                    "write for example  S2 open"
                )
            );
        var target = Target(names, At(0), line);
        var mode = new List<string>();
        double? value = null;
        var dimension = Dimension.None;
        string? toward = null;
        var byTurns = false;
        for (var i = 1; i < words.Length; i++)
        {
            // 30-87 and 1-2 look numeric but name a contact.
            // The pin after "output" and "bus" is a name.
            if (mode is not ["output" or "bus"] && QuantityText.LooksNumeric(words[i]) && QuantityText.TryParse(words[i], out var q))
                (value, dimension) = (q.Value, q.Dimension);
            // intermittent when moved: the circumstance is the technician's to say, not the machine's.
            else if (mode is [Fault.Intermittent] && words[i] == "when")
                i++;
            else if (i + 2 == words.Length && mode is [var touches] && Fault.MayTouch(FaultKinds.Of(touches)) && IsWhenMoved(words[i..]))
                (byTurns, i) = (true, i + 1);
            else if (mode is [Fault.Intermittent or Fault.Leaks] && toward is null)
                toward = words[i];
            else if (mode is ["shorts"] && toward is null)
                toward = names.Terminal(At(i), line).ToString();
            else if (mode is [Fault.Crossed] && toward is null)
                toward = names.Wire(At(i), line).Id;
            else
                mode.Add(words[i]);
        }
        return new Fault(target, string.Join(' ', mode), value, dimension, toward) { TouchesByTurns = byTurns };
    }

    private static bool IsWhenMoved(string[] words) => string.Join(' ', words) == Fault.WhenMoved;

    private static string Target(Names names, Placed at, int line)
    {
        if (names.FindWire(at.Text) is { } wire)
            return wire.Id;
        var slash = at.Text.IndexOf('/', StringComparison.Ordinal);
        if (slash > 0)
        {
            var stud = names.Part(at with { Text = at.Text[..slash] }, line);
            return $"{stud.Tag}/{names.Wire(new Placed(at.Text[(slash + 1)..], at.Column + slash + 1), line).Id}";
        }
        var (tag, name, pin) = Names.Split(at.Text);
        if (!names.Parts.ContainsKey(tag))
            throw Names.Fail(
                line,
                at,
                $"There is no part, pin or wire {NotationTokenizer.Clip(at.Text)} on this sheet.",
                "a tag, pin or wire",
                Spelling.DidYouMean(at.Text, names.Parts.Keys)
            );
        if (!pin)
            return names.Part(at with { Text = tag }, line).Tag;
        var terminal = names.Terminal(at, line);
        return $"{terminal.Tag}:{terminal.Name.TrimEnd('a', 'b')}";
    }
}
