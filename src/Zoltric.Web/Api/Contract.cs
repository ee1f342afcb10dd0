namespace Zoltric.Web.Api;

public sealed record SheetRequest(string? Sheet);
public sealed record SimulateRequest(string? Sheet, IReadOnlyList<string>? Faults, IReadOnlyList<string>? Lines);
public sealed record ExpectRequest(string? Sheet, IReadOnlyList<string>? Lines);
public sealed record DiagnoseRequest(string? Sheet, IReadOnlyList<string>? Readings, string? Strategy, string? Meter);

public sealed record ProblemItem(string Severity, int Line, int Column, string Message, string? Found, string? Expected, string? Suggestion);
public sealed record CheckAnswer(bool Ok, IReadOnlyList<ProblemItem> Problems, int Parts, int Wires, int Functions);

public sealed record Measured(string Line, double? Value, string? Unit, string Text);
public sealed record SimulateAnswer(IReadOnlyList<Measured> Results);

public sealed record ExpectedItem(string Line, double? Low, double? Nominal, double? High, string? Unit, string Text);
public sealed record ExpectAnswer(IReadOnlyList<ExpectedItem> Results);

public sealed record VerdictItem(string Line, string Judgement, double? Low, double? High, string Meaning);
public sealed record ResistanceItem(double Low, double Best, double High);
public sealed record SuspectItem(IReadOnlyList<string> Faults, double Share, ResistanceItem? Resistance, IReadOnlyList<string> Places);
public sealed record StretchItem(string From, string To, IReadOnlyList<string> Parts);
public sealed record OutcomeItem(string Result, string Leads);
public sealed record NextItem(string Line, double Gain, double Minutes, string Why, IReadOnlyList<OutcomeItem> Outcomes);
public sealed record DiagnoseAnswer(IReadOnlyList<VerdictItem> Verdicts, IReadOnlyList<SuspectItem> Suspects, StretchItem? Stretch, double OffSheet,
    IReadOnlyList<NextItem> Next, IReadOnlyList<string> Cautions, bool Solved);
