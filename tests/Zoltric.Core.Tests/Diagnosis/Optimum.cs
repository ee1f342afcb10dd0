using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// The exact least expected minutes of a job on a small board, by dynamic programming over the suspects left, the places open and the
/// setting of the machine (Bellman, 1957). Every policy on the same board takes at least this long.
/// </summary>
internal sealed class Optimum(
    int suspects,
    int tests,
    Func<int, double> weight,
    Func<int, int, int> answer,
    Func<int, int, int, double> cost,
    Func<int, int> opens,
    Func<int, int> sets
)
{
    private const double Undecided = 3;
    private readonly Dictionary<(int Left, int Open, int Setup), double> _known = [];

    public static Optimum Of(RolloutPlanner board)
    {
        double Cost(int test, int open, int setup)
        {
            var places = new bool[board.Places];
            for (var p = 0; p < places.Length; p++)
                places[p] = (open >> p & 1) != 0;
            return board.Cost(test, places, setup);
        }

        return new Optimum(
            board.Sites,
            board.Tests.Count,
            board.WeightOf,
            board.AnswerOf,
            Cost,
            t => board.PlacesOf(t).Aggregate(0, (bits, p) => bits | 1 << p),
            board.SetupOf
        );
    }

    public double Minutes() => Minutes((1 << suspects) - 1, 0, 0);

    private double Minutes(int left, int open, int setup)
    {
        var of = Enumerable.Range(0, suspects).Where(s => (left >> s & 1) != 0).ToList();
        var total = of.Sum(weight);
        if (of.Count <= 1 || of.Max(weight) >= Certainty.Enough * total)
            return 0;
        if (_known.TryGetValue((left, open, setup), out var known))
            return known;
        var best = double.PositiveInfinity;
        for (var t = 0; t < tests; t++)
        {
            var parts = of.GroupBy(s => answer(t, s)).Select(g => g.Aggregate(0, (bits, s) => bits | 1 << s)).ToList();
            if (parts.Count < 2)
                continue;
            var minutes = cost(t, open, setup);
            foreach (var part in parts)
            {
                if (minutes >= best)
                    break;
                minutes += of.Where(s => (part >> s & 1) != 0).Sum(weight) / total * Minutes(part, open | opens(t), sets(t));
            }
            best = Math.Min(best, minutes);
        }
        return _known[(left, open, setup)] = double.IsPositiveInfinity(best) ? Undecided * Math.Log2(of.Count) : best;
    }
}
