using System.Globalization;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Notation;

/// <summary>Binds controls, parts, their contacts and module lines.</summary>
internal sealed partial class PartBinder(SheetDraft sheet)
{
    public void AddControl(SheetLine line, Statement.Control s)
    {
        if (sheet.Controls.Exists(c => c.Name.Equals(s.Name.Text, StringComparison.OrdinalIgnoreCase)))
            throw Names.Fail(line.Number, s.Name, $"There are two controls {s.Name.Text}.", "a name of its own", null);
        var names = s.Positions.Select(p => p.Position.Text.TrimEnd('*')).ToList();
        if (names.Distinct(StringComparer.OrdinalIgnoreCase).Count() != names.Count)
            throw Names.Fail(line.Number, s.Name, $"{s.Name.Text} has the same position twice.", "positions that differ", null);
        var rest = s.Positions.ToList().FindIndex(p => p.Position.Text.EndsWith('*'));
        sheet.Controls.Add(
            new Control(
                s.Name.Text,
                names,
                Math.Max(rest, 0),
                s.Positions.Where(p => p.Held).Select(p => p.Position.Text.TrimEnd('*')).ToHashSet(),
                s.Given
            )
        );
    }

    private static readonly string[] AttributeWords =
    [
        "at",
        "reach",
        "sealed",
        "good",
        "hazard",
        "odds",
        "safety",
        "on-delay",
        "off-delay",
        "aux",
        "field",
        "sides",
    ];

    [GeneratedRegex("^[A-Za-z_][A-Za-z0-9_]*$")]
    private static partial Regex TagShape();

    public void AddPart(SheetLine line, Statement.Part s, double nominal)
    {
        var n = line.Number;
        if (!TagShape().IsMatch(s.Tag.Text))
            throw Names.Fail(
                n,
                s.Tag,
                $"{NotationTokenizer.Clip(s.Tag.Text)} is no tag: a tag is letters, digits and _.",
                "a tag such as K1",
                null
            );
        if (sheet.Parts.ContainsKey(s.Tag.Text))
            throw Names.Fail(n, s.Tag, $"There are two parts {s.Tag.Text}.", "a tag of its own", null);
        if (!PartKind.All.TryGetValue(s.Kind.Text, out var kind))
            throw Names.Fail(
                n,
                s.Kind,
                $"{NotationTokenizer.Clip(s.Kind.Text)} is no kind of part that this version computes.",
                string.Join(", ", PartKind.All.Keys.Order()),
                Spelling.DidYouMean(s.Kind.Text, PartKind.All.Keys)
            );
        var part = new Part(s.Tag.Text, kind) { NominalVolts = nominal };
        var values = new List<Quantity>();
        var named = new Dictionary<string, Quantity>();
        var words = new List<string>();
        var hazards = new List<string>();
        foreach (var a in s.Attributes.Concat(s.Late))
        {
            if (a.Label)
            {
                part = part with { Label = a.Word.Text };
                continue;
            }
            switch (a.Word.Text, a.Value)
            {
                case ("at", { } place):
                    part = part with { Place = place.Text };
                    break;
                case ("reach", { } reach):
                    part = part with { ReachMinutes = SheetValues.Quantity(reach, n, Dimension.Second).Value / 60, ReachGiven = true };
                    break;
                case ("good", { } good):
                    part = part with { GoodOhms = SheetValues.Range(good, n) };
                    break;
                case ("hazard", { } hazard):
                    hazards.Add(hazard.Text);
                    break;
                case ("odds", { } odds):
                    part = part with { Odds = SheetValues.Positive(odds, n) };
                    break;
                case ("aux", { } aux):
                    part = part with { Auxiliaries = Auxiliaries(kind, aux, n) };
                    break;
                case ({ } lead, { } name) when lead == kind.TakesLead:
                    part = part with { Lead = name.Text };
                    break;
                case ("sides", { } sides):
                    part = part with { Sides = SidesOf(kind, sides, n) };
                    break;
                case ("sealed", null):
                    part = part with { Sealed = true };
                    break;
                case ("safety", null):
                    part = part with { Safety = true };
                    break;
                case (_, { } value):
                    named[NamedKey(kind, a.Word, n)] = SheetValues.Quantity(value, n, kind.TakesNamed[a.Word.Text]);
                    break;
                default:
                    if (
                        kind is PinRow
                        && part.Pins == 0
                        && int.TryParse(a.Word.Text, CultureInfo.InvariantCulture, out var pins)
                        && pins is > 0 and <= 400
                    )
                        part = part with { Pins = pins };
                    else if (kind.OwnWords.Contains(a.Word.Text))
                        words.Add(a.Word.Text);
                    else if (QuantityText.LooksNumeric(a.Word.Text))
                        values.AddRange(PairOrValue(kind, a.Word, n));
                    else
                        words.Add(BareWord(a.Word, n));
                    break;
            }
        }
        if (kind is PinRow && part.Pins == 0)
            throw Names.Fail(n, s.Kind, $"A {kind.Word} needs its number of pins.", "a number from 1 to 400", $"write {kind.Word} 6");
        part = part with { Values = values, Named = named, Words = words, Hazards = hazards };
        if (kind is Load && !Load.HasRating(part))
            sheet.Warn(
                n,
                s.Tag,
                $"{part.Tag} has no ohms, watts or amps: taken as 1 A at {nominal:0.#} V.",
                "write its watts, such as 21W, or its ohms"
            );
        if (kind is Capacitor && !Capacitor.HasRating(part))
            sheet.Warn(n, s.Tag, $"{part.Tag} has no capacity: taken as 10 µF.", "write it as printed on the can, such as 20uF");
        foreach (var v in values.Concat(named.Values))
            if (
                v.Value <= 0
                && v.Dimension
                    is Dimension.Ohm
                        or Dimension.Watt
                        or Dimension.Ampere
                        or Dimension.Volt
                        or Dimension.Microfarad
                        or Dimension.Hertz
            )
                throw Names.Fail(n, s.Tag, $"{part.Tag} has a value of zero or less.", "values above zero", null);
        sheet.Parts[part.Tag] = part;
    }

    private static (string, string) SidesOf(PartKind kind, Placed word, int line)
    {
        if (kind is not PinRow)
            throw Names.Fail(line, word, $"A {kind.Word} has no halves to name.", "a connector or strip", null);
        return
            word.Text.Split('|') is [{ Length: > 0 } first, { Length: > 0 } second]
            && first != second
            && (first + second).All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_')
            ? (first, second)
            : throw Names.Fail(line, word, $"{NotationTokenizer.Clip(word.Text)} names no two sides.", "cab|chassis", null);
    }

    /// <summary>Pairs as EN 50005 numbers them: function digits 3-4 make and 1-2 break.</summary>
    private static List<(string A, string B)> Auxiliaries(PartKind kind, Placed words, int line)
    {
        if (!kind.TakesAuxiliaries)
            throw Names.Fail(line, words, $"A {kind.Word} has no auxiliary contacts.", "a contactor, isolator or breaker", null);
        var pairs = new List<(string A, string B)>();
        foreach (var word in words.Text.Split(','))
        {
            var ends = word.Split('-');
            if (
                ends is not [{ Length: 2 } a, { Length: 2 } b]
                || a[0] != b[0]
                || !(a[0], a[1], b[1]).Equals((a[0], '3', '4')) && !(a[0], a[1], b[1]).Equals((a[0], '1', '2'))
            )
                throw Names.Fail(line, words, $"“{word}” is no auxiliary contact.", "13-14 makes, 21-22 breaks", "write aux 13-14,21-22");
            pairs.Add((ends[0], ends[1]));
        }
        return pairs;
    }

    private static string NamedKey(PartKind kind, Placed word, int line) =>
        kind.TakesNamed.ContainsKey(word.Text)
            ? word.Text
            : throw Names.Fail(
                line,
                word,
                $"A {kind.Word} takes no value {NotationTokenizer.Clip(word.Text)}.",
                kind.TakesNamed.Count == 0 ? "no named values" : string.Join(", ", kind.TakesNamed.Keys),
                Spelling.DidYouMean(word.Text, kind.TakesNamed.Keys.Concat(AttributeWords))
            );

    /// <summary><c>230V:24V</c> and <c>120/240V</c> are two values written as one.</summary>
    private static IEnumerable<Quantity> PairOrValue(PartKind kind, Placed word, int line)
    {
        var at = word.Text.IndexOfAny([':', '/']);
        if (at <= 0)
            return [PositionalValue(kind, word, line)];
        var (first, second) = (word with { Text = word.Text[..at] }, new Placed(word.Text[(at + 1)..], word.Column + at + 1));
        var b = PositionalValue(kind, second, line);
        if (QuantityText.TryParse(first.Text, out var plain) && plain.Dimension == Dimension.None)
            return [new Quantity(plain.Value, b.Dimension), b];
        return [PositionalValue(kind, first, line), b];
    }

    private static Quantity PositionalValue(PartKind kind, Placed word, int line)
    {
        if (!QuantityText.TryParse(word.Text, out var q))
            throw Names.Fail(
                line,
                word,
                $"{NotationTokenizer.Clip(word.Text)} is no value with a known unit.",
                SheetValues.Or([.. kind.Takes]),
                null
            );
        if (kind.Takes.Contains(q.Dimension))
            return q;
        throw Names.Fail(
            line,
            word,
            $"A {kind.Word} takes no {QuantityText.Say(q.Dimension)}.",
            kind.Takes.Count == 0 ? "no value" : SheetValues.Or([.. kind.Takes]),
            null
        );
    }

    private static string BareWord(Placed word, int line)
    {
        if (AttributeWords.Contains(word.Text))
            throw Names.Fail(line, word, $"“{word.Text}” needs its value.", $"{word.Text} …", null);
        if (Spelling.Nearest(word.Text, AttributeWords) is { } near && near.Length > 3)
            throw Names.Fail(
                line,
                word,
                $"{NotationTokenizer.Clip(word.Text)} is no attribute.",
                string.Join(", ", AttributeWords),
                $"did you mean {near}?"
            );
        return word.Text;
    }

    public void AddContacts(SheetLine line, Statement.Part s)
    {
        if (!sheet.Parts.TryGetValue(s.Tag.Text, out var part))
            return;
        if (s.When is { } condition)
        {
            if (!part.Kind.TakesCondition)
                throw Names.Fail(
                    line.Number,
                    s.Kind,
                    $"A {part.Kind.Word} takes no “when” of its own.",
                    "a charger",
                    "put the condition on a closed line below the switch that makes it"
                );
            sheet.Parts[part.Tag] = part = part with { When = sheet.Names.Bind(condition, line.Number) };
        }
        if (line.Below.Count == 0)
            return;
        var contacts = new List<ContactLine>();
        var moduleLines = new List<ModuleLine>();
        // Outputs name inputs, so a module first learns its pins.
        if (part.Kind.TakesModuleLines)
        {
            foreach (var (number, statement, _) in line.Below.Where(b => b.Statement is not Statement.Output))
                sheet.Guard(() => moduleLines.Add(BindModuleLine(part, statement, number)));
            sheet.Parts[part.Tag] = part = part with { ModuleLines = [.. moduleLines] };
            foreach (var (number, statement, _) in line.Below.Where(b => b.Statement is Statement.Output))
                sheet.Guard(() => moduleLines.Add(BindModuleLine(part, statement, number)));
            sheet.Parts[part.Tag] = part with { ModuleLines = moduleLines };
            return;
        }
        foreach (var (number, statement, text) in line.Below)
            sheet.Guard(() =>
            {
                if (statement is not Statement.Contact c)
                    throw new NotationException(
                        new Problem(
                            Severity.Error,
                            number,
                            1,
                            $"Only a module has such a line; {part.Tag} is a {part.Kind.Word}.",
                            text.Trim(),
                            "closed or open",
                            null
                        )
                    );
                if (!part.Kind.TakesContactLines)
                    throw Names.Fail(
                        number,
                        c.Pair,
                        $"A {part.Kind.Word} has no contacts of its own to state.",
                        "a switch, button, thermostat, limit, breaker or isolator",
                        null
                    );
                var dash = c.Pair.Text.IndexOf('-', StringComparison.Ordinal);
                if (dash <= 0 || dash == c.Pair.Text.Length - 1)
                    throw Names.Fail(number, c.Pair, $"{NotationTokenizer.Clip(c.Pair.Text)} is no pair of terminals.", "A-B", "write 1-2");
                var (a, b) = (c.Pair.Text[..dash], c.Pair.Text[(dash + 1)..]);
                if (a == b)
                    throw Names.Fail(number, c.Pair, "A contact joins two different terminals.", "A-B", null);
                contacts.Add(new ContactLine(c.Closed, a, b, c.When is null ? null : sheet.Names.Bind(c.When, number)));
            });
        sheet.Parts[part.Tag] = part with { Contacts = contacts };
    }

    private static double? Ohms(Placed? written, int line) => written is { } w ? SheetValues.Quantity(w, line, Dimension.Ohm).Value : null;

    private ModuleLine BindModuleLine(Part part, Statement statement, int line) =>
        statement switch
        {
            Statement.Supply s => new ModuleLine.Supply(
                [.. s.Pins.Select(p => p.Text)],
                [.. s.Grounds.Select(g => g.Text)],
                s.From is { } v ? SheetValues.Quantity(v, line, Dimension.Volt).Value : null
            ),
            Statement.Input i => new ModuleLine.Input(
                i.Pin.Text,
                i.Above,
                SheetValues.Quantity(i.Volts, line, Dimension.Volt).Value,
                Ohms(i.Ohms, line),
                i.PullUp
            ),
            Statement.Output o => new ModuleLine.Output(
                o.Pin.Text,
                o.Level.Text == "high",
                Ohms(o.Ohms, line),
                o.When is null ? null : sheet.Names.Bind(o.When, line, part),
                o.Share is { } share ? SheetValues.Share(share, line) : null,
                Ohms(o.Leak, line)
            ),
            Statement.Bus { Low: null } b => new ModuleLine.SingleWire(
                b.High.Text,
                b.Traffic is { } t ? SheetValues.Share(t, line) : Defaults.BusTrafficShare,
                Ohms(b.PullUp, line) ?? Defaults.SingleWirePullUpOhms
            ),
            Statement.Bus { PullUp: { } up } => throw Names.Fail(
                line,
                up,
                "Only a bus of one wire is pulled up.",
                "bus 5 pullup=1kohm",
                "leave it out"
            ),
            Statement.Bus b => new ModuleLine.Bus(
                b.High.Text,
                b.Low.Value.Text,
                b.Traffic is { } t ? SheetValues.Share(t, line) : Defaults.BusTrafficShare
            ),
            Statement.Sleeps s => new ModuleLine.Sleeps(
                SheetValues.Quantity(s.After, line, Dimension.Second).Value,
                SheetValues.Quantity(s.Amps, line, Dimension.Ampere).Value
            ),
            _ => throw new NotationException(
                new Problem(Severity.Error, line, 1, "A module has supply, input, output, bus and sleeps lines.", null, "supply 1 ground 2")
            ),
        };
}
