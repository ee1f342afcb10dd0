using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Procedures;

/// <summary>
/// A procedure as text, to be read by people and by this: a heading, then steps, each with what is done and what follows from each answer.
/// The form stands in docs/notation.md. Reading what is written gives the same procedure.
/// </summary>
public static partial class ProcedureText
{
    /// <summary>More than anybody prints; a longer text is refused.</summary>
    public const int MostSteps = 500,
        MostCharacters = 400_000;

    public static string Write(Procedure p)
    {
        ArgumentNullException.ThrowIfNull(p);
        var s = new StringBuilder();
        Line("procedure", p.Title);
        Line("for", p.AppliesTo);
        Line("made by", p.MadeBy);
        foreach (var c in p.Cautions)
            Line("caution", c);
        foreach (var n in p.Notes)
            Line("note", n);
        foreach (var step in p.Steps)
        {
            s.Append(CultureInfo.InvariantCulture, $"\nstep {step.Number} {Quoted(step.Question)}\n");
            foreach (var c in step.Cautions)
                Line("  caution", c);
            Line("  set", step.Set);
            Line("  meter", step.Meter);
            Line("  where", step.Where);
            if (step.Reading.Length > 0)
                s.Append(CultureInfo.InvariantCulture, $"  reading {step.Reading.Trim()}\n");
            foreach (var pin in step.Pins)
                s.Append("  pin ")
                    .Append(Quoted(pin.Name))
                    .Append(' ')
                    .Append(pin.Good)
                    .Append(pin.Reading.Length > 0 ? $" reading {pin.Reading.Trim()}" : "")
                    .Append('\n');
            if (step.Minutes > 0)
                s.Append(CultureInfo.InvariantCulture, $"  minutes {step.Minutes:0.#}\n");
            foreach (var n in step.Notes)
                Line("  note", n);
            foreach (var a in step.Answers)
                s.Append(CultureInfo.InvariantCulture, $"  if {a.When} then {Lead(a.Leads)}\n");
        }
        return s.ToString();

        void Line(string word, string text)
        {
            if (text.Length > 0)
                s.Append(word).Append(' ').Append(Quoted(text)).Append('\n');
        }
    }

    private static string Quoted(string text) => $"\"{text.Replace('"', '\'').ReplaceLineEndings(" ")}\"";

    private static string Lead(StepLead lead) =>
        lead switch
        {
            StepLead.ToStep t => $"step {t.Number}",
            StepLead.Repair r => $"repair {Quoted(r.Text)}{(r.Of.Length > 0 ? $" of {r.Of}" : "")}",
            StepLead.Ask a => $"ask {Quoted(a.Text)}",
            _ => "",
        };

    /// <summary>Reads the text; every line that is not understood is a problem of its own.</summary>
    public static Parsed<Procedure> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (text.Length > MostCharacters)
            return new(null, [new Problem(Severity.Error, 1, 1, $"A procedure has at most {MostCharacters / 1000} thousand characters.")]);
        var problems = new List<Problem>();
        var whole = new Procedure("", []);
        var steps = new List<ProcedureStep>();
        var lines = text.ReplaceLineEndings("\n").Split('\n');
        for (var n = 0; n < lines.Length; n++)
        {
            var line = lines[n].Trim();
            if (line.Length == 0 || line[0] == '#')
                continue;
            var m = WordAndRest().Match(line);
            var (word, rest) = (m.Groups[1].Value, m.Groups[2].Value.Trim());
            if (word == "step")
                Step(n, rest);
            else if (steps.Count == 0 ? !Heading(word, rest) : !OfStep(n, word, rest))
                Wrong(
                    n,
                    $"{NotationTokenizer.Clip(line)} is not understood here.",
                    steps.Count == 0
                        ? "procedure, for, made by, caution, note or step"
                        : "set, meter, where, reading, pin, minutes, note, caution, if or step"
                );
        }
        if (whole.Title.Length == 0 && problems.Count == 0)
            Wrong(0, "A procedure begins with its name.", "procedure \"engine does not crank\"");
        if (steps.Count == 0 && problems.Count == 0)
            Wrong(lines.Length - 1, "There is no step.", "step 1 \"what is asked\"");
        return problems.Count > 0 ? new(null, problems) : new(whole with { Steps = steps }, []);

        void Wrong(int at, string message, string expected) =>
            problems.Add(new Problem(Severity.Error, at + 1, 1, message, null, expected, $"write {expected}"));

        bool Heading(string word, string rest)
        {
            var t = Unquoted(rest);
            switch (word)
            {
                case "procedure":
                    whole = whole with { Title = t };
                    return t.Length > 0;
                case "for":
                    whole = whole with { AppliesTo = t };
                    return true;
                case "made by":
                    whole = whole with { MadeBy = t };
                    return true;
                case "caution":
                    whole = whole with { Cautions = [.. whole.Cautions, t] };
                    return true;
                case "note":
                    whole = whole with { Notes = [.. whole.Notes, t] };
                    return true;
                default:
                    return false;
            }
        }

        void Step(int at, string rest)
        {
            var m = StepHead().Match(rest);
            if (!m.Success)
                Wrong(at, "A step has a number and what is asked.", "step 1 \"volts at terminal 86\"");
            else if (steps.Any(s => s.Number == m.Groups[1].Value))
                Wrong(at, $"Step {m.Groups[1].Value} stands twice.", "another number");
            else if (steps.Count == MostSteps)
                Wrong(at, $"A procedure has at most {MostSteps} steps.", "fewer steps");
            else
                steps.Add(new ProcedureStep(m.Groups[1].Value, Unquoted(m.Groups[2].Value)));
        }

        bool OfStep(int at, string word, string rest)
        {
            var step = steps[^1];
            var t = Unquoted(rest);
            switch (word)
            {
                case "set":
                    step = step with { Set = t };
                    break;
                case "meter":
                    step = step with { Meter = t };
                    break;
                case "where":
                    step = step with { Where = t };
                    break;
                case "reading":
                    step = step with { Reading = rest };
                    break;
                case "pin":
                    if (step.Pins.Count == StepPins.Most)
                        return false;
                    if (PinOf(rest) is not { } pin)
                    {
                        Wrong(at, $"{NotationTokenizer.Clip(rest)} is no pin.", "pin X1:5 11 V or more");
                        return true;
                    }
                    step = step with { Pins = [.. step.Pins, pin] };
                    break;
                case "note":
                    step = step with { Notes = [.. step.Notes, t] };
                    break;
                case "caution":
                    step = step with { Cautions = [.. step.Cautions, t] };
                    break;
                case "minutes":
                    if (!double.TryParse(rest.Replace(',', '.'), CultureInfo.InvariantCulture, out var minutes) || minutes is < 0 or > 1e4)
                        return false;
                    step = step with { Minutes = minutes };
                    break;
                case "if":
                    if (AnswerOf(rest) is not { } answer)
                    {
                        Wrong(
                            at,
                            $"{NotationTokenizer.Clip(rest)} is no answer.",
                            "if yes then step 2, or if under 6 V then repair \"renew F1\""
                        );
                        return true;
                    }
                    step = step with { Answers = [.. step.Answers, answer] };
                    break;
                default:
                    return false;
            }
            steps[^1] = step;
            return true;
        }
    }

    private static StepPin? PinOf(string text) =>
        PinLine().Match(text) is { Success: true } m && Rule(m.Groups[3].Value) is { } good
            ? new StepPin(m.Groups[1].Success ? m.Groups[1].Value.Trim() : m.Groups[2].Value, good) { Reading = m.Groups[4].Value.Trim() }
            : null;

    private static StepAnswer? AnswerOf(string text) =>
        AnswerLine().Match(text) is { Success: true } m && Rule(m.Groups[1].Value) is { } rule && LeadOf(m.Groups[2].Value) is { } lead
            ? new StepAnswer(rule, lead)
            : null;

    /// <summary>A rule as it is written; null where a value in it is none.</summary>
    public static AnswerRule? Rule(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        text = text.Trim();
        if (text.Length == 0)
            return null;
        if (Under().Match(text) is { Success: true } u)
            return Value(u.Groups[1].Value) is { } below ? new AnswerRule { Below = below.Value, Dimension = below.Dimension } : null;
        if (OrMore().Match(text) is { Success: true } o)
            return Value(o.Groups[1].Value + o.Groups[2].Value) is { } from
                ? new AnswerRule { From = from.Value, Dimension = from.Dimension }
                : null;
        if (Between().Match(text) is { Success: true } b && Value(b.Groups[2].Value) is { } high)
        {
            // "6 to 11 V": the unit of the second is that of both.
            if (Value(b.Groups[1].Value) is not { } low || low.Value > high.Value && low.Dimension == high.Dimension)
                return null;
            var unit = low.Dimension == Dimension.None ? Scaled(b.Groups[1].Value, b.Groups[2].Value) ?? low.Value : low.Value;
            return new AnswerRule
            {
                From = unit,
                Below = high.Value,
                Dimension = high.Dimension,
            };
        }
        return text.Length <= 60 ? AnswerRule.Of(text) : null;
    }

    private static double? Scaled(string number, string withUnit) =>
        Value(number + Letters().Match(withUnit.Replace(" ", "", StringComparison.Ordinal)).Value)?.Value;

    private static Quantity? Value(string text) =>
        QuantityText.TryParse(
            text.Replace(" ", "", StringComparison.Ordinal).Replace(',', '.').Replace("Ω", "ohm", StringComparison.Ordinal),
            out var q
        )
            ? q
            : null;

    private static StepLead? LeadOf(string text)
    {
        if (ToStep().Match(text) is { Success: true } s)
            return new StepLead.ToStep(s.Groups[1].Value);
        if (ToEnd().Match(text) is not { Success: true } e)
            return null;
        var said = Unquoted(e.Groups[2].Value);
        return said.Length == 0 ? null
            : e.Groups[1].Value == "ask" ? new StepLead.Ask(said)
            : new StepLead.Repair(said, e.Groups[3].Value);
    }

    private static string Unquoted(string text) => text.Trim().Trim('"').Trim();

    [GeneratedRegex(@"^(made by|[a-z]+)\b\s*(.*)$")]
    private static partial Regex WordAndRest();

    [GeneratedRegex(@"^([A-Za-z0-9.\-]{1,12})\s+(\S.*)$")]
    private static partial Regex StepHead();

    [GeneratedRegex("^(?:\"([^\"]{1,60})\"|(\\S{1,60}))\\s+(.+?)(?:\\s+reading(\\s.*)?)?$")]
    private static partial Regex PinLine();

    [GeneratedRegex(@"^(.+?)\s+then\s+(.+)$")]
    private static partial Regex AnswerLine();

    [GeneratedRegex(@"^(?:under|below|less than|<)\s*(.+)$")]
    private static partial Regex Under();

    [GeneratedRegex(@"^(?:(?:over|above|more than|>=?)\s*(.+)|(\S.*?)\s+or more)$")]
    private static partial Regex OrMore();

    [GeneratedRegex(@"^(-?[\d.,]+\s*\S*?)\s*(?:to|\.\.|–)\s*(-?[\d.,]+\s*\S+)$")]
    private static partial Regex Between();

    [GeneratedRegex(@"\D+$")]
    private static partial Regex Letters();

    [GeneratedRegex(@"^(?:go to )?step\s+([A-Za-z0-9.\-]{1,12})$")]
    private static partial Regex ToStep();

    [GeneratedRegex("^(repair|ask)\\s+(\"[^\"]*\"|.+?)(?:\\s+of\\s+(\\S+))?$")]
    private static partial Regex ToEnd();
}
