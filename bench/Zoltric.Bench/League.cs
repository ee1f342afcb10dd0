using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;

namespace Zoltric.Bench;

/// <summary>
/// Every single fault of the sheets, or every nth, followed to the end by each strategy; then the hard families. Same costs, start and stop
/// for all.
/// </summary>
/// <remarks><c>league [Strategy…] [slips=0.03] [drift=0.002] [every=3] [about="function"] [log]
/// [family=two|blown|aged|off|before|intermittent] sheets…</c></remarks>
internal static class League
{
    public static void Run(string[] arguments)
    {
        var strategies = arguments.Where(f => Enum.TryParse<Strategy>(f, out _)).Select(Enum.Parse<Strategy>).ToList();
        if (strategies.Count == 0)
            strategies = [.. Enum.GetValues<Strategy>()];
        string? Setting(string name) =>
            arguments.FirstOrDefault(a => a.StartsWith(name + "=", StringComparison.Ordinal))?[(name.Length + 1)..];
        var slips = double.Parse(Setting("slips") ?? "0", CultureInfo.InvariantCulture);
        var drift = double.Parse(Setting("drift") ?? "0", CultureInfo.InvariantCulture);
        var every = int.Parse(Setting("every") ?? "1", CultureInfo.InvariantCulture);
        var family = Setting("family");
        var about = Setting("about");
        var unknown = arguments.FirstOrDefault(a =>
            !File.Exists(a) && !a.Contains('=', StringComparison.Ordinal) && a != "log" && !Enum.TryParse<Strategy>(a, out _)
        );
        if (unknown is not null)
            throw new ArgumentException($"{unknown} is neither a sheet file nor a strategy: write scenario/sheets/PR-3.sheet.");
        var all = strategies.ToDictionary(s => s, _ => new List<FollowedJob>());
        foreach (var file in arguments.Where(File.Exists))
        {
            var text = File.ReadAllText(file);
            var space = new FaultSpace(new Machine(SheetReader.Read(text).Value!));
            foreach (var strategy in strategies)
            {
                var watch = Stopwatch.StartNew();
                var done = (
                    family is null
                        ? Singles(space, strategy, slips, drift, every, about)
                        : HardFamilies.Run(space, text, family, strategy, slips, drift, 60 / every)
                ).ToList();
                all[strategy].AddRange(done);
                foreach (var j in done.Where(j => !(j.Solved && j.Right) || arguments.Contains("log")))
                    Console.WriteLine(
                        $"  "
                            + $"{(!j.Solved ? "unsolved" : j.Right ? "solved" : "WRONG")}{(j.Right && !j.Solved ? " (leader right)" : "")} "
                            + $"{j.Fault}, {j.Readings} readings, {j.Minutes:0.0} min\n      {string.Join("\n      ", j.Log)}"
                    );
                Console.WriteLine($"{Path.GetFileName(file)} {strategy}: {Line(done)} ({watch.Elapsed.TotalSeconds:0} s)");
            }
        }
        foreach (var (strategy, done) in all)
        {
            Console.WriteLine($"ALL {strategy}: {Line(done)}");
            foreach (var (low, high) in new[] { (0.0, 0.2), (0.2, 0.4), (0.4, 0.6), (0.6, 0.8), (0.8, 0.9), (0.9, 0.95), (0.95, 1.01) })
            {
                // Every fault counts as often as its odds have it, since shares rest on the odds too.
                var bin = done.SelectMany(j => j.Leads.Select(l => (l.Share, l.Right, j.Odds)))
                    .Where(l => l.Share >= low && l.Share < high)
                    .ToList();
                var weight = bin.Sum(l => l.Odds);
                if (bin.Count > 0)
                    Console.WriteLine(
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"    leader's share {low:0.00}–{Math.Min(high, 1):0.00}: {bin.Count, 6} times, said "
                                + $"{bin.Sum(l => l.Share * l.Odds) / weight:0.000}, was right "
                                + $"{bin.Sum(l => l.Right ? l.Odds : 0) / weight:0.000}"
                        )
                    );
            }
        }
    }

    private static IEnumerable<FollowedJob> Singles(
        FaultSpace space,
        Strategy strategy,
        double slips,
        double drift,
        int every,
        string? about
    )
    {
        var jobs = new FollowedJob?[space.Suspects.Count];
        Parallel.For(0, jobs.Length, i =>
        {
            if (i % every == 0 && space.Suspects[i].Together.Count == 0)
                jobs[i] = FollowedJob.Run(space, i, 1000 + i, strategy, slips, drift, about);
        });
        return jobs.OfType<FollowedJob>();
    }

    private static string Line(List<FollowedJob> done)
    {
        if (done.Count == 0)
            return "nothing with a symptom";
        var wrong = done.Count(j => j.Solved && !j.Right);
        var upper = Interval.Of(wrong, done.Count).High;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{done.Count} with a symptom, {done.Count(j => j.Solved && j.Right)} right "
                + $"({100.0 * done.Count(j => j.Solved && j.Right) / done.Count:0.0} %), {wrong} sure of a wrong one (at most "
                + $"{100 * upper:0.0} %), {done.Average(j => j.Readings):0.0} readings, {done.Average(j => j.Minutes):0.0} min, "
                + $"first group {done.Average(j => j.Leader.Faults.Count):0.00}, {done.Count(j => j.OffSheet > 0.5)} taken for "
                + $"not as drawn"
        );
    }
}
