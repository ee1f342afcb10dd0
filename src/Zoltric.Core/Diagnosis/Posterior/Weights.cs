using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>Normalised weights over all fine points; with <paramref name="OffSheet"/> they add to 1.</summary>
/// <param name="Each">By entry of <paramref name="Partition"/>, the weight of each fine point that it stands for.</param>
/// <param name="Unknowns">By entry, what it has learnt of the supply.</param>
/// <param name="AsDrawn">How likely a machine that is not as drawn reads as drawn the next time.</param>
internal sealed record Weights(
    FaultSpace Space,
    ValuePartition Partition,
    double[] Each,
    double OffSheet,
    Unknowns[] Unknowns,
    double AsDrawn
)
{
    /// <summary>The same before what was mended was taken out of it: what all readings of the job are explained by.</summary>
    public double[] AsFound { get; init; } = Each;

    public double Weight(int suspect)
    {
        var sum = 0.0;
        for (var i = Partition.From(suspect); i < Partition.To(suspect); i++)
            sum += Each[i];
        return sum * Partition.Times(suspect);
    }

    /// <summary>Weight of one fine point.</summary>
    public double At(int suspect, int fine) => Each[Partition.At(suspect, fine)];

    private IReadOnlyList<Representative>? _representatives;

    /// <summary>A few grid points per suspect that stand for its whole curve, heaviest suspects first; tiny ones are left out.</summary>
    public IReadOnlyList<Representative> Representatives => _representatives ??= Pick();

    private const double LeastShare = 2e-5;
    private const int MostPoints = 6,
        LeastPoints = 3;
    private const double LittleShare = 0.005;

    /// <summary>
    /// A value that the readings have pinned between two grid points is stood for by itself: grid points beside it would differ from
    /// suspect to suspect and make tests look telling that are not.
    /// </summary>
    private const int FewPoints = 3;

    private IEnumerable<Representative> Narrow(int s, double share)
    {
        var (sum, slice) = (0.0, 0);
        for (var i = 0; i < Space.FineCount(s) && slice < 3; i++)
        {
            sum += At(s, i);
            var taken = 0;
            while (slice < 3 && sum >= share * (2 * slice + 1) / 6)
            {
                slice++;
                taken++;
            }
            if (taken > 0)
                yield return new Representative(s, Space.NearestPoint(s, i), share * taken / 3)
                {
                    FinePoint = i,
                    Supply = Unknowns[Partition.At(s, i)].Off,
                    Mains = Unknowns[Partition.At(s, i)].Mains,
                };
        }
    }

    private Representative At(int s, int point, double weight)
    {
        var fine = Space.Curved(s) ? Math.Min(point * FaultSpace.Fine, Space.FineCount(s) - 1) : point;
        return new Representative(s, point, weight)
        {
            Supply = Unknowns[Partition.At(s, fine)].Off,
            Mains = Unknowns[Partition.At(s, fine)].Mains,
        };
    }

    private List<Representative> Pick()
    {
        var all = new List<Representative>();
        for (var s = 0; s < Space.Suspects.Count; s++)
        {
            var share = Weight(s);
            if (share < LeastShare)
                continue;
            var points = new double[Space.Points(s)];
            for (var i = 0; i < Space.FineCount(s); i++)
                points[Space.NearestPoint(s, i)] += At(s, i);
            if (Space.ForGood(s) is { } there)
            {
                var now = Intermittence.Next(Unknowns[Partition.From(s)].Open);
                all.Add(At(s, 0, share * (1 - now)));
                all.Add(At(there, 0, share * now) with { StandsFor = s });
                continue;
            }
            var carrying = points.Select((w, p) => (w, p)).Where(x => x.w > 0.01 * share).ToList();
            if (carrying.Count <= FewPoints && Space.Curved(s))
            {
                all.AddRange(Narrow(s, share));
                continue;
            }
            // Of many that each hold little, few points do.
            var most = share < LittleShare ? LeastPoints : MostPoints;
            if (carrying.Count <= most)
            {
                foreach (var (w, p) in carrying)
                    all.Add(At(s, p, w));
                continue;
            }
            // Equal slices of the weight, each stood for by its middle.
            var (sum, next) = (0.0, 0.5 / most);
            var whole = carrying.Sum(x => x.w);
            foreach (var (w, p) in carrying)
            {
                sum += w / whole;
                var slices = 0;
                while (next < sum)
                {
                    slices++;
                    next += 1.0 / most;
                }
                if (slices > 0)
                    all.Add(At(s, p, share * slices / most));
            }
        }
        return all;
    }
}
