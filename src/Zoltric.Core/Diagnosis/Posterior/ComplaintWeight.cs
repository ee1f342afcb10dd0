using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What the choice of the complaint says. Who names one function of a machine on which nothing works would as a rule have said more. A
/// fault that stops n functions, of which k were named, is complained of so with a chance of k/n to a power. Common practice, no source.
/// The power is an estimate: 0 where nobody looked at the rest, 1 where one of the symptoms was named at random.
/// </summary>
internal static class ComplaintWeight
{
    private const double Power = 0.5;

    /// <summary>
    /// How often nothing is said of what runs by itself while another thing is complained of: what turns or sounds, and anything else;
    /// estimates.
    /// </summary>
    private const double RunsUnsaid = 0.12,
        LiesUnsaid = 0.4;

    /// <summary>
    /// Amps past any load of the sheet that make a wire smoke where no fuse ends it, and how often nothing is said of that; estimates.
    /// </summary>
    private const double Smokes = 50,
        SmokeUnsaid = 0.12;

    /// <summary>Adds it to the logarithms, for a code, and for a symptom said before anything was measured; else nothing.</summary>
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
        if (reading.Test.Probe is Probe.Code code)
            Facts.Coded(space, code, reading, !readings.Any(IsTrouble), first, partition, added);
        if (!IsSymptom(reading) || !readings.All(r => r.Test.Probe is Probe.Sees))
            return;
        var named = readings.Where(IsSymptom).Select(NameOf).ToHashSet(StringComparer.Ordinal);
        if (named.Contains(NameOf(reading)))
            return;
        var now = named.Append(NameOf(reading)).ToHashSet(StringComparer.Ordinal);
        var stopped = StoppedFunctions.Of(space);
        var silent = readings.All(r => r.Result is not ReadingResult.Word { Answer: Answer.StuckOn }) && named.Count == 0;
        var smokes = SmokesFrom(space, reading.Test.Setup);
        WorkBudget.For(first, space.Suspects.Count, s =>
        {
            if (silent)
                AddUnsaid(space, reading.Test.Setup, smokes, s, partition, added);
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

    /// <summary>
    /// A function that runs where it should not, or a wire that smokes, in the very setup of the complaint is seldom left unsaid. Of a
    /// fault with values it is the half towards its worst that is judged by the worst.
    /// </summary>
    private static void AddUnsaid(
        FaultSpace space,
        Setup setup,
        IReadOnlyList<(int Battery, double Amps)> smokes,
        int suspect,
        ValuePartition partition,
        double[] added
    )
    {
        var op = space.Run(setup, suspect, space.WorstPoint(suspect));
        var unsaid = 1.0;
        foreach (var f in space.Circuit.Functions)
            if (f.Test is FunctionTest.LoadWorks load && !op.Holds(f.When) && FunctionState.Judge(op, f) == Answer.StuckOn)
                unsaid = Math.Min(unsaid, IsNoticed(space.Circuit.FindPart(load.Tag)!.Kind) ? RunsUnsaid : LiesUnsaid);
        if (smokes.Any(b => Math.Abs(op.LinkAmps(b.Battery, 0)) > b.Amps))
            unsaid = Math.Min(unsaid, SmokeUnsaid);
        if (unsaid == 1)
            return;
        var (from, to) = (partition.From(suspect), partition.To(suspect));
        var half = (to - from) / 2;
        for (var i = from; i < to; i++)
            if (to - from == 1 || space.IsWorstAtLeast(suspect) == (i - from < to - from - half))
                added[i] += Math.Log(unsaid);
    }

    /// <summary>Batteries, by index, and the amps from which a wire smokes in a setup.</summary>
    private static List<(int Battery, double Amps)> SmokesFrom(FaultSpace space, Setup setup)
    {
        var healthy = space.Healthy(setup);
        return
        [
            .. space
                .Circuit.Parts.Select((p, i) => (Part: p, Index: i))
                .Where(x => x.Part.Kind is Battery)
                .Select(x => (x.Index, Smokes + 2 * Math.Abs(healthy.LinkAmps(x.Index, 0)))),
        ];
    }

    private static bool IsNoticed(PartKind kind) => kind is Motor or Motor1 or Motor3 or Starter or Horn;

    private static bool IsSymptom(Reading r) =>
        r
            is {
                Doubtful: false,
                Test: { Probe: Probe.Sees { IsFunction: true }, Setup.Interventions.Count: 0 },
                Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.Flickers }
            };

    /// <summary>What a machine is brought in for: something said of it, or an active code.</summary>
    private static bool IsTrouble(Reading r) =>
        r.Test.Probe is Probe.Code or Probe.Sees
        && r.Result is ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.Flickers or Answer.StuckOn or Answer.Active };

    private static string NameOf(Reading r) => ((Probe.Sees)r.Test.Probe).What;
}
