using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Practice;

/// <summary>
/// The cause behind the cause: what usually makes a thing fail as it did, to choose from or to look for. Common practice, no source.
/// </summary>
public static class Causes
{
    /// <summary>What is written when it was looked for and not found.</summary>
    public const string NotFound = "not found";

    /// <summary>
    /// True for what is often the victim of something else: a blown fuse, a burnt or welded contact. Such a job asks for its cause twice.
    /// </summary>
    public static bool IsOftenVictim(string faultWords) =>
        faultWords.Contains("blown", StringComparison.Ordinal)
        || faultWords.Contains("contact", StringComparison.Ordinal)
        || faultWords.Contains("welded", StringComparison.Ordinal);

    /// <summary>Usual causes of a finding as it is written, the commonest first.</summary>
    public static IReadOnlyList<string> Usual(Circuit circuit, string finding)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(finding);
        var target = finding.Split(' ', 2)[0];
        if (finding.Contains("aged", StringComparison.Ordinal))
            return ["age and damp in every joint", "washed with a jet", "joints never sealed"];
        if (finding.Contains("blown", StringComparison.Ordinal))
            return ["a short behind it", "a load that draws too much", "the wrong rating before", "a loose holder that ran hot", "old age"];
        if (circuit.FindWire(target) is not null)
            return
                finding.Contains("grounded", StringComparison.Ordinal)
                || finding.Contains("shorts", StringComparison.Ordinal)
                || finding.Contains("to-supply", StringComparison.Ordinal)
                ? ["chafed on an edge", "crushed when a cover was fitted", "melted on something hot"]
                : ["corroded inside its insulation", "chafed through", "broken at the crimp", "pulled by a load on the loom"];
        if (circuit.FindPart(target.Split(':', '/')[0]) is not { } part)
            return [NotFound];
        return part.Kind switch
        {
            PinRow => ["water in the plug, seal missing", "pin pushed back", "female terminal spread by a probe", "plug not locked"],
            _ when part.Model.IsPoint => ["paint or rust under the lug", "nut came loose", "star washer missing"],
            _ when finding.Contains("awake", StringComparison.Ordinal) =>
            [
                "kept awake by a contact or a lamp that says somebody is there",
                "another module keeps the bus busy",
                "something added to its feed",
                "its software",
            ],
            _ when finding.Contains("contact", StringComparison.Ordinal) || finding.Contains("welded", StringComparison.Ordinal) =>
            [
                "its load draws too much",
                "no suppression across an inductive load",
                "chatters on low volts",
                "end of its life",
            ],
            _ when finding.Contains("coil", StringComparison.Ordinal) => ["too high a supply", "water", "end of its life"],
            _ when part.Contacts.Count > 0 => ["worn plunger or cam", "out of adjustment", "burnt by its load", "water"],
            _ when part.Kind.IsSource => ["left discharged", "a cell has died", "not charged", "a drain at rest"],
            _ when part.Model.Load is not null => ["end of its life", "stuck mechanically", "water", "too high a supply"],
            _ => ["end of its life", "water", "vibration"],
        };
    }

    /// <summary>Reminders for a way of mending, before the cover goes back on; common practice, no source.</summary>
    public static IReadOnlyList<string> Workmanship(string method) =>
        method switch
        {
            "splice" =>
            [
                "Crimp with the right die, heat-shrink with glue, staggered from its neighbours; vibration favours a crimp over solder.",
                "Same cross section, same colour, supported on both sides.",
            ],
            "terminal re-tensioned" =>
            [
                "Try it with the gauge pin of its size: it holds the pin by itself.",
                "Seal and lock back in, no tension on the wire.",
            ],
            "wire rerouted" =>
            [
                "Clear of edges, heat and what moves; clipped every hand's breadth, with slack for travel.",
                "Grommets at every hole.",
            ],
            "connection cleaned" => ["Bright metal both sides, star washer, tightened, then sealed.", "Measure the drop again under load."],
            "part replaced" =>
            [
                "Like for like: rating, coil volts, suppression.",
                "Fuses of the same rating and kind; find the cause first.",
            ],
            "relay added" =>
            [
                "Every interlock stays in the string that works the coil.",
                "Fuse its feed near the source; draw it on the sheet.",
            ],
            "adjusted" => ["Try it over its whole travel, cold and warm.", "Locked and marked."],
            _ => [],
        };

    /// <summary>Ways of mending to choose from.</summary>
    public static IReadOnlyList<string> Methods { get; } =
    ["part replaced", "splice", "terminal re-tensioned", "wire rerouted", "connection cleaned", "adjusted", "relay added", "other"];
}
