using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>The answers a test is likely to give, each diagnosed for what it would leave.</summary>
public static class Outcomes
{
    private const double LeastChance = 0.004;

    internal static IReadOnlyList<Outcome> Foresee(Belief belief, Weights weights, Gain gain, Test test, Expected expected)
    {
        var circuit = belief.Space.Circuit;
        var values = gain.Values(test);
        var classes = new Dictionary<(string Name, Answer? Word), List<(double V, double W)>>();
        var dimension = test.Probe.Dimension;
        var total = 1e-12;
        for (var i = 0; i < values.Length; i++)
        {
            if (values[i] is not { } p)
                continue;
            var name = (p.Word?.Text() ?? ClassOf(p.Mean, expected, dimension, circuit.NominalVolts), p.Word);
            if (!classes.TryGetValue(name, out var list))
                classes[name] = list = [];
            list.Add((p.Mean, gain.Points[i].Weight));
            total += gain.Points[i].Weight;
        }
        var remembered = gain.Remembered(test);
        if (remembered is { } was)
        {
            // Two points that are as each was read, though no suspect would have it so.
            (string, Answer?) name = (ClassOf(was.Mean, expected, dimension, circuit.NominalVolts), null);
            var weight = weights.OffSheet * belief.AsDrawn * NotAsDrawn.Remembers;
            if (!classes.TryGetValue(name, out var list))
                classes[name] = list = [];
            list.Add((was.Mean, weight));
            total += weight;
        }
        var outcomes = new List<Outcome>();
        foreach (var ((name, word), list) in classes.OrderByDescending(c => c.Value.Sum(x => x.W)).Take(4))
        {
            var chance = list.Sum(x => x.W) / total;
            if (chance < LeastChance)
                continue;
            ReadingResult result =
                word == Answer.OverLimit ? new ReadingResult.OverLimit()
                : word is { } answer ? new ReadingResult.Word(answer)
                : new ReadingResult.Number(Round(Middle(list)), dimension);
            outcomes.Add(new Outcome(name, result.ToString()!, chance, Left(result)));
        }
        return outcomes;

        // Each point that stands for a suspect is weighed with the answer as if it had been read.
        string Left(ReadingResult result)
        {
            var units = new Dictionary<RepairSite, (double Share, int Suspect)>();
            var (sum, before, slip) = (0.0, 1e-12, Likelihood.Slip);
            for (var i = 0; i < values.Length; i++)
            {
                if (values[i] is not { } p)
                    continue;
                var unknowns = belief.Likelihood.HalfLearnt;
                var weight =
                    gain.Points[i].Weight
                    * belief.Likelihood.Evaluate(
                        result,
                        p with
                        {
                            Spread = p.Spread + RoundSpread * Math.Abs(p.Mean),
                        },
                        dimension,
                        slip,
                        ref unknowns
                    );
                var site = belief.Space.Sites[gain.Points[i].Counts];
                units[site] = (units.GetValueOrDefault(site).Share + weight, gain.Points[i].Counts);
                sum += weight;
                before += gain.Points[i].Weight;
            }
            var drawn = sum / before;
            if (remembered is { } was)
            {
                var unknowns = belief.Likelihood.HalfLearnt;
                drawn =
                    (1 - NotAsDrawn.Remembers) * drawn
                    + NotAsDrawn.Remembers
                        * belief.Likelihood.Evaluate(
                            result,
                            was with
                            {
                                Spread = was.Spread + RoundSpread * Math.Abs(was.Mean),
                            },
                            dimension,
                            slip,
                            ref unknowns
                        );
            }
            var off = weights.OffSheet * (belief.AsDrawn * drawn + (1 - belief.AsDrawn) * belief.Likelihood.OffSheet(result, dimension));
            sum += off;
            return sum <= 0
                ? "leaves nothing that is on the sheet"
                : Reasons.Leaves(
                    circuit,
                    [.. units.Values.Select(u => (belief.Space.Suspects[u.Suspect], u.Share / sum)).OrderByDescending(u => u.Item2)],
                    off / sum
                );
        }
    }

    /// <summary>A point stands for its neighbours too, whose values lie some way off.</summary>
    private const double RoundSpread = 0.03;

    /// <summary>good, no draw (for amps), dead (for what should have volts), high (for what should have none), else between.</summary>
    internal static string ClassOf(double v, Expected e, Dimension dimension, double nominal)
    {
        if (e.GoodSoFar is { } g && v >= g.Low && v <= g.High)
            return "good";
        if (dimension == Dimension.Ampere && Math.Abs(v) < NoDraw)
            return "no draw";
        if (dimension != Dimension.Volt)
            return e.GoodSoFar is { } h && v > h.High ? "more" : "less";
        var expectsVolts = Math.Abs(e.GoodSoFar?.Nominal ?? 0) > 0.2 * nominal;
        if (expectsVolts)
            return Math.Abs(v) < DeadBelow(nominal) ? "dead" : "in between";
        return Math.Abs(v) > 0.6 * nominal ? "full volts" : "in between";
    }

    /// <summary>Amps under which a clamp shows nothing; common practice, no source.</summary>
    public const double NoDraw = 0.05;

    /// <summary>Volts below which a point counts as dead.</summary>
    public static double DeadBelow(double nominal) => Math.Round(0.04 * nominal, 1);

    /// <summary>Value on either side of which lies half the weight; sorts the list.</summary>
    internal static double Middle(List<(double V, double W)> list)
    {
        list.Sort();
        var half = list.Sum(x => x.W) / 2;
        foreach (var (v, w) in list)
            if ((half -= w) <= 0)
                return v;
        return list[^1].V;
    }

    private static double Round(double v) => Math.Abs(v) >= 100 ? Math.Round(v) : Math.Round(v, 2);
}
