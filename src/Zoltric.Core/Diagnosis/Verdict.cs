using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis;

public enum Judgement { Low, Ok, High, Unsure }

/// <summary>What a good reading is: the healthy machine doing its job, and this machine if the point read is not the trouble.</summary>
/// <param name="Healthy">Null value for words.</param>
/// <param name="GoodSoFar">Lowest, middle, highest; equals healthy where they do not differ. Null for words.</param>
public sealed record Expected(HealthyBand Healthy, (double Low, double Nominal, double High)? GoodSoFar, string? GoodWord)
{
    /// <summary>True when the two senses differ by more than the band.</summary>
    public bool Differ => GoodSoFar is { } g && Healthy.Low is { } low && Healthy.High is { } high && (g.Nominal < low || g.Nominal > high);
}

/// <summary>What one reading says.</summary>
/// <param name="ProvedUnderLoad">True when the load's current flowed past the point while it held its volts.</param>
public sealed record Verdict(Reading Reading, Judgement Judgement, Expected Expected, bool ProvedUnderLoad, string Meaning);

/// <summary>Judges readings against what the suspects remaining without them predict.</summary>
internal sealed class Judge(Belief belief)
{
    private readonly FaultSpace _space = belief.Space;
    private readonly double _nominal = belief.Space.Circuit.NominalVolts;

    /// <summary>Share of the healthy current that counts as the load's current flowing.</summary>
    private const double CarryingShare = 0.5;

    /// <summary>True where the amps are the load's current, next to those of a healthy machine.</summary>
    internal static bool IsCarrying(double amps, double healthy) => amps >= CarryingShare * healthy;

    public Expected Expect(Test test, Weights weights)
    {
        var healthyShown = Meter.Read(_space.Machine, test);
        var healthy = HealthyBand.Of(healthyShown, belief.Likelihood.Meter);
        var dimension = ReadingReader.AnswerDimension(test.Probe);
        if (healthyShown.Value is not { } h) return new Expected(healthy, null, healthyShown.Text);
        var near = Math.Abs(h) < 0.2 * _nominal;
        var values = new List<(double V, double W, Representative At)>();
        foreach (var p in weights.Representatives)
        {
            var x = _space.Quick(test, p);
            if (x.Word is not null) continue;
            var fits = dimension != Dimension.Volt ? Math.Abs(x.Mean - h) <= 0.3 * Math.Abs(h) + 0.5
                : near ? Math.Abs(x.Mean) <= 0.1 * _nominal : x.Mean * Math.Sign(h) >= 0.5 * Math.Abs(h);
            if (fits) values.Add((x.Mean, p.Weight, p));
        }
        var total = values.Sum(v => v.W);
        var (good, spread) = (h, healthyShown.Spread);
        if (total > 0.02)
        {
            values.Sort((a, b) => a.V.CompareTo(b.V));
            var sum = 0.0;
            foreach (var (v, w, at) in values)
                if ((sum += w) >= total / 2) { (good, spread) = (v, _space.Predict(test, at).Spread); break; }
        }
        if (dimension == Dimension.Volt) good *= 1 + belief.Supply(weights);
        var half = belief.Likelihood.MeterSigma(good, dimension) * 2 + 2 * spread
            + (dimension == Dimension.Volt ? 0.03 * Math.Abs(good) + 0.004 * _nominal : 0.1 * Math.Abs(good));
        return new Expected(healthy, (dimension == Dimension.Ohm ? Math.Max(0, good - half) : good - half, good, good + half), null);
    }

    public Verdict Of(int index)
    {
        var reading = belief.Evidence[index].Reading;
        var without = belief.Weigh(index);
        var expected = Expect(reading.Test, without);
        var judgement = reading.Doubtful || reading.Result is null || reading.Test.Probe is Probe.Code ? Judgement.Unsure : Compare(reading.Result, expected);
        var proved = judgement == Judgement.Ok && Carried(reading.Test, belief.Weigh());
        return new Verdict(reading, judgement, expected, proved, Meaning(reading, judgement, expected, proved));
    }

    private static Judgement Compare(ReadingResult result, Expected e)
    {
        switch (result)
        {
            case ReadingResult.Number n when e.GoodSoFar is { } g: return n.Value < g.Low ? Judgement.Low : n.Value > g.High ? Judgement.High : Judgement.Ok;
            case ReadingResult.Range r when e.GoodSoFar is { } g:
                return r.High < g.Low || (r.Low + r.High) / 2 < g.Low ? Judgement.Low : r.Low > g.High ? Judgement.High : Judgement.Ok;
            case ReadingResult.OverLimit: return e.Healthy.Text == "OL" ? Judgement.Ok : Judgement.High;
            case ReadingResult.Number: return e.GoodWord == "OL" ? Judgement.Low : Judgement.Unsure;
            case ReadingResult.Word { Text: "unsure" }: return Judgement.Unsure;
            case ReadingResult.Word w: return w.Text == e.GoodWord ? Judgement.Ok : w.Text is "stuck-on" or "chatters" or "beep" ? Judgement.High : Judgement.Low;
            default: return Judgement.Unsure;
        }
    }

    /// <summary>
    /// True when, as the remaining suspects have it, at least half of the working current passes the point in that setup: the conductor
    /// between the source and the point is then proved for that current, not merely present.
    /// </summary>
    private bool Carried(Test test, Weights weights)
    {
        var points = TestRules.Tips(test).Where(t => t != _space.Circuit.ReferencePoint).ToList();
        if (points.Count == 0 || test.Setup.Interventions.Count > 0 || test.Probe is not (Probe.Volts or Probe.Drop)) return false;
        var healthy = points.Sum(p => Through(_space.Healthy(test.Setup), p));
        if (healthy < 1e-4) return false;
        var (carrying, total) = (0.0, 1e-12);
        foreach (var p in weights.Representatives)
        {
            total += p.Weight;
            if (IsCarrying(points.Sum(t => Through(_space.Run(test.Setup, p), t)), healthy)) carrying += p.Weight;
        }
        return carrying / total > 0.9;
    }

    /// <summary>Amps through a terminal: half of all that flows into and out of it along wires, or through its part.</summary>
    private static double Through(OperatingPoint op, Terminal t)
    {
        var sum = 0.0;
        var wires = op.Circuit.Wires;
        for (var i = 0; i < wires.Count; i++) if (wires[i].From == t || wires[i].To == t) sum = Math.Max(sum, Math.Abs(op.WireFlow(i).Amps));
        return sum;
    }

    private static string Meaning(Reading r, Judgement j, Expected e, bool proved)
    {
        if (r.Test.Probe is Probe.Replaced) return "Weak evidence: a new part can be bad, and the fault may lie elsewhere.";
        if (r.Test.Probe is Probe.Code) return "Points at what it is about, and proves nothing: a low supply or a shared ground sets codes too.";
        if (r.Doubtful) return "Doubtful: counts little.";
        if (r.Test.Probe is Probe.Looks) return "A look only nudges the odds: fuses that look perfect can be open.";
        if (r.Test.Probe is Probe.Hears) return j == Judgement.Ok ? "Proves the coil side only: a relay can click and still not conduct." : "The coil is not doing its part: look at what feeds it and its way home.";
        if (r.Test.Probe is Probe.Sees) return j == Judgement.Ok ? "What it shares with the dead one is proved for the current it draws." : "The symptom, seen.";
        if (r.Test.Setup.Interventions.Any(i => i is Intervention.Off) && r.Test.Probe is Probe.Volts) return j == Judgement.Ok ? "Measured near zero here with the sources off. Prove the tester on a live point before and after." : "Live with the sources off: find out where it comes from before touching anything.";
        if (r.Test.Probe is Probe.Ohms or Probe.Beep) return j switch
        {
            Judgement.Ok => "As a sound part reads; ohms say nothing of what it carries under load.",
            Judgement.High => "More ohms than a sound part has.",
            _ => "Fewer ohms than a sound part has: a path to somewhere.",
        };
        if (r.Test.Probe is Probe.Clamp or Probe.Amps) return j switch
        {
            Judgement.Ok => "The current that the suspects left would have here.",
            Judgement.Low => "Less flows here than the suspects would have it: what is drawn goes another way.",
            Judgement.High => "More flows here than the suspects would have it: it is drawn beyond.",
            _ => "Not judged.",
        };
        var unplugged = r.Test.Setup.Interventions.Any(i => i is Intervention.Unplug or Intervention.Lift);
        return j switch
        {
            Judgement.Ok when unplugged => "Present with the plug off: proves little, no load current flowed.",
            Judgement.Ok when proved => "Proved under load: the working current flowed and the volts held.",
            Judgement.Ok when r.Test.Probe is Probe.Drop => "Nothing lost here, for the current that flowed.",
            Judgement.Ok when Math.Abs(e.GoodSoFar?.Nominal ?? 0) < 0.5 => "As it should be here.",
            Judgement.Ok => "Present: the volts are here, but the load's current did not flow.",
            Judgement.Low when r.Test.Probe is Probe.Drop => "Less is lost here than the suspects would have it.",
            Judgement.High when r.Test.Probe is Probe.Drop => "Volts are lost across this.",
            Judgement.Low => "Volts are lost before this point.",
            Judgement.High => "Higher than it should be: the way home is not doing its part, or something feeds it from elsewhere.",
            _ => "Not judged.",
        };
    }
}
