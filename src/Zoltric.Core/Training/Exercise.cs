using Zoltric.Core.Circuits;

namespace Zoltric.Core.Training;

/// <summary>A machine with something hidden in it, for somebody to find.</summary>
/// <param name="Sheet">Name of its sheet, <c>QS-5</c>.</param>
/// <param name="Function">The function that is complained of.</param>
/// <param name="Seen">How it is: dead, weak, stuck-on, flickers.</param>
/// <param name="Faults">Fault words of what is hidden; empty for a sound machine.</param>
public sealed record Exercise(string Title, string Sheet, string Function, string Seen, IReadOnlyList<string> Faults)
{
    /// <summary>From 1, the first steps, to 5.</summary>
    public int Level { get; init; } = 1;

    /// <summary>What it teaches, a few words each: what progress is counted by.</summary>
    public IReadOnlyList<string> Skills { get; init; } = [];

    /// <summary>What the operator says.</summary>
    public string Story { get; init; } = "";

    /// <summary>Place at which what is hidden acts only while it is moved; empty for what is always there.</summary>
    public string Moved { get; init; } = "";

    /// <summary>What stands in the machine and not on the drawing that the learner has; null where it is as drawn.</summary>
    public UndrawnPart? Undrawn { get; init; }

    /// <summary>False where the learner works without the drawing.</summary>
    public bool Drawing { get; init; } = true;

    /// <summary>Kinds of acts that are not there for the learner: <c>ohms</c>, <c>parts</c>, <c>hints</c>, <c>lamp</c>.</summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    /// <summary>Codes that the machine shows when they are read; others are absent. What is stored may be of another day.</summary>
    public IReadOnlyList<ShownCode> Codes { get; init; } = [];

    /// <summary>Said at the end: what was to be learnt.</summary>
    public string Lesson { get; init; } = "";

    /// <summary>A fault with its value, comes and goes where <see cref="Moved"/> says a place.</summary>
    public bool ComesAndGoes => Moved.Length > 0;
}

/// <summary>A code as a reader shows it: active or stored.</summary>
public sealed record ShownCode(string Number, Answer State);
