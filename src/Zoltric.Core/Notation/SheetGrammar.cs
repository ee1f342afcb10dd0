using Superpower;

namespace Zoltric.Core.Notation;

/// <summary>Statements of a sheet as written, before any name is looked up. The grammar reads as docs/notation.md does.</summary>
internal abstract record Statement
{
    public sealed record Sheet(Placed Title) : Statement;

    public sealed record Machine(Placed Name, Placed? Family) : Statement;

    public sealed record Nominal(Placed Volts, Placed? System) : Statement;

    public sealed record Drawn(Placed From) : Statement;

    public sealed record Reference(Placed Point) : Statement;

    public sealed record Frame(Placed Point) : Statement;

    public sealed record Control(Placed Name, bool Given, IReadOnlyList<(Placed Position, bool Held)> Positions) : Statement;

    public sealed record Part(
        Placed Tag,
        Placed Kind,
        IReadOnlyList<AttributeSyntax> Attributes,
        IReadOnlyList<AttributeSyntax> Late,
        ConditionSyntax? When
    ) : Statement;

    public sealed record Contact(bool Closed, Placed Pair, ConditionSyntax? When) : Statement;

    public sealed record Supply(IReadOnlyList<Placed> Pins, IReadOnlyList<Placed> Grounds, Placed? From) : Statement;

    public sealed record Input(Placed Pin, Placed Level, bool Above, Placed Volts, Placed? Ohms, bool PullUp) : Statement;

    public sealed record Output(Placed Pin, Placed Level, Placed? Share, Placed? Ohms, Placed? Leak, ConditionSyntax? When) : Statement;

    /// <param name="Low">Null for a bus of one wire.</param>
    public sealed record Bus(Placed High, Placed? Low, Placed? Traffic, Placed? PullUp) : Statement;

    public sealed record Sleeps(Placed After, Placed Amps) : Statement;

    public sealed record Path(HopSyntax First, IReadOnlyList<(Placed Join, bool Metal, string? Wire, HopSyntax Hop)> Rest) : Statement;

    public sealed record Function(Placed Name, IReadOnlyList<Placed> Words, ConditionSyntax? When, IReadOnlyList<Placed> After) : Statement;

    public sealed record Interlock(ConditionSyntax When, Placed Stops) : Statement;

    public sealed record Code(Placed Number, Placed? Meaning, IReadOnlyList<Placed> About) : Statement;
}

/// <summary>One attribute of a part: a value, a named value, a bare word, a label, a place.</summary>
internal sealed record AttributeSyntax(Placed Word, Placed? Value = null, bool Label = false);

/// <summary>One hop of a path: <c>S1</c>, <c>K1.30>87</c>, <c>X3:4&lt;</c>.</summary>
internal sealed record HopSyntax(Placed Name, Placed? Leaves, bool Backwards);

internal static class SheetGrammar
{
    private static readonly TokenListParser<Token, Statement> Sheet = Grammar
        .Quoted.Named("a title in quotes")
        .Select(t => (Statement)new Statement.Sheet(t));

    private static readonly TokenListParser<Token, Statement> Machine =
        from name in Grammar.Quoted.Named("a machine in quotes")
        from family in Grammar.Keyword("family").IgnoreThen(Grammar.Name).Or(Grammar.Name).Maybe()
        select (Statement)new Statement.Machine(name, family);

    private static readonly TokenListParser<Token, Statement> Nominal =
        from volts in Grammar.Value.Named("nominal volts")
        from unit in Grammar.Keyword("V").Maybe()
        from system in Grammar.AnyWord.Named("dc or ac").Maybe()
        select (Statement)new Statement.Nominal(unit is null ? volts : volts with { Text = volts.Text + "V" }, system);

    private static readonly TokenListParser<Token, Statement> Drawn = Grammar
        .Keyword("from")
        .IgnoreThen(Grammar.Name)
        .Select(n => (Statement)new Statement.Drawn(n));

    private static readonly TokenListParser<Token, Statement> Frame = Grammar
        .Name.Named("a stud or a terminal")
        .Select(n => (Statement)new Statement.Frame(n));

    private static readonly TokenListParser<Token, Statement> Reference = Grammar
        .Name.Named("a terminal")
        .Select(n => (Statement)new Statement.Reference(n));

    private static readonly TokenListParser<Token, (Placed, bool)> Position =
        from name in Grammar.AnyWord.Named("a position")
        from held in Grammar.Keyword("held").Maybe()
        select (name, held is not null);

    private static TokenListParser<Token, Statement> Control(bool given) =>
        from name in ControlName
        from positions in Position.ManyDelimitedBy(Grammar.Symbol(Token.Comma))
        where positions.Length > 0
        select (Statement)new Statement.Control(name, given, positions);

    // "key:" is one word when the colon touches the name and the tokenizer cut it off, so the colon is a token of its own.
    private static readonly TokenListParser<Token, Placed> ControlName =
        from name in Grammar.Name
        from colon in Grammar.Symbol(Token.Colon)
        select name;

    private static readonly TokenListParser<Token, AttributeSyntax> Attribute = Grammar
        .Quoted.Select(q => new AttributeSyntax(q, Label: true))
        .Or(Grammar.Keyword("at").Then(w => Grammar.Quoted.Named("a place in quotes").Select(q => new AttributeSyntax(w, q))))
        .Or(Keyed("reach"))
        .Or(Keyed("good"))
        .Or(Keyed("hazard"))
        .Or(Keyed("odds"))
        .Or(Keyed("on-delay"))
        .Or(Keyed("off-delay"))
        .Or(Keyed("field"))
        .Or(Keyed("sides"))
        .Or(
            Grammar
                .Keyword("aux")
                .Then(w =>
                    Grammar
                        .Name.Named("a pair of terminals such as 13-14")
                        .ManyDelimitedBy(Grammar.Symbol(Token.Comma))
                        .Where(p => p.Length > 0, "pairs such as 13-14,21-22")
                        .Select(p => new AttributeSyntax(w, p[0] with { Text = string.Join(',', p.Select(x => x.Text)) }))
                )
        )
        .Or(
            (
                from word in Grammar.AnyWord.Where(w => w.Text != "when", "an attribute").Try()
                from value in Grammar.Symbol(Token.Equal).IgnoreThen(Grammar.AnyWord.Named("a value")).Maybe()
                select new AttributeSyntax(word, value)
            ).Named("an attribute")
        );

    private static TokenListParser<Token, AttributeSyntax> Keyed(string word) =>
        Grammar.Keyword(word).Then(w => Grammar.AnyWord.Named($"a value for {word}").Select(v => new AttributeSyntax(w, v)));

    private static readonly TokenListParser<Token, Statement> Part =
        from tag in Grammar.Name.Named("a tag")
        from kind in Grammar.AnyWord.Named("a kind")
        from attributes in Attribute.Many()
        from condition in Grammar.Keyword("when").IgnoreThen(Grammar.Condition).AsNullable().OptionalOrDefault()
        from late in Attribute.Many()
        select (Statement)new Statement.Part(tag, kind, attributes, late, condition);

    private static TokenListParser<Token, Statement> Contact(bool closed) =>
        from pair in Grammar.Name.Named("a pair of terminals such as 1-2")
        from condition in Grammar.Keyword("when").IgnoreThen(Grammar.Condition).AsNullable().OptionalOrDefault()
        select (Statement)new Statement.Contact(closed, pair, condition);

    /// <summary>A value by its name, <c>traffic=5%</c>, or nothing.</summary>
    private static TokenListParser<Token, Placed?> Named(string name) =>
        Grammar.Keyword(name).IgnoreThen(Grammar.Symbol(Token.Equal)).IgnoreThen(Grammar.Value).Maybe();

    private static readonly TokenListParser<Token, Statement> Supply =
        from pins in Grammar.Name.Named("a pin").ManyDelimitedBy(Grammar.Symbol(Token.Comma))
        from word in Grammar.Keyword("ground")
        from grounds in Grammar.Name.Named("the ground pin").ManyDelimitedBy(Grammar.Symbol(Token.Comma))
        from volts in Grammar.Keyword("from").IgnoreThen(Grammar.Symbol(Token.Equal)).IgnoreThen(Grammar.Value).Maybe()
        where pins.Length > 0 && grounds.Length > 0
        select (Statement)new Statement.Supply(pins, grounds, volts);

    private static readonly TokenListParser<Token, Statement> Input =
        from pin in Grammar.Name.Named("a pin")
        from level in Grammar.Keyword("high").Or(Grammar.Keyword("low"))
        from sign in Grammar.Symbol(Token.Greater).Or(Grammar.Symbol(Token.Less)).Named("“>” or “<”")
        from volts in Grammar.Value.Named("volts")
        from ohms in Grammar.Value.Maybe()
        from up in Grammar.Keyword("pullup").Maybe()
        select (Statement)new Statement.Input(pin, level, sign.Text == ">", volts, ohms, up is not null);

    private static readonly TokenListParser<Token, Statement> Output =
        from pin in Grammar.Name.Named("a pin")
        from level in Grammar.Keyword("high").Or(Grammar.Keyword("low"))
        from share in Grammar.Keyword("pulsed").IgnoreThen(Grammar.Value.Named("a share of time such as 5%")).Maybe()
        from ohms in Grammar.Value.Maybe()
        from leak in Named("leak")
        from condition in Grammar.Keyword("when").IgnoreThen(Grammar.Condition).AsNullable().OptionalOrDefault()
        select (Statement)new Statement.Output(pin, level, share, ohms, leak, condition);

    private static readonly TokenListParser<Token, Statement> Bus =
        from high in Grammar.Name.Named("the pin of the high wire")
        from low in Grammar.Symbol(Token.Comma).IgnoreThen(Grammar.Name.Named("the pin of the low wire")).Maybe()
        from traffic in Named("traffic")
        from up in Named("pullup")
        select (Statement)new Statement.Bus(high, low, traffic, up);

    private static readonly TokenListParser<Token, Statement> Sleeps =
        from word in Grammar.Keyword("after")
        from after in Grammar.Value.Named("a time")
        from at in Grammar.Keyword("at")
        from amps in Grammar.Value.Named("amps")
        select (Statement)new Statement.Sleeps(after, amps);

    private static readonly TokenListParser<Token, HopSyntax> Hop =
        from name in Grammar.AnyWord.Named("a tag, terminal or pin")
        from way in Grammar.Symbol(Token.Greater).IgnoreThen(Grammar.AnyWord.Named("the terminal it leaves at")).Maybe()
        from back in Grammar.Symbol(Token.Less).Maybe()
        select new HopSyntax(name, way, back is not null);

    private static readonly TokenListParser<Token, (Placed, bool, string?, HopSyntax)> Step =
        from link in Grammar
            .Symbol(Token.Wire)
            .Or(Grammar.Symbol(Token.Dash))
            .Or(Grammar.Symbol(Token.Equal))
            .Named("“ - ”, “-[wire]-” or “ = ”")
        from hop in Hop
        select (link, link.Text == "=", link.Text.StartsWith("-[", StringComparison.Ordinal) ? link.Text[2..^2] : null, hop);

    private static readonly TokenListParser<Token, Statement> Path =
        from first in Hop
        from rest in Step.AtLeastOnce()
        select (Statement)new Statement.Path(first, rest);

    private static readonly TokenListParser<Token, Placed> FunctionWord = Grammar
        .AnyWord.Where(w => w.Text is not ("when" or "after"), "a test")
        .Try()
        .Or(Grammar.Symbol(Token.AtLeast))
        .Or(Grammar.Symbol(Token.AtMost))
        .Or(Grammar.Symbol(Token.Greater))
        .Or(Grammar.Symbol(Token.Less));

    private static readonly TokenListParser<Token, Placed> AfterWord = Grammar
        .AnyWord.Where(w => w.Text != "when", "a setup word")
        .Try()
        .Or(Grammar.Symbol(Token.Comma))
        .Or(Grammar.Symbol(Token.Equal));

    private static readonly TokenListParser<Token, Statement> Function =
        from name in Grammar.Quoted.Named("a name in quotes")
        from colon in Grammar.Symbol(Token.Colon)
        from words in FunctionWord.AtLeastOnce()
        from after in Grammar.Keyword("after").IgnoreThen(AfterWord.AtLeastOnce()).OptionalOrDefault([])
        from condition in Grammar.Keyword("when").IgnoreThen(Grammar.Condition).AsNullable().OptionalOrDefault()
        from late in Grammar.Keyword("after").IgnoreThen(AfterWord.AtLeastOnce()).OptionalOrDefault([])
        select (Statement)new Statement.Function(name, words, condition, after.Length > 0 ? after : late);

    private static readonly TokenListParser<Token, Statement> Interlock =
        from condition in Grammar.Condition
        from stops in Grammar.Keyword("stops").IgnoreThen(Grammar.Quoted.Named("a function in quotes"))
        select (Statement)new Statement.Interlock(condition, stops);

    private static readonly TokenListParser<Token, Statement> Code =
        from number in Grammar.AnyWord.Named("a code")
        from meaning in Grammar.Quoted.Maybe()
        from about in Grammar.Keyword("about").IgnoreThen(Grammar.Name.ManyDelimitedBy(Grammar.Symbol(Token.Comma))).OptionalOrDefault([])
        select (Statement)new Statement.Code(number, meaning, about);

    public static readonly IReadOnlyDictionary<string, TokenListParser<Token, Statement>> TopLevel = new Dictionary<
        string,
        TokenListParser<Token, Statement>
    >
    {
        ["sheet"] = Sheet,
        ["machine"] = Machine,
        ["nominal"] = Nominal,
        ["drawn"] = Drawn,
        ["reference"] = Reference,
        ["frame"] = Frame,
        ["control"] = Control(false),
        ["given"] = Control(true),
        ["part"] = Part,
        ["path"] = Path,
        ["function"] = Function,
        ["interlock"] = Interlock,
        ["code"] = Code,
    };

    public static readonly IReadOnlyDictionary<string, TokenListParser<Token, Statement>> Indented = new Dictionary<
        string,
        TokenListParser<Token, Statement>
    >
    {
        ["closed"] = Contact(true),
        ["open"] = Contact(false),
        ["supply"] = Supply,
        ["input"] = Input,
        ["output"] = Output,
        ["bus"] = Bus,
        ["sleeps"] = Sleeps,
    };
}
