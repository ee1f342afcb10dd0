using System.Globalization;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;
using Zoltric.Core.Tests.Diagnosis;

namespace Zoltric.Bench;

/// <summary>
/// Boards of up to twelve suspects as jobs leave them: minutes of the advice against the exact optimum and against the best next step
/// alone.
/// </summary>
internal static class AgainstOptimum
{
    private const int MostSites = 12,
        MostTests = 24,
        MostPlaces = 7;

    public static void Run(string[] files)
    {
        var (boards, advice, greedy, optimum, worst) = (0, 0.0, 0.0, 0.0, 1.0);
        foreach (var file in files)
        {
            var space = new FaultSpace(new Machine(SheetReader.Read(File.ReadAllText(file)).Value!));
            var jobs = new FollowedJob?[space.Suspects.Count];
            Parallel.For(0, jobs.Length, i =>
            {
                if (i % 6 == 0 && space.Suspects[i].Together.Count == 0)
                    jobs[i] = FollowedJob.Run(space, i, 1000 + i);
            });
            foreach (var job in jobs.OfType<FollowedJob>())
                for (var k = 2; k < job.Log.Count - 1; k += 2)
                {
                    var board = Diagnostician.BoardOf(
                        space,
                        [.. job.Log.Take(k).Select(l => ReadingReader.Read(space.Circuit, l).Value ?? throw new FormatException(l))],
                        MostSites,
                        MostTests
                    );
                    if (board.Coverage < 0.9 || board.Sites < 3 || board.Places > MostPlaces)
                        continue;
                    var best = Optimum.Of(board).Minutes();
                    if (best <= 0)
                        continue;
                    var (ours, next) = (board.MinutesLookingAhead(), board.Minutes(Strategy.BestValue));
                    (boards, advice, greedy, optimum) = (boards + 1, advice + ours, greedy + next, optimum + best);
                    worst = Math.Max(worst, ours / best);
                }
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{Path.GetFileName(file)}: {boards} boards so far; advice {advice / boards:0.00} min, best next step "
                        + $"alone {greedy / boards:0.00}, optimum {optimum / boards:0.00}; excess "
                        + $"{100 * (advice / optimum - 1):0.0} % and {100 * (greedy / optimum - 1):0.0} %, worst board "
                        + $"{100 * (worst - 1):0} %"
                )
            );
        }
    }
}
