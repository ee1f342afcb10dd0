namespace Zoltric.Core.Tests.Diagnosis;

public class OptimumTests
{
    /// <summary>
    /// Suspects that are each looked at by themselves are best taken in the order of odds over cost (Smith, 1956; for troubleshooting
    /// Heckerman, Breese and Rommelse, 1995): the optimum costs what that order costs, worked out beside it.
    /// </summary>
    [Fact]
    public void Independent_suspects_are_best_taken_by_odds_over_cost()
    {
        double[] odds = [0.2, 0.4, 0.09, 0.25, 0.06],
            minutes = [1, 5, 0.5, 2];
        var best = new Optimum(5, 4, s => odds[s], (t, s) => t == s ? 1 : 0, (t, _, _) => minutes[t], _ => 0, _ => 0).Minutes();
        var (spent, expected) = (0.0, 0.0);
        foreach (var t in Enumerable.Range(0, 4).OrderByDescending(t => odds[t] / minutes[t]))
        {
            spent += minutes[t];
            expected += odds[t] * spent;
        }
        expected += odds[4] * spent;
        best.ShouldBe(expected, 1e-9);
    }

    /// <summary>A chain of eight equal suspects split in halves takes three tests each (Shannon).</summary>
    [Fact]
    public void Equal_suspects_in_a_row_are_halved() =>
        new Optimum(8, 7, _ => 1 / 8.0, (t, s) => s > t ? 1 : 0, (_, _, _) => 1, _ => 0, _ => 0).Minutes().ShouldBe(3, 1e-9);
}
