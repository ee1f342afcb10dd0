using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Binds functions, interlocks and codes.</summary>
internal sealed class FunctionBinder(SheetDraft sheet)
{
    public MachineFunction BindFunction(SheetLine line, Statement.Function s)
    {
        var n = line.Number;
        var when = s.When is null ? null : sheet.Names.Bind(s.When, n);
        var after = s.After.Count == 0 ? null : SetupGrammar.Bind(sheet.Names, AfterWords(s.After), n);
        if (s.Words.Count == 1)
        {
            var part = sheet.Names.Part(s.Words[0], n);
            return part.Model.Load is not null || part.Model.Coil is not null
                ? new MachineFunction(s.Name.Text, new FunctionTest.LoadWorks(part.Tag), when, after)
                : throw Names.Fail(
                    n,
                    s.Words[0],
                    $"{part.Tag} is a {part.Kind.Word}: nobody notices whether it works.",
                    "a load, starter or contactor",
                    null
                );
        }
        var op = s.Words.ToList().FindIndex(w => w.Text is ">=" or "<=" or "in" or ">" or "<");
        if (op < 1 || op != s.Words.Count - 2)
            throw Names.Fail(n, s.Words[0], "A measured function is a probe, a comparison and a value.", "V p q >= 13.8V", null);
        var probe = ProbeGrammar.Bind(sheet.Names, string.Join(' ', s.Words.Take(op).Select(w => w.Text)), n);
        var dimension = probe.Dimension;
        if (dimension == Dimension.None)
            throw Names.Fail(n, s.Words[0], $"“{probe}” gives no number to compare.", "V, drop, ohm, A or clamp", null);
        var limit = s.Words[^1];
        var (low, high) = s.Words[op].Text switch
        {
            ">=" or ">" => (SheetValues.Quantity(limit, n, dimension).Value, double.PositiveInfinity),
            "<=" or "<" => (double.NegativeInfinity, SheetValues.Quantity(limit, n, dimension).Value),
            _ => Limits(limit, n, dimension),
        };
        return new MachineFunction(s.Name.Text, new FunctionTest.Measured(probe, low, high), when, after);
    }

    /// <summary>Words of an <c>after</c>: a bare time gets its verb back.</summary>
    private static string AfterWords(IReadOnlyList<Placed> words)
    {
        var text = string.Join(' ', words.Select(w => w.Text)).Replace(" = ", "=", StringComparison.Ordinal);
        return QuantityText.LooksNumeric(words[0].Text) ? "after " + text : text;
    }

    private static (double, double) Limits(Placed at, int line, Dimension dimension)
    {
        var dots = at.Text.IndexOf("..", StringComparison.Ordinal);
        if (dots <= 0)
            throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no range.", "low..high", "write 55..65ohm");
        var high = SheetValues.Quantity(at with { Text = at.Text[(dots + 2)..] }, line, dimension);
        var low = SheetValues.Quantity(at with { Text = at.Text[..dots] }, line, dimension);
        return low.Value <= high.Value
            ? (low.Value, high.Value)
            : throw Names.Fail(line, at, "The range runs backwards.", "low..high", null);
    }

    public Interlock BindInterlock(SheetLine line, Statement.Interlock s, List<MachineFunction> functions)
    {
        var stops = functions.Find(f => f.Name.Equals(s.Stops.Text, StringComparison.OrdinalIgnoreCase))
            ?? throw Names.Fail(
                line.Number,
                s.Stops,
                $"There is no function {NotationTokenizer.Clip(s.Stops.Text)}.",
                "a function of the sheet",
                Spelling.DidYouMean(s.Stops.Text, functions.Select(f => f.Name))
            );
        return new Interlock(sheet.Names.Bind(s.When, line.Number), stops.Name);
    }

    public FaultCode BindCode(SheetLine line, Statement.Code s)
    {
        var about = s
            .About.Select(a =>
                sheet.Names.FindWire(a.Text)?.Id
                ?? (
                    a.Text.Contains(':', StringComparison.Ordinal)
                        ? sheet.Names.Terminal(a, line.Number).ToString()
                        : sheet.Names.Part(a, line.Number).Tag
                )
            )
            .ToList();
        return new FaultCode(s.Number.Text, s.Meaning?.Text, about);
    }
}
