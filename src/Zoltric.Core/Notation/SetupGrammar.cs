using Superpower;
using Superpower.Model;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Reads setups: what is done to the machine, the controls in steps, the wait, the places moved.</summary>
internal static class SetupGrammar
{
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

    /// <summary>Reads a setup inside a sheet statement, from words already cut.</summary>
    public static Setup Bind(Names names, string words, int line) => Bind(names, NotationTokenizer.Cut(words, line), line, words.Length);

    public static Setup Bind(Names names, TokenList<Token> tokens, int line, int length)
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
}
