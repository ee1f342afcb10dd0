using Superpower;
using Superpower.Model;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Reads probes: the verb, its operands, and what of the figures is taken. What each verb wants stands with its probe.</summary>
internal static class ProbeGrammar
{
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

    /// <summary>Words that begin a probe.</summary>
    public static IReadOnlyList<string> Verbs { get; } = [.. Probe.Words.Keys];

    /// <summary>Words after the points of a probe: what of the figures is taken.</summary>
    public static IReadOnlyList<string> Statistics { get; } =
    [.. Enum.GetValues<Statistic>().Where(s => s != Statistic.None).Select(s => s.ToString().ToLowerInvariant())];

    /// <summary>Reads a probe inside a sheet statement, from words already cut.</summary>
    public static Probe Bind(Names names, string words, int line) => Bind(names, NotationTokenizer.Cut(words, line), line, words.Length);

    public static Probe Bind(Names names, TokenList<Token> tokens, int line, int length) =>
        Bind(names, Grammar.Run(ProbeWords, tokens, line, length), line);

    private static Probe Bind(Names names, ProbeSyntax s, int line)
    {
        var verb = s.Verb.Text;
        if (!Probe.Words.TryGetValue(verb, out var words))
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
            var plain = Bind(names, s with { Operands = [.. o.Take(o.Count - 1)] }, line);
            return plain.Dimension is Dimension.Volt or Dimension.Ampere
                ? plain with
                {
                    Statistic = Enum.Parse<Statistic>(o[^1].Name.Text, ignoreCase: true),
                }
                : throw Names.Fail(line, o[^1].Name, $"{verb} has no {o[^1].Name.Text}.", "V, drop, A or clamp", null);
        }
        if (s.Quoted is { } quoted && verb != "sees")
            throw Names.Fail(line, quoted, $"{verb} takes no name in quotes.", "a terminal or tag", null);
        return words.Read(verb, new Operands(names, s, line));
    }

    /// <summary>The operands of one probe, bound to the names of a sheet.</summary>
    private sealed class Operands(Names names, ProbeSyntax s, int line) : IOperands
    {
        public int Count => s.Operands.Count;

        public string? Quoted => s.Quoted?.Text;

        public void Want(int least, int most, string expected)
        {
            if (Count < least)
                throw Names.Fail(line, s.Verb, $"{s.Verb.Text} needs {expected}.", expected, null);
            if (Count > most)
                throw Names.Fail(
                    line,
                    s.Operands[most].Name,
                    $"{s.Verb.Text} takes {expected} and nothing more.",
                    expected,
                    "put = before the result"
                );
        }

        public Terminal Point(int i) =>
            s.Operands[i].Leaves is { } way
                ? throw Names.Fail(line, way, "One point is wanted here, not a way through a part.", "a terminal", null)
                : names.Terminal(s.Operands[i].Name, line);

        public Across Across()
        {
            Want(1, 2, "two points, or a two-terminal tag, a pin or a wire");
            if (Count == 1)
                return names.Across(s.Operands[0].Name, s.Operands[0].Leaves, line);
            var (p, q) = (Point(0), Point(1));
            return new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
        }

        public string Tag()
        {
            Want(1, 1, "a tag");
            return names.Part(s.Operands[0].Name, line).Tag;
        }

        public string Unit()
        {
            if (names.FindWire(Text(0)) is { } wire)
                return wire.Id;
            var (tag, _, pin) = Names.Split(Text(0));
            return pin ? $"{tag}:{names.Terminal(s.Operands[0].Name, line).Name.TrimEnd('a', 'b')}" : Tag();
        }

        public string Wire(int i) => names.Wire(s.Operands[i].Name, line).Id;

        public string Text(int i) => s.Operands[i].Name.Text;

        public bool IsPoint(int i) => Names.Split(Text(i)).Name.Length > 0;

        public bool TryQuantity(int i, Dimension dimension, out double value)
        {
            var read = QuantityText.TryParse(Text(i), out var q) && q.Dimension == dimension;
            value = q.Value;
            return read;
        }

        public Exception Wrong(int i, string said, string expected) => Names.Fail(line, s.Operands[i].Name, said, expected, null);
    }
}
