using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Procedures;

/// <summary>What was made of one line of a pasted text.</summary>
/// <param name="Line">From 1.</param>
/// <param name="Became">heading, step 3, answer of step 3; null where nothing was made of it.</param>
public sealed record ReadLine(int Line, string Text, string? Became);

/// <summary>A procedure as it was understood, to be looked at and mended before it is kept.</summary>
public sealed record ProposedProcedure(Procedure Procedure, IReadOnlyList<ReadLine> Lines)
{
    public IEnumerable<ReadLine> NotUnderstood => Lines.Where(l => l.Became is null);
}

/// <summary>
/// Reads procedures as people have them: our own text, a table of step, check, yes and no, a table of pins and what they should show,
/// numbered paragraphs with what follows from each answer behind a colon.
/// </summary>
public static partial class ProcedureReader
{
    private const int MostLines = 2000;

    /// <param name="circuit">The machine's sheet: steps about its points become readings; null where none is kept.</param>
    public static Parsed<ProposedProcedure> Propose(string text, string title, Circuit? circuit = null)
    {
        ArgumentNullException.ThrowIfNull(text);
        var lines = text.ReplaceLineEndings("\n").Split('\n');
        if (text.Length > ProcedureText.MostCharacters || lines.Length > MostLines)
            return Fail($"A procedure has at most {MostLines} lines.");
        if (text.TrimStart().StartsWith("procedure", StringComparison.Ordinal))
        {
            var own = ProcedureText.Read(text);
            return own.Value is { } p ? new(new ProposedProcedure(WithPins(p), []), []) : new(null, own.Problems);
        }
        if (text.TrimStart().StartsWith('{'))
        {
            var twin = ProcedureJson.Read(text);
            return twin.Value is { } p ? new(new ProposedProcedure(WithPins(p), []), []) : new(null, twin.Problems);
        }
        var proposed = Table(lines) ?? Paragraphs(lines);
        if (proposed is null)
            return Fail("There is no step in it: number them 1. 2. 3., or make a table with step, check, yes and no in its first row.");
        var named = title.Trim().Length > 0 ? title.Trim() : "procedure";
        var steps = circuit is null ? proposed.Value.Steps : [.. proposed.Value.Steps.Select(s => StepTies.Tie(s, circuit))];
        return new(new ProposedProcedure(new Procedure(named, steps) { AppliesTo = circuit?.Machine ?? "" }, proposed.Value.Lines), []);

        // What is written in our own form says itself which steps are readings; pins that are points of the sheet are.
        Procedure WithPins(Procedure p) =>
            circuit is null ? p : p with { Steps = [.. p.Steps.Select(s => s.Pins.Count > 0 ? StepTies.Tie(s, circuit) : s)] };
    }

    private static Parsed<ProposedProcedure> Fail(string message) => new(null, [new Problem(Severity.Error, 1, 1, message)]);

    // Tables

    private static (IReadOnlyList<ProcedureStep> Steps, IReadOnlyList<ReadLine> Lines)? Table(string[] lines)
    {
        for (var n = 0; n < lines.Length; n++)
            foreach (var separator in new[] { "\t", "|", ";", "," })
            {
                var head = Cells(lines[n], separator);
                var (check, yes, no) = (Column(head, Check()), Column(head, Yes()), Column(head, No()));
                var (pin, expect) = (Column(head, Pin()), Column(head, Expect()));
                if (check >= 0 && yes >= 0 && no >= 0)
                    return YesNo(lines, n, separator, Column(head, StepNumber()), check, yes, no);
                if (pin >= 0 && expect >= 0)
                    return Pins(lines, n, separator, pin, expect, Column(head, IfNot()));
            }
        return null;
    }

    private static (IReadOnlyList<ProcedureStep>, IReadOnlyList<ReadLine>) YesNo(
        string[] lines,
        int head,
        string separator,
        int number,
        int check,
        int yes,
        int no
    )
    {
        var rows = Rows(lines, head, separator).Where(r => At(r.Cells, check).Length > 0).ToList();
        var numbers = rows.Select((r, i) => At(r.Cells, number) is { Length: > 0 } said ? said.TrimEnd('.', ')') : $"{i + 1}").ToList();
        var read = Marks(lines, head);
        List<ProcedureStep> steps = [];
        for (var i = 0; i < rows.Count; i++)
        {
            var next = i + 1 < rows.Count ? numbers[i + 1] : null;
            steps.Add(
                new ProcedureStep(numbers[i], At(rows[i].Cells, check))
                {
                    Answers =
                    [
                        new StepAnswer(AnswerRule.Of("yes"), LeadOf(At(rows[i].Cells, yes), next)),
                        new StepAnswer(AnswerRule.Of("no"), LeadOf(At(rows[i].Cells, no), next)),
                    ],
                }
            );
            read[rows[i].Line] = read[rows[i].Line] with { Became = $"step {numbers[i]}" };
        }
        return (steps, read);
    }

    private static (IReadOnlyList<ProcedureStep>, IReadOnlyList<ReadLine>) Pins(
        string[] lines,
        int head,
        string separator,
        int pin,
        int expect,
        int ifNot
    )
    {
        var rows = Rows(lines, head, separator).Where(r => At(r.Cells, pin).Length > 0 && At(r.Cells, expect).Length > 0).ToList();
        var read = Marks(lines, head);
        List<ProcedureStep> steps = [];
        for (var i = 0; i < rows.Count; i++)
        {
            StepLead next =
                i + 1 < rows.Count
                    ? new StepLead.ToStep($"{i + 2}")
                    : new StepLead.Ask("Every pin shows what it should: the part itself is left.");
            StepLead bad =
                ifNot >= 0 && At(rows[i].Cells, ifNot).Length > 0
                    ? LeadOf(At(rows[i].Cells, ifNot), $"{i + 2}")
                    : new StepLead.Repair($"the way to pin {At(rows[i].Cells, pin)}");
            var should = At(rows[i].Cells, expect);
            // A range is asked as values, anything else as good or bad.
            var rule = ProcedureText.Rule(should) is { Word: null } r ? r : AnswerRule.Of("good");
            List<StepAnswer> answers = [new(rule, next)];
            if (rule.Word is not null)
                answers.Add(new StepAnswer(AnswerRule.Of("bad"), bad));
            else
            {
                if (rule.From is { } from)
                    answers.Insert(0, new StepAnswer(new AnswerRule { Below = from, Dimension = rule.Dimension }, bad));
                if (rule.Below is { } below)
                    answers.Add(new StepAnswer(new AnswerRule { From = below, Dimension = rule.Dimension }, bad));
            }
            steps.Add(new ProcedureStep($"{i + 1}", $"Pin {At(rows[i].Cells, pin)} should show {should}") { Answers = answers });
            read[rows[i].Line] = read[rows[i].Line] with { Became = $"step {i + 1}" };
        }
        return (steps, read);
    }

    private static List<ReadLine> Marks(string[] lines, int head) =>
        [
            .. lines.Select(
                (l, i) =>
                    new ReadLine(
                        i + 1,
                        l,
                        i == head ? "heading"
                            : l.Trim().Length == 0 || Rule().IsMatch(l) ? ""
                            : i < head ? "title"
                            : null
                    )
            ),
        ];

    private static IEnumerable<(int Line, List<string> Cells)> Rows(string[] lines, int head, string separator) =>
        lines
            .Select((l, i) => (Line: i, Cells: Cells(l, separator)))
            .Skip(head + 1)
            .Where(r => r.Cells.Any(c => c.Length > 0) && !Rule().IsMatch(lines[r.Line]));

    private static List<string> Cells(string line, string separator) =>
        [
            .. Regex
                .Split(line.Trim().Trim('|'), $"{Regex.Escape(separator)}(?=(?:[^\"]*\"[^\"]*\")*[^\"]*$)")
                .Select(c => c.Trim().Trim('"').Trim()),
        ];

    private static int Column(List<string> head, Regex name) => head.FindIndex(c => name.IsMatch(c));

    private static string At(List<string> cells, int column) => column >= 0 && column < cells.Count ? cells[column] : "";

    // Paragraphs

    private static (IReadOnlyList<ProcedureStep> Steps, IReadOnlyList<ReadLine> Lines)? Paragraphs(string[] lines)
    {
        var heads = lines.Select((l, i) => (Line: i, Match: Numbered().Match(l))).Where(x => x.Match.Success).ToList();
        if (heads.Count == 0)
            return null;
        var read = lines
            .Select(
                (l, i) =>
                    new ReadLine(
                        i + 1,
                        l,
                        l.Trim().Length == 0 ? ""
                            : i < heads[0].Line ? "title"
                            : null
                    )
            )
            .ToList();
        List<ProcedureStep> steps = [];
        for (var h = 0; h < heads.Count; h++)
        {
            var (from, match) = heads[h];
            var to = h + 1 < heads.Count ? heads[h + 1].Line : lines.Length;
            var number = match.Groups[1].Value;
            var next = h + 1 < heads.Count ? heads[h + 1].Match.Groups[1].Value : null;
            var clauses = new List<(int Line, string Text)> { (from, match.Groups[2].Value) };
            clauses.AddRange(Enumerable.Range(from + 1, to - from - 1).Select(i => (i, lines[i])));
            Paragraph(steps, number, next, [.. clauses.SelectMany(c => Clauses().Split(c.Text).Select(t => (c.Line, t.Trim())))], read);
        }
        return (steps, read);
    }

    /// <summary>A numbered paragraph: what is asked, what follows from each answer; a test that follows is a step of its own.</summary>
    private static void Paragraph(
        List<ProcedureStep> steps,
        string number,
        string? next,
        List<(int Line, string Text)> clauses,
        List<ReadLine> read
    )
    {
        var (at, sub) = (new ProcedureStep(number, ""), 'a');
        List<ProcedureStep> own = [];
        foreach (var (line, text) in clauses.Where(c => c.Text.Length > 0))
        {
            var m = Condition().Match(text);
            if (!m.Success)
            {
                at =
                    at.Answers.Count == 0 ? at with { Question = $"{at.Question} {text}".Trim() } : at with { Notes = [.. at.Notes, text] };
                Mark(line, $"step {at.Number}");
                continue;
            }
            var (when, then) = (m.Groups[1].Value.Trim(), m.Groups[2].Value.Trim());
            var rule = ProcedureText.Rule(when) ?? AnswerRule.Of(NotationTokenizer.Clip(when));
            Mark(line, $"answer of step {at.Number}");
            if (KnownLead(then, next) is { } lead)
            {
                at = at with { Answers = [.. at.Answers, new StepAnswer(rule, lead)] };
                continue;
            }
            // What follows is a test of its own: its answers are those that come behind it.
            var follow = new ProcedureStep($"{number}{sub++}", then);
            own.Add(at with { Answers = [.. at.Answers, new StepAnswer(rule, new StepLead.ToStep(follow.Number))] });
            at = follow;
        }
        own.Add(at);
        steps.AddRange(own.Select(s => Completed(s, next)));

        void Mark(int line, string became) => read[line] = read[line] with { Became = read[line].Became is { Length: > 0 } b ? b : became };
    }

    /// <summary>A step that says one answer only goes on with the next for every other.</summary>
    private static ProcedureStep Completed(ProcedureStep s, string? next)
    {
        StepLead on = next is null ? new StepLead.Ask("Nothing more is said: call the maker.") : new StepLead.ToStep(next);
        return s.Answers.Count switch
        {
            0 => s with
            {
                Answers =
                [
                    new(AnswerRule.Of("yes"), on),
                    new(AnswerRule.Of("no"), new StepLead.Ask("Nothing is said for no: call the maker.")),
                ],
            },
            1 => s with { Answers = [.. s.Answers, new(Opposite(s.Answers[0].When), on)] },
            _ => s,
        };
    }

    private static AnswerRule Opposite(AnswerRule rule) =>
        rule switch
        {
            { Word: null, From: null, Below: { } below } => new AnswerRule { From = below, Dimension = rule.Dimension },
            { Word: null, From: { } from, Below: null } => new AnswerRule { Below = from, Dimension = rule.Dimension },
            { Word: { } w } when w.Equals("yes", StringComparison.OrdinalIgnoreCase) => AnswerRule.Of("no"),
            { Word: { } w } when w.Equals("no", StringComparison.OrdinalIgnoreCase) => AnswerRule.Of("yes"),
            { Word: { } w } when w.Equals("good", StringComparison.OrdinalIgnoreCase) => AnswerRule.Of("bad"),
            { Word: { } w } when w.Equals("bad", StringComparison.OrdinalIgnoreCase) => AnswerRule.Of("good"),
            _ => AnswerRule.Of("otherwise"),
        };

    private static StepLead LeadOf(string text, string? next) =>
        text.Length == 0 || Dash().IsMatch(text) ? KnownLead("next", next)! : KnownLead(text, next) ?? new StepLead.Repair(text);

    private static StepLead? KnownLead(string text, string? next)
    {
        if (GoTo().Match(text) is { Success: true } to)
            return new StepLead.ToStep(to.Groups[1].Value);
        if (Next().IsMatch(text))
            return next is null ? new StepLead.Ask("Nothing more is said: call the maker.") : new StepLead.ToStep(next);
        if (Call().IsMatch(text))
            return new StepLead.Ask(text.TrimEnd('.'));
        return Mend().IsMatch(text) ? new StepLead.Repair(text.TrimEnd('.')) : null;
    }

    [GeneratedRegex(@"^(?:step|no\.?|nr\.?|#|number)$", RegexOptions.IgnoreCase)]
    private static partial Regex StepNumber();

    [GeneratedRegex(@"^(?:check|test|question|do|action|what to do|measure|procedure)$", RegexOptions.IgnoreCase)]
    private static partial Regex Check();

    [GeneratedRegex(@"^(?:(?:if )?(?:yes|ok|good|pass)|y)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Yes();

    [GeneratedRegex(@"^(?:(?:if )?(?:no|not ok|bad|fail)|n)$|^if no\b", RegexOptions.IgnoreCase)]
    private static partial Regex No();

    [GeneratedRegex(@"^(?:pin|terminal|contact)s?\b", RegexOptions.IgnoreCase)]
    private static partial Regex Pin();

    [GeneratedRegex(@"^(?:expect|should|value|spec|reading|volts|ohms)", RegexOptions.IgnoreCase)]
    private static partial Regex Expect();

    [GeneratedRegex(@"^(?:if not|else|otherwise|remedy|if bad|action|repair)", RegexOptions.IgnoreCase)]
    private static partial Regex IfNot();

    [GeneratedRegex(@"^[\s|:\-=+]+$")]
    private static partial Regex Rule();

    [GeneratedRegex(@"^\s*(?:step\s+)?(\d{1,3}[a-z]?)\s*[.):]\s*(\S.*)$", RegexOptions.IgnoreCase)]
    private static partial Regex Numbered();

    [GeneratedRegex(@"[;\n]|(?<=[.?!])\s+")]
    private static partial Regex Clauses();

    [GeneratedRegex(
        @"^[-–•*\s]*(?:if\s+)?([^:]{1,60}?)\s*(?::|→|->|,\s*then\s|,\s*(?=go to|step|renew|replace|repair|call))\s*(\S.*)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Condition();

    [GeneratedRegex(@"^(?:→\s*)?(?:go\s+to\s+|goto\s+|see\s+|continue with\s+)?(?:step\s+)?(\d{1,3}[a-z]?)\.?$", RegexOptions.IgnoreCase)]
    private static partial Regex GoTo();

    [GeneratedRegex(@"^(?:next|go on|continue|proceed)\b.{0,12}$", RegexOptions.IgnoreCase)]
    private static partial Regex Next();

    [GeneratedRegex(@"^(?:call|ask|contact|consult|stop|end)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Call();

    [GeneratedRegex(
        @"^(?:renew|replace|repair|mend|fit|clean|tighten|change|adjust|reset|charge|swap|re-?connect|recharge)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Mend();

    [GeneratedRegex(@"^[-–—]+$")]
    private static partial Regex Dash();
}
