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
            var (least, middle, most) = Chances(stopped.Others(space, s, now), now.Count);
            // What was said of those named before it counts no more.
            if (named.Count > 0)
            {
                var before = Chances(stopped.Others(space, s, named), named.Count);
                (least, middle, most) = (least / before.Least, middle / before.Middle, most / before.Most);
            }
            // An entry that stands for all values is a quarter, a half and a quarter of them.
            if (to - from == 1)
                added[from] += Math.Log(fine == 1 ? most : (least + 2 * middle + most) / 4);
            else
                for (var i = from; i < to; i++)
                    added[i] += Math.Log(
                        (i - from) * 4 < fine ? least
                        : (i - from) * 4 > 3 * fine ? most
                        : middle
                    );
        });

        static (double Least, double Middle, double Most) Chances((int Least, int Middle, int Most) others, int named) =>
            (Share(named, others.Least), Share(named, others.Middle), Share(named, others.Most));

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
