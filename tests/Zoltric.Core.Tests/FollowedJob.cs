using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests;

/// <summary>
/// A job done by following the advice to the letter, on a machine whose part tolerances, supply and lead resistance are drawn at random
/// and unknown to the diagnosis, with a meter of 0.5 % and two digits.
/// </summary>
internal sealed record FollowedJob(Fault Fault, string Complaint, bool Solved, bool Right, int Readings, double Minutes, FaultGroup Leader, IReadOnlyList<string> Log)
{
    public const int MostReadings = 30;

    /// <summary>Null when the fault shows in no function of the sheet.</summary>
    public static FollowedJob? Run(FaultSpace space, Suspect suspect, int seed, Strategy strategy = Strategy.BestValue, double slips = 0)
    {
        var random = new Random(seed);
        var machine = space.Machine;
        var circuit = machine.Circuit;
        // Any value of its range, not only those the diagnosis keeps on its grid.
        var fault = suspect.Values.Count == 0 ? suspect.Template : suspect.Continuous
            ? suspect.With(suspect.Values[0] * Math.Pow(suspect.Values[^1] / suspect.Values[0], random.NextDouble()))
            : suspect.With(suspect.Values[random.Next(suspect.Values.Count)]);
        var battery = circuit.Sources.First().Kind is Circuits.Kinds.Battery;
        var spread = MachineSpread.Draw(machine, random, battery ? 0.96 : 0.99, battery ? 1.02 : 1.01);
        var leads = 0.1 + 0.2 * random.NextDouble();

        ReadingResult Measure(Test test)
        {
            var shown = Meter.Read(machine, test, [fault], spread);
            if (shown.Refused) throw new InvalidOperationException($"refused: {test}: {shown.Text}");
            if (shown.Value is not { } v) return shown.OverLimit ? new ReadingResult.OverLimit() : new ReadingResult.Word(shown.Text);
            if (slips > 0 && random.NextDouble() < slips && shown.Dimension == Dimension.Volt) v = random.NextDouble() * 1.1 * circuit.NominalVolts;
            if (shown.Dimension == Dimension.Ohm) v += leads;
            v *= 1 + 0.005 * (2 * random.NextDouble() - 1);
            v += (shown.Dimension == Dimension.Volt ? 0.01 : 0.05) * random.Next(-2, 3);
            return new ReadingResult.Number(Math.Round(v, 2), shown.Dimension);
        }

        Reading? complaint = null;
        foreach (var f in circuit.Functions)
        {
            if (FunctionState.SetupFor(circuit, f) is not { } setup) continue;
            var test = new Test(setup, new Probe.Sees(f.Name, true));
            if (Measure(test) is ReadingResult.Word { Text: not "works" } w) { complaint = new Reading(test, w); break; }
        }
        if (complaint is null) return null;
        var readings = new List<Reading> { complaint };
        var costs = 0.0;
        var options = new DiagnosisOptions { Strategy = strategy, Alternatives = 0, Verdicts = false };
        while (true)
        {
            var findings = Diagnostician.Diagnose(space, readings, options);
            if (findings.Solved || findings.Next.Count == 0 || readings.Count > MostReadings)
            {
                var leader = findings.Suspects[0];
                var right = leader.Site == space.Sites[space.Suspects.ToList().IndexOf(suspect)];
                var log = readings.Select(r => r.ToString()).Append($"=> {string.Join("; ", findings.Suspects.Take(4).Select(g => $"{string.Join(" / ", g.Faults)} {g.Share:0.000}"))}; off sheet {findings.OffSheet:0.000}").ToList();
                return new FollowedJob(fault, complaint.Test.Probe.ToString()!, findings.Solved, right, readings.Count - 1, costs, leader, log);
            }
            costs += findings.Next[0].Minutes;
            readings.Add(new Reading(findings.Next[0].Test, Measure(findings.Next[0].Test)));
        }
    }
}
