using Superpower;
using Superpower.Model;

namespace Zoltric.Core.Notation;

/// <summary>A word with its place: column counts from 1.</summary>
internal readonly record struct Placed(string Text, int Column);

/// <summary>A condition as written; names are not looked up yet.</summary>
internal abstract record ConditionSyntax
{
    public sealed record Position(Placed Control, Placed At) : ConditionSyntax;

    public sealed record Active(Placed Tag) : ConditionSyntax;

    public sealed record Not(ConditionSyntax Inner) : ConditionSyntax;

    public sealed record And(ConditionSyntax Left, ConditionSyntax Right) : ConditionSyntax;

    public sealed record Or(ConditionSyntax Left, ConditionSyntax Right) : ConditionSyntax;
}

/// <summary>Pieces that sheet statements and reading lines share.</summary>
internal static class Grammar
{
    public static readonly TokenListParser<Token, Placed> AnyWord = Superpower.Parsers.Token.EqualTo(Token.Word).Select(Place);

    public static readonly TokenListParser<Token, Placed> Name = AnyWord.Named("a name");

    public static readonly TokenListParser<Token, Placed> Quoted = Superpower
        .Parsers.Token.EqualTo(Token.Quoted)
        .Select(t => new Placed(t.ToStringValue()[1..^1], t.Position.Column));

    public static readonly TokenListParser<Token, Placed> Value = AnyWord
        .Where(w => QuantityText.LooksNumeric(w.Text))
        .Try()
        .Named("a value");

    public static TokenListParser<Token, Placed> Keyword(string word) =>
        AnyWord.Where(w => w.Text == word, $"“{word}”").Try().Named($"“{word}”");

    public static TokenListParser<Token, Placed> Symbol(Token t) => Superpower.Parsers.Token.EqualTo(t).Select(Place);

    private static readonly string[] Operators = ["and", "or", "not", "when", "after", "stops"];

    private static readonly TokenListParser<Token, ConditionSyntax> Leaf =
        from name in AnyWord.Where(w => !Operators.Contains(w.Text), "a control or tag").Try()
        from at in Symbol(Token.Equal).IgnoreThen(Name.Named("a position")).Maybe()
        select at is { } position ? new ConditionSyntax.Position(name, position) : (ConditionSyntax)new ConditionSyntax.Active(name);

    private static readonly TokenListParser<Token, ConditionSyntax> Factor = Keyword("not")
        .IgnoreThen(Parse.Ref(() => Factor!))
        .Select(c => (ConditionSyntax)new ConditionSyntax.Not(c))
        .Or(
            Parse.Ref(() => Condition!).Between(Superpower.Parsers.Token.EqualTo(Token.Open), Superpower.Parsers.Token.EqualTo(Token.Close))
        )
        .Or(Leaf)
        .Named("a condition");

    private static readonly TokenListParser<Token, ConditionSyntax> Conjunction = Parse.Chain(Keyword("and"), Factor, (_, l, r) =>
        new ConditionSyntax.And(l, r)
    );

    public static readonly TokenListParser<Token, ConditionSyntax> Condition = Parse.Chain(Keyword("or"), Conjunction, (_, l, r) =>
        new ConditionSyntax.Or(l, r)
    );

    /// <summary>The value, or null when it is not there.</summary>
    public static TokenListParser<Token, T?> Maybe<T>(this TokenListParser<Token, T> parser)
        where T : struct => parser.Select(v => (T?)v).OptionalOrDefault();

    public static Placed Place(Token<Token> t) => new(t.ToStringValue(), t.Position.Column);

    /// <summary>Runs a parser over a whole line; what is left over or missing becomes a placed problem.</summary>
    public static T Run<T>(TokenListParser<Token, T> parser, TokenList<Token> tokens, int line, int lineLength)
    {
        var result = parser.AtEnd().TryParse(tokens);
        if (result.HasValue)
            return result.Value;
        var position = result.ErrorPosition;
        string? found = null;
        foreach (var t in tokens)
            if (position.HasValue && t.Position.Absolute == position.Absolute)
            {
                found = t.ToStringValue();
                break;
            }
        var expected = result.Expectations is { Length: > 0 } e ? string.Join(" or ", e.Distinct()) : "nothing more";
        var column = found is null ? lineLength + 1 : position.Column;
        var what = found is null ? "the end of the line" : NotationTokenizer.Clip(found);
        throw new NotationException(new Problem(Severity.Error, line, column, $"Found {what}, expected {expected}.", what, expected));
    }
}
