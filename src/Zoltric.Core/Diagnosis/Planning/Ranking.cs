using Zoltric.Core.Circuits;
using Zoltric.Core.Routes;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>Puts tests in the order of a school.</summary>
internal static class Ranking
{
    public static IEnumerable<(Test Test, double Bits, double Minutes)> Order(
        IEnumerable<(Test Test, double Bits, double Minutes)> tests,
        Strategy strategy,
        IReadOnlyList<Lane> lanes,
        Func<Test, double> penalty
    )
    {
        var all = tests.ToList();
        return strategy switch
        {
            Strategy.Forwards => all.OrderBy(t => Station(t.Test, lanes)).ThenByDescending(t => t.Bits),
            Strategy.Backwards => all.OrderByDescending(t => Station(t.Test, lanes, -1)).ThenByDescending(t => t.Bits),
            Strategy.SplitMiddle => all.OrderByDescending(t => t.Bits),
            Strategy.CheapestFirst => all.OrderBy(t => t.Minutes + penalty(t.Test)).ThenByDescending(t => t.Bits),
            _ => all.OrderByDescending(t => t.Bits / (t.Minutes + penalty(t.Test))).ThenBy(t => t.Minutes),
        };
    }

    /// <summary>Place along the road of the current: lane by lane, station by station; what lies on no lane comes last.</summary>
    internal static int Station(Test test, IReadOnlyList<Lane> lanes, int otherwise = int.MaxValue)
    {
        var tips = test.Probe.Tips;
        for (var l = 0; l < lanes.Count; l++)
            foreach (var tip in tips)
                if (lanes[l].IndexOf(tip) is var i and >= 0 && tip != lanes[l].Stations[^1].Terminal)
                    return l * 1000 + i;
        return otherwise;
    }
}
