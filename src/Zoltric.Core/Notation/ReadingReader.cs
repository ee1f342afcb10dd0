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

    /// <summary>Looks, codes, and what was renewed.</summary>
    private static readonly HashSet<string> NeedNoSetup = ["looks", "code", "replaced", "repaired", "fitted"];

    /// <summary>Words that begin a probe.</summary>
    public static IReadOnlyList<string> Verbs => ProbeGrammar.Verbs;

    /// <summary>Words after the points of a probe: what of the figures is taken.</summary>
    public static IReadOnlyList<string> Statistics => ProbeGrammar.Statistics;

    /// <summary>Reads one line. Problems carry line 1 unless <paramref name="lineNumber"/> says otherwise.</summary>
    /// <param name="shown">Setup for lines that name none; null requires the full form.</param>
    public static Parsed<Reading> Read(Circuit circuit, string text, Setup? shown = null, int lineNumber = 1)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        try
        {
            var reading = ReadOrThrow(Names.Of(circuit), text ?? "", shown, lineNumber);
            return new Parsed<Reading>(
                reading with
                {
                    Test = reading.Test with { Probe = OnItsOwnCommon(circuit, reading.Test.Probe) },
                },
                []
            );
        }
        catch (NotationException e)
        {
            return new Parsed<Reading>(null, [e.Problem]);
        }
    }

    /// <summary>
    /// One point alone is read against the reference; in a circuit that has no connection with it nobody puts the black tip there, but on
    /// that circuit's own common.
    /// </summary>
    private static Probe OnItsOwnCommon(Circuit circuit, Probe probe) =>
        probe switch
        {
            Probe.Volts { Q: null, P: var p } volts when Nets.Of(circuit).CommonOf(p) is { } common => volts with { Q = common },
            Probe.Lamp { Q: null, P: var p } lamp when Nets.Of(circuit).CommonOf(p) is { } common => lamp with { Q = common },
            _ => probe,
        };

    /// <summary>Reads a setup on its own, as before the colon.</summary>
    public static Parsed<Setup> ReadSetup(Circuit circuit, string text)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        try
        {
            return new Parsed<Setup>(SetupGrammar.Bind(Names.Of(circuit), NotationTokenizer.Cut(text, 1), 1, text.Length), []);
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
        // What is the same in any setup needs none said.
        if (colon < 0 && tokens[0].Kind == Token.Word && NeedNoSetup.Contains(tokens[0].ToStringValue()))
            shown ??= Setup.Rest;
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
        var setup =
            colon < 0 ? shown! : SetupGrammar.Bind(names, new TokenList<Token>(tokens[..colon]), line, tokens[colon].Position.Absolute);
        var rest = tokens[(colon + 1)..];
        var equal = Array.FindIndex(rest, t => t.Kind == Token.Equal);
        var left = equal < 0 ? rest : rest[..equal];
        var right = equal < 0 ? [] : rest[(equal + 1)..];
        if (colon < 0 && left.Length >= 1 && left[0].Kind == Token.Word && !Verbs.Contains(left[0].ToStringValue()))
            return Short(names, setup, left, right, line, cut.Length);
        var probe = ProbeGrammar.Bind(names, new TokenList<Token>(left), line, cut.Length);
        if (equal < 0)
            return new Reading(new Test(setup, probe), null);
        return WithResult(names, setup, probe, right, line, cut.Length);
    }

    /// <summary><c>K1.86 0.1</c>, <c>K1.86 G1.+ 0.1V</c>: volts in the setup shown.</summary>
    private static Reading Short(Names names, Setup setup, Token<Token>[] left, Token<Token>[] right, int line, int length)
    {
        var result = right;
        // 12,4 is three tokens.
        var figures = left.Length > 3 && left[^2].Kind == Token.Comma ? 3 : 1;
        if (result.Length == 0 && left.Length > figures)
            (left, result) = (left[..^figures], left[^figures..]);
        var words = left.Select(Grammar.Place).ToList();
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

    /// <summary>
    /// Ohms from a terminal of what was pulled to something else were read at its socket: nobody reads from a fuse in the hand to the
    /// frame. With both tips on it they are its own.
    /// </summary>
    private static Probe InSocket(Setup setup, Probe probe)
    {
        var pulled = setup.Interventions.OfType<Intervention.Pull>().Select(p => p.Tag).ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (probe.Tips is not [var p, var q] || p.Tag == q.Tag || !pulled.Overlaps([p.Tag, q.Tag]))
            return probe;
        return probe switch
        {
            Probe.Ohms { X: { P.WireId: null, Q.WireId: null } x } => new Probe.Ohms(Both(x)) { Statistic = probe.Statistic },
            Probe.Beep { X: { P.WireId: null, Q.WireId: null } x } => new Probe.Beep(Both(x)),
            Probe.Insulation i => new Probe.Insulation(Socket(i.P), Socket(i.Q)),
            _ => probe,
        };

        Terminal Socket(Terminal t) => t.Side == TerminalSide.None && pulled.Contains(t.Tag) ? t with { Side = TerminalSide.Loom } : t;

        Across Both(Across x)
        {
            var (a, b) = (x.P with { Terminal = Socket(x.P.Terminal) }, x.Q with { Terminal = Socket(x.Q.Terminal) });
            return new Across($"{a} {b}", a, b);
        }
    }

    /// <summary>By how much ohms go up and down while a sound thing is moved, leads and all; estimate.</summary>
    private const double MovedTimes = 1.3;

    private static Reading WithResult(Names names, Setup setup, Probe probe, Token<Token>[] tokens, int line, int length)
    {
        var (result, doubtful) = ResultGrammar.Bind(names, probe, tokens, line, length);
        probe = InSocket(setup, probe);
        // Ohms seen while something is moved are a watch: they went from the one to the other.
        if (setup.Moved.Count > 0 && result is ReadingResult.Range { Dimension: Dimension.Ohm } r && r.High > MovedTimes * r.Low + 1)
            result = new ReadingResult.Jumps(r.Low, r.High, r.Dimension);
        return new Reading(new Test(setup, probe), result, doubtful);
    }
}
