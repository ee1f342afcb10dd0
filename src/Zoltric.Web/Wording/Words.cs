using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Store;

namespace Zoltric.Web.Wording;

/// <summary>Words and figures as the screens say them.</summary>
public static class Words
{
    public static string For(Judgement j) =>
        j switch
        {
            Judgement.Low => "low",
            Judgement.Ok => "ok",
            Judgement.High => "high",
            _ => "unsure",
        };

    /// <summary>A sign that says the judgement by shape.</summary>
    public static string Sign(string? judgement) =>
        judgement switch
        {
            "ok" => "✓",
            "low" => "▼",
            "high" => "▲",
            _ => "?",
        };

    public static string Percent(double share) =>
        share >= 0.995 ? "> 99 %"
        : share < 0.01 ? "< 1 %"
        : (share * 100).ToString("0", CultureInfo.InvariantCulture) + " %";

    public static string Minutes(double m) => m < 1 ? "under 1 min" : m.ToString("0", CultureInfo.InvariantCulture) + " min";

    /// <summary>"then wait 15 min".</summary>
    public static string Wait(double seconds) =>
        seconds < 60 ? $"then wait {seconds:0.#} s" : string.Create(CultureInfo.InvariantCulture, $"then wait {seconds / 60:0.#} min");

    /// <summary>What a way of working would likely take from here, against the one in use.</summary>
    public static string Forecast(Findings f, Strategy used, string word)
    {
        if (f.Solved || f.Forecast is not { } minutes || !Strategies.TryParse(word, out var strategy))
            return "";
        var more = minutes[strategy] - minutes[used];
        return strategy == used ? $": about {minutes[used]:0} min"
            : Math.Abs(more) < 0.5 ? ": about as long"
            : more > 0 ? $": about {more:0} min more"
            : $": about {-more:0} min less";
    }

    public static string Band(double low, double high, Dimension d)
    {
        // As a clamp shows it, and with a sign that no dash runs into.
        if (d == Dimension.Ampere && Math.Abs(high) < 10)
            return low <= 0 && high > 0
                ? FormattableString.Invariant($"under {high:0.00} A")
                : FormattableString.Invariant($"{low:0.00} to {high:0.00} A");
        if (d == Dimension.Volt && high < 0.1)
            return $"under {Said(Math.Max(high, 0.05), d)}";
        if (d == Dimension.Volt && low < 0.05)
            return $"under {high.ToString("0.0", CultureInfo.InvariantCulture)} V";
        var format =
            d == Dimension.Ohm && high < 10 ? "0.0"
            : Math.Abs(high) < 100 ? "0.0"
            : "0";
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{low.ToString(format, CultureInfo.InvariantCulture)}–{high.ToString(format, CultureInfo.InvariantCulture)} {Units.Sign(d)}"
        );
    }

    /// <summary>A finding as it is kept and printed.</summary>
    public static string Finding(FaultGroup g) =>
        g.Together.Count > 0
            ? $"{g.Unit}: all {g.Together.Count + 1} aged{(g.Ohms is { } o ? $", about {Said(o.Best, Dimension.Ohm)} each" : "")}"
            : string.Join(" or ", g.Words);

    public static string Group(Circuit circuit, FaultGroup g)
    {
        var fault = g.Faults[0];
        var part = circuit.FindPart(fault.Target);
        var name = part?.Spoken
            ?? (
                circuit.FindWire(fault.Target) is { } w ? $"wire {w.Id}{(w.Colour is null ? "" : " " + w.Colour)}"
                : fault.Target.Contains(':', StringComparison.Ordinal) ? $"pin {fault.Target}"
                : fault.Target
            );
        if (g.Together.Count > 0)
            return $"{g.Unit}: all {g.Together.Count + 1} aged, "
                + $"{(g.Ohms is { } o ? $"about {Said(o.Best, Dimension.Ohm)} each" : "a little each")}";
        return $"{name}: {Mode(g)}{string.Concat(g.Also.Select(a => $", and {a}"))}";
    }

    /// <summary>How it failed; open and added resistance are said together while both are possible.</summary>
    private static string Mode(FaultGroup g)
    {
        if (g.Ohms is { } o)
            return $"{g.Faults[0].Words}, about {Said(o.Best, Dimension.Ohm)} ({Said(o.Low, Dimension.Ohm)} to "
                + $"{Said(o.High, Dimension.Ohm)})";
        var words = g.Faults.Select(f => f.Words).Distinct().ToList();
        return string.Join(" or ", words.Take(2));
    }

    /// <summary>A finding for someone who reads no fault words: what it is called, and how it failed.</summary>
    public static string Plain(Circuit circuit, string finding)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(finding);
        var words = finding.Split(" or ")[0].Split(' ', 2);
        if (words.Length < 2 || finding.Contains(" + ", StringComparison.Ordinal) || finding.Contains("aged", StringComparison.Ordinal))
            return finding;
        var (target, how) = (words[0], words[1]);
        var name =
            circuit.FindPart(target.Split(':', '/')[0]) is { } part ? $"{part.Label ?? part.Kind.Word} ({target})"
            : circuit.FindWire(target) is not null ? $"wire {target}"
            : target;
        var plain = how.Split(' ')[0] switch
        {
            "open" or "coil-open" or "motor-open" => "had no connection",
            "resists" => "made a bad connection",
            "grounded" => "leaked to ground",
            "to-supply" => "touched the supply",
            "shorts" => "touched its neighbour",
            "shorted" => "was shorted inside",
            "blown" => "had blown",
            "holder" => "made bad contact in its holder",
            "contact" => "had a burnt contact",
            "welded" or "stuck-closed" => "was stuck closed",
            "seized" or "stuck" => "was stuck",
            "crossed" => "had changed places with another wire",
            "weak" => "had lost its capacity",
            "dirty" => "was dirty",
            "low" or "high" => "reported a fault of its own",
            "awake" => "did not fall asleep",
            "dead" or "output" => "was dead",
            "flat" => "was flat",
            "internal" => "was worn out",
            "intermittent" => "came and went",
            _ => how,
        };
        return $"{name} {plain}";
    }

    /// <summary>A setup as it is to be set, control by control.</summary>
    public static IEnumerable<string> Chips(Setup setup)
    {
        foreach (var i in setup.Interventions)
            yield return i.ToString()!;
        foreach (var (step, n) in setup.Steps.Select((s, n) => (s, n)))
        foreach (var m in step)
            yield return (n > 0 ? "then " : "") + $"{m.Control} to {m.Position}";
    }

    /// <summary>A suggestion as a sentence of its own, or nothing.</summary>
    public static string Sentence(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return "";
        var trimmed = text.TrimEnd('.', '…', ' ');
        return char.ToUpperInvariant(trimmed[0]) + trimmed[1..] + (trimmed[^1] == '?' ? "" : ".");
    }

    /// <summary>What was read, as a person says it: a band where one answer stood for one.</summary>
    public static string Result(Reading reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        return reading.Result switch
            {
                ReadingResult.Number n => Said(n.Value, n.Dimension),
                ReadingResult.Range r => Band(r.Low, r.High, r.Dimension),
                { } other => other.ToString()!,
                null => "",
            } + (reading.Doubtful ? " (doubtful)" : "");
    }

    private static string Said(double value, Dimension dimension) => MeterReading.Format(value, dimension);

    /// <summary>Seconds as hours, minutes and seconds, the larger two.</summary>
    public static string Long(double seconds) =>
        TimeSpan.FromSeconds(Math.Round(seconds)) switch
        {
            { TotalHours: >= 1 } t => $"{(int)t.TotalHours} h {t.Minutes} min",
            { TotalMinutes: >= 1 } t => t.Seconds == 0 ? $"{t.Minutes} min" : $"{t.Minutes} min {t.Seconds} s",
            var t => $"{t.Seconds} s",
        };

    /// <summary>By what meter a line was taken, and how still its figure stood.</summary>
    public static string Taken(LineRow row, Reading? reading)
    {
        ArgumentNullException.ThrowIfNull(row);
        var moved =
            row.Span is > 0 and { } span && reading is { Test.Probe.Dimension: not Dimension.None and var d }
                ? $", moved by {MeterReading.Format(span, d)}"
                : "";
        return $"by {row.Meter}, {row.Dial}{moved}";
    }

    public static Dimension DimensionOf(Test t) => t.Probe.Dimension;
}

/// <summary>One answer that one key or one thumb gives.</summary>
/// <param name="Line">Reading line it stands for; null asks for a typed value.</param>
public sealed record QuickAnswer(string Label, string Under, string? Line, string Leads, string Shape);

public static class QuickAnswers
{
    /// <summary>The same as reading lines, without those that ask for a typed value.</summary>
    public static IEnumerable<string> Lines(Circuit circuit, Advice a) => For(circuit, a).Select(q => q.Line).OfType<string>();

    /// <summary>The answers a test has, of equal weight: good, dead and between for a number, each word for the rest.</summary>
    public static IReadOnlyList<QuickAnswer> For(Circuit circuit, Advice a)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(a);
        var dimension = Words.DimensionOf(a.Test);
        string Leads(params string[] names) => a.Outcomes.FirstOrDefault(o => names.Contains(o.Name))?.Leads ?? "";
        if (dimension == Dimension.None)
            return a
                .Test.Probe.AnswersOn(circuit)
                .Where(w => w is not (Answer.StuckOn or Answer.Flickers or Answer.Unsure))
                .Select(w => new QuickAnswer(
                    w.Text(),
                    "",
                    $"{a.Test} = {w.Text()}",
                    Leads(w.Text()),
                    w is Answer.Works or Answer.Clicks or Answer.Good ? "✓"
                        : w is Answer.Dead or Answer.Silent or Answer.Bad ? "✕"
                        : "~"
                ))
                .ToList();
        if (a.Kind == AdviceKind.ProveDead)
            return
            [
                new QuickAnswer("dead", "under 1 V", $"{a.Test} = -0.9..0.9V", Leads("good"), "✓"),
                new QuickAnswer("not dead", "type it", null, "", "✕"),
            ];
        if (a.Expected.GoodSoFar is not { } g)
            return [];
        var unit = Units.Short(dimension);
        string Range(double low, double high) => string.Create(CultureInfo.InvariantCulture, $"{a.Test} = {low:0.###}..{high:0.###}{unit}");
        var good = new QuickAnswer("good", Words.Band(g.Low, g.High, dimension), Range(g.Low, g.High), Leads("good"), "✓");
        var between = new QuickAnswer("other", "type it", null, Leads("in between", "less", "more"), "~");
        if (dimension == Dimension.Ampere)
        {
            var none = new QuickAnswer(
                "no draw",
                FormattableString.Invariant($"under {Outcomes.NoDraw:0.00} A"),
                Range(-Outcomes.NoDraw, Outcomes.NoDraw),
                Leads("no draw"),
                "✕"
            );
            return g.Low <= Outcomes.NoDraw ? [none with { Shape = "✓" }, between] : [good, none, between];
        }
        if (dimension == Dimension.Ohm)
            return [good, new QuickAnswer("OL", "open", $"{a.Test} = OL", Leads("OL", "more"), "✕"), between];
        var limit = Outcomes.DeadBelow(circuit.NominalVolts);
        if (g.Nominal > 0.2 * circuit.NominalVolts)
            return
            [
                good,
                new QuickAnswer(
                    "dead",
                    string.Create(CultureInfo.InvariantCulture, $"under {limit:0.#} V"),
                    Range(-0.1, limit),
                    Leads("dead"),
                    "✕"
                ),
                between,
            ];
        return
        [
            good,
            new QuickAnswer(
                "full volts",
                string.Create(CultureInfo.InvariantCulture, $"over {0.8 * circuit.NominalVolts:0.#} V"),
                Range(0.8 * circuit.NominalVolts, 1.2 * circuit.NominalVolts),
                Leads("full volts"),
                "✕"
            ),
            between,
        ];
    }
}
