using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis;

/// <summary>What the readings have made of the way to a station.</summary>
public enum StepMark
{
    /// <summary>Nothing says anything of it yet.</summary>
    NotYet,

    /// <summary>Volts were there; the load's current did not flow.</summary>
    Present,

    /// <summary>Held its volts while the load's current flowed.</summary>
    Proved,

    /// <summary>The trouble may sit here: not yet proved.</summary>
    Open,

    /// <summary>Without volts because something before it is.</summary>
    Dead,
}

/// <summary>A station as it stands: how it is reached, what a healthy machine shows there, what was read.</summary>
public sealed record MarkedStation(Station Station, StepMark Mark, HealthyBand Healthy, (double Low, double Nominal, double High)? GoodSoFar, double? Volts, Judgement? Judgement);

public sealed record MarkedLane(Lane Lane, Setup Setup, IReadOnlyList<MarkedStation> Stations)
{
    /// <summary>True when any reading lies on it.</summary>
    public bool Touched => Stations.Any(s => s.Volts is not null);

    /// <summary>First and last station of the part not yet proved, or null.</summary>
    public (int From, int To)? Open
    {
        get
        {
            var marks = Stations.Select(s => s.Mark).ToList();
            var first = marks.IndexOf(StepMark.Open);
            return first < 1 ? null : (first - 1, marks.LastIndexOf(StepMark.Open));
        }
    }
}

/// <summary>Marks the lanes of a function by the readings taken in its setup.</summary>
public static class LaneMarks
{
    /// <summary>Share of a lane's own current that another function must draw through a step to prove it.</summary>
    private const double ProvingShare = 0.5;

    public static IReadOnlyList<MarkedLane> Of(FaultSpace space, Findings findings)
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(findings);
        if (findings.Function is not { } function || FunctionState.SetupFor(space.Circuit, function) is not { } setup) return [];
        var judge = new Judge(findings.Belief);
        var weights = findings.Belief.Weigh();
        return findings.Lanes.Select(l => Mark(l, setup, findings, Proved(space, l, findings), t => judge.Expect(new Test(setup, new Probe.Volts(t, null, space.Circuit.VoltsFunction)), weights))).ToList();
    }

    /// <summary>Steps that a function seen to work has proved, for the current it drew.</summary>
    private static bool[] Proved(FaultSpace space, Lane lane, Findings findings)
    {
        var proved = new bool[lane.Stations.Count];
        foreach (var v in findings.Verdicts)
        {
            if (v.Reading is not { Result: ReadingResult.Word { Text: "works" }, Test.Probe: Probe.Sees, Doubtful: false }) continue;
            var op = space.Healthy(v.Reading.Test.Setup);
            for (var i = 1; i < proved.Length; i++) proved[i] |= Math.Abs(Amps(op, lane.Stations[i].Via!)) >= ProvingShare * lane.Amps;
        }
        return proved;
    }

    private static double Amps(OperatingPoint op, LaneStep via)
    {
        if (via.WireId is { } wire) return op.WireAmps(wire);
        if (via.Tag is not { } tag) return 0;
        var part = Meter.IndexOf(op.Circuit, tag);
        var link = op.Circuit.Parts[part].Model.LinkIndex(via.Link ?? "");
        return link < 0 ? 0 : op.LinkAmps(part, link);
    }

    private static MarkedLane Mark(Lane lane, Setup setup, Findings findings, bool[] byOthers, Func<Terminal, Expected> expect)
    {
        var verdicts = new Verdict?[lane.Stations.Count];
        foreach (var v in findings.Verdicts)
            if (v.Reading.Test.Probe is Probe.Volts { Q: null } volts && v.Reading.Test.Setup.Equals(setup) && lane.IndexOf(volts.P) is var i and >= 0) verdicts[i] = v;
        var marks = new StepMark[lane.Stations.Count];
        var load = lane.LoadEnds;
        var lastGood = Last(0, load - 1, v => v.Judgement == Judgement.Ok);
        var firstBad = First(Math.Max(lastGood, 0), load - 1, v => v.Judgement == Judgement.Low);
        var proved = Last(0, load - 1, v => v.ProvedUnderLoad);
        for (var i = 1; i < marks.Length; i++)
        {
            if (i <= proved) marks[i] = StepMark.Proved;
            else if (i <= lastGood) marks[i] = StepMark.Present;
            else if (firstBad >= 0 && i > firstBad && i <= load) marks[i] = StepMark.Dead;
            else if (firstBad >= 0 && i > lastGood && i <= firstBad) marks[i] = StepMark.Open;
        }
        // The way home: good from a reading near nothing on to the source.
        var home = First(load, marks.Length - 1, v => v.Judgement == Judgement.Ok);
        if (home >= 0)
            for (var i = home + 1; i < marks.Length; i++) marks[i] = verdicts[home]!.ProvedUnderLoad ? StepMark.Proved : StepMark.Present;
        if (findings.Stretch is { } stretch && stretch.Lane.Part == lane.Part && stretch.Lane.Link == lane.Link)
            for (var i = 1; i < marks.Length; i++)
                if (i > stretch.From && i <= stretch.To) marks[i] = StepMark.Open;
                else if (marks[i] == StepMark.Open) marks[i] = StepMark.NotYet;
        for (var i = 1; i < marks.Length; i++) if (byOthers[i] && marks[i] is StepMark.NotYet or StepMark.Present) marks[i] = StepMark.Proved;
        // A metal joint goes with what comes before it.
        for (var i = 2; i < marks.Length; i++) if (lane.Stations[i].Via!.IsMetal) marks[i] = marks[i - 1];
        return new MarkedLane(lane, setup, lane.Stations.Select((s, i) =>
        {
            var e = expect(s.Terminal);
            var v = verdicts[i];
            var read = v?.Reading.Result switch { ReadingResult.Number n => n.Value, ReadingResult.Range r => (r.Low + r.High) / 2, _ => (double?)null };
            return new MarkedStation(s, marks[i], e.Healthy, e.GoodSoFar, read, v?.Judgement);
        }).ToList());

        int Last(int from, int to, Func<Verdict, bool> fits)
        {
            for (var i = Math.Min(to, verdicts.Length - 1); i >= from; i--) if (verdicts[i] is { } v && fits(v)) return i;
            return -1;
        }

        int First(int from, int to, Func<Verdict, bool> fits)
        {
            for (var i = from; i <= Math.Min(to, verdicts.Length - 1); i++) if (verdicts[i] is { } v && fits(v)) return i;
            return -1;
        }
    }
}
