using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Routes;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>
/// A job reduced to what planning needs: the likeliest sites, one point for each, the tests worth a thought, and which answer each site
/// gives to each test. On it a way of working is played to the end for every site, so that tests are compared by the minutes of the whole
/// job and not of one step. Source: rollout of a base policy (Tesauro and Galperin, 1997; Bertsekas and Tsitsiklis, 1997).
/// </summary>
internal sealed class RolloutPlanner
{
    private const int MostSites = 48,
        MostTests = 60;

    /// <summary>Answers nearer than this, in standard deviations, count as the same.</summary>
    private const double Apart = 2.5;

    private readonly double[] _weight;
    private readonly int[][] _answer;
    private readonly double[] _handling;
    private readonly int[][] _places;
    private readonly double[] _reach;
    private readonly int[] _setup;
    private readonly double[,] _between;
    private readonly double[] _order;

    public IReadOnlyList<Test> Tests { get; }
    public int Sites => _weight.Length;

    /// <summary>Share of all suspicion that the board holds.</summary>
    public double Coverage { get; }

    public RolloutPlanner(
        FaultSpace space,
        Gain gain,
        TestCosts costs,
        IEnumerable<(Test Test, double Bits, double Minutes)> ranked,
        IReadOnlyList<Lane> lanes,
        int mostSites = MostSites,
        int mostTests = MostTests
    )
    {
        var points = gain
            .Points.Select((p, i) => (Point: p, Index: i))
            .GroupBy(x => space.Sites[x.Point.Counts])
            .Select(g => (Index: g.MaxBy(x => x.Point.Weight).Index, Weight: g.Sum(x => x.Point.Weight)))
            .OrderByDescending(x => x.Weight)
            .ThenBy(x => x.Index)
            .Take(mostSites)
            .ToList();
        Coverage = points.Sum(p => p.Weight);
        _weight = [.. points.Select(p => p.Weight / Math.Max(Coverage, 1e-12))];
        var all = ranked.ToList();
        var tests = all.OrderByDescending(t => t.Bits / t.Minutes)
            .Take(mostTests * 2 / 3)
            .Concat(all.OrderByDescending(t => t.Bits).Take(mostTests / 3))
            .Select(t => t.Test)
            .Distinct()
            .ToList();
        Tests = tests;
        var places = new Dictionary<string, int>();
        var reach = new List<double>();
        var setups = new List<Setup> { costs.Standing };
        (_answer, _handling, _places, _setup) = (
            new int[tests.Count][],
            new double[tests.Count],
            new int[tests.Count][],
            new int[tests.Count]
        );
        for (var t = 0; t < tests.Count; t++)
        {
            _answer[t] = Answers(gain, tests[t], points.Select(p => p.Index));
            _handling[t] = tests[t].Probe.Minutes;
            _places[t] =
            [
                .. costs
                    .Places(tests[t])
                    .Where(p => !costs.IsOpen(p.Place))
                    .Select(p =>
                    {
                        if (!places.TryGetValue(p.Place, out var n))
                        {
                            places[p.Place] = n = reach.Count;
                            reach.Add(p.Reach);
                        }
                        return n;
                    })
                    .Distinct(),
            ];
            var at = setups.IndexOf(tests[t].Setup);
            if (at < 0)
            {
                at = setups.Count;
                setups.Add(tests[t].Setup);
            }
            _setup[t] = at;
        }
        _reach = [.. reach];
        _between = new double[setups.Count, setups.Count];
        for (var a = 0; a < setups.Count; a++)
        for (var b = 0; b < setups.Count; b++)
            _between[a, b] = costs.Between(setups[a], setups[b]);
        _order = [.. tests.Select(t => Ranking.Station(t, lanes))];
    }

    /// <summary>Number of the answer that each point gives: values that a meter would not tell apart are one answer.</summary>
    private static int[] Answers(Gain gain, Test test, IEnumerable<int> points)
    {
        var dimension = test.Probe.Dimension;
        var shown = points.Select(i => gain.Value(test, i)).ToList();
        var numbers = shown.Where(p => p.Word is null).Select(p => gain.Coordinate(p.Mean, dimension)).Order().ToList();
        var borders = new List<double>();
        for (var i = 1; i < numbers.Count; i++)
            if (numbers[i] - numbers[i - 1] > Apart)
                borders.Add((numbers[i] + numbers[i - 1]) / 2);
        var words = new List<Answer>();
        return
        [
            .. shown.Select(p =>
            {
                if (p.Word is not { } word)
                    return borders.Count(b => gain.Coordinate(p.Mean, dimension) > b);
                if (!words.Contains(word))
                    words.Add(word);
                return 1000 + words.IndexOf(word);
            }),
        ];
    }

    /// <summary>Minutes on average until one site holds enough, working by a school; the first test may be given.</summary>
    public double Minutes(Strategy strategy, int first = -1) =>
        Play([.. Enumerable.Range(0, Sites)], new bool[_reach.Length], 0, strategy, first, 0);

    /// <summary>Minutes on average when every step is chosen by playing the likeliest tests to the end, as the advice does.</summary>
    public double MinutesLookingAhead() => LookingAhead([.. Enumerable.Range(0, Sites)], new bool[_reach.Length], 0, 0);

    private double LookingAhead(List<int> left, bool[] open, int setup, int depth)
    {
        var total = left.Sum(h => _weight[h]);
        if (left.Count <= 1 || left.Max(h => _weight[h]) >= Certainty.Enough * total)
            return 0;
        var (best, least) = (-1, double.PositiveInfinity);
        if (depth < MostSteps)
            for (var t = 0; t < Tests.Count; t++)
                if (
                    left.Exists(h => _answer[t][h] != _answer[t][left[0]])
                    && Play(left, open, setup, Strategy.BestValue, t, depth) is var m
                    && m < least
                )
                    (best, least) = (t, m);
        if (best < 0)
            return Undecided * Math.Log2(left.Count);
        var minutes = Cost(best, open, setup);
        var after = (bool[])open.Clone();
        foreach (var p in _places[best])
            after[p] = true;
        foreach (var answer in left.GroupBy(h => _answer[best][h]))
            minutes += answer.Sum(h => _weight[h]) / total * LookingAhead([.. answer], after, _setup[best], depth + 1);
        return minutes;
    }

    private const int MostSteps = 14;

    /// <summary>Minutes charged for what is left undecided, per site.</summary>
    private const double Undecided = 3;

    private double Play(List<int> left, bool[] open, int setup, Strategy strategy, int first, int depth)
    {
        var total = left.Sum(h => _weight[h]);
        if (left.Count <= 1 || left.Max(h => _weight[h]) >= Certainty.Enough * total)
            return 0;
        var test = first >= 0 ? first : Choose(left, total, open, setup, strategy);
        if (test < 0 || depth >= MostSteps)
            return Undecided * Math.Log2(left.Count);
        var minutes = Cost(test, open, setup);
        var after = (bool[])open.Clone();
        foreach (var p in _places[test])
            after[p] = true;
        foreach (var answer in left.GroupBy(h => _answer[test][h]))
        {
            var some = answer.ToList();
            minutes += some.Sum(h => _weight[h]) / total * Play(some, after, _setup[test], strategy, -1, depth + 1);
        }
        return minutes;
    }

    internal double Cost(int test, bool[] open, int setup)
    {
        var minutes = _handling[test] + _between[setup, _setup[test]];
        foreach (var p in _places[test])
            if (!open[p])
                minutes += _reach[p];
        return minutes;
    }

    private int Choose(List<int> left, double total, bool[] open, int setup, Strategy strategy)
    {
        var (best, most) = (-1, double.NegativeInfinity);
        Span<double> sums = stackalloc double[left.Count];
        Span<int> answers = stackalloc int[left.Count];
        for (var t = 0; t < Tests.Count; t++)
        {
            var kinds = 0;
            foreach (var h in left)
            {
                var k = 0;
                while (k < kinds && answers[k] != _answer[t][h])
                    k++;
                if (k == kinds)
                {
                    answers[kinds] = _answer[t][h];
                    sums[kinds++] = 0;
                }
                sums[k] += _weight[h];
            }
            if (kinds < 2)
                continue;
            var bits = 0.0;
            for (var k = 0; k < kinds; k++)
                bits -= sums[k] / total * Math.Log2(sums[k] / total);
            if (bits < 0.02)
                continue;
            var cost = Cost(t, open, setup);
            var value = strategy switch
            {
                Strategy.Forwards => -_order[t] + bits / 100,
                Strategy.Backwards => (_order[t] == int.MaxValue ? -1 : _order[t]) + bits / 100,
                Strategy.SplitMiddle => bits,
                Strategy.CheapestFirst => -cost + bits / 1000,
                _ => bits / cost,
            };
            if (value > most)
                (best, most) = (t, value);
        }
        return best;
    }

    // What the exact optimum needs.
    internal double WeightOf(int site) => _weight[site];

    internal int AnswerOf(int test, int site) => _answer[test][site];

    internal int SetupOf(int test) => _setup[test];

    internal IReadOnlyList<int> PlacesOf(int test) => _places[test];

    internal int Places => _reach.Length;
}
