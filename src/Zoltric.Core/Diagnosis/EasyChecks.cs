using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis;

/// <summary>A check that costs little: the test, why it comes first, what it tells and takes.</summary>
/// <param name="Bits">Expected drop of entropy; a look tells little.</param>
public sealed record EasyCheck(Test Test, string Why, double Bits, double Minutes);

/// <summary>
/// The easy things first: supply at rest and at work, fuses within reach, what a person on the spot can see or hear, in the order of
/// information per minute. Nothing is unplugged, pulled or lifted for them.
/// </summary>
public static class EasyChecks
{
    /// <summary>Most minutes that an easy check takes, and most checks of one kind.</summary>
    private const double Easy = 3;
    private const int MostFuses = 4,
        MostLooks = 3,
        MostSights = 4;

    public static IReadOnlyList<EasyCheck> List(FaultSpace space, IReadOnlyList<Reading> readings, Limits? limits = null)
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(readings);
        var circuit = space.Circuit;
        var weights = Belief.Of(space, MeterClass.Service, readings).Weigh();
        using var gain = new Gain(space, weights, readings);
        var costs = new TestCosts(circuit, readings);
        var possible = new Candidates(space, readings, limits ?? Limits.None);
        var all = possible.All(weights).Where(t => t.Setup.Interventions.Count == 0 && !TestRules.IsDangerouslyLive(circuit, t)).ToList();
        gain.Prepare(all);
        var working = Complaint.FunctionOf(circuit, readings) is { } f ? FunctionSetups.SetupFor(circuit, f) : null;
        var done = readings.Where(r => r.Result is not null).Select(r => r.Test).ToHashSet();
        IEnumerable<EasyCheck> Checks(IEnumerable<Test> tests, string why) =>
            tests
                .Select(t => new EasyCheck(t, why, gain.Bits(t), costs.Minutes(t)))
                .Where(c => c.Minutes <= Easy)
                .OrderByDescending(c => c.Bits / c.Minutes);
        var sources = circuit.Sources.Select(s => s.Tag).ToHashSet();
        var checks = new List<EasyCheck>();
        checks.AddRange(
            Checks(all.Where(t => t.Probe is Probe.Sees), "see what else works: it clears what the two share").Take(MostSights)
        );
        checks.AddRange(
            Checks(all.Where(t => t.Setup.IsRest && t.Probe is Probe.Volts v && sources.Contains(v.P.Tag)), "supply at rest").Take(2)
        );
        if (working is { IsRest: false })
            checks.AddRange(
                Checks(
                        all.Where(t => t.Setup.Equals(working) && t.Probe is Probe.Volts v && sources.Contains(v.P.Tag)),
                        "supply under load"
                    )
                    .Take(2)
            );
        checks.AddRange(
            Checks(
                    all.Where(t =>
                        working is not null
                        && t.Setup.Equals(working)
                        && t.Probe is Probe.Volts v
                        && circuit.FindPart(v.P.Tag)?.Model.Links is [Link.Fuse]
                        && v.P.Name == "2"
                    ),
                    "behind a fuse, under load: a good look proves nothing"
                )
                .DistinctBy(c => ((Probe.Volts)c.Test.Probe).P.Tag)
                .Take(MostFuses)
        );
        checks.AddRange(
            Checks(
                    all.Where(t => t.Probe is Probe.Hears h && circuit.FindPart(h.Tag)?.Model.Clicks == true),
                    "a click proves the coil side only"
                )
                .Take(2)
        );
        checks.AddRange(Looks(space, weights, costs, done).Take(MostLooks));
        return [.. checks.DistinctBy(c => c.Test).OrderByDescending(c => c.Bits / Math.Max(c.Minutes, 0.1))];
    }

    /// <summary>What to look at for damage: the likeliest parts within easy reach. A look only nudges the odds.</summary>
    private static IEnumerable<EasyCheck> Looks(FaultSpace space, Weights weights, TestCosts costs, HashSet<Test> done) =>
        Enumerable
            .Range(0, space.Suspects.Count)
            .Select(s => (Tag: space.Suspects[s].RepairUnit.Split(':')[0], Weight: weights.Weight(s)))
            .GroupBy(x => x.Tag)
            .Select(g => (Part: space.Circuit.FindPart(g.Key), Weight: g.Sum(x => x.Weight)))
            .Where(x => x.Part is { Sealed: false } && !x.Part.Kind.IsSource && x.Weight > 0.005)
            .OrderByDescending(x => x.Weight)
            .Select(x => new Test(Setup.Rest, new Probe.Looks(x.Part!.Tag)))
            .Where(t => !done.Contains(t))
            .Select(t => new EasyCheck(t, "burnt, loose, wet or chafed? A look only nudges the odds", 0, costs.Minutes(t)))
            .Where(c => c.Minutes <= Easy);

    /// <summary>How many things to mend hold 95 % of the suspicion after these readings: what a check has left.</summary>
    public static int Left(FaultSpace space, IReadOnlyList<Reading> readings)
    {
        ArgumentNullException.ThrowIfNull(space);
        var weights = Belief.Of(space, MeterClass.Service, readings).Weigh();
        var sites = Enumerable
            .Range(0, space.Suspects.Count)
            .GroupBy(s => space.Sites[s])
            .Select(g => g.Sum(weights.Weight))
            .OrderDescending()
            .ToList();
        var (sum, n) = (weights.OffSheet, 0);
        while (n < sites.Count && sum < 0.95)
            sum += sites[n++];
        return n;
    }
}
