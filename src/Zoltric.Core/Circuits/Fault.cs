using System.Globalization;

namespace Zoltric.Core.Circuits;

/// <summary>One fault in fault words: where it sits, the words of its mode, and its value where it has one.</summary>
/// <param name="Target">Tag, wire id, pin <c>X3:4</c>, or lug <c>GND1/w10</c>.</param>
/// <param name="Words">Mode words without the value, <c>contact 30-87 resists</c>.</param>
/// <param name="Value">Value in base units, or null.</param>
/// <param name="Toward">The other point of a <c>shorts</c>, the other wire of a <c>crossed</c>; of an <c>intermittent</c>, the contact or
/// winding that comes and goes where the part has several; of a <c>leaks</c>, its two ends where it is not across the whole part.</param>
public sealed record Fault(string Target, string Words, double? Value = null, Dimension Dimension = Dimension.None, string? Toward = null)
{
    /// <summary>Words of what comes and goes: open by turns.</summary>
    public const string Intermittent = "intermittent";

    /// <summary>
    /// A path of any ohms across a part, between two of its terminals (<c>86-30</c>) or from one to the frame (<c>30-frame</c>): damp, a
    /// rectifier that leaks backwards, water in a socket.
    /// </summary>
    public const string Leaks = "leaks";

    /// <summary>The second end of a leak to the frame.</summary>
    public const string Frame = "frame";

    /// <summary>
    /// Of a fuse or breaker: it carries more than it should and has not opened yet, as it does for seconds to minutes at a few times its
    /// rating.
    /// </summary>
    public const string Holds = "holds";

    /// <summary>What stands behind the words of a fault that is there by turns only: <c>w7 grounded 0.2ohm when moved</c>.</summary>
    public const string WhenMoved = "when moved";

    /// <summary>Words of two wires that have changed places at one end.</summary>
    public const string Crossed = "crossed";

    public string Words
    {
        get;
        init => (field, Kind) = (value, FaultKinds.Of(value));
    } = Words;

    /// <summary>What the words mean.</summary>
    public FaultKind Kind { get; private init; } = FaultKinds.Of(Words);

    /// <summary>A touch that is there by turns: a wire that has rubbed through and meets the frame when something moves.</summary>
    public bool TouchesByTurns { get; init; }

    /// <summary>Open by turns, or touching by turns.</summary>
    public bool ComesAndGoes => Kind == FaultKind.Intermittent || TouchesByTurns;

    /// <summary>True for words of what may also touch by turns.</summary>
    public static bool MayTouch(FaultKind kind) => kind is FaultKind.Grounded or FaultKind.ToSupply or FaultKind.Shorts;

    /// <summary>
    /// What opens under the words of a mode: empty for the whole of a wire, pin or part, else the contact or winding, <c>30-87</c>,
    /// <c>coil</c>. Null for words of another kind.
    /// </summary>
    public static string? Opening(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        return words switch
        {
            "open" or "blown" or "dead" => "",
            "coil-open" => "coil",
            "motor-open" => "motor",
            "contact open" => "contact",
            _ when words.StartsWith("open ", StringComparison.Ordinal) => words[5..],
            _ when words.StartsWith("contact ", StringComparison.Ordinal) && words.EndsWith(" open", StringComparison.Ordinal) => words[
                8..^5
            ],
            _ => null,
        };
    }

    public override string ToString()
    {
        var value = Value is { } v ? $" {Number(v)}{Units.Short(Dimension)}" : "";
        // The contact of a switch stands after the value: S1 resists 2.9ohm B-S.
        if (Words.StartsWith("resists ", StringComparison.Ordinal))
            return $"{Target} resists{value}{Words[7..]}";
        return $"{Target} {Words}{(Toward is null ? "" : " " + Toward)}{value}{(TouchesByTurns ? " " + WhenMoved : "")}";
    }

    private static string Number(double v) =>
        v switch
        {
            >= 1e6 => (v / 1e6).ToString("0.###", CultureInfo.InvariantCulture) + "M",
            >= 1e3 => (v / 1e3).ToString("0.###", CultureInfo.InvariantCulture) + "k",
            > 0 and < 1e-3 => (v * 1e6).ToString("0.###", CultureInfo.InvariantCulture) + "u",
            _ => v.ToString("0.#####", CultureInfo.InvariantCulture),
        };
}
