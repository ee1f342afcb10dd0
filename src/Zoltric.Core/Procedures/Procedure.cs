using Zoltric.Core.Notation;

namespace Zoltric.Core.Procedures;

/// <summary>
/// A numbered procedure of yes and no, values and words: a maker's chart, somebody's own, or one computed here. Steps are met in the order
/// that their answers lead to, beginning with the first.
/// </summary>
public sealed record Procedure(string Title, IReadOnlyList<ProcedureStep> Steps)
{
    /// <summary>Machine or family that it is for, as written.</summary>
    public string AppliesTo { get; init; } = "";

    /// <summary>Whose it is.</summary>
    public string MadeBy { get; init; } = "";
    public IReadOnlyList<string> Cautions { get; init; } = [];

    /// <summary>What it settles and what to do where nothing fits.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];

    public ProcedureStep? Find(string number) => Steps.FirstOrDefault(s => s.Number == number);
}

/// <param name="Number">As it is counted, unique.</param>
/// <param name="Question">What is asked or to be found out.</param>
public sealed record ProcedureStep(string Number, string Question)
{
    /// <summary>What the machine is set to and what is done to it, in words.</summary>
    public string Set { get; init; } = "";
    public string Meter { get; init; } = "";

    /// <summary>Place, connector, pins.</summary>
    public string Where { get; init; } = "";

    /// <summary>The reading that the step is on the machine's sheet, as a line without result; empty where it is tied to none.</summary>
    public string Reading { get; init; } = "";
    public double Minutes { get; init; }

    /// <summary>
    /// Pins that are gone through one after the other; empty where the step asks one thing. What follows is asked of them together: all,
    /// some or none of them are good.
    /// </summary>
    public IReadOnlyList<StepPin> Pins { get; init; } = [];
    public IReadOnlyList<string> Notes { get; init; } = [];
    public IReadOnlyList<string> Cautions { get; init; } = [];
    public IReadOnlyList<StepAnswer> Answers { get; init; } = [];
}

/// <summary>One pin of a step that goes through several.</summary>
/// <param name="Good">What it shows where it is good.</param>
public sealed record StepPin(string Name, AnswerRule Good)
{
    /// <summary>The reading that it is on the machine's sheet, as a line without result; empty where it is tied to none.</summary>
    public string Reading { get; init; } = "";
}

/// <summary>What follows from an answer.</summary>
public sealed record StepAnswer(AnswerRule When, StepLead Leads);

/// <summary>Where an answer leads.</summary>
public abstract record StepLead
{
    public sealed record ToStep(string Number) : StepLead;

    /// <summary>The end: what is mended.</summary>
    /// <param name="Of">What of the sheet is meant: tag, wire or pin; empty where it is not said.</param>
    public sealed record Repair(string Text, string Of = "") : StepLead;

    /// <summary>The end without a finding: whom to ask or what to do instead.</summary>
    public sealed record Ask(string Text) : StepLead;
}

/// <summary>The answers that a rule takes: a word, or values from one to below another in base units; over limit is without end.</summary>
public sealed record AnswerRule
{
    /// <summary>The word; null where the rule is about a value.</summary>
    public string? Word { get; init; }

    /// <summary>Taken from here on; null for everything below.</summary>
    public double? From { get; init; }

    /// <summary>Taken below here; null for everything from there on, over limit with it.</summary>
    public double? Below { get; init; }

    public Circuits.Dimension Dimension { get; init; }

    public static AnswerRule Of(string word) => new() { Word = word };

    /// <summary>True for what somebody answers: a value with or without its unit, OL, or a word.</summary>
    public bool Takes(string answer)
    {
        ArgumentNullException.ThrowIfNull(answer);
        var text = answer.Trim().Replace(',', '.');
        if (Word is { } word)
            return word.Equals(Anything, StringComparison.OrdinalIgnoreCase)
                || SameWord(word, text)
                || SameWord(word, StepPins.WordOf(text));
        var compact = text.Replace(" ", "", StringComparison.Ordinal);
        double value;
        if (compact.Equals(OverLimit, StringComparison.OrdinalIgnoreCase))
            value = double.PositiveInfinity;
        else if (QuantityText.TryParse(compact, out var q) && (q.Dimension == Dimension || q.Dimension == Circuits.Dimension.None))
            value = q.Value;
        else
            return false;
        return Takes(value);
    }

    /// <summary>True for a value in base units.</summary>
    /// <remarks>A minus before volts says which way the tips lie, unless the rule itself has one.</remarks>
    public bool Takes(double value)
    {
        var size = Dimension == Circuits.Dimension.Volt && !(From < 0) && !(Below < 0) ? Math.Abs(value) : value;
        return Word is null && !(size < From) && (Below is not { } below || size < below);
    }

    private const string OverLimit = "OL";

    /// <summary>The word of a rule that takes whatever is answered.</summary>
    private const string Anything = "anything";

    private static readonly string[][] Alike =
    [
        ["yes", "y", "ok", "good", "pass"],
        ["no", "n", "not ok", "bad", "fail"],
        ["OL", "over limit"],
    ];

    private static bool SameWord(string a, string b) =>
        a.Equals(b, StringComparison.OrdinalIgnoreCase)
        || Array.Exists(Alike, words =>
            words.Contains(a, StringComparer.OrdinalIgnoreCase) && words.Contains(b, StringComparer.OrdinalIgnoreCase)
        );

    /// <summary>As it is written: <c>yes</c>, <c>under 6 V</c>, <c>6 to 11 V</c>, <c>11 V or more</c>.</summary>
    public override string ToString() =>
        Word
        ?? (From, Below) switch
        {
            (null, { } below) => $"under {Said(below)}",
            ({ } from, { } below) => $"{Said(from)} to {Said(below)}",
            ({ } from, null) => $"{Said(from)} or more",
            _ => Anything,
        };

    private string Said(double value) => Circuits.MeterReading.Format(value, Dimension);
}
