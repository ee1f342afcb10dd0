using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Routes;

namespace Zoltric.Bench.Stranger;

/// <summary>How a job on a stranger's machine ended.</summary>
/// <param name="Share">What the true fault's group holds at the end.</param>
/// <param name="LeaderShare">What the leading group holds.</param>
internal sealed record StrangersJob(
    string Fault,
    bool Solved,
    bool Right,
    double Share,
    double LeaderShare,
    double OffSheet,
    int Readings,
    double Minutes,
    IReadOnlyList<string> Log
)
{
    private const int MostReadings = 30;

    /// <summary>Followed by obeying the advice; null when the fault shows in no function.</summary>
    public static StrangersJob? Advised(FaultSpace space, int suspect, int seed, bool jumps)
    {
        var random = new Random(seed);
        var (fault, machine) = Drawn(space, suspect, random, jumps);
        if (Complaint(space, machine, random) is not { } readings)
            return null;
        var options = new DiagnosisOptions { Alternatives = 1, Verdicts = false };
        var (minutes, counted) = (0.0, 0);
        while (true)
        {
            var findings = Diagnostician.Diagnose(space, readings, options);
            if (findings.Solved || findings.NotAsDrawn || findings.Next.Count == 0 || counted > MostReadings)
                return Ended(space, suspect, fault, findings, counted, minutes, readings, jumps);
            // What cannot be done is passed over for the next on the list.
            var (advice, result) = findings.Next.Select(a => (a, machine.Measure(a.Test))).FirstOrDefault(x => x.Item2 is not null);
            if (result is null)
                return Ended(space, suspect, fault, findings, counted, minutes, readings, jumps);
            minutes += advice.Minutes;
            if (advice.Kind != AdviceKind.ProveDead)
                counted++;
            readings.Add(new Reading(advice.Test, result));
        }
    }

    /// <summary>
    /// Done an old hand's way, without advice: the supply, then the lane of the complaint halved by volts to the reference, then what lies
    /// between the last good and the first bad point, taken across. Null when the fault shows in no function.
    /// </summary>
    public static StrangersJob? OldHand(FaultSpace space, int suspect, int seed, bool jumps)
    {
        var random = new Random(seed);
        var (fault, machine) = Drawn(space, suspect, random, jumps);
        if (Complaint(space, machine, random) is not { } readings)
            return null;
        var circuit = space.Circuit;
        var test = readings[0].Test;
        var source = circuit.Sources.First();
        var ends = source.Model.Terminals.Where(t => t is not "PE").Take(2).Select(t => new Terminal(source.Tag, t)).ToList();
        Take(Setup.Rest, Volts(ends[0], ends[1]));
        if (test.Probe is Probe.Sees { IsFunction: true } seen && circuit.FindFunction(seen.What) is { } function)
        {
            var lanes = LaneFinder.Find(space.Machine, function);
            if (lanes.Count > 0)
                Halved(lanes[random.Next(lanes.Count)], readings[0].Test.Setup);
        }
        return Ended(space, suspect, fault, Diagnostician.Diagnose(space, readings), readings.Count, 0, readings, jumps);

        Probe Volts(Terminal p, Terminal? q) => new Probe.Volts(p, q, circuit.Alternating ? VoltsFunction.Ac : VoltsFunction.Dc);

        double? Take(Setup setup, Probe probe)
        {
            if (machine.Measure(new Test(setup, probe)) is not { } result)
                return null;
            readings.Add(new Reading(new Test(setup, probe), result));
            return (result as ReadingResult.Number)?.Value;
        }

        void Halved(Lane lane, Setup setup)
        {
            var before = Math.Clamp(lane.LoadEnds - 1, 1, lane.Stations.Count - 1);
            var (good, bad) = (0, before);
            // Is the load fed at all?
            if (Take(setup, Volts(lane.Stations[before].Terminal, null)) is { } fed && Math.Abs(fed) > 0.6 * circuit.NominalVolts)
            {
                Take(setup, Volts(lane.Stations[before].Terminal, lane.Stations[lane.LoadEnds].Terminal));
                (good, bad) = (lane.Stations.Count - 1, lane.LoadEnds);
                while (Math.Abs(good - bad) > 1)
                {
                    var middle = (good + bad) / 2;
                    if (Take(setup, Volts(lane.Stations[middle].Terminal, null)) is { } v && Math.Abs(v) > 0.1 * circuit.NominalVolts)
                        bad = middle;
                    else
                        good = middle;
                }
            }
            else
                while (bad - good > 1)
                {
                    var middle = (good + bad) / 2;
                    if (Take(setup, Volts(lane.Stations[middle].Terminal, null)) is { } v && Math.Abs(v) > 0.6 * circuit.NominalVolts)
                        good = middle;
                    else
                        bad = middle;
                }
            Take(setup, Volts(lane.Stations[good].Terminal, lane.Stations[bad].Terminal));
        }
    }

    private static (Fault Fault, StrangersMachine Machine) Drawn(FaultSpace space, int suspect, Random random, bool jumps)
    {
        var s = space.Suspects[suspect];
        // Any value of the range, as often in each decade.
        var fault =
            s.Values.Count == 0 ? s.Template
            : s.Continuous ? s.With(s.Values[0] * Math.Pow(s.Values[^1] / s.Values[0], random.NextDouble()))
            : s.With(s.Values[random.Next(s.Values.Count)]);
        return (fault, new StrangersMachine(space.Machine, [fault], random, jumps));
    }

    /// <summary>One symptom at random, and half the time one thing that works; null where nothing shows.</summary>
    private static List<Reading>? Complaint(FaultSpace space, StrangersMachine machine, Random random)
    {
        var circuit = space.Circuit;
        var symptoms = new List<Reading>();
        var working = new List<Reading>();
        foreach (var f in circuit.Functions)
        {
            if (FunctionSetups.SetupFor(circuit, f) is not { } setup || !machine.IsSoundWithout(f, setup))
                continue;
            var test = new Test(setup, new Probe.Sees(f.Name, true));
            if (machine.Measure(test) is ReadingResult.Word w)
                (w.Answer == Answer.Works ? working : symptoms).Add(new Reading(test, w));
        }
        if (symptoms.Count == 0)
            return null;
        var readings = new List<Reading> { symptoms[random.Next(symptoms.Count)] };
        if (working.Count > 0 && random.Next(2) == 0)
            readings.Add(working[random.Next(working.Count)]);
        return readings;
    }

    private static StrangersJob Ended(
        FaultSpace space,
        int suspect,
        Fault fault,
        Findings findings,
        int counted,
        double minutes,
        List<Reading> readings,
        bool jumps
    )
    {
        var site = space.Sites[suspect];
        // A joint that comes and goes may be called so, or open: it is mended at one place.
        bool Names(FaultGroup g) => g.Site == site || jumps && g.Faults.Any(f => f.Target == fault.Target);
        var share = findings.Suspects.Where(Names).Sum(g => g.Share);
        return new StrangersJob(
            fault.ToString(),
            findings.Solved || findings.NotAsDrawn,
            !findings.NotAsDrawn && Names(findings.Suspects[0]),
            share,
            findings.Suspects[0].Share,
            findings.OffSheet,
            counted,
            minutes,
            [
                .. readings.Select(r => r.ToString()),
                "=> "
                    + string.Join("; ", findings.Suspects.Take(4).Select(g => $"{string.Join(" / ", g.Words)} {g.Share:0.000}"))
                    + $"; the true one {share:0.000}; off sheet {findings.OffSheet:0.000}",
            ]
        );
    }
}
