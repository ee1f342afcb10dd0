using Superpower;
using Superpower.Model;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>
/// Reads reading lines, <c>setup : probe = result</c>, against a circuit. With a setup given as shown, the short forms
/// <c>K1.86 0.1</c> and <c>hears K1 = clicks</c> are read in that setup.
/// </summary>
public static class ReadingReader
{
    private const int LongestLine = 2000;

    private abstract record Item
    {
        public sealed record Word(Placed Verb, IReadOnlyList<Placed> Operands) : Item;

        public sealed record Move(Placed Control, Placed Position) : Item;

        public sealed record Comma : Item;
    }

    private static TokenListParser<Token, Item> Verb(string word, int operands, string what) =>
        Grammar.Keyword(word).Then(v => Grammar.AnyWord.Named(what).Repeat(operands).Select(o => (Item)new Item.Word(v, o)));

    // A control may be called lift or off: what is followed by = is a control.
    private static readonly TokenListParser<Token, Item> Assignment = (
        from control in Grammar.AnyWord
        from eq in Grammar.Symbol(Token.Equal)
        select control
    )
        .Try()
        .Then(control => Grammar.AnyWord.Named("a position").Select(position => (Item)new Item.Move(control, position)));

    private static readonly TokenListParser<Token, Item> SetupItem = Assignment
        .Or(Verb("off", 1, "a source"))
        .Or(Verb("unplug", 1, "a part"))
        .Or(Verb("pull", 1, "a fuse or relay"))
        .Or(Verb("jumper", 2, "a terminal"))
        .Or(Verb("feed", 1, "a terminal"))
        .Or(Verb("lift", 1, "a terminal"))
        .Or(Verb("swap", 2, "a part"))
        .Or(Verb("support", 2, "a battery and its volts"))
        .Or(Verb("press", 1, "a control"))
        .Or(Verb("release", 1, "a control"))
        .Or(Verb("after", 1, "a time"))
        .Or(Grammar.Keyword("move").Then(v => Grammar.Quoted.Named("a place in quotes").Select(q => (Item)new Item.Word(v, new[] { q }))))
        .Or(Grammar.Symbol(Token.Comma).Select(_ => (Item)new Item.Comma()))
        .Or(
            from control in Grammar.AnyWord.Named("a setup word")
            from eq in Grammar.Symbol(Token.Equal)
            from position in Grammar.AnyWord.Named("a position")
            select (Item)new Item.Move(control, position)
        );

    private static readonly TokenListParser<Token, Item[]> SetupItems = SetupItem.Many();

    private sealed record ProbeSyntax(Placed Verb, IReadOnlyList<(Placed Name, Placed? Leaves)> Operands, Placed? Quoted);

    private static readonly TokenListParser<Token, (Placed, Placed?)> Operand =
        from name in Grammar.AnyWord
        from way in Grammar.Symbol(Token.Greater).IgnoreThen(Grammar.AnyWord).Maybe()
        select (name, way);

    private static readonly TokenListParser<Token, ProbeSyntax> ProbeWords =
        from verb in Grammar.AnyWord.Named("a probe such as V, drop, ohm, hears or sees")
        from quoted in Grammar.Quoted.Maybe()
        from operands in Operand.Many()
        select new ProbeSyntax(verb, operands, quoted);

    public static readonly IReadOnlyList<string> Verbs =
    [
        "V",
        "VAC",
        "loz",
        "drop",
        "ohm",
        "beep",
        "A",
        "clamp",
        "lamp",
        "sees",
        "hears",
        "looks",
        "code",
        "insul",
        "replaced",
        "repaired",
        "fitted",
    ];

    /// <summary>Words after the points of a probe: what of the figures is taken.</summary>
    public static readonly IReadOnlyList<string> Statistics = ["min", "max", "peak", "mean", "ripple"];

    /// <summary>Reads one line. Problems carry line 1 unless <paramref name="lineNumber"/> says otherwise.</summary>
    /// <param name="shown">Setup for lines that name none; null requires the full form.</param>
    public static Parsed<Reading> Read(Circuit circuit, string text, Setup? shown = null, int lineNumber = 1)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        try
        {
            return new Parsed<Reading>(ReadOrThrow(Names.Of(circuit), text ?? "", shown, lineNumber), []);
        }
        catch (NotationException e)
        {
            return new Parsed<Reading>(null, [e.Problem]);
        }
    }

    /// <summary>Reads a setup on its own, as before the colon.</summary>
    public static Parsed<Setup> ReadSetup(Circuit circuit, string text)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        try
        {
            return new Parsed<Setup>(Bind(Names.Of(circuit), NotationTokenizer.Cut(text, 1), 1, text.Length), []);
        }
        catch (NotationException e)
        {
            return new Parsed<Setup>(null, [e.Problem]);
        }
    }

    private static Reading ReadOrThrow(Names names, string text, Setup? shown, int line)
    {
        if (text.Length > LongestLine)
            throw new NotationException(
                new Problem(
                    Severity.Error,
                    line,
                    LongestLine,
                    $"This line is longer than {LongestLine} characters.",
                    null,
                    "one reading line",
                    null
                )
            );
        var cut = NotationTokenizer.WithoutComment(text).Replace('\r', ' ').Replace('\n', ' ');
        var tokens = NotationTokenizer.Cut(cut, line).ToArray();
        if (tokens.Length == 0)
            throw new NotationException(
                new Problem(
                    Severity.Error,
                    line,
                    1,
                    "There is no reading here.",
                    "an empty line",
                    "setup : probe = result",
                    "write for example  key=START : V K1.86 = 0.1V"
                )
            );
        var colon = Array.FindIndex(tokens, t => t.Kind == Token.Colon);
        if (colon < 0 && shown is null)
            throw new NotationException(
                new Problem(
                    Severity.Error,
                    line,
                    cut.Length + 1,
                    "There is no “ : ” between setup and probe.",
                    "the end of the line",
                    "“ : ”",
                    "start with  :  for a machine at rest"
                )
            );
        var setup = colon < 0 ? shown! : Bind(names, new TokenList<Token>(tokens[..colon]), line, tokens[colon].Position.Absolute);
        var rest = tokens[(colon + 1)..];
        var equal = Array.FindIndex(rest, t => t.Kind == Token.Equal);
        var left = equal < 0 ? rest : rest[..equal];
        var right = equal < 0 ? [] : rest[(equal + 1)..];
        if (colon < 0 && left.Length >= 1 && left[0].Kind == Token.Word && !Verbs.Contains(left[0].ToStringValue()))
            return Short(names, setup, left, right, line, cut.Length);
        var probe = BindProbe(names, Grammar.Run(ProbeWords, new TokenList<Token>(left), line, cut.Length), line);
        if (equal < 0)
            return new Reading(new Test(setup, probe), null);
        return WithResult(names, setup, probe, right, line, cut.Length);
    }

    /// <summary><c>K1.86 0.1</c>, <c>K1.86 G1.+ 0.1V</c>: volts in the setup shown.</summary>
    private static Reading Short(Names names, Setup setup, Token<Token>[] left, Token<Token>[] right, int line, int length)
    {
        var words = left.Select(Grammar.Place).ToList();
        var result = right;
        if (result.Length == 0 && left.Length >= 2)
        {
            result = left[^1..];
            words.RemoveAt(words.Count - 1);
        }
        if (words.Count is 0 or > 2)
            throw new NotationException(
                new Problem(
                    Severity.Error,
                    line,
                    left[0].Position.Column,
                    "A short reading is a point and its volts.",
                    null,
                    "point value",
                    "write for example  K1.86 0.1"
                )
            );
        // A first word that is no part was more likely meant as a probe word.
        if (
            !names.Parts.ContainsKey(Names.Split(words[0].Text).Tag)
            && Spelling.Nearest(words[0].Text, Verbs) is { } verb
            && words[0].Text.Length > 1
        )
            throw Names.Fail(
                line,
                words[0],
                $"{NotationTokenizer.Clip(words[0].Text)} is neither a point nor a probe.",
                "a point or a probe word",
                $"did you mean {verb}?"
            );
        var p = names.Terminal(words[0], line);
        Terminal? q = words.Count == 2 ? names.Terminal(words[1], line) : null;
        var probe = new Probe.Volts(p, q);
        return result.Length == 0 ? new Reading(new Test(setup, probe), null) : WithResult(names, setup, probe, result, line, length);
    }

    private static Setup Bind(Names names, TokenList<Token> tokens, int line, int length)
    {
        var items = Grammar.Run(SetupItems, tokens, line, length);
        var interventions = new List<Intervention>();
        var steps = new List<IReadOnlyList<ControlMove>>();
        var together = new List<ControlMove>();
        var moved = new List<string>();
        var after = 0.0;

        void EndStep()
        {
            if (together.Count > 0)
                steps.Add(together);
            together = [];
        }

        foreach (var item in items)
            switch (item)
            {
                case Item.Comma:
                    EndStep();
                    break;
                case Item.Move m:
                {
                    var control = names.Control(m.Control, line);
                    together.Add(new ControlMove(control.Name, Names.Position(control, m.Position, line)));
                    break;
                }
                case Item.Word { Verb.Text: "press" } w:
                    together.Add(Press(names, w.Operands[0], line));
                    break;
                case Item.Word { Verb.Text: "release" } w:
                {
                    var control = names.Control(w.Operands[0], line);
                    together.Add(new ControlMove(control.Name, control.Positions[control.Rest]));
                    break;
                }
                case Item.Word { Verb.Text: "move" } w:
                    moved.Add(w.Operands[0].Text);
                    break;
                case Item.Word { Verb.Text: "after" } w:
                    after =
                        QuantityText.TryParse(w.Operands[0].Text, out var t) && t.Dimension == Dimension.Second
                            ? t.Value
                            : throw Names.Fail(
                                line,
                                w.Operands[0],
                                $"{NotationTokenizer.Clip(w.Operands[0].Text)} is no time.",
                                "a time such as 10min",
                                null
                            );
                    break;
                case Item.Word w:
                    interventions.Add(BindIntervention(names, w, line));
                    break;
            }
        EndStep();
        return new Setup(interventions, steps) { AfterSeconds = after, Moved = moved };
    }

    private static ControlMove Press(Names names, Placed name, int line)
    {
        var control = names.Control(name, line);
        var pressed = control.IndexOf("PRESSED");
        return pressed >= 0
            ? new ControlMove(control.Name, control.Positions[pressed])
            : throw Names.Fail(
                line,
                name,
                $"{control.Name} has no position PRESSED.",
                "a push button",
                $"write {control.Name}={control.Positions[^1]}"
            );
    }

    private static Intervention BindIntervention(Names names, Item.Word w, int line)
    {
        Part Tag(int i) => names.Part(w.Operands[i], line);
        Terminal Point(int i) => names.Terminal(w.Operands[i], line);
        switch (w.Verb.Text)
        {
            case "off":
            {
                var part = Tag(0);
                return part.Kind.IsSource
                    ? new Intervention.Off(part.Tag)
                    : throw Names.Fail(
                        line,
                        w.Operands[0],
                        $"{part.Tag} is a {part.Kind.Word}, not a source.",
                        "a battery, supply or mains",
                        Suggestion(names, p => p.Kind.IsSource)
                    );
            }
            case "unplug":
            {
                var part = Tag(0);
                return part.Kind.Unplugs
                    ? new Intervention.Unplug(part.Tag)
                    : throw Names.Fail(
                        line,
                        w.Operands[0],
                        $"A {part.Kind.Word} cannot be unplugged.",
                        "a part with a plug",
                        $"write lift and one of its points"
                    );
            }
            case "pull":
            {
                var part = Tag(0);
                return part.Model.Terminals.Count >= 2 && part.Kind is not Circuits.Kinds.PinRow
                    ? new Intervention.Pull(part.Tag)
                    : throw Names.Fail(line, w.Operands[0], $"{part.Tag} cannot be pulled.", "a fuse, breaker or relay", null);
            }
            case "jumper":
                return new Intervention.Jumper(Point(0), Point(1));
            case "feed":
                return new Intervention.Feed(Point(0));
            case "support":
            {
                var part = Tag(0);
                if (part.Kind is not Circuits.Kinds.Battery)
                    throw Names.Fail(
                        line,
                        w.Operands[0],
                        $"{part.Tag} is a {part.Kind.Word}: a charger is put on a battery.",
                        "a battery",
                        Suggestion(names, p => p.Kind is Circuits.Kinds.Battery)
                    );
                return QuantityText.TryParse(w.Operands[1].Text, out var v) && v.Dimension == Dimension.Volt && v.Value > 0
                    ? new Intervention.Support(part.Tag, v.Value)
                    : throw Names.Fail(
                        line,
                        w.Operands[1],
                        $"{NotationTokenizer.Clip(w.Operands[1].Text)} is no voltage.",
                        "volts",
                        "write 13.2V"
                    );
            }
            case "lift":
                return new Intervention.Lift(Point(0));
            default:
            {
                var (a, b) = (Tag(0), Tag(1));
                return a.Kind == b.Kind
                    ? new Intervention.Swap(a.Tag, b.Tag)
                    : throw Names.Fail(
                        line,
                        w.Operands[1],
                        $"{a.Tag} is a {a.Kind.Word} and {b.Tag} a {b.Kind.Word}: they cannot be swapped.",
                        $"another {a.Kind.Word}",
                        null
                    );
            }
        }
    }

    private static string? Suggestion(Names names, Func<Part, bool> fits) =>
        names.Parts.Values.FirstOrDefault(fits) is { } p ? $"did you mean {p.Tag}?" : null;

    private static Probe BindProbe(Names names, ProbeSyntax s, int line)
    {
        var verb = s.Verb.Text;
        if (!Verbs.Contains(verb))
            throw Names.Fail(
                line,
                s.Verb,
                $"{NotationTokenizer.Clip(verb)} is no probe.",
                string.Join(", ", Verbs),
                Spelling.DidYouMean(verb, Verbs)
            );
        var o = s.Operands;
        if (o.Count > 1 && o[^1].Leaves is null && Statistics.Contains(o[^1].Name.Text))
        {
            var plain = BindProbe(names, s with { Operands = [.. o.Take(o.Count - 1)] }, line);
            return plain is Probe.Volts or Probe.Drop or Probe.Amps or Probe.Clamp
                ? plain with
                {
                    Statistic = Enum.Parse<Statistic>(o[^1].Name.Text, ignoreCase: true),
                }
                : throw Names.Fail(line, o[^1].Name, $"{verb} has no {o[^1].Name.Text}.", "V, drop, A or clamp", null);
        }
        if (s.Quoted is { } quoted && verb != "sees")
            throw Names.Fail(line, quoted, $"{verb} takes no name in quotes.", "a terminal or tag", null);

        void Count(int least, int most, string expected)
        {
            if (o.Count < least)
                throw Names.Fail(line, s.Verb, $"{verb} needs {expected}.", expected, null);
            if (o.Count > most)
                throw Names.Fail(line, o[most].Name, $"{verb} takes {expected} and nothing more.", expected, "put = before the result");
        }

        Terminal Point(int i) =>
            o[i].Leaves is { } way
                ? throw Names.Fail(line, way, "One point is wanted here, not a way through a part.", "a terminal", null)
                : names.Terminal(o[i].Name, line);

        Across X()
        {
            Count(1, 2, "two points, or a two-terminal tag, a pin or a wire");
            if (o.Count == 1)
                return names.Across(o[0].Name, o[0].Leaves, line);
            var (p, q) = (Point(0), Point(1));
            return new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
        }

        string Tag()
        {
            Count(1, 1, "a tag");
            return names.Part(o[0].Name, line).Tag;
        }

        // What is mended may be a wire or one pin.
        string Unit()
        {
            if (names.FindWire(o[0].Name.Text) is { } wire)
                return wire.Id;
            var (tag, _, pin) = Names.Split(o[0].Name.Text);
            if (!pin)
                return Tag();
            var t = names.Terminal(o[0].Name, line);
            return $"{tag}:{t.Name.TrimEnd('a', 'b')}";
        }

        switch (verb)
        {
            case "V" or "VAC" or "loz":
                Count(1, 2, "one point or two");
                return new Probe.Volts(
                    Point(0),
                    o.Count == 2 ? Point(1) : null,
                    verb == "VAC" ? VoltsFunction.Ac
                        : verb == "loz" ? VoltsFunction.LowImpedance
                        : VoltsFunction.Dc
                );
            case "drop":
                return new Probe.Drop(X());
            case "ohm":
                return new Probe.Ohms(X());
            case "beep":
                return new Probe.Beep(X());
            case "insul":
                Count(2, 2, "two points");
                return new Probe.Insulation(Point(0), Point(1));
            case "A":
                Count(1, 1, "a pulled part, a source or a lifted terminal");
                return Names.Split(o[0].Name.Text).Name.Length > 0 ? new Probe.Amps(Point(0).Tag, Point(0).Bare) : new Probe.Amps(Tag());
            case "clamp":
                Count(1, 1, "a wire");
                return new Probe.Clamp(names.Wire(o[0].Name, line).Id);
            case "lamp":
            {
                Count(1, 3, "one point or two");
                double? watts = null;
                var points = o.Count;
                if (QuantityText.TryParse(o[^1].Name.Text, out var w) && w.Dimension == Dimension.Watt)
                    (watts, points) = (w.Value, o.Count - 1);
                if (points is 0 or > 2)
                    throw Names.Fail(line, o[^1].Name, "lamp takes one point or two, and its watts.", "a point", null);
                return new Probe.Lamp(Point(0), points == 2 ? Point(1) : null, watts);
            }
            case "sees":
                if (s.Quoted is { } name)
                {
                    Count(0, 0, "a function in quotes");
                    return new Probe.Sees(name.Text, true);
                }
                return new Probe.Sees(Tag(), false);
            case "hears":
                return new Probe.Hears(Tag());
            case "looks":
                return new Probe.Looks(Tag());
            case "replaced":
                return new Probe.Replaced(Tag());
            case "fitted":
                return new Probe.Replaced(Tag(), Renewal.Fitted);
            case "repaired":
                Count(1, 1, "a part, pin or wire");
                return new Probe.Replaced(Unit(), Renewal.Repaired);
            default:
                Count(1, 1, "a code");
                return new Probe.Code(o[0].Name.Text);
        }
    }

    private static Reading WithResult(Names names, Setup setup, Probe probe, Token<Token>[] tokens, int line, int length)
    {
        if (tokens.Length == 0)
            throw new NotationException(
                new Problem(Severity.Error, line, length + 1, "There is no result after “=”.", "the end of the line", Expects(probe), null)
            );
        var first = Grammar.Place(tokens[0]);
        var text = string.Concat(tokens.Select(t => t.ToStringValue()));
        if (tokens.Length > 2)
            throw Names.Fail(line, Grammar.Place(tokens[2]), "There is more than one result.", Expects(probe), null);
        var doubtful = text.EndsWith('?');
        if (doubtful)
            text = text[..^1];
        return new Reading(new Test(setup, probe), Result(names, probe, first with { Text = text }, line), doubtful);
    }

    /// <summary>Words each probe can answer with; empty for those that answer with numbers.</summary>
    public static IReadOnlyList<string> AnswerWords(Probe probe) =>
        probe switch
        {
            Probe.Sees => ["works", "weak", "dead", "stuck-on", "flickers"],
            Probe.Hears => ["clicks", "silent", "chatters"],
            Probe.Beep => ["beep", "silent"],
            Probe.Lamp => ["bright", "dim", "off"],
            Probe.Looks => ["good", "bad", "unsure"],
            Probe.Code => ["active", "stored", "absent"],
            _ => [],
        };

    /// <summary>Dimension of the number a probe answers with; None for those that answer with words.</summary>
    public static Dimension AnswerDimension(Probe probe) =>
        probe switch
        {
            Probe.Volts or Probe.Drop => Dimension.Volt,
            Probe.Ohms or Probe.Insulation => Dimension.Ohm,
            Probe.Amps or Probe.Clamp => Dimension.Ampere,
            _ => Dimension.None,
        };

    private static string Expects(Probe probe) =>
        AnswerWords(probe) is { Count: > 0 } words ? string.Join(", ", words)
        : AnswerDimension(probe) == Dimension.None ? "nothing"
        : QuantityText.Say(AnswerDimension(probe));

    private static ReadingResult Result(Names names, Probe probe, Placed at, int line)
    {
        var words = AnswerWords(probe);
        if (words.Count > 0)
        {
            if (words.Contains(at.Text))
                return new ReadingResult.Word(at.Text);
            throw Names.Fail(
                line,
                at,
                $"{NotationTokenizer.Clip(at.Text)} is no answer to “{probe}”.",
                string.Join(", ", words),
                Spelling.DidYouMean(at.Text, words) ?? $"one of {string.Join(", ", words)}"
            );
        }
        var dimension = AnswerDimension(probe);
        if (dimension == Dimension.None)
            throw Names.Fail(line, at, $"“{probe}” takes no result.", "nothing", null);
        if (at.Text.Equals("OL", StringComparison.OrdinalIgnoreCase))
            return dimension == Dimension.Ohm
                ? new ReadingResult.OverLimit()
                : throw Names.Fail(line, at, "OL is an ohms reading; volts and amps are numbers.", QuantityText.Say(dimension), null);
        if (at.Text == "flickers")
            return new ReadingResult.Jumps(double.NaN, double.NaN, dimension);
        var dots = at.Text.IndexOf("..", StringComparison.Ordinal);
        if (dots > 0 && at.Text[(dots + 2)..].Equals("OL", StringComparison.OrdinalIgnoreCase))
        {
            if (dimension != Dimension.Ohm)
                throw Names.Fail(line, at, "OL is an ohms reading; volts and amps are numbers.", QuantityText.Say(dimension), null);
            if (!QuantityText.TryParse(at.Text[..dots], out var least))
                throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no range.", "low..OL", "write 4ohm..OL");
            Check(least, at, dimension, probe, line);
            return new ReadingResult.Jumps(least.Value, double.PositiveInfinity, dimension);
        }
        if (dots > 0 && QuantityText.TryParse(at.Text[(dots + 2)..], out var high))
        {
            var lowText = at.Text[..dots];
            if (QuantityText.TryParse(lowText, out var low))
            {
                // 12.1..12.6V: the unit stands once and holds for both.
                var scaled =
                    low.Dimension == Dimension.None
                    && high.Dimension != Dimension.None
                    && QuantityText.TryParse(
                        "1" + at.Text[(dots + 2)..].TrimStart('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '-'),
                        out var unit
                    )
                        ? low.Value * unit.Value
                        : low.Value;
                Check(high, at, dimension, probe, line);
                if (scaled > high.Value)
                    throw Names.Fail(line, at, "The range runs backwards.", "low..high", null);
                var nominal = names.Parts.Values.First().NominalVolts;
                return ReadingResult.IsJump(scaled, high.Value, dimension, nominal)
                    ? new ReadingResult.Jumps(scaled, high.Value, dimension)
                    : new ReadingResult.Range(scaled, high.Value, dimension);
            }
        }
        if (!QuantityText.TryParse(at.Text, out var value))
            throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no value.", QuantityText.Say(dimension), null);
        Check(value, at, dimension, probe, line);
        return new ReadingResult.Number(value.Value, dimension);
    }

    private static void Check(Quantity value, Placed at, Dimension dimension, Probe probe, int line)
    {
        if (value.Dimension != dimension && value.Dimension != Dimension.None)
            throw Names.Fail(
                line,
                at,
                $"“{probe}” reads in {QuantityText.Say(dimension)}, not in {QuantityText.Say(value.Dimension)}.",
                QuantityText.Say(dimension),
                null
            );
    }

    /// <summary>Reads a setup inside a sheet statement, from words already cut.</summary>
    internal static Setup BindWords(Names names, string words, int line) =>
        Bind(names, NotationTokenizer.Cut(words, line), line, words.Length);

    /// <summary>Reads a probe inside a sheet statement, from words already cut.</summary>
    internal static Probe BindProbe(Names names, string words, int line) =>
        BindProbe(names, Grammar.Run(ProbeWords, NotationTokenizer.Cut(words, line), line, words.Length), line);
}
