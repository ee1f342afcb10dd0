using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What the choice of the complaint says. Who names one function of a machine on which nothing works would as a rule have said more. A
/// fault that stops n functions, of which k were named, is complained of so with a chance of k/n to a power. Common practice, no source.
/// The power is an estimate: 0 where nobody looked at the rest, 1 where one of the symptoms was named at random.
/// </summary>
internal static class ComplaintWeight
{
    private const double Power = 0.5;

    /// <summary>Adds it to the logarithms, for a symptom said before anything was measured; else nothing.</summary>
    /// <param name="readings">The readings before it, in order.</param>
    public static void Add(
        FaultSpace space,
        IReadOnlyList<Reading> readings,
        Reading reading,
        int first,
        ValuePartition partition,
        double[] added
    )
    {
        if (!IsSymptom(reading) || !readings.All(r => r.Test.Probe is Probe.Sees))
            return;
        var named = readings.Where(IsSymptom).Select(NameOf).ToHashSet(StringComparer.Ordinal);
        if (named.Contains(NameOf(reading)))
            return;
        var now = named.Append(NameOf(reading)).ToHashSet(StringComparer.Ordinal);
        var stopped = StoppedFunctions.Of(space);
        Parallel.For(first, space.Suspects.Count, s =>
        {
            var (from, to, fine) = (partition.From(s), partition.To(s), space.FineCount(s));
            var (others, before) = (stopped.Others(space, s, now), stopped.Others(space, s, named));
            double Chance(int others, int before) => Share(now.Count, others) / (named.Count == 0 ? 1 : Share(named.Count, before));
            var (least, middle, most) = (
                Math.Log(Chance(others.Least, before.Least)),
                Math.Log(Chance(others.Middle, before.Middle)),
                Math.Log(Chance(others.Most, before.Most))
            );
            // An entry that stands for all values is a quarter, a half and a quarter of them.
            if (to - from == 1)
                added[from] += fine == 1 ? most : Math.Log((Math.Exp(least) + 2 * Math.Exp(middle) + Math.Exp(most)) / 4);
            else
                for (var i = from; i < to; i++)
                    added[i] +=
                        (i - from) * 4 < fine ? least
                        : (i - from) * 4 > 3 * fine ? most
                        : middle;
        });

        static double Share(int named, int others) => Math.Pow(named / (double)(named + others), Power);
    }

    private static bool IsSymptom(Reading r) =>
        r
            is {
                Doubtful: false,
                Test: { Probe: Probe.Sees { IsFunction: true }, Setup.Interventions.Count: 0 },
                Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.Flickers }
            };

    private static string NameOf(Reading r) => ((Probe.Sees)r.Test.Probe).What;
}
