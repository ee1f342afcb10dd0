using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Patterns;

/// <summary>
/// One line as it would be said, <c>battery, fuse 15, dash key 30 to 15, lid switch, connector pin 2, valve 8 ohm, ground</c>, becomes a
/// sheet that can be traced. Values that are not said are those of the notation's table.
/// </summary>
public static partial class QuickRoute
{
    private const int LongestLine = 2000,
        MostItems = 60;

    private sealed record Said(string Text, int Column);

    private sealed class Written
    {
        public StringBuilder Controls { get; } = new();
        public StringBuilder Parts { get; } = new();
        public List<string> Hops { get; } = [];
        public List<string> Conditions { get; } = [];
        public HashSet<string> Names { get; } = new(StringComparer.OrdinalIgnoreCase);
        public Dictionary<string, int> Tags { get; } = [];
        public Dictionary<string, (string Tag, int Pins, string Label)> Connectors { get; } = new(StringComparer.OrdinalIgnoreCase);
        public (string Tag, string Label)? Load { get; set; }
        public string? Source { get; set; }
        public string Home { get; set; } = "";
        public bool Alternating { get; set; }

        public string Tag(string letter)
        {
            var n = Tags[letter] = Tags.GetValueOrDefault(letter) + 1;
            return letter + n.ToString(CultureInfo.InvariantCulture);
        }
    }

    [GeneratedRegex(@"(?<n>\d+(?:[.,]\d+)?)\s*(?<u>kohms?|ohms?|kΩ|Ω|mA|amps?|A|volts?|V|kW|watts?|W)?\b", RegexOptions.IgnoreCase)]
    private static partial Regex Value();

    [GeneratedRegex(@"\b(?<a>[A-Za-z0-9+]+)(?:\s+to\s+|\s*[-–>]\s*)(?<b>[A-Za-z0-9+]+)\s*$", RegexOptions.IgnoreCase)]
    private static partial Regex Ways();

    [GeneratedRegex(@"\b(?:pin|terminal|way)\s*(?<n>\d{1,3})\b", RegexOptions.IgnoreCase)]
    private static partial Regex Pin();

    [GeneratedRegex(@"\s+at\s+(?<p>.+)$", RegexOptions.IgnoreCase)]
    private static partial Regex Place();

    /// <summary>
    /// Words that say what a thing is, the first that is met decides; then the letter of its tag (IEC 81346-2) and the unit it takes.
    /// </summary>
    private static readonly (string[] Words, string Kind, string Letter, string Unit, string Usual)[] Kinds =
    [
        (["battery"], "battery", "G", "V", ""),
        (["supply", "psu"], "psu", "U", "V", ""),
        (["mains", "outlet"], "mains", "T", "V", "230V"),
        (["fuse"], "fuse", "F", "A", "15A"),
        (["breaker"], "breaker", "F", "A", "15A"),
        (["isolator", "master"], "isolator", "Q", "", ""),
        (["relay coil", "relay", "contactor"], "relay", "K", "ohm", ""),
        (["thermostat"], "thermostat", "B", "", ""),
        (["limit", "float"], "limit", "B", "", ""),
        (["cutout", "cut-out", "overload"], "cutout", "B", "", ""),
        (["button", "start", "stop"], "button", "S", "", ""),
        (["switch", "key", "selector", "contact"], "switch", "S", "", ""),
        (["lamp", "light", "bulb"], "lamp", "H", "W", "10W"),
        (["heater", "element"], "heater", "E", "W", "500W"),
        (["horn", "buzzer"], "horn", "P", "A", "3A"),
        (["motor", "pump", "fan", "blower"], "motor", "M", "A", "5A"),
        (["injector"], "injector", "Y", "ohm", ""),
        (["valve", "solenoid", "coil", "clutch", "brake", "magnet"], "coil", "Y", "ohm", "20ohm"),
        (["diode"], "diode", "V", "", ""),
        (["resistor"], "resistor", "R", "ohm", "100ohm"),
        (["splice", "joint"], "splice", "SP", "", ""),
    ];

    private static readonly string[] Grounds = ["ground", "earth", "frame", "chassis", "zero", "common", "neutral", "minus", "negative"];
    private static readonly string[] Conditions =
    [
        "door",
        "lid",
        "hood",
        "guard",
        "gate",
        "cover",
        "limit",
        "float",
        "thermostat",
        "seat",
        "neutral",
        "pressure",
        "cutout",
        "cut-out",
        "overload",
        "level",
    ];

    /// <summary>A sheet from the line, or what could not be understood and where.</summary>
    /// <param name="volts">Supply volts where the line does not say.</param>
    public static Parsed<string> Read(string line, double volts = 12, string? machine = null)
    {
        line = (line ?? "").ReplaceLineEndings(",");
        if (line.Length > LongestLine)
            return Wrong(1, $"This line is longer than {LongestLine} characters.", null, "one way from the supply to the ground");
        var items = Split(line);
        if (items.Count == 0)
            return Wrong(1, "There is no route here.", "an empty line", "battery, fuse 15, lid switch, valve 8 ohm, ground");
        if (items.Count > MostItems)
            return Wrong(
                items[MostItems].Column,
                $"More than {MostItems} stations in one line.",
                items[MostItems].Text,
                "a sheet of its own"
            );
        var w = new Written();
        foreach (var item in items)
            if (Take(w, item, volts) is { } problem)
                return new Parsed<string>(null, [problem]);
        if (w.Load is not { } load)
            return Wrong(
                line.Length + 1,
                "Nothing on this route uses current.",
                "the end of the line",
                "a load such as valve 8 ohm, lamp 21 W, motor 5 A or relay"
            );
        if (w.Source is null)
        {
            w.Source = w.Tag("G");
            w.Parts.Insert(
                0,
                string.Create(CultureInfo.InvariantCulture, $"part {w.Source} battery {volts:0.##}V at \"battery\" reach 3min\n")
            );
            w.Hops.Insert(0, $"{w.Source}.+");
            w.Home = $"{w.Source}.-";
        }
        var text = new StringBuilder();
        var name = string.IsNullOrWhiteSpace(machine) ? "quick route" : machine.Replace('"', '\'').Trim();
        foreach (var (key, c) in w.Connectors)
            w.Parts.Append(
                CultureInfo.InvariantCulture,
                $"part {c.Tag} {(key.StartsWith("strip", StringComparison.Ordinal) ? "strip" : "connector")} {c.Pins} "
                    + $"\"{c.Label}\" at \"{c.Label}\" reach 3min\n"
            );
        text.Append(
            CultureInfo.InvariantCulture,
            $"sheet \"{name}: {load.Label}\"\nmachine \"{name}\"\nnominal {VoltsOf(w, volts)} "
                + $"{(w.Alternating ? "ac" : "dc")}\ndrawn from memory\n\n{w.Controls}\n{w.Parts}\n"
        );
        text.Append(CultureInfo.InvariantCulture, $"path {string.Join(" - ", w.Hops)} - {w.Home}\n\n");
        text.Append(
            CultureInfo.InvariantCulture,
            $"function \"{load.Label} works\": {load.Tag}{(w.Conditions.Count == 0 ? "" : " when " + string.Join(" and ", w.Conditions))}\n"
        );
        return new Parsed<string>(text.ToString(), []);
    }

    private static string VoltsOf(Written w, double volts) =>
        w.Parts.ToString().Split('\n')[0] is var first
        && Regex.Match(first, @"(\d+(\.\d+)?)V") is { Success: true } m
        && (
            first.Contains(" battery ", StringComparison.Ordinal)
            || first.Contains(" psu ", StringComparison.Ordinal)
            || first.Contains(" mains ", StringComparison.Ordinal)
        )
            ? m.Value
            : string.Create(CultureInfo.InvariantCulture, $"{volts:0.##}V");

    /// <summary>
    /// What parts two stations: a comma, a line of its own, "then", an arrow, or a dash with blanks that is not between two numbers.
    /// </summary>
    [GeneratedRegex(@"\s*(?:[,;]|→|->(?!\d)|(?<!\d)->|\s[-–—]\s(?!\d)|(?<!\d)\s[-–—]\s|\bthen\b)\s*", RegexOptions.IgnoreCase)]
    private static partial Regex Parting();

    /// <summary>Words that lead to the next station and name nothing.</summary>
    [GeneratedRegex(@"^(?:(?:and|to|into|through|via|the|from|goes|back|home)\s+)+(?=\S)", RegexOptions.IgnoreCase)]
    private static partial Regex Leading();

    private static List<Said> Split(string line)
    {
        var (items, at) = (new List<Said>(), 0);
        foreach (var parting in Parting().Matches(line).Append(null))
        {
            var end = parting?.Index ?? line.Length;
            var piece = line[at..end];
            var led = Leading().Match(piece.TrimStart()).Length;
            var text = piece.TrimStart()[led..].TrimEnd();
            if (text.Length > 0)
                items.Add(new Said(text, at + piece.Length - piece.TrimStart().Length + led + 1));
            at = end + (parting?.Length ?? 0);
        }
        return items is [var only] ? Unparted(only) : items;
    }

    /// <summary>Words that only say which of the next it is: start relay, limit switch, relay coil.</summary>
    private static readonly string[] Qualifiers =
    [
        "start",
        "stop",
        "key",
        "limit",
        "float",
        "master",
        "lamp",
        "light",
        "horn",
        "pump",
        "fan",
        "brake",
        "clutch",
        "relay",
        "battery",
        "motor",
        "heater",
    ];
    private static readonly string[] Qualified =
    [
        "switch",
        "button",
        "relay",
        "contact",
        "coil",
        "valve",
        "motor",
        "lamp",
        "light",
        "fuse",
        "isolator",
        "magnet",
        "solenoid",
    ];

    /// <summary>
    /// A line without anything between its stations: each ends with the word that says what it is and the numbers after it.
    /// </summary>
    private static List<Said> Unparted(Said line)
    {
        var words = Word().Matches(line.Text).ToList();
        bool IsNumber(int i) => i < words.Count && (char.IsDigit(words[i].Value[0]) || Belongs.Contains(words[i].Value.ToLowerInvariant()));
        bool IsKind(int i) =>
            Kinds.Any(k => k.Words.Contains(words[i].Value.ToLowerInvariant()))
            || Grounds.Contains(words[i].Value.ToLowerInvariant())
            || words[i].Value.ToLowerInvariant() is "connector" or "plug" or "strip";
        var (items, from) = (new List<Said>(), 0);
        for (var i = 0; i < words.Count; i++)
        {
            if (!IsKind(i))
                continue;
            if (
                i + 1 < words.Count
                && Qualifiers.Contains(words[i].Value.ToLowerInvariant())
                && Qualified.Contains(words[i + 1].Value.ToLowerInvariant())
            )
                continue;
            while (IsNumber(i + 1))
                i++;
            var (start, end) = (words[from].Index, words[i].Index + words[i].Length);
            items.Add(new Said(line.Text[start..end], line.Column + start));
            from = i + 1;
        }
        return items.Count > 2 && from == words.Count ? items : [line];
    }

    /// <summary>Words that follow what they belong to.</summary>
    private static readonly string[] Belongs =
    [
        "to",
        "pin",
        "terminal",
        "way",
        "ohm",
        "ohms",
        "amp",
        "amps",
        "volt",
        "volts",
        "watt",
        "watts",
        "a",
        "v",
        "w",
        "ω",
    ];

    [GeneratedRegex(@"\S+")]
    private static partial Regex Word();

    private static Problem? Take(Written w, Said said, double volts)
    {
        var text = said.Text.Replace('"', '\'');
        string? place = null;
        if (Place().Match(text) is { Success: true } p)
            (place, text) = (p.Groups["p"].Value.Trim(), text[..p.Index].Trim());
        var words = text.ToLowerInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (
            Array.Exists(words, x => x is "connector" or "plug" or "strip" or "terminal" or "terminals")
            && Pin().Match(text) is { Success: true } pin
        )
        {
            Connector(w, text, words, int.Parse(pin.Groups["n"].Value, CultureInfo.InvariantCulture));
            return null;
        }
        if (words.Length > 0 && words.Length <= 3 && Array.Exists(words, Grounds.Contains) && !Array.Exists(words, x => x is "switch"))
        {
            Ground(w, text, place);
            return null;
        }
        var kind = Kinds.FirstOrDefault(k =>
            k.Words.Any(x =>
                x.Contains(' ') ? text.Contains(x, StringComparison.OrdinalIgnoreCase) : Array.Exists(words, y => y == x || y == x + "s")
            )
        );
        if (kind.Kind is null)
            return new Problem(
                Severity.Error,
                1,
                said.Column,
                $"“{said.Text}” is no part that is known.",
                said.Text,
                "battery, fuse 15, key switch 30 to 15, limit, connector pin 2, relay contact 30 to 87, relay coil, valve 8 "
                    + "ohm, lamp 21 W, motor 5 A, ground",
                "say what kind of thing it is, for example “lid switch”"
            );
        var ways = Ways().Match(text);
        var bare = ways.Success ? text[..ways.Index].Trim() : text;
        // Of several values the one in the kind's own unit counts: lamp 24 V 21 W.
        var values = Value().Matches(bare);
        var value = values.FirstOrDefault(v => UnitOf(v, kind.Unit) is { } u && Fits(u, kind.Unit)) ?? Match.Empty;
        if (
            !value.Success
            && values.FirstOrDefault(v => kind.Unit.Length > 0 && v.Groups["u"].Success && UnitOf(v, kind.Unit) != "V") is { } other
        )
            return new Problem(
                Severity.Error,
                1,
                said.Column,
                $"“{said.Text}” cannot have {other.Value.Trim()}.",
                other.Value.Trim(),
                $"a value in {kind.Unit}"
            );
        if (
            value.Success
            && kind.Unit.Length > 0
            && double.Parse(value.Groups["n"].Value.Replace(',', '.'), CultureInfo.InvariantCulture) <= 0
        )
            return new Problem(
                Severity.Error,
                1,
                said.Column,
                $"“{said.Text}” has a value of zero.",
                value.Value.Trim(),
                $"more than zero, in {kind.Unit}"
            );
        var label = bare;
        if (kind.Unit.Length > 0)
            foreach (var v in values.Reverse())
                label = label.Remove(v.Index, v.Length);
        label = string.Join(' ', label.Split(' ', StringSplitOptions.RemoveEmptyEntries));
        if (label.Length == 0)
            label = kind.Kind;
        var tag = w.Tag(kind.Letter);
        var at = $"at \"{place ?? label}\" reach 3min";
        string Amount(string fallback) =>
            value.Success && kind.Unit.Length > 0 ? value.Groups["n"].Value.Replace(',', '.') + UnitOf(value, kind.Unit) : fallback;

        switch (kind.Kind)
        {
            case "battery" or "psu" or "mains":
                if (w.Source is not null)
                    return new Problem(
                        Severity.Error,
                        1,
                        said.Column,
                        "A route has one supply.",
                        said.Text,
                        "a part that the current goes through"
                    );
                (w.Source, w.Alternating) = (tag, kind.Kind == "mains");
                var own = Amount(kind.Kind == "mains" ? kind.Usual : string.Create(CultureInfo.InvariantCulture, $"{volts:0.##}V"));
                w.Parts.Insert(0, $"part {tag} {kind.Kind} {own} \"{label}\" {at}{(kind.Kind == "mains" ? " hazard mains" : "")}\n");
                w.Hops.Insert(0, kind.Kind == "mains" ? $"{tag}.L" : $"{tag}.+");
                w.Home = kind.Kind == "mains" ? $"{tag}.N" : $"{tag}.-";
                break;
            case "switch" or "button" or "limit" or "thermostat" or "cutout" or "isolator":
                Contact(w, kind.Kind, label, tag, at, ways, words);
                break;
            case "relay" when ways.Success || Array.Exists(words, x => x is "contact" or "contacts"):
                // A relay's contact whose coil is not on this line is a switch that something else closes.
                Contact(w, "switch", label, tag, at, ways, words);
                break;
            case "splice":
                w.Parts.Append(CultureInfo.InvariantCulture, $"part {tag} splice \"{label}\" {at}\n");
                w.Hops.Add(tag);
                break;
            case "diode":
                w.Parts.Append(CultureInfo.InvariantCulture, $"part {tag} diode \"{label}\" {at}\n");
                w.Hops.Add(tag);
                break;
            case "fuse" or "breaker":
                w.Parts.Append(CultureInfo.InvariantCulture, $"part {tag} {kind.Kind} {Amount(kind.Usual)} \"{label}\" {at}\n");
                w.Hops.Add(tag);
                break;
            default:
                // A load is rated at the supply's volts; a resistor has none.
                var rated =
                    kind.Kind == "resistor" ? ""
                    : w.Alternating ? "230V "
                    : string.Create(CultureInfo.InvariantCulture, $"{VoltsOf(w, volts)} ");
                w.Parts.Append(
                    $"part {tag} {kind.Kind} {rated}{Amount(kind.Usual)} \"{label}\" {at}\n".Replace("  ", " ", StringComparison.Ordinal)
                );
                w.Hops.Add(kind.Kind == "relay" ? $"{tag}.86>85" : tag);
                if (kind.Kind != "resistor" || w.Load is null)
                    w.Load = (tag, label);
                break;
        }
        return null;
    }

    private static string UnitOf(Match value, string usual) =>
        value.Groups["u"].Value.ToLowerInvariant() switch
        {
            "" => usual,
            "v" or "volt" or "volts" => "V",
            "a" or "amp" or "amps" => "A",
            "ma" => "mA",
            "kohm" or "kohms" or "kω" => "kohm",
            "kw" => "kW",
            "w" or "watt" or "watts" => "W",
            _ => "ohm",
        };

    private static bool Fits(string unit, string usual) => unit == usual || (unit, usual) is ("mA", "A") or ("kohm", "ohm") or ("kW", "W");

    private static void Contact(Written w, string kind, string label, string tag, string at, Match ways, string[] words)
    {
        var (a, b) =
            ways.Success ? (ways.Groups["a"].Value, ways.Groups["b"].Value)
            : kind == "button" ? ("13", "14")
            : ("1", "2");
        var control = Name(w, label);
        var given = kind is "limit" or "thermostat" or "cutout" || Array.Exists(words, Conditions.Contains);
        var stop = Array.Exists(words, x => x is "stop" or "emergency");
        var (positions, closed) =
            kind == "button" || stop ? (stop ? ("RELEASED*, PRESSED held", "RELEASED") : ("RELEASED*, PRESSED held", "PRESSED"))
            : given ? ("OPEN, SHUT*", "SHUT")
            : ("OFF*, ON", "ON");
        w.Controls.Append(CultureInfo.InvariantCulture, $"{(given && kind != "button" ? "given" : "control")} {control}: {positions}\n");
        w.Parts.Append(
            CultureInfo.InvariantCulture,
            $"part {tag} {kind} \"{label}\"{(given && kind != "thermostat" || stop ? " safety" : "")} {at}\n  closed "
                + $"{a}-{b} when {control}={closed}\n"
        );
        w.Hops.Add($"{tag}.{a}>{b}");
        w.Conditions.Add($"{control}={closed}");
    }

    /// <summary>A control's name from the first word of the label that is not taken.</summary>
    private static string Name(Written w, string label)
    {
        var word = label
            .ToLowerInvariant()
            .Split(' ')
            .Select(x => new string([.. x.Where(char.IsAsciiLetter)]))
            .FirstOrDefault(x => x.Length > 1 && x is not ("the" or "and" or "or" or "not" or "when" or "closed" or "open" or "off"))
            ?? "contact";
        var name = word;
        for (var i = 2; !w.Names.Add(name); i++)
            name = word + i.ToString(CultureInfo.InvariantCulture);
        return name;
    }

    private static void Connector(Written w, string text, string[] words, int pin)
    {
        var strip = Array.Exists(words, x => x is "strip" or "terminal" or "terminals");
        var label = Pin().Replace(text, "").Trim();
        if (label.Length == 0)
            label = strip ? "terminals" : "connector";
        var key = (strip ? "strip " : "connector ") + label;
        if (!w.Connectors.TryGetValue(key, out var c))
            c = (w.Tag("X"), 0, label);
        w.Connectors[key] = c with { Pins = Math.Max(c.Pins, Math.Clamp(pin, 1, 200)) };
        w.Hops.Add($"{c.Tag}:{Math.Clamp(pin, 1, 200)}");
    }

    private static void Ground(Written w, string text, string? place)
    {
        // Home is the supply's own return; the stud stands before it.
        var tag = w.Tag("GND");
        w.Parts.Append(
            CultureInfo.InvariantCulture,
            $"part {tag} {(w.Alternating ? "splice" : "stud")} \"{text}\" at \"{place ?? text}\" reach 3min\n"
        );
        w.Hops.Add(tag);
    }

    private static Parsed<string> Wrong(int column, string message, string? found, string expected) =>
        new(null, [new Problem(Severity.Error, 1, column, message, found, expected)]);
}
