using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Explanation;

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

/// <summary>
/// A station as it stands: how it is reached, what a healthy machine shows there, what was read. Volts, or ohms where the lane is shown in
/// them.
/// </summary>
/// <param name="Read">V or Ω; infinite for OL.</param>
public sealed record MarkedStation(
    Station Station,
    StepMark Mark,
    HealthyBand Healthy,
    (double Low, double Nominal, double High)? GoodSoFar,
    double? Read,
    Judgement? Judgement
);

public sealed record MarkedLane(Lane Lane, Setup Setup, IReadOnlyList<MarkedStation> Stations)
{
    /// <summary>What the stations are shown in: volts at work, or ohms with everything off.</summary>
    public Dimension Dimension { get; init; } = Dimension.Volt;

    /// <summary>True when any reading lies on it.</summary>
    public bool Touched => Stations.Any(s => s.Read is not null);

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
    /// <summary>Index of the lane that holds the suspicion; the first where none does.</summary>
    public static int InHand(IReadOnlyList<MarkedLane> lanes, Findings findings)
    {
        ArgumentNullException.ThrowIfNull(lanes);
        ArgumentNullException.ThrowIfNull(findings);
        if (findings.Stretch?.Lane is { } stretch)
            for (var i = 0; i < lanes.Count; i++)
                if (lanes[i].Lane.Part == stretch.Part && lanes[i].Lane.Link == stretch.Link)
                    return i;
        return 0;
    }

    /// <summary>Share of a lane's own current that another function must draw through a step to prove it.</summary>
    private const double ProvingShare = 0.5;

    public static IReadOnlyList<MarkedLane> Mark(FaultSpace space, Findings findings)
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(findings);
        if (findings.Function is not { } function || FunctionSetups.SetupFor(space.Circuit, function) is not { } setup)
            return [];
        var judge = new Judge(findings.Belief);
        var weights = findings.Belief.Weigh();
        return findings
            .Lanes.Select(l =>
            {
                var at = l.IsMeter ? Alive(space, l) ?? setup : setup;
                return Mark(l, at, findings, Proved(space, l, findings), t =>
                    judge.Expect(new Test(at, new Probe.Volts(t, space.Nets.CommonOf(t), space.Nets.FunctionAt(t))), weights)
                );
            })
            .ToList();
    }

    /// <summary>
    /// The same lane in ohms, with every source off and the controls as its setup has them: from its beginning to each station up to the
    /// load, and from each station after it to its end; of a meter's lane, from each station to the other tip.
    /// </summary>
    public static MarkedLane Ohms(FaultSpace space, Findings findings, MarkedLane marked)
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(findings);
        ArgumentNullException.ThrowIfNull(marked);
        var (circuit, lane) = (space.Circuit, marked.Lane);
        var (first, last) = (lane.Stations[0].Terminal, lane.Stations[^1].Terminal);
        // A machine that is judged dead is measured as its own setup has it, not as the one that makes its volts.
        var steps =
            lane.IsMeter && findings.Function is { } f && FunctionSetups.SetupFor(circuit, f) is { } own ? own.Steps : marked.Setup.Steps;
        var setup = new Setup(circuit.SourcesOff, steps);
        var judge = new Judge(findings.Belief);
        var weights = findings.Belief.Weigh();
        return marked with
        {
            Setup = setup,
            Dimension = Dimension.Ohm,
            Stations = marked
                .Stations.Select(
                    (s, i) =>
                    {
                        var t = s.Station.Terminal;
                        var (p, q) = lane.IsMeter
                            ? i < lane.LoadEnds
                                ? (t, last)
                                : (first, t)
                            : i < lane.LoadEnds
                                ? (first, t)
                                : (t, last);
                        var x = new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
                        var expected = judge.Expect(new Test(setup, new Probe.Ohms(x)), weights);
                        var verdict = findings.Verdicts.LastOrDefault(v =>
                            v.Reading.Test.Probe is Probe.Ohms { X: var at }
                            && v.Reading.Test.Setup.Equals(setup)
                            && (Joins(at, p, q) || Joins(at, q, p))
                        );
                        double? read = verdict?.Reading.Result switch
                        {
                            ReadingResult.Number n => n.Value,
                            ReadingResult.OverLimit => double.PositiveInfinity,
                            ReadingResult.Range r => (r.Low + r.High) / 2,
                            _ => null,
                        };
                        return s with { Healthy = expected.Healthy, GoodSoFar = null, Read = read, Judgement = verdict?.Judgement };
                    }
                )
                .ToList(),
        };

        static bool Joins(Across x, Terminal p, Terminal q) =>
            x.P.WireId is null && x.Q.WireId is null && x.P.Terminal == p && x.Q.Terminal == q;
    }

    /// <summary>
    /// The same lane after a repair: proved where its function was seen to work in its setup, with the volts read on it then. Null when
    /// neither was, or where it is shown in ohms.
    /// </summary>
    public static MarkedLane? After(MarkedLane lane, IReadOnlyList<Reading> readings)
    {
        ArgumentNullException.ThrowIfNull(lane);
        ArgumentNullException.ThrowIfNull(readings);
        if (lane.Dimension != Dimension.Volt)
            return null;
        var read = new Dictionary<Terminal, double>();
        foreach (var r in readings)
            if (r is { Test: { Probe: Probe.Volts { Q: null } v } test, Result: ReadingResult.Number n } && test.Setup.Equals(lane.Setup))
                read[v.P] = n.Value;
        var works = readings.Any(r =>
            r is { Test: { Probe: Probe.Sees { IsFunction: true } } test, Result: ReadingResult.Word { Answer: Answer.Works } }
            && test.Setup.Equals(lane.Setup)
        );
        if (!works && !lane.Stations.Any(s => read.ContainsKey(s.Station.Terminal)))
            return null;
        return lane with
        {
            Stations =
            [
                .. lane.Stations.Select(s =>
                    s with
                    {
                        Mark = works ? StepMark.Proved : StepMark.Present,
                        GoodSoFar = null,
                        Read = read.TryGetValue(s.Station.Terminal, out var v) ? v : null,
                        Judgement =
                            read.TryGetValue(s.Station.Terminal, out var x) && s.Healthy is { Low: { } low, High: { } high }
                                ? x < low
                                    ? Judgement.Low
                                    : x > high
                                        ? Judgement.High
                                        : Judgement.Ok
                                : null,
                    }
                ),
            ],
        };
    }

    /// <summary>A setup in which the beginning of a meter's lane has volts: that of the first function in which it does.</summary>
    private static Setup? Alive(FaultSpace space, Lane lane) =>
        space
            .Circuit.Functions.Select(f => FunctionSetups.SetupFor(space.Circuit, f))
            .OfType<Setup>()
            .FirstOrDefault(s => Math.Abs(space.Healthy(s).Volts(lane.Stations[0].Terminal)) > 0.5);

    /// <summary>Steps that a function seen to work has proved, for the current it drew.</summary>
    private static bool[] Proved(FaultSpace space, Lane lane, Findings findings)
    {
        var proved = new bool[lane.Stations.Count];
        foreach (var v in findings.Verdicts)
        {
            if (v.Reading is not { Result: ReadingResult.Word { Answer: Answer.Works }, Test.Probe: Probe.Sees, Doubtful: false })
                continue;
            var op = space.Healthy(v.Reading.Test.Setup);
            for (var i = 1; i < proved.Length; i++)
                proved[i] |= Math.Abs(Amps(op, lane.Stations[i].Via!)) >= ProvingShare * lane.Amps;
        }
        return proved;
    }

    private static double Amps(OperatingPoint op, LaneStep via)
    {
        if (via.WireId is { } wire)
            return op.WireAmps(wire);
        if (via.Tag is not { } tag)
            return 0;
        var part = op.Circuit.IndexOf(tag);
        var link = op.Circuit.Parts[part].Model.LinkIndex(via.Link ?? "");
        return link < 0 ? 0 : op.LinkAmps(part, link);
    }

    private static MarkedLane Mark(Lane lane, Setup setup, Findings findings, bool[] byOthers, Func<Terminal, Expected> expect)
    {
        var verdicts = new Verdict?[lane.Stations.Count];
        foreach (var v in findings.Verdicts)
            if (
                v.Reading.Test.Probe is Probe.Volts { Q: null } volts
                && v.Reading.Test.Setup.Equals(setup)
                && lane.IndexOf(volts.P) is var i and >= 0
            )
                verdicts[i] = v;
        var marks = new StepMark[lane.Stations.Count];
        var load = lane.LoadEnds;
        var lastGood = Last(0, load - 1, v => v.Judgement == Judgement.Ok);
        var firstBad = First(Math.Max(lastGood, 0), load - 1, v => v.Judgement == Judgement.Low);
        var proved = Last(0, load - 1, v => v.ProvedUnderLoad);
        for (var i = 1; i < marks.Length; i++)
        {
            if (i <= proved)
                marks[i] = StepMark.Proved;
            else if (i <= lastGood)
                marks[i] = StepMark.Present;
            else if (firstBad >= 0 && i > firstBad && i <= load)
                marks[i] = StepMark.Dead;
            else if (firstBad >= 0 && i > lastGood && i <= firstBad)
                marks[i] = StepMark.Open;
        }
        // The way home: good from a reading near nothing on to the source.
        var home = First(load, marks.Length - 1, v => v.Judgement == Judgement.Ok);
        if (home >= 0)
            for (var i = home + 1; i < marks.Length; i++)
                marks[i] = verdicts[home]!.ProvedUnderLoad ? StepMark.Proved : StepMark.Present;
        if (findings.Stretch is { } stretch && stretch.Lane.Part == lane.Part && stretch.Lane.Link == lane.Link)
            for (var i = 1; i < marks.Length; i++)
                if (i > stretch.From && i <= stretch.To)
                    marks[i] = StepMark.Open;
                else if (marks[i] == StepMark.Open)
                    marks[i] = StepMark.NotYet;
        for (var i = 1; i < marks.Length; i++)
            if (byOthers[i] && marks[i] is StepMark.NotYet or StepMark.Present)
                marks[i] = StepMark.Proved;
        // A metal joint goes with what comes before it.
        for (var i = 2; i < marks.Length; i++)
            if (lane.Stations[i].Via!.IsMetal)
                marks[i] = marks[i - 1];
        return new MarkedLane(
            lane,
            setup,
            lane.Stations.Select(
                    (s, i) =>
                    {
                        var e = expect(s.Terminal);
                        var v = verdicts[i];
                        var read = v?.Reading.Result switch
                        {
                            ReadingResult.Number n => n.Value,
                            ReadingResult.Range r => (r.Low + r.High) / 2,
                            _ => (double?)null,
                        };
                        return new MarkedStation(s, marks[i], e.Healthy, e.GoodSoFar, read, v?.Judgement);
                    }
                )
                .ToList()
        );

        int Last(int from, int to, Func<Verdict, bool> fits)
        {
            for (var i = Math.Min(to, verdicts.Length - 1); i >= from; i--)
                if (verdicts[i] is { } v && fits(v))
                    return i;
            return -1;
        }

        int First(int from, int to, Func<Verdict, bool> fits)
        {
            for (var i = from; i <= Math.Min(to, verdicts.Length - 1); i++)
                if (verdicts[i] is { } v && fits(v))
                    return i;
            return -1;
        }
    }
}
