using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>What a feed draws while the machine is at rest, as drawn and as the suspects left would have it.</summary>
/// <param name="Feed">Fuse or breaker; null for what no fuse stands before.</param>
/// <param name="Healthy">Amps as drawn; not a number where there is no fuse.</param>
/// <param name="Behind">Share of the suspicion, 0 to 1, with which too much is drawn behind it.</param>
/// <param name="Low">Amps of the twentieth part of that which draws least, and <paramref name="High"/> most; 0 where nothing is
/// suspected.</param>
public sealed record FeedDraw(Part? Feed, double Healthy, double Behind, double Low, double High)
{
    private const double Tail = 0.05,
        LeastBehind = 0.005,
        LeastHealthy = 0.001;

    /// <summary>
    /// Feed by feed, those first behind which it most likely is; none where the complaint is not of a draw. Feeds in a row each count what
    /// lies behind them.
    /// </summary>
    public static IReadOnlyList<FeedDraw> Of(Findings findings)
    {
        ArgumentNullException.ThrowIfNull(findings);
        var belief = findings.Belief;
        var space = belief.Space;
        if (new DrawTests(space, [.. belief.Evidence.Select(e => e.Reading)]).Drawing() is not { } setup)
            return [];
        var circuit = space.Circuit;
        var healthy = space.Healthy(setup);
        var weights = belief.Weigh();
        var points = weights.Representatives.Select(p => (p.Weight, Run: space.Run(setup, p))).ToList();
        var feeds = circuit.Parts.Where(p => p.Kind is Fuse or Breaker).Select(p => (Part: p, Index: circuit.IndexOf(p.Tag))).ToList();
        double Amps(OperatingPoint op, int part) => Math.Abs(op.LinkAmps(part, 0));
        bool Draws(OperatingPoint op, int part) => Amps(op, part) > Amps(healthy, part) + Outcomes.NoDraw;
        var all = feeds.ConvertAll(f =>
        {
            var (behind, low, high) = Range([.. points.Where(p => Draws(p.Run, f.Index)).Select(p => (p.Weight, Amps(p.Run, f.Index)))]);
            return new FeedDraw(f.Part, Amps(healthy, f.Index), behind, low, high);
        });
        var before = points.Where(p => !feeds.Exists(f => Draws(p.Run, f.Index))).Sum(p => p.Weight);
        return
        [
            .. all.Append(new FeedDraw(null, double.NaN, before, 0, 0))
                .Where(f => f.Behind > LeastBehind || f.Healthy > LeastHealthy)
                .OrderByDescending(f => f.Behind),
        ];
    }

    private static (double Sum, double Low, double High) Range(List<(double Weight, double Amps)> draws)
    {
        var (sum, below, low, high) = (draws.Sum(d => d.Weight), 0.0, 0.0, 0.0);
        foreach (var (weight, amps) in draws.OrderBy(d => d.Amps))
        {
            if (below <= Tail * sum)
                low = amps;
            if (below <= (1 - Tail) * sum)
                high = amps;
            below += weight;
        }
        return (sum, low, high);
    }
}
