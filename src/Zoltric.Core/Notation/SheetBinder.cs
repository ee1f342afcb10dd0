using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>
/// Binds the statements of a sheet: controls, parts, paths, functions, in that order, so that a statement may name what stands below it.
/// </summary>
internal sealed class SheetBinder(SheetDraft sheet)
{
    public Circuit? Bind(string text)
    {
        var (parts, routes, judged) = (new PartBinder(sheet), new PathBinder(sheet), new FunctionBinder(sheet));
        var lines = Cut(text);
        if (sheet.Problems.Count >= SheetDraft.MostProblems)
            sheet.Problems.Add(
                new Problem(
                    Severity.Error,
                    1,
                    1,
                    $"More than {SheetDraft.MostProblems} problems: this does not look like a sheet.",
                    null,
                    "a circuit sheet",
                    "start with  sheet \"name\""
                )
            );
        if (lines.Count == 0)
        {
            if (sheet.Problems.Count == 0)
                sheet.Problems.Add(
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        "The sheet is empty.",
                        "nothing",
                        "sheet \"name\"",
                        "start with  sheet \"name\"  and  nominal 12V dc"
                    )
                );
            return null;
        }
        var nominal = ReadNominal(lines);
        foreach (var l in Statements<Statement.Control>(lines))
            sheet.Guard(() => parts.AddControl(l.Line, l.Statement));
        // Conditions may name parts with coils, so contact lines are bound after every tag is known.
        foreach (var l in Statements<Statement.Part>(lines))
            if (!sheet.Guard(() => parts.AddPart(l.Line, l.Statement, nominal.Volts)))
                sheet.Names.Misread.Add(l.Statement.Tag.Text);
        foreach (var l in Statements<Statement.Part>(lines))
            sheet.Guard(() => parts.AddContacts(l.Line, l.Statement));
        var paths = new List<PathRoute>();
        var bonds = new List<Bond>();
        foreach (var l in Statements<Statement.Path>(lines))
            if (!sheet.Guard(() => paths.Add(routes.AddPath(l.Line, l.Statement, bonds))))
                sheet.Names.Misread.UnionWith(l.Line.Text.Split("-[").Skip(1).Select(w => w.Split(' ', ']')[0]));
        var functions = new List<MachineFunction>();
        foreach (var l in Statements<Statement.Function>(lines))
            sheet.Guard(() => functions.Add(judged.BindFunction(l.Line, l.Statement)));
        var interlocks = new List<Interlock>();
        foreach (var l in Statements<Statement.Interlock>(lines))
            sheet.Guard(() => interlocks.Add(judged.BindInterlock(l.Line, l.Statement, functions)));
        var codes = new List<FaultCode>();
        foreach (var l in Statements<Statement.Code>(lines))
            sheet.Guard(() => codes.Add(judged.BindCode(l.Line, l.Statement)));
        var title = Statements<Statement.Sheet>(lines).Select(l => l.Statement.Title.Text).FirstOrDefault();
        if (title is null)
            sheet.Problems.Add(
                new Problem(
                    Severity.Error,
                    1,
                    1,
                    "The sheet has no name.",
                    lines[0].Text.Trim(),
                    "sheet \"name\"",
                    "start with  sheet \"name\""
                )
            );
        var machine = Statements<Statement.Machine>(lines).Select(l => l.Statement).FirstOrDefault();
        Terminal? reference = null,
            frame = null;
        foreach (var l in Statements<Statement.Reference>(lines))
            sheet.Guard(() => reference = sheet.Names.Terminal(l.Statement.Point, l.Line.Number));
        foreach (var l in Statements<Statement.Frame>(lines))
            sheet.Guard(() => frame = sheet.Names.Terminal(l.Statement.Point, l.Line.Number));
        if (!sheet.Parts.Values.Any(p => p.Kind.IsSource) && sheet.Parts.Count > 0 && sheet.Names.Misread.Count == 0)
            sheet.Problems.Add(
                new Problem(Severity.Error, 1, 1, "The sheet has no source.", null, "a battery or supply", "add  part G1 battery 12V")
            );
        return new Circuit
        {
            Title = title ?? "",
            Machine = machine?.Name.Text,
            Family = MachineFamily.Of(machine?.Family?.Text),
            NominalVolts = nominal.Volts,
            Alternating = nominal.Ac,
            DrawnFrom = ReadProvenance(lines),
            Reference = reference,
            Frame = frame,
            Controls = sheet.Controls,
            Parts = Statements<Statement.Part>(lines)
                .Select(l => l.Statement.Tag.Text)
                .Distinct()
                .Where(sheet.Parts.ContainsKey)
                .Select(t => sheet.Parts[t])
                .ToList(),
            Paths = paths,
            Wires = [.. sheet.Wires.Values],
            Bonds = bonds,
            Functions = functions,
            Interlocks = interlocks,
            Codes = codes,
        };
    }

    private static IEnumerable<(SheetLine Line, T Statement)> Statements<T>(List<SheetLine> lines)
        where T : Statement => lines.Where(l => l.Statement is T).Select(l => (l, (T)l.Statement));

    private List<SheetLine> Cut(string text)
    {
        var lines = new List<SheetLine>();
        var number = 0;
        foreach (var raw in text.EnumerateLines())
        {
            number++;
            if (sheet.Problems.Count >= SheetDraft.MostProblems)
                break;
            var line = NotationTokenizer.WithoutComment(raw.TrimEnd().ToString());
            if (string.IsNullOrWhiteSpace(line))
                continue;
            var n = number;
            if (
                !sheet.Guard(() => AddLine(lines, line, n))
                && line.Split(' ', StringSplitOptions.RemoveEmptyEntries) is ["part", var tag, ..]
            )
                sheet.Names.Misread.Add(tag);
        }
        return lines;
    }

    private static void AddLine(List<SheetLine> lines, string line, int number)
    {
        if (line.Length > 4000)
            throw new NotationException(
                new Problem(Severity.Error, number, 4000, "This line is longer than 4000 characters.", null, "one statement a line", null)
            );
        var tokens = NotationTokenizer.Cut(line, number).ToArray();
        if (tokens.Length == 0)
            return;
        var indented = char.IsWhiteSpace(line[0]);
        var word = Grammar.Place(tokens[0]);
        var known = indented ? SheetGrammar.Indented : SheetGrammar.TopLevel;
        if (!known.TryGetValue(word.Text, out var parser))
        {
            var other = (indented ? SheetGrammar.TopLevel : SheetGrammar.Indented).ContainsKey(word.Text);
            throw Names.Fail(
                number,
                word,
                other
                    ? $"“{word.Text}” {(indented ? "starts at the left edge" : "is indented below its part")}."
                    : $"{NotationTokenizer.Clip(word.Text)} starts no statement.",
                string.Join(", ", known.Keys),
                other ? (indented ? "take the white space away" : "put two spaces before it") : Spelling.DidYouMean(word.Text, known.Keys)
            );
        }
        var statement = Grammar.Run(parser, new Superpower.Model.TokenList<Token>(tokens[1..]), number, line.Length);
        if (!indented)
            lines.Add(new SheetLine(number, line, statement, []));
        else if (lines.Count == 0 || lines[^1].Statement is not Statement.Part)
            throw Names.Fail(number, word, $"“{word.Text}” belongs below a part.", "a part statement above", null);
        else
            lines[^1].Below.Add((number, statement, line));
    }

    private (double Volts, bool Ac) ReadNominal(List<SheetLine> lines)
    {
        var result = (Volts: 12.0, Ac: false);
        foreach (var (line, s) in Statements<Statement.Nominal>(lines))
            sheet.Guard(() =>
                result = (
                    SheetValues.Quantity(s.Volts, line.Number, Dimension.Volt).Value,
                    s.System?.Text switch
                    {
                        null or "dc" => false,
                        "ac" => true,
                        _ => throw Names.Fail(
                            line.Number,
                            s.System.Value,
                            $"{NotationTokenizer.Clip(s.System.Value.Text)} is neither dc nor ac.",
                            "dc or ac",
                            null
                        ),
                    }
                )
            );
        return result;
    }

    private Provenance ReadProvenance(List<SheetLine> lines)
    {
        var result = Provenance.Maker;
        foreach (var (line, s) in Statements<Statement.Drawn>(lines))
            sheet.Guard(() =>
                result =
                    Enum.TryParse<Provenance>(s.From.Text, true, out var p) && !char.IsAsciiDigit(s.From.Text[0])
                        ? p
                        : throw Names.Fail(
                            line.Number,
                            s.From,
                            $"{NotationTokenizer.Clip(s.From.Text)} is no origin of a sheet.",
                            "traced, maker, sister or memory",
                            Spelling.DidYouMean(s.From.Text, ["traced", "maker", "sister", "memory"])
                        )
            );
        return result;
    }
}
