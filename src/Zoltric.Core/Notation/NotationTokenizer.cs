using Superpower;
using Superpower.Display;
using Superpower.Model;
using Superpower.Parsers;
using Superpower.Tokenizers;

namespace Zoltric.Core.Notation;

public enum Token
{
    [Token(Description = "a word")]
    Word,

    [Token(Description = "a name in quotes")]
    Quoted,

    [Token(Description = "a wire -[…]-")]
    Wire,

    [Token(Example = "-")]
    Dash,

    [Token(Example = "=")]
    Equal,

    [Token(Example = ">=")]
    AtLeast,

    [Token(Example = "<=")]
    AtMost,

    [Token(Example = ">")]
    Greater,

    [Token(Example = "<")]
    Less,

    [Token(Example = ",")]
    Comma,

    [Token(Example = ":")]
    Colon,

    [Token(Example = "(")]
    Open,

    [Token(Example = ")")]
    Close,
}

/// <summary>
/// Cuts one line into tokens. A word runs to white space or punctuation, so <c>G1.-</c>, <c>30-87</c>, <c>X3:4a</c> and <c>WH/RD</c> are
/// words; a dash or colon that stands alone is a token of its own.
/// </summary>
public static class NotationTokenizer
{
    private static bool IsWordEnd(char c) => char.IsWhiteSpace(c) || c is ',' or '"' or '(' or ')' or '=' or '<' or '>';

    /// <summary>A run of word characters; a colon belongs to it only when something follows it directly.</summary>
    private static readonly TextParser<Unit> WordRun = input =>
    {
        var rest = input;
        while (true)
        {
            var next = rest.ConsumeChar();
            if (!next.HasValue || IsWordEnd(next.Value))
                break;
            if (next.Value == ':')
            {
                var after = next.Remainder.ConsumeChar();
                if (!after.HasValue || IsWordEnd(after.Value))
                    break;
            }
            if (next.Value == '-' && rest != input && next.Remainder.ConsumeChar() is { HasValue: true, Value: '[' })
                break;
            rest = next.Remainder;
        }
        return rest == input ? Result.Empty<Unit>(input, ["a word"]) : Result.Value(Unit.Value, input, rest);
    };

    private static readonly TextParser<Unit> LoneDash = input =>
    {
        var dash = input.ConsumeChar();
        if (!dash.HasValue || dash.Value is not ('-' or '–' or '—'))
            return Result.Empty<Unit>(input);
        var after = dash.Remainder.ConsumeChar();
        return after.HasValue && !char.IsWhiteSpace(after.Value)
            ? Result.Empty<Unit>(input)
            : Result.Value(Unit.Value, input, dash.Remainder);
    };

    private static readonly TextParser<Unit> WireRun = Span.EqualTo("-[")
        .IgnoreThen(Character.ExceptIn(']').IgnoreMany())
        .IgnoreThen(Span.EqualTo("]-"))
        .Value(Unit.Value);

    private static readonly TextParser<Unit> QuotedRun = Character
        .EqualTo('"')
        .IgnoreThen(Character.ExceptIn('"').IgnoreMany())
        .IgnoreThen(Character.EqualTo('"'))
        .Value(Unit.Value);

    private static readonly Tokenizer<Token> Tokenizer = new TokenizerBuilder<Token>()
        .Ignore(Span.WhiteSpace)
        .Match(QuotedRun, Token.Quoted)
        .Match(WireRun, Token.Wire)
        .Match(LoneDash, Token.Dash)
        .Match(Span.EqualTo(">="), Token.AtLeast)
        .Match(Span.EqualTo("<="), Token.AtMost)
        .Match(Character.EqualTo('='), Token.Equal)
        .Match(Character.EqualTo('>'), Token.Greater)
        .Match(Character.EqualTo('<'), Token.Less)
        .Match(Character.EqualTo(','), Token.Comma)
        .Match(Character.EqualTo('('), Token.Open)
        .Match(Character.EqualTo(')'), Token.Close)
        .Match(WordRun, Token.Word)
        .Match(Character.EqualTo(':'), Token.Colon)
        .Build();

    /// <summary>Tokens of one line (comment already cut off); a problem where a character fits nothing.</summary>
    internal static TokenList<Token> Cut(string line, int lineNumber)
    {
        var result = Tokenizer.TryTokenize(line);
        if (result.HasValue)
            return result.Value;
        var at = result.ErrorPosition.HasValue ? result.ErrorPosition.Absolute : 0;
        var found = at < line.Length ? Clip(line[at..]) : "the end of the line";
        var quote = at < line.Length && line[at] == '"';
        var wire = at + 1 < line.Length && line[at] == '-' && line[at + 1] == '[';
        throw new NotationException(
            new Problem(
                Severity.Error,
                lineNumber,
                at + 1,
                quote ? "This quotation mark is never closed."
                    : wire ? "This wire is never closed."
                    : $"Cannot read {found}.",
                found,
                quote ? "a closing \""
                    : wire ? "a closing ]-"
                    : "a word",
                quote ? "add the closing \""
                    : wire ? "write -[RD 2.5mm2 1m]-"
                    : null
            )
        );
    }

    /// <summary>Cuts a comment: <c>#</c> first on the line or after white space, outside quotes.</summary>
    internal static string WithoutComment(string line)
    {
        var quoted = false;
        for (var i = 0; i < line.Length; i++)
        {
            if (line[i] == '"')
                quoted = !quoted;
            else if (line[i] == '#' && !quoted && (i == 0 || char.IsWhiteSpace(line[i - 1])))
                return line[..i];
        }
        return line;
    }

    internal static string Clip(string text) => text.Length <= 24 ? $"“{text}”" : $"“{text[..24]}…”";
}
