using Superpower.Model;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Reads results: a number, a range, what jumps, over limit, or one of the probe's words.</summary>
internal static class ResultGrammar
{
    /// <summary>The result, and whether it is doubtful: ends in <c>?</c>.</summary>
    public static (ReadingResult Result, bool Doubtful) Bind(Names names, Probe probe, Token<Token>[] tokens, int line, int length)
    {
        if (tokens.Length == 0)
            throw new NotationException(
                new Problem(Severity.Error, line, length + 1, "There is no result after “=”.", "the end of the line", Expects(probe), null)
            );
        var first = Grammar.Place(tokens[0]);
        var text = string.Concat(tokens.Select(t => t.ToStringValue()));
        // 12,4 is written where 12.4 is meant; a thousand is never set off by a comma here.
        if (tokens is [{ Kind: Token.Word }, { Kind: Token.Comma }, { Kind: Token.Word }, ..] && char.IsAsciiDigit(text[0]))
            (text, tokens) = (text.Replace(',', '.'), [tokens[0], .. tokens[3..]]);
        if (tokens.Length > 2)
            throw Names.Fail(line, Grammar.Place(tokens[2]), "There is more than one result.", Expects(probe), null);
        var doubtful = text.EndsWith('?');
        if (doubtful)
            text = text[..^1];
        return (Result(names, probe, first with { Text = text }, line), doubtful);
    }

    private static string Expects(Probe probe) =>
        probe.Answers.Count > 0 ? string.Join(", ", probe.Answers.Select(a => a.Text()))
        : probe.Dimension == Dimension.None ? "nothing"
        : QuantityText.Say(probe.Dimension);

    private static ReadingResult Result(Names names, Probe probe, Placed at, int line)
    {
        if (probe.Answers.Count > 0)
        {
            if (AnswerText.TryParse(at.Text, out var answer) && probe.Answers.Contains(answer))
                return new ReadingResult.Word(answer);
            var words = probe.Answers.Select(a => a.Text()).ToList();
            throw Names.Fail(
                line,
                at,
                $"{NotationTokenizer.Clip(at.Text)} is no answer to “{probe}”.",
                string.Join(", ", words),
                Spelling.DidYouMean(at.Text, words) ?? $"one of {string.Join(", ", words)}"
            );
        }
        var dimension = probe.Dimension;
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
}
