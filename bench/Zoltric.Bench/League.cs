using System.Globalization;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;

namespace Zoltric.Bench;

/// <summary>Every single fault of the sheets, followed to the end by each strategy; same costs, start and stop for all.</summary>
internal static class League
{
    public static void Run(string[] files)
    {
        var strategies = files.Where(f => Enum.TryParse<Strategy>(f, out _)).Select(Enum.Parse<Strategy>).ToList();
        if (strategies.Count == 0) strategies = [.. Enum.GetValues<Strategy>()];
        foreach (var file in files.Where(File.Exists))
        {
            var space = new FaultSpace(new Machine(SheetReader.Read(File.ReadAllText(file)).Value!));
            foreach (var strategy in strategies)
            {
                var jobs = new FollowedJob?[space.Suspects.Count];
                Parallel.For(0, jobs.Length, i => jobs[i] = FollowedJob.Run(space, space.Suspects[i], 1000 + i, strategy));
                var done = jobs.OfType<FollowedJob>().ToList();
                foreach (var j in done.Where(j => !(j.Solved && j.Right)))
                    Console.WriteLine($"  {(j.Solved ? "WRONG" : "unsolved")} {j.Fault}\n      {string.Join("\n      ", j.Log)}");
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{Path.GetFileName(file)} {strategy}: {done.Count} faults with a symptom, {done.Count(j => j.Solved && j.Right)} right, {done.Count(j => j.Solved && !j.Right)} sure of a wrong one, {done.Average(j => j.Readings):0.0} readings, {done.Average(j => j.Minutes):0.0} min, first group {done.Average(j => j.Leader.Faults.Count):0.00}"));
            }
        }
    }
}
