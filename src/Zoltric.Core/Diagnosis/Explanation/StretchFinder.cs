using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Routes;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>The shortest run of stations, on the lane that holds most of the suspicion, that holds nearly all of it there.</summary>
internal static class StretchFinder
{
    private const double NearlyAll = 0.9;

    public static Stretch? Find(Circuit circuit, IReadOnlyList<Lane> lanes, IReadOnlyList<FaultGroup> groups)
    {
        Stretch? best = null;
        var most = 0.0;
        foreach (var lane in lanes)
        {
            // Suspicion by step: step i lies between station i-1 and station i. A point counts for the step that comes to it.
            var steps = new double[lane.Stations.Count];
            var parts = new string?[lane.Stations.Count];
            foreach (var g in groups)
            {
                var step = StepOf(circuit, lane, g);
                if (step < 1)
                    continue;
                steps[step] += g.Share;
                parts[step] ??= g.Unit;
            }
            var total = steps.Sum();
            // The same stretch may lie on several lanes; the shorter lane tells more.
            if (total <= most + 1e-9 || total < 0.02)
                continue;
            most = total;
            var (from, to) = Shortest(steps, NearlyAll * total);
            best = new Stretch(
                lane,
                from - 1,
                to,
                Enumerable.Range(from, to - from + 1).Select(i => parts[i]).OfType<string>().Distinct().ToList()
            );
        }
        return best;
    }

    /// <summary>Volts that rise along the way by more than this share of nominal come from somewhere that is not drawn.</summary>
    private const double Rises = 0.15;

    /// <summary>
    /// Where to look for what is not drawn: between two stations, one after the other, where the volts rise along the way of the current,
    /// which no drawn part of a string does; else between the last station that read as it should and the next that did not. The shortest
    /// such run.
    /// </summary>
    public static Stretch? Unexplained(Circuit circuit, IReadOnlyList<Lane> lanes, IReadOnlyList<Verdict> verdicts)
    {
        var read = verdicts
            .Where(v =>
                v.Reading is { Doubtful: false, Result: ReadingResult.Number, Test: { Probe: Probe.Volts, Setup.Interventions.Count: 0 } }
            )
            .ToList();
        Stretch? rise = null,
            drop = null;
        foreach (var lane in lanes)
        {
            var last = (At: -1, Volts: 0.0, Ok: false);
            for (var i = 0; i < lane.Stations.Count; i++)
            {
                if (
                    read.LastOrDefault(v => ((Probe.Volts)v.Reading.Test.Probe).P == lane.Stations[i].Terminal)
                    is not { Reading.Result: ReadingResult.Number n } here
                )
                    continue;
                if (last.At >= 0)
                {
                    if (n.Value > last.Volts + Rises * circuit.NominalVolts)
                        rise = Shorter(rise, Between(lane, last.At, i));
                    else if (last.Ok && here.Judgement != Judgement.Ok)
                        drop = Shorter(drop, Between(lane, last.At, i));
                }
                last = (i, n.Value, here.Judgement == Judgement.Ok);
            }
        }
        return rise ?? drop;

        static Stretch Shorter(Stretch? known, Stretch other) =>
            known is null || other.To - other.From < known.To - known.From ? other : known;

        static Stretch Between(Lane lane, int from, int to) =>
            new(
                lane,
                from,
                to,
                [
                    .. Enumerable
                        .Range(from + 1, to - from)
                        .Select(k => lane.Stations[k].Via)
                        .Where(v => v is { IsMetal: false })
                        .Select(v => v!.WireId ?? v.Tag!)
                        .Distinct(),
                ]
            );
    }

    private static int StepOf(Circuit circuit, Lane lane, FaultGroup g)
    {
        for (var i = 1; i < lane.Stations.Count; i++)
        {
            var via = lane.Stations[i].Via!;
            if (via.WireId == g.Unit)
                return i;
            if (via.Tag is { } tag && (g.Unit == tag || g.Unit == $"{tag}:{via.Link}") && Concerns(circuit, g, tag, via))
                return i;
        }
        // A stud is a station: its trouble sits in the step that comes to it, or the one that leaves it for the source.
        for (var i = 1; i < lane.Stations.Count; i++)
            if (lane.Stations[i].Terminal is { Name: "" } t && t.Tag == g.Unit)
                return Math.Min(i + 1, lane.Stations.Count - 1);
        if (circuit.FindPart(g.Unit) is { Kind.IsSource: true })
            return 1;
        return -1;
    }

    /// <summary>A relay's coil trouble belongs to its coil's lane, its contact's to the lane that passes the contact.</summary>
    private static bool Concerns(Circuit circuit, FaultGroup g, string tag, LaneStep via)
    {
        var part = circuit.FindPart(tag)!;
        if (part.Model.Links.Count < 2)
            return true;
        // A pair is shown by the second of the two.
        var links = g.Site.Each.Last().Links.Where(n => n < part.Model.Links.Count).Select(n => part.Model.Links[n].Name).ToList();
        // Contact and motor inside a starter share one step.
        return links.Count == 0
            || links.Contains(via.Link ?? "")
            || (part.Model.Load is not null && via.IsContact && !links.Contains(part.Model.Links[0].Name));
    }

    private static (int From, int To) Shortest(double[] steps, double enough)
    {
        var (from, to) = (1, steps.Length - 1);
        for (var i = 1; i < steps.Length; i++)
        {
            var sum = 0.0;
            for (var j = i; j < steps.Length; j++)
            {
                sum += steps[j];
                if (sum < enough)
                    continue;
                if (j - i < to - from)
                    (from, to) = (i, j);
                break;
            }
        }
        return (from, to);
    }
}
