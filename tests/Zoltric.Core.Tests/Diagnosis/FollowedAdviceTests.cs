using System.Globalization;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>Every single fault that shows, followed to the end by obeying the advice, on machines the diagnosis does not know.</summary>
public class FollowedAdviceTests(ITestOutputHelper output)
{
    /// <summary>Some faults of each sheet; as a whole every one of the first three. The league in bench/ runs them all.</summary>
    [Theory]
    [InlineData("PR-3", 1)]
    [InlineData("QS-5", 1)]
    [InlineData("BP-2", 1)]
    [InlineData("RG-1", 3)]
    [InlineData("GH-2", 3)]
    [InlineData("TD-2", 5)]
    [InlineData("LT-1", 5)]
    [InlineData("SL-9", 5)]
    [InlineData("BL-1", 10)]
    [InlineData("DO-4", 50)]
    [InlineData("PH-1", 40)]
    [InlineData("BT-7", 40)]
    public void Every_single_fault_with_a_symptom_ends_solved_in_the_first_group(string sheet, int every)
    {
        every *= DemoSheets.Whole ? 1 : 3;
        var space = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
        var jobs = new FollowedJob?[space.Suspects.Count];
        Parallel.For(0, jobs.Length, i =>
        {
            if (i % every == 0 && space.Suspects[i].Together.Count == 0)
                jobs[i] = FollowedJob.Run(space, i, 1000 + i);
        });
        var done = jobs.OfType<FollowedJob>().ToList();
        foreach (var j in done)
            output.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{j.Fault, -40} {j.Readings, 3} readings {j.Minutes, 6:0.0} min  "
                        + $"{(j.Solved ? j.Right ? "solved" : "WRONG" : "unsolved")}  {string.Join(" / ", j.Leader.Faults)} "
                        + $"{j.Leader.Share:0.000}"
                )
            );
        output.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{sheet}: {done.Count} faults with a symptom of {space.Suspects.Count}; {done.Average(j => j.Readings):0.0} "
                    + $"readings, {done.Average(j => j.Minutes):0.0} min, first group "
                    + $"{done.Average(j => j.Leader.Faults.Count):0.00}"
            )
        );
        done.Count.ShouldBeGreaterThan(40 / every);
        var missed = done.Where(j => !j.Solved || !j.Right).ToList();
        var said = string.Join(
            "\n\n",
            missed.Select(j => $"{j.Fault}: {(j.Solved ? "sure of a wrong one" : "unsolved")}\n{string.Join('\n', j.Log)}")
        );
        // The goal is 99 of 100: at 95 % the likeliest of several is named, and one in many is the rare one. A sample may have drawn one of
        // the few; on the light tower, where 90 to 96 of 100 are right, a dozen draw two.
        var drawn = sheet == "LT-1" && !DemoSheets.Whole ? 2 : 1;
        missed.Count.ShouldBeLessThanOrEqualTo(Math.Max(every > 1 ? drawn : 0, done.Count / 100), said);
        // A group that lists everything is no answer; of a sample a few wires of one net are half.
        done.Average(j => j.Leader.Faults.Count).ShouldBeLessThan(every > 1 ? 4 : 1.5);
    }
}
