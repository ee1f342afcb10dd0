namespace Zoltric.Core.Notation;

public enum Severity
{
    Error,
    Warning,
}

/// <summary>One thing wrong with a text, placed: line and column count from 1.</summary>
/// <param name="Found">What stands there.</param>
/// <param name="Expected">What was expected instead.</param>
/// <param name="Suggestion">The nearest known spelling or what to do, when there is one.</param>
public sealed record Problem(
    Severity Severity,
    int Line,
    int Column,
    string Message,
    string? Found = null,
    string? Expected = null,
    string? Suggestion = null
)
{
    /// <summary>
    /// What would stand in the place of <see cref="Found"/> if the suggestion were taken, or null where that is for a person to say.
    /// </summary>
    public string? Replacement { get; init; }

    public override string ToString() => $"line {Line}, column {Column}: {Message}" + (Suggestion is null ? "" : $" ({Suggestion})");
}

/// <summary>The outcome of reading a text: the value when there is one, and every problem met.</summary>
public sealed record Parsed<T>(T? Value, IReadOnlyList<Problem> Problems)
    where T : class
{
    public bool Ok => Value is not null && Problems.All(p => p.Severity != Severity.Error);
}

/// <summary>Internal: stops the reading of one statement with its problem.</summary>
internal sealed class NotationException(Problem problem) : Exception(problem.Message)
{
    public Problem Problem { get; } = problem;

    /// <summary>True where it only follows from a line that was reported already.</summary>
    public bool Follows { get; init; }
}
