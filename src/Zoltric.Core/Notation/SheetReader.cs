using System.Globalization;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Notation;

/// <summary>
/// Reads a sheet: every line gets its statement parsed, then parts, controls, paths and functions are bound in that order, so that
/// a statement may name what stands below it. A bad line is reported and left out; the rest is still read.
/// </summary>
public static partial class SheetReader
{
    public const int LargestText = 400_000;
    private const int MostProblems = 100;

    /// <summary>Reads a sheet. The value is null only when nothing usable stands there or an error was met.</summary>
    public static Parsed<Circuit> Read(string text)
    {
        text ??= "";
        if (text.Length > LargestText)
            return new Parsed<Circuit>(
                null,
                [
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        $"This text has {text.Length} characters; a sheet has at most {LargestText}.",
                        null,
                        "a circuit sheet",
                        "split the machine into several sheets"
                    ),
                ]
            );
        var binder = new Binder();
        var circuit = binder.Bind(text);
        return new Parsed<Circuit>(
            binder.Problems.Exists(p => p.Severity == Severity.Error) ? null : circuit,
            binder.Problems.OrderBy(p => p.Line).ThenBy(p => p.Column).ToList()
        );
    }

    private sealed record Line(int Number, string Text, Statement Statement, List<(int Number, Statement Statement, string Text)> Below);

    private sealed partial class Binder
    {
        public List<Problem> Problems { get; } = [];

        private readonly Dictionary<string, Part> _parts = new(StringComparer.Ordinal);
        private readonly Dictionary<string, Wire> _wires = new(StringComparer.Ordinal);
        private readonly List<Control> _controls = [];
        private Names _names = null!;

        private void Guard(Action action)
        {
            if (Problems.Count >= MostProblems)
                return;
            try
            {
                action();
            }
            catch (NotationException e)
            {
                Problems.Add(e.Problem);
            }
        }

        private void Warn(int line, Placed at, string message, string? suggestion = null) =>
            Problems.Add(new Problem(Severity.Warning, line, at.Column, message, NotationTokenizer.Clip(at.Text), null, suggestion));

        public Circuit? Bind(string text)
        {
            var lines = Cut(text);
            if (Problems.Count >= MostProblems)
                Problems.Add(
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        $"More than {MostProblems} problems: this does not look like a sheet.",
                        null,
                        "a circuit sheet",
                        "start with  sheet \"name\""
                    )
                );
            if (lines.Count == 0)
            {
                if (Problems.Count == 0)
                    Problems.Add(
                        new Problem(
                            Severity.Error,
                            1,
                            1,
                            "The sheet is empty.",
                            "nothing",
                            "sheet \"name\"",
                            "start with  sheet \"name\"  and  nominal 12V dc"
                        )
                    );
                return null;
            }
            _names = new Names(_parts, _wires, _controls);
            var nominal = ReadNominal(lines);
            foreach (var l in Of<Statement.Control>(lines))
                Guard(() => AddControl(l.Line, l.Statement));
            // Conditions may name parts with coils, so contact lines are bound after every tag is known.
            foreach (var l in Of<Statement.Part>(lines))
                Guard(() => AddPart(l.Line, l.Statement, nominal.Volts));
            foreach (var l in Of<Statement.Part>(lines))
                Guard(() => AddContacts(l.Line, l.Statement));
            var paths = new List<PathRoute>();
            var bonds = new List<Bond>();
            foreach (var l in Of<Statement.Path>(lines))
                Guard(() => paths.Add(AddPath(l.Line, l.Statement, bonds)));
            var functions = new List<MachineFunction>();
            foreach (var l in Of<Statement.Function>(lines))
                Guard(() => functions.Add(BindFunction(l.Line, l.Statement)));
            var interlocks = new List<Interlock>();
            foreach (var l in Of<Statement.Interlock>(lines))
                Guard(() => interlocks.Add(BindInterlock(l.Line, l.Statement, functions)));
            var codes = new List<FaultCode>();
            foreach (var l in Of<Statement.Code>(lines))
                Guard(() => codes.Add(BindCode(l.Line, l.Statement)));
            var title = Of<Statement.Sheet>(lines).Select(l => l.Statement.Title.Text).FirstOrDefault();
            if (title is null)
                Problems.Add(
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        "The sheet has no name.",
                        lines[0].Text.Trim(),
                        "sheet \"name\"",
                        "start with  sheet \"name\""
                    )
                );
            var machine = Of<Statement.Machine>(lines).Select(l => l.Statement).FirstOrDefault();
            Terminal? reference = null,
                frame = null;
            foreach (var l in Of<Statement.Reference>(lines))
                Guard(() => reference = _names.Terminal(l.Statement.Point, l.Line.Number));
            foreach (var l in Of<Statement.Frame>(lines))
                Guard(() => frame = _names.Terminal(l.Statement.Point, l.Line.Number));
            if (!_parts.Values.Any(p => p.Kind.IsSource) && _parts.Count > 0)
                Problems.Add(
                    new Problem(Severity.Error, 1, 1, "The sheet has no source.", null, "a battery or supply", "add  part G1 battery 12V")
                );
            return new Circuit
            {
                Title = title ?? "",
                Machine = machine?.Name.Text,
                Family = machine?.Family?.Text,
                NominalVolts = nominal.Volts,
                Alternating = nominal.Ac,
                DrawnFrom = ReadProvenance(lines),
                Reference = reference,
                Frame = frame,
                Controls = _controls,
                Parts = Of<Statement.Part>(lines)
                    .Select(l => l.Statement.Tag.Text)
                    .Distinct()
                    .Where(_parts.ContainsKey)
                    .Select(t => _parts[t])
                    .ToList(),
                Paths = paths,
                Wires = [.. _wires.Values],
                Bonds = bonds,
                Functions = functions,
                Interlocks = interlocks,
                Codes = codes,
            };
        }

        private static IEnumerable<(Line Line, T Statement)> Of<T>(List<Line> lines)
            where T : Statement => lines.Where(l => l.Statement is T).Select(l => (l, (T)l.Statement));

        private List<Line> Cut(string text)
        {
            var lines = new List<Line>();
            var number = 0;
            foreach (var raw in text.EnumerateLines())
            {
                number++;
                if (Problems.Count >= MostProblems)
                    break;
                var line = NotationTokenizer.WithoutComment(raw.TrimEnd().ToString());
                if (string.IsNullOrWhiteSpace(line))
                    continue;
                var n = number;
                Guard(() => AddLine(lines, line, n));
            }
            return lines;
        }

        private static void AddLine(List<Line> lines, string line, int number)
        {
            if (line.Length > 4000)
                throw new NotationException(
                    new Problem(
                        Severity.Error,
                        number,
                        4000,
                        "This line is longer than 4000 characters.",
                        null,
                        "one statement a line",
                        null
                    )
                );
            var tokens = NotationTokenizer.Cut(line, number).ToArray();
            if (tokens.Length == 0)
                return;
            var indented = char.IsWhiteSpace(line[0]);
            var word = Grammar.Place(tokens[0]);
            var known = indented ? SheetGrammar.Indented : SheetGrammar.TopLevel;
            if (!known.TryGetValue(word.Text, out var parser))
            {
                var other = (indented ? SheetGrammar.TopLevel : SheetGrammar.Indented).ContainsKey(word.Text);
                throw Names.Fail(
                    number,
                    word,
                    other
                        ? $"“{word.Text}” {(indented ? "starts at the left edge" : "is indented below its part")}."
                        : $"{NotationTokenizer.Clip(word.Text)} starts no statement.",
                    string.Join(", ", known.Keys),
                    other
                        ? (indented ? "take the white space away" : "put two spaces before it")
                        : Spelling.DidYouMean(word.Text, known.Keys)
                );
            }
            var statement = Grammar.Run(parser, new Superpower.Model.TokenList<Token>(tokens[1..]), number, line.Length);
            if (!indented)
                lines.Add(new Line(number, line, statement, []));
            else if (lines.Count == 0 || lines[^1].Statement is not Statement.Part)
                throw Names.Fail(number, word, $"“{word.Text}” belongs below a part.", "a part statement above", null);
            else
                lines[^1].Below.Add((number, statement, line));
        }

        private (double Volts, bool Ac) ReadNominal(List<Line> lines)
        {
            var result = (Volts: 12.0, Ac: false);
            foreach (var (line, s) in Of<Statement.Nominal>(lines))
                Guard(() =>
                    result = (
                        Quantity(s.Volts, line.Number, Dimension.Volt).Value,
                        s.System?.Text switch
                        {
                            null or "dc" => false,
                            "ac" => true,
                            _ => throw Names.Fail(
                                line.Number,
                                s.System.Value,
                                $"{NotationTokenizer.Clip(s.System.Value.Text)} is neither dc nor ac.",
                                "dc or ac",
                                null
                            ),
                        }
                    )
                );
            return result;
        }

        private Provenance ReadProvenance(List<Line> lines)
        {
            var result = Provenance.Maker;
            foreach (var (line, s) in Of<Statement.Drawn>(lines))
                Guard(() =>
                    result =
                        Enum.TryParse<Provenance>(s.From.Text, true, out var p) && !char.IsAsciiDigit(s.From.Text[0])
                            ? p
                            : throw Names.Fail(
                                line.Number,
                                s.From,
                                $"{NotationTokenizer.Clip(s.From.Text)} is no origin of a sheet.",
                                "traced, maker, sister or memory",
                                Spelling.DidYouMean(s.From.Text, ["traced", "maker", "sister", "memory"])
                            )
                );
            return result;
        }

        private static Quantity Quantity(Placed at, int line, params ReadOnlySpan<Dimension> allowed)
        {
            if (!QuantityText.TryParse(at.Text, out var q))
                throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no value with a known unit.", Or(allowed), null);
            if (allowed.Contains(q.Dimension))
                return q;
            if (q.Dimension == Dimension.None && allowed.Length == 1)
                return q with { Dimension = allowed[0] };
            throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} has the wrong unit here.", Or(allowed), null);
        }

        private static string Or(ReadOnlySpan<Dimension> allowed)
        {
            var names = new List<string>();
            foreach (var d in allowed)
                names.Add(QuantityText.Say(d));
            return string.Join(" or ", names);
        }

        private void AddControl(Line line, Statement.Control s)
        {
            if (_controls.Exists(c => c.Name.Equals(s.Name.Text, StringComparison.OrdinalIgnoreCase)))
                throw Names.Fail(line.Number, s.Name, $"There are two controls {s.Name.Text}.", "a name of its own", null);
            var names = s.Positions.Select(p => p.Position.Text.TrimEnd('*')).ToList();
            if (names.Distinct(StringComparer.OrdinalIgnoreCase).Count() != names.Count)
                throw Names.Fail(line.Number, s.Name, $"{s.Name.Text} has the same position twice.", "positions that differ", null);
            var rest = s.Positions.ToList().FindIndex(p => p.Position.Text.EndsWith('*'));
            _controls.Add(
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

        private void AddPart(Line line, Statement.Part s, double nominal)
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
            if (_parts.ContainsKey(s.Tag.Text))
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
                        part = part with { ReachMinutes = Quantity(reach, n, Dimension.Second).Value / 60, ReachGiven = true };
                        break;
                    case ("good", { } good):
                        part = part with { GoodOhms = Range(good, n) };
                        break;
                    case ("hazard", { } hazard):
                        hazards.Add(hazard.Text);
                        break;
                    case ("odds", { } odds):
                        part = part with { Odds = Positive(odds, n) };
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
                        named[NamedKey(kind, a.Word, n)] = Quantity(value, n, kind.TakesNamed[a.Word.Text]);
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
                Warn(
                    n,
                    s.Tag,
                    $"{part.Tag} has no ohms, watts or amps: taken as 1 A at {nominal:0.#} V.",
                    "write its watts, such as 21W, or its ohms"
                );
            foreach (var v in values.Concat(named.Values))
                if (v.Value <= 0 && v.Dimension is Dimension.Ohm or Dimension.Watt or Dimension.Ampere or Dimension.Volt)
                    throw Names.Fail(n, s.Tag, $"{part.Tag} has a value of zero or less.", "values above zero", null);
            _parts[part.Tag] = part;
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
                    throw Names.Fail(
                        line,
                        words,
                        $"“{word}” is no auxiliary contact.",
                        "13-14 makes, 21-22 breaks",
                        "write aux 13-14,21-22"
                    );
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
                    Or([.. kind.Takes]),
                    null
                );
            if (kind.Takes.Contains(q.Dimension))
                return q;
            throw Names.Fail(
                line,
                word,
                $"A {kind.Word} takes no {QuantityText.Say(q.Dimension)}.",
                kind.Takes.Count == 0 ? "no value" : Or([.. kind.Takes]),
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

        private static double Positive(Placed at, int line) =>
            double.TryParse(at.Text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && v > 0 && double.IsFinite(v)
                ? v
                : throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no number above zero.", "a number such as 3", null);

        private static (double, double) Range(Placed at, int line)
        {
            var dots = at.Text.IndexOf("..", StringComparison.Ordinal);
            if (
                dots > 0
                && QuantityText.TryParse(at.Text[..dots], out var low)
                && QuantityText.TryParse(at.Text[(dots + 2)..], out var high)
                && low.Dimension is Dimension.None or Dimension.Ohm
                && high.Dimension is Dimension.Ohm
                && low.Value <= high.Value
            )
                return (low.Value, high.Value);
            throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no range of ohms.", "low..high with unit", "write 3..4ohm");
        }

        private void AddContacts(Line line, Statement.Part s)
        {
            if (!_parts.TryGetValue(s.Tag.Text, out var part))
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
                _parts[part.Tag] = part = part with { When = _names.Bind(condition, line.Number) };
            }
            if (line.Below.Count == 0)
                return;
            var contacts = new List<ContactLine>();
            var moduleLines = new List<ModuleLine>();
            // Outputs name inputs, so a module first learns its pins.
            if (part.Kind.TakesModuleLines)
            {
                foreach (var (number, statement, _) in line.Below.Where(b => b.Statement is not Statement.Output))
                    Guard(() => moduleLines.Add(BindModuleLine(part, statement, number)));
                _parts[part.Tag] = part = part with { ModuleLines = [.. moduleLines] };
                foreach (var (number, statement, _) in line.Below.Where(b => b.Statement is Statement.Output))
                    Guard(() => moduleLines.Add(BindModuleLine(part, statement, number)));
                _parts[part.Tag] = part with { ModuleLines = moduleLines };
                return;
            }
            foreach (var (number, statement, text) in line.Below)
                Guard(() =>
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
                        throw Names.Fail(
                            number,
                            c.Pair,
                            $"{NotationTokenizer.Clip(c.Pair.Text)} is no pair of terminals.",
                            "A-B",
                            "write 1-2"
                        );
                    var (a, b) = (c.Pair.Text[..dash], c.Pair.Text[(dash + 1)..]);
                    if (a == b)
                        throw Names.Fail(number, c.Pair, "A contact joins two different terminals.", "A-B", null);
                    contacts.Add(new ContactLine(c.Closed, a, b, c.When is null ? null : _names.Bind(c.When, number)));
                });
            _parts[part.Tag] = part with { Contacts = contacts };
        }

        private ModuleLine BindModuleLine(Part part, Statement statement, int line) =>
            statement switch
            {
                Statement.Supply s => new ModuleLine.Supply(
                    [.. s.Pins.Select(p => p.Text)],
                    [.. s.Grounds.Select(g => g.Text)],
                    s.From is { } v ? Quantity(v, line, Dimension.Volt).Value : null
                ),
                Statement.Input i => new ModuleLine.Input(i.Pin.Text, i.Above, Quantity(i.Volts, line, Dimension.Volt).Value),
                Statement.Output o => new ModuleLine.Output(
                    o.Pin.Text,
                    o.Level.Text == "high",
                    o.Ohms is { } r ? Quantity(r, line, Dimension.Ohm).Value : null,
                    o.When is null ? null : _names.Bind(o.When, line, part),
                    o.Share is { } share ? Share(share, line) : null
                ),
                Statement.Bus b => new ModuleLine.Bus(
                    b.High.Text,
                    b.Low.Text,
                    b.Traffic is { } t ? Share(t, line) : Defaults.BusTrafficShare
                ),
                Statement.Sleeps s => new ModuleLine.Sleeps(
                    Quantity(s.After, line, Dimension.Second).Value,
                    Quantity(s.Amps, line, Dimension.Ampere).Value
                ),
                _ => throw new NotationException(
                    new Problem(
                        Severity.Error,
                        line,
                        1,
                        "A module has supply, input, output, bus and sleeps lines.",
                        null,
                        "supply 1 ground 2"
                    )
                ),
            };

        private static double Share(Placed at, int line)
        {
            var percent = Quantity(at, line, Dimension.Percent).Value;
            return percent is >= 0 and <= 100 ? percent / 100 : throw Names.Fail(line, at, "This is a share of time.", "0 to 100 %", null);
        }

        private PathRoute AddPath(Line line, Statement.Path s, List<Bond> bonds)
        {
            var hops = new List<PathHop>();
            var first = Hop(s.First, line.Number, true, false);
            hops.Add(new PathHop(null, first.Enter, first.Leave));
            for (var i = 0; i < s.Rest.Count; i++)
            {
                var (join, metal, wireText, hopSyntax) = s.Rest[i];
                var from = hops[^1].Leave;
                var (enter, leave) = Hop(hopSyntax, line.Number, false, i == s.Rest.Count - 1);
                if (from == enter)
                    throw Names.Fail(line.Number, hopSyntax.Name, $"This joins {from} to itself.", "another point", null);
                if (metal)
                {
                    bonds.Add(new Bond(from, enter));
                    hops.Add(new PathHop(new PathJoin(null), enter, leave));
                    continue;
                }
                var wire = BindWire(line.Number, join, wireText ?? "", from, enter);
                _wires[wire.Id] = wire;
                hops.Add(new PathHop(new PathJoin(wire.Id), enter, leave));
            }
            return new PathRoute(hops);
        }

        private (Terminal Enter, Terminal Leave) Hop(HopSyntax hop, int line, bool first, bool last)
        {
            var (tag, name, pin) = Names.Split(hop.Name.Text);
            var part = _names.Part(hop.Name with { Text = tag }, line);
            if (part.Kind is PinRow)
            {
                if (name.Length > 0 && name[^1] is 'a' or 'b')
                {
                    var half = _names.Terminal(hop.Name, line);
                    return (half, half);
                }
                var a = _names.Terminal(hop.Name, line);
                var b = a with { Name = a.Name[..^1] + "b" };
                var (near, far) = hop.Backwards ? (b, a) : (a, b);
                return first ? (far, far)
                    : last ? (near, near)
                    : (near, far);
            }
            if (pin)
                throw Names.Fail(
                    line,
                    hop.Name,
                    $"{tag} is a {part.Kind.Word}: its terminals are written with a dot.",
                    "a terminal",
                    $"write {tag}.{name}"
                );
            if (hop.Backwards)
                throw Names.Fail(line, hop.Name, "“<” turns a connector pin round; other parts name their terminals.", "TAG.a>b", null);
            if (hop.Leaves is { } way)
            {
                var enter = _names.Terminal(hop.Name, line);
                return (enter, _names.Terminal(way with { Text = $"{tag}.{way.Text}" }, line));
            }
            if (name.Length > 0 || part.Model.IsPoint)
            {
                var t = _names.Terminal(hop.Name, line);
                return (t, t);
            }
            if (part.Model.Through is not { } through)
                throw Names.Fail(
                    line,
                    hop.Name,
                    $"{tag} has more than two terminals: say where the path enters and leaves.",
                    string.Join(", ", part.Model.Terminals.Select(t => $"{tag}.{t}")),
                    $"write {tag}.{part.Model.Terminals[0]}>{part.Model.Terminals[^1]}"
                );
            var (one, two) = (new Terminal(tag, through.First), new Terminal(tag, through.Second));
            return first ? (two, two)
                : last ? (one, one)
                : (one, two);
        }

        /// <summary>IEC 60757 letter codes.</summary>
        private static readonly HashSet<string> Colours =
        [
            "BK",
            "BN",
            "RD",
            "OG",
            "YE",
            "GN",
            "BU",
            "VT",
            "GY",
            "WH",
            "PK",
            "GD",
            "TQ",
            "SR",
            "GNYE",
        ];

        private Wire BindWire(int line, Placed join, string text, Terminal from, Terminal to)
        {
            string? id = null,
                colour = null;
            Quantity? size = null;
            double? length = null,
                celsius = null;
            var column = join.Column + 2;
            foreach (var word in text.Split(' '))
            {
                var at = new Placed(word, column);
                column += word.Length + 1;
                if (word.Length == 0)
                    continue;
                if (WireNumber().IsMatch(word))
                    id = word;
                else if (ManyZeros().Match(word) is { Success: true } zeros)
                    size = new Quantity(1 - int.Parse(zeros.Groups[1].Value, CultureInfo.InvariantCulture), Dimension.WireGauge);
                else if (QuantityText.LooksNumeric(word))
                {
                    var q = Quantity(at, line, Dimension.SquareMillimetre, Dimension.WireGauge, Dimension.Metre, Dimension.Celsius);
                    if (q.Dimension == Dimension.Celsius)
                    {
                        // Beyond these a copper wire has no insulation left, or the law no meaning.
                        if (q.Value is < -90 or > 400)
                            throw Names.Fail(line, at, "A wire is between -90 and 400 °C.", "a temperature such as 90C", null);
                        celsius = q.Value;
                        continue;
                    }
                    if (q.Dimension != Dimension.WireGauge && q.Value <= 0)
                        throw Names.Fail(line, at, "A wire has a size and length above zero.", "a value above zero", null);
                    if (q.Dimension == Dimension.Metre)
                        length = q.Value;
                    else
                        size = q;
                }
                else
                {
                    colour = word;
                    if (!word.Split('/').All(Colours.Contains))
                        Warn(
                            line,
                            at,
                            $"{NotationTokenizer.Clip(word)} is no colour code of IEC 60757.",
                            Spelling.DidYouMean(word, Colours) ?? "RD, BK, WH/RD …"
                        );
                }
            }
            if (id is not null && _wires.ContainsKey(id))
                throw Names.Fail(line, join, $"There are two wires {id}.", "a number of its own", null);
            var name = id ?? $"{from}~{to}";
            for (var i = 2; id is null && (_wires.ContainsKey(name) || _wires.ContainsKey($"{to}~{from}") && i == 2); i++)
                name = $"{from}~{to}#{i}";
            return new Wire(name, id is not null, from, to, colour, size, length, celsius);
        }

        [GeneratedRegex("^w[A-Za-z0-9_.]+$")]
        private static partial Regex WireNumber();

        [GeneratedRegex("^([1-4])/0(?:awg|AWG)$")]
        private static partial Regex ManyZeros();

        private MachineFunction BindFunction(Line line, Statement.Function s)
        {
            var n = line.Number;
            var when = s.When is null ? null : _names.Bind(s.When, n);
            var after = s.After.Count == 0 ? null : SetupGrammar.Bind(_names, AfterWords(s.After), n);
            if (s.Words.Count == 1)
            {
                var part = _names.Part(s.Words[0], n);
                return part.Model.Load is not null || part.Model.Coil is not null
                    ? new MachineFunction(s.Name.Text, new FunctionTest.LoadWorks(part.Tag), when, after)
                    : throw Names.Fail(
                        n,
                        s.Words[0],
                        $"{part.Tag} is a {part.Kind.Word}: nobody notices whether it works.",
                        "a load, starter or contactor",
                        null
                    );
            }
            var op = s.Words.ToList().FindIndex(w => w.Text is ">=" or "<=" or "in" or ">" or "<");
            if (op < 1 || op != s.Words.Count - 2)
                throw Names.Fail(n, s.Words[0], "A measured function is a probe, a comparison and a value.", "V p q >= 13.8V", null);
            var probe = ProbeGrammar.Bind(_names, string.Join(' ', s.Words.Take(op).Select(w => w.Text)), n);
            var dimension = probe.Dimension;
            if (dimension == Dimension.None)
                throw Names.Fail(n, s.Words[0], $"“{probe}” gives no number to compare.", "V, drop, ohm, A or clamp", null);
            var limit = s.Words[^1];
            var (low, high) = s.Words[op].Text switch
            {
                ">=" or ">" => (Quantity(limit, n, dimension).Value, double.PositiveInfinity),
                "<=" or "<" => (double.NegativeInfinity, Quantity(limit, n, dimension).Value),
                _ => Limits(limit, n, dimension),
            };
            return new MachineFunction(s.Name.Text, new FunctionTest.Measured(probe, low, high), when, after);
        }

        /// <summary>Words of an <c>after</c>: a bare time gets its verb back.</summary>
        private static string AfterWords(IReadOnlyList<Placed> words)
        {
            var text = string.Join(' ', words.Select(w => w.Text)).Replace(" = ", "=", StringComparison.Ordinal);
            return QuantityText.LooksNumeric(words[0].Text) ? "after " + text : text;
        }

        private static (double, double) Limits(Placed at, int line, Dimension dimension)
        {
            var dots = at.Text.IndexOf("..", StringComparison.Ordinal);
            if (dots <= 0)
                throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no range.", "low..high", "write 55..65ohm");
            var high = Quantity(at with { Text = at.Text[(dots + 2)..] }, line, dimension);
            var low = Quantity(at with { Text = at.Text[..dots] }, line, dimension);
            return low.Value <= high.Value
                ? (low.Value, high.Value)
                : throw Names.Fail(line, at, "The range runs backwards.", "low..high", null);
        }

        private Interlock BindInterlock(Line line, Statement.Interlock s, List<MachineFunction> functions)
        {
            var stops = functions.Find(f => f.Name.Equals(s.Stops.Text, StringComparison.OrdinalIgnoreCase))
                ?? throw Names.Fail(
                    line.Number,
                    s.Stops,
                    $"There is no function {NotationTokenizer.Clip(s.Stops.Text)}.",
                    "a function of the sheet",
                    Spelling.DidYouMean(s.Stops.Text, functions.Select(f => f.Name))
                );
            return new Interlock(_names.Bind(s.When, line.Number), stops.Name);
        }

        private FaultCode BindCode(Line line, Statement.Code s)
        {
            var about = s
                .About.Select(a =>
                    _names.FindWire(a.Text)?.Id
                    ?? (
                        a.Text.Contains(':', StringComparison.Ordinal)
                            ? _names.Terminal(a, line.Number).ToString()
                            : _names.Part(a, line.Number).Tag
                    )
                )
                .ToList();
            return new FaultCode(s.Number.Text, s.Meaning?.Text, about);
        }
    }
}
