using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Bench.Stranger;

/// <summary>Every single fault of the sheets, or every nth, on machines and with people that the diagnosis does not assume.</summary>
/// <remarks><c>stranger [own] [jumps] [every=3] [seed=1] [log] sheets…</c></remarks>
internal static class StrangersLeague
{
    /// <summary>An old hand's readings convict wrongly where another group holds this much and the true one next to nothing.</summary>
    private const double Convicted = 0.9,
        Acquitted = 0.02,
        Misdrawn = 0.5;

    public static void Run(string[] arguments)
    {
        string? Setting(string name) =>
            arguments.FirstOrDefault(a => a.StartsWith(name + "=", StringComparison.Ordinal))?[(name.Length + 1)..];
        var every = int.Parse(Setting("every") ?? "1", CultureInfo.InvariantCulture);
        var seed = int.Parse(Setting("seed") ?? "1", CultureInfo.InvariantCulture);
        var (own, jumps, log) = (arguments.Contains("own"), arguments.Contains("jumps"), arguments.Contains("log"));
        var all = new List<StrangersJob>();
        foreach (var file in arguments.Where(a => a.EndsWith(".sheet", StringComparison.Ordinal)))
        {
            var space = new FaultSpace(new Machine(SheetReader.Read(File.ReadAllText(file)).Value!));
            var jobs = new StrangersJob?[space.Suspects.Count];
            Parallel.For(0, jobs.Length, i =>
            {
                if (i % every != 0 || space.Suspects[i].Together.Count > 0 || jumps && space.Suspects[i].Template.Kind != FaultKind.Open)
                    return;
                jobs[i] = own
                    ? StrangersJob.OldHand(space, i, 7919 * seed + i, jumps)
                    : StrangersJob.Advised(space, i, 7919 * seed + i, jumps);
            });
            var done = jobs.OfType<StrangersJob>().ToList();
            all.AddRange(done);
            foreach (var j in done.Where(j => log || (own ? Wrong(j) : !(j.Solved && j.Right))))
                Console.WriteLine(
                    $"  {(own ? "OLD HAND" : !j.Solved ? "unsolved" : "WRONG")} {j.Fault}\n      {string.Join("\n      ", j.Log)}"
                );
            Console.WriteLine($"{Path.GetFileName(file)}: {(own ? OwnLine(done) : Line(done))}");
        }
        Console.WriteLine($"ALL: {(own ? OwnLine(all) : Line(all))}");
    }

    private static bool Wrong(StrangersJob j) => j.OffSheet > Misdrawn || !j.Right && j.LeaderShare > Convicted && j.Share < Acquitted;

    private static string Line(List<StrangersJob> done)
    {
        if (done.Count == 0)
            return "nothing with a symptom";
        var (right, wrong, off) = (
            done.Count(j => j.Solved && j.Right),
            done.Count(j => j.Solved && !j.Right && j.OffSheet < Misdrawn),
            done.Count(j => j.OffSheet > Misdrawn)
        );
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{done.Count} with a symptom, {right} right ({100.0 * right / done.Count:0.0} %, "
                + $"at least {100 * Interval.Of(right, done.Count).Low:0.0}), {wrong} sure of a wrong one "
                + $"(at most {100 * Interval.Of(wrong, done.Count).High:0.0} %), {off} taken for not as drawn "
                + $"(at most {100 * Interval.Of(off, done.Count).High:0.0} %), {done.Average(j => j.Readings):0.0} readings, "
                + $"{done.Average(j => j.Minutes):0.0} min"
        );
    }

    private static string OwnLine(List<StrangersJob> done) =>
        done.Count == 0
            ? "nothing with a symptom"
            : string.Create(
                CultureInfo.InvariantCulture,
                $"{done.Count} with a symptom, leader right {done.Count(j => j.Right)}, "
                    + $"the true one holds {done.Average(j => j.Share):0.000} in the mean, "
                    + $"wrongly convicted {done.Count(j => Wrong(j) && j.OffSheet < Misdrawn)}, "
                    + $"taken for not as drawn {done.Count(j => j.OffSheet > Misdrawn)}, {done.Average(j => j.Readings):0.0} readings"
            );
}
