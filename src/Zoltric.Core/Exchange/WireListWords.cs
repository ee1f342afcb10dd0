namespace Zoltric.Core.Exchange;

/// <summary>What the names of parts in a wire list say of their kind: words and abbreviations, then reference letters (IEC
/// 81346-2).</summary>
internal static class WireListWords
{
    private static readonly (string[] Words, string Kind)[] Kinds =
    [
        (["BAT", "BATT", "BATTERY"], "battery"),
        (["FB", "FUSEBOX", "FUSEBLOCK", "PDM"], "strip"),
        (["FUSE", "FUS", "FU"], "fuse"),
        (["CB", "BREAKER"], "breaker"),
        (["ISOLATOR", "DISCONNECT", "MASTER"], "isolator"),
        (["BTN", "BUTTON", "PB"], "button"),
        (["LIMIT", "FLOAT", "LS"], "limit"),
        (["THERMOSTAT", "TSTAT"], "thermostat"),
        (["SW", "SWITCH", "KEY", "IGN", "IGNITION", "SELECTOR"], "switch"),
        (["RLY", "RELAY"], "relay"),
        (["CONTACTOR"], "contactor"),
        (["STARTER"], "starter"),
        (["SOL", "SOLENOID", "VALVE", "VLV", "COIL", "CLUTCH", "BRAKE"], "coil"),
        (["LAMP", "LT", "LIGHT", "LED", "BEACON", "BULB"], "lamp"),
        (["MOT", "MOTOR", "PUMP", "FAN", "BLOWER", "WIPER"], "motor"),
        (["HORN", "BUZZER", "ALARM"], "horn"),
        (["HEATER", "HTR", "ELEMENT", "GLOW"], "heater"),
        (["GND", "GRD", "GROUND", "EARTH", "CHASSIS", "FRAME"], "stud"),
        (["SPLICE", "SPL", "JOINT"], "splice"),
        (["CONN", "CONNECTOR", "PLUG"], "connector"),
        (["TERM", "TERMINAL", "STRIP", "TS"], "strip"),
        (["ECU", "ECM", "PCM", "BCM", "MODULE", "CONTROLLER", "PLC", "DISPLAY"], "module"),
        (["DIODE"], "diode"),
        (["RES", "RESISTOR"], "resistor"),
        (["SENSOR", "SENDER", "SNSR"], "resistor"),
    ];

    private static readonly (string Prefix, string Kind)[] Letters =
    [
        ("GND", "stud"),
        ("PE", "stud"),
        ("SP", "splice"),
        ("XS", "splice"),
        ("XT", "strip"),
        ("TB", "strip"),
        ("BAT", "battery"),
        ("GB", "battery"),
        ("G", "battery"),
        ("F", "fuse"),
        ("K", "relay"),
        ("Q", "isolator"),
        ("S", "switch"),
        ("B", "limit"),
        ("X", "connector"),
        ("J", "connector"),
        ("P", "lamp"),
        ("H", "lamp"),
        ("E", "heater"),
        ("M", "motor"),
        ("Y", "coil"),
        ("R", "resistor"),
        ("D", "diode"),
        ("V", "diode"),
        ("A", "module"),
        ("U", "psu"),
    ];

    /// <summary>Kind by the last word that is one; a number at its end does not count. Null where none is.</summary>
    public static string? KindByWords(string name)
    {
        foreach (var word in name.ToUpperInvariant().Split([' ', '_'], StringSplitOptions.RemoveEmptyEntries).Reverse())
        {
            var bare = word.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9');
            foreach (var (words, kind) in Kinds)
                if (words.Contains(bare))
                    return kind;
        }
        return null;
    }

    /// <summary>Kind by words, then by the letters before its number; null where neither says.</summary>
    public static string? KindOf(string name) =>
        KindByWords(name)
        ?? Letters
            .FirstOrDefault(l =>
                name.StartsWith(l.Prefix, StringComparison.OrdinalIgnoreCase)
                && (name.Length == l.Prefix.Length || !char.IsAsciiLetter(name[l.Prefix.Length]) || l.Prefix.Length > 1)
                && !name.Contains('_', StringComparison.Ordinal)
            )
            .Kind;

    /// <summary>Switches that nobody works: doors, levels, pressures.</summary>
    public static bool IsCondition(string name, string kind) =>
        kind is "limit" or "thermostat"
        || name.ToUpperInvariant()
            .Split([' ', '_'])
            .Any(w => Conditions.Contains(w.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9')));

    private static readonly string[] Conditions =
    [
        "DOOR",
        "LID",
        "HOOD",
        "GUARD",
        "GATE",
        "COVER",
        "SEAT",
        "NEUTRAL",
        "PRESSURE",
        "LEVEL",
        "FLOAT",
        "PROX",
    ];

    /// <summary>
    /// What lists call the terminals of a kind, by the kind's own: poles of a battery, posts of a starter, the five of a small relay
    /// (ISO 7588-1, from memory).
    /// </summary>
    public static IReadOnlyDictionary<string, string> Terminals(string kind) =>
        kind switch
        {
            "battery" => Battery,
            "starter" => Starter,
            "relay" => Relay,
            "diode" => Diode,
            _ => None,
        };

    private static readonly Dictionary<string, string> None = [];

    private static readonly Dictionary<string, string> Battery = new(StringComparer.OrdinalIgnoreCase)
    {
        ["1"] = "+",
        ["2"] = "-",
        ["B+"] = "+",
        ["P"] = "+",
        ["B-"] = "-",
        ["N"] = "-",
        ["GND"] = "-",
    };

    private static readonly Dictionary<string, string> Starter = new(StringComparer.OrdinalIgnoreCase)
    {
        ["B+"] = "B",
        ["BAT"] = "B",
        ["30"] = "B",
        ["+"] = "B",
        ["50"] = "S",
        ["SOL"] = "S",
        ["31"] = "G",
        ["GND"] = "G",
        ["-"] = "G",
    };

    private static readonly Dictionary<string, string> Relay = new(StringComparer.OrdinalIgnoreCase)
    {
        ["1"] = "86",
        ["2"] = "85",
        ["3"] = "30",
        ["4"] = "87a",
        ["5"] = "87",
        ["NO"] = "87",
        ["NC"] = "87a",
        ["COM"] = "30",
        ["87A"] = "87a",
    };

    private static readonly Dictionary<string, string> Diode = new(StringComparer.OrdinalIgnoreCase)
    {
        ["A"] = "a",
        ["K"] = "k",
        ["+"] = "a",
        ["-"] = "k",
    };
}
