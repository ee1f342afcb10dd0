namespace Zoltric.Core.Circuits;

/// <summary>
/// A point a probe can name. <c>K1.86</c> is terminal 86 of K1; <c>X3:4a</c> is half a of pin 4; a stud or splice is one
/// point and has an empty name.
/// </summary>
public readonly record struct Terminal(string Tag, string Name, bool IsPin = false)
{
    /// <summary>Which side is meant where the part is unplugged or its wires are lifted.</summary>
    public TerminalSide Side { get; init; }

    /// <summary>The terminal whatever side is meant.</summary>
    public Terminal Bare => Side == TerminalSide.None ? this : this with { Side = TerminalSide.None };

    public override string ToString() =>
        (Name.Length == 0 ? Tag : Tag + (IsPin ? ':' : '.') + Name)
        + (Side == TerminalSide.None ? "" : "@" + Side.ToString().ToLowerInvariant());
}

/// <summary>The two sides of a terminal that was taken apart.</summary>
public enum TerminalSide
{
    /// <summary>Not said: what the kind of test and of part make usual.</summary>
    None,

    /// <summary>The wire's end in its plug.</summary>
    Loom,

    /// <summary>The part's own metal.</summary>
    Part,

    /// <summary>The wire's end that was lifted off a post; the post itself needs no word.</summary>
    Lead,
}
