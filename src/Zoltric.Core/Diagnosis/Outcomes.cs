using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Diagnosis;

/// <summary>The answers a test is likely to give, each diagnosed for what it would leave.</summary>
public static class Outcomes
{
    private const double LeastChance = 0.004;

    internal static IReadOnlyList<Outcome> Of(Belief belief, Weights weights, Gain gain, Test test, Expected expected)
    {
        var circuit = belief.Space.Circuit;
        var values = gain.Values(test);
        var classes = new Dictionary<string, List<(double V, double W)>>();
        var dimension = ReadingReader.AnswerDimension(test.Probe);
        var total = 1e-12;
        for (var i = 0; i < values.Length; i++)
        {
            if (values[i] is not { } p) continue;
            var name = p.Word ?? ClassOf(p.Mean, expected, dimension, circuit.NominalVolts);
            if (!classes.TryGetValue(name, out var list)) classes[name] = list = [];
            list.Add((p.Mean, gain.Points[i].Weight));
            total += gain.Points[i].Weight;
        }
        var outcomes = new List<Outcome>();
        foreach (var (name, list) in classes.OrderByDescending(c => c.Value.Sum(x => x.W)).Take(4))
        {
            var chance = list.Sum(x => x.W) / total;
            if (chance < LeastChance) continue;
            ReadingResult result = name == "OL" ? new ReadingResult.OverLimit()
                : dimension == Dimension.None ? new ReadingResult.Word(name)
                : new ReadingResult.Number(Round(Middle(list)), dimension);
            var after = belief.With(new Reading(test, result)).Weigh();
            outcomes.Add(new Outcome(name, result.ToString()!, chance, Reasons.Leaves(circuit, Groups.Of(after), after.OffSheet)));
        }
        return outcomes;
    }

    /// <summary>good, dead (for what should have volts), high (for what should have none), else between.</summary>
    internal static string ClassOf(double v, Expected e, Dimension dimension, double nominal)
    {
        if (e.GoodSoFar is { } g && v >= g.Low && v <= g.High) return "good";
        if (dimension != Dimension.Volt) return e.GoodSoFar is { } h && v > h.High ? "more" : "less";
        var expectsVolts = Math.Abs(e.GoodSoFar?.Nominal ?? 0) > 0.2 * nominal;
        if (expectsVolts) return Math.Abs(v) < DeadBelow(nominal) ? "dead" : "in between";
        return Math.Abs(v) > 0.6 * nominal ? "full volts" : "in between";
    }

    /// <summary>Volts below which a point counts as dead.</summary>
    public static double DeadBelow(double nominal) => Math.Round(0.04 * nominal, 1);

    private static double Middle(List<(double V, double W)> list)
    {
        list.Sort();
        var half = list.Sum(x => x.W) / 2;
        foreach (var (v, w) in list) if ((half -= w) <= 0) return v;
        return list[^1].V;
    }

    private static double Round(double v) => Math.Abs(v) >= 100 ? Math.Round(v) : Math.Round(v, 2);
}
