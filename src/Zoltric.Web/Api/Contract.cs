using System.Text.Json;

namespace Zoltric.Web.Api;

// A sheet is its text, or its JSON twin as an object (/schema/sheet.json).
public sealed record SheetRequest(JsonElement Sheet);

/// <summary>Asks about the machine of a sheet that stands in the request.</summary>
public interface IAsksOfSheet
{
    JsonElement Sheet { get; }
}

public sealed record SimulateRequest(JsonElement Sheet, IReadOnlyList<string>? Faults, IReadOnlyList<string>? Lines) : IAsksOfSheet;

public sealed record ExpectRequest(JsonElement Sheet, IReadOnlyList<string>? Lines) : IAsksOfSheet;

public sealed record DiagnoseRequest(
    JsonElement Sheet,
    IReadOnlyList<string>? Readings,
    string? Strategy,
    string? Meter,
    IReadOnlyList<string>? Circumstances
) : IAsksOfSheet;

public sealed record ProblemItem(
    string Severity,
    int Line,
    int Column,
    string Message,
    string? Found,
    string? Expected,
    string? Suggestion
);

public sealed record CheckAnswer(bool Ok, IReadOnlyList<ProblemItem> Problems, int Parts, int Wires, int Functions);

/// <param name="Note">A race, a chatter, a fuse that opened on the way, or a state that depends on what went before; null when there is
/// nothing to say.</param>
public sealed record Measured(string Line, double? Value, string? Unit, string Text, string? Note);

public sealed record SimulateAnswer(IReadOnlyList<Measured> Results);

public sealed record ExpectedItem(string Line, double? Low, double? Nominal, double? High, string? Unit, string Text);

public sealed record ExpectAnswer(IReadOnlyList<ExpectedItem> Results);

public sealed record VerdictItem(string Line, string Judgement, double? Low, double? High, string Meaning);

public sealed record ResistanceItem(double Low, double Best, double High);

public sealed record SuspectItem(IReadOnlyList<string> Faults, double Share, ResistanceItem? Resistance, IReadOnlyList<string> Places);

public sealed record StretchItem(string From, string To, IReadOnlyList<string> Parts);

public sealed record OutcomeItem(string Result, string Leads);

/// <param name="Meter">Function the meter is set to, such as DCV, LOZ or OHM.</param>
/// <param name="Range">Smallest usual range that holds what may stand there.</param>
/// <param name="Tips">Where each tip goes.</param>
/// <param name="Needs">Conditions and controls in words.</param>
public sealed record NextItem(
    string Line,
    double Gain,
    double Minutes,
    string Why,
    IReadOnlyList<OutcomeItem> Outcomes,
    string Meter,
    string? Range,
    IReadOnlyList<TipItem> Tips,
    IReadOnlyList<string> Needs
);

public sealed record TipItem(string Point, string Name, string Place, string? Wire);

public sealed record DiagnoseAnswer(
    IReadOnlyList<VerdictItem> Verdicts,
    IReadOnlyList<SuspectItem> Suspects,
    StretchItem? Stretch,
    double OffSheet,
    IReadOnlyList<NextItem> Next,
    IReadOnlyList<string> Cautions,
    bool Solved
);
