using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Exchange;

/// <summary>
/// A part that a wire list names: its kind by its name and terminals, its statement on the sheet, and which of its own terminals each one
/// of the list is.
/// </summary>
/// <param name="Statement">Empty for a part of a sheet that is there already.</param>
/// <param name="Controls">Statements of the controls that its contacts follow.</param>
/// <param name="Renamed">By terminal as the list has it; what is not in it stands as it is.</param>
internal sealed record WireListPart(
    string Tag,
    PartKind Kind,
    string Statement,
    IReadOnlyList<string> Controls,
    IReadOnlyDictionary<string, string> Renamed,
    IReadOnlyList<string>? Terminals
)
{
    /// <summary>True where the list's terminals were taken for others, or for one each where it names none.</summary>
    public bool IsAssumed => Renamed.Count > 0;

    /// <summary>Kinds whose terminals are what the list says they are.</summary>
    private static readonly string[] Open = ["switch", "button", "limit", "thermostat", "isolator", "module"];

    /// <param name="ends">Every end at it, in the order of the list.</param>
    public static WireListPart Of(string tag, IReadOnlyList<WireEnd> ends, double nominalVolts)
    {
        var label = ends.Select(e => e.Label).FirstOrDefault(l => l is not null);
        var terminals = ends.Select(e => e.Terminal).Distinct().ToList();
        var word = Word(tag, terminals);
        var renamed = Rename(word, terminals, ends.Count);
        terminals = [.. terminals.Select(t => renamed.GetValueOrDefault(t, t)).Distinct()];
        var statement =
            $"part {tag} {word}"
            + word switch
            {
                "connector" or "strip" => $" {terminals.Select(t => int.TryParse(t, out var n) ? n : 1).DefaultIfEmpty(1).Max()}",
                "relay" when terminals.Any(t => t is "A1" or "A2") => " din",
                "battery" => FormattableString.Invariant($" {nominalVolts}V"),
                _ => "",
            }
            + (label is null ? "" : $" \"{label.ToLowerInvariant()}\"");
        var controls = new List<string>();
        if (Open.Contains(word))
            terminals.Remove("");
        if (word == "module" && terminals.Count > 0)
        {
            statement += $"\n  supply {terminals[0]} ground {(terminals.Count > 1 ? terminals[1] : "gnd")}";
            for (var i = 2; i < terminals.Count; i++)
                statement += $"\n  input {terminals[i]} high>6V";
        }
        else if (Open.Contains(word) && terminals.Count > 0)
        {
            var condition = WireListWords.IsCondition(label ?? tag, word);
            var name = tag.ToLowerInvariant();
            controls.Add(
                condition ? $"given {name}: SHUT*, OPEN"
                : word == "button" ? $"control {name}: RELEASED*, PRESSED held"
                : $"control {name}: OFF*, ON"
            );
            var closed =
                condition ? "SHUT"
                : word == "button" ? "PRESSED"
                : "ON";
            // Contacts are what their terminals say, a pair each from the first.
            if (terminals.Count == 1)
                terminals.Add(terminals[0] == "1" ? "2" : "1");
            for (var i = 1; i < terminals.Count; i++)
                statement += $"\n  closed {terminals[0]}-{terminals[i]} when {name}={closed}";
        }
        var kind = PartKind.All[word];
        var has = Open.Contains(word)
            ? terminals
            : SheetReader.Read($"sheet \"x\"\npart ZZ battery 12V\n{statement}\n").Value?.FindPart(tag)?.Model.Terminals;
        return new WireListPart(tag, kind, statement, controls, renamed, has);
    }

    private static string Word(string tag, List<string> terminals) =>
        WireListWords.KindOf(tag) switch
        {
            null => terminals.All(t => t.Length == 0) ? "splice" : "strip",
            "relay" when terminals.Any(t => t is "A1" or "A2") => terminals.Any(t => t is "1" or "2" or "3" or "13")
                ? "contactor"
                : "relay",
            "connector" when terminals.All(t => t.Length == 0) => "splice",
            { } word => word,
        };

    /// <summary>
    /// The list's terminals as the kind's own: by what they are called, else the two of a part of two in their order, also where none is
    /// named and it stands in two rows.
    /// </summary>
    private static Dictionary<string, string> Rename(string word, List<string> terminals, int ends)
    {
        var renamed = new Dictionary<string, string>(StringComparer.Ordinal);
        if (Open.Contains(word) || PartKind.All[word] is PinRow or Point)
            return renamed;
        var called = WireListWords.Terminals(word);
        // Figures of a socket stand for its legs only where all of them are such figures.
        var own = word == "relay" && terminals.Exists(t => t is "30" or "85" or "86" or "87" or "A1" or "A2");
        foreach (var t in terminals)
            if (!(own && t.Length == 1) && called.TryGetValue(t, out var meant) && meant != t)
                renamed[t] = meant;
        if (word is not ("fuse" or "breaker" or "lamp" or "motor" or "coil" or "heater" or "horn" or "resistor"))
            return renamed;
        var others = terminals.Where(t => t is not ("1" or "2")).ToList();
        if (others.Count == 0 || terminals.Count > 2 || others is [""] && terminals.Count > 1)
            return renamed;
        // Of lamps and motors the first is the one that is fed.
        others.Sort((a, b) => Order(a).CompareTo(Order(b)));
        var free = new[] { "1", "2" }.Where(t => !terminals.Contains(t)).ToList();
        if (others is [""])
        {
            if (ends <= 2)
                renamed[""] = "1";
            return renamed;
        }
        for (var i = 0; i < others.Count && i < free.Count; i++)
            renamed[others[i]] = free[i];
        return renamed;

        static int Order(string t) => t.ToUpperInvariant() is "-" or "GND" or "31" or "OUT" or "B" or "N" ? 1 : 0;
    }
}
