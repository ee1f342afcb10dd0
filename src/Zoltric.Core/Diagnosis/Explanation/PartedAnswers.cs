using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Faults;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>
/// The answers of a test parted where they tell suspects apart: values that a meter hardly tells apart are one answer, and of the
/// neighbours those whose suspects are most alike are put together until few are left. For a plan that is made before anything is read.
/// </summary>
internal static class PartedAnswers
{
    /// <summary>Most answers that are values.</summary>
    private const int Most = 3;

    /// <summary>Bits, and share of all that the test tells, under which two neighbours are as good as one.</summary>
    private const double LeastBits = 0.03,
        LeastPart = 0.1;

    /// <summary>What a meter's leads and a joint may add: values of ohms below it lie together.</summary>
    private const double LeadOhms = 0.3;

    private const double LeastAmps = 0.1;

    /// <summary>Width of one answer at first, as a ratio for ohms and amps, of nominal for volts.</summary>
    private const double Ratio = 1.3,
        OfNominal = 0.03;

    private sealed class Heap
    {
        public List<(double V, double W)> Values { get; } = [];
        public Dictionary<RepairSite, double> Sites { get; } = [];
        public double Low => Values[0].V;
        public double High => Values[^1].V;
        public double Weight => Values.Sum(v => v.W);

        public static Heap Of(Heap a, Heap b)
        {
            var both = new Heap();
            foreach (var h in (ReadOnlySpan<Heap>)[a, b])
            {
                both.Values.AddRange(h.Values);
                foreach (var (site, w) in h.Sites)
                    both.Sites[site] = both.Sites.GetValueOrDefault(site) + w;
            }
            return both;
        }

        /// <summary>Σ w·log₂ w of its sites, less that of the whole.</summary>
        public double Term => Sites.Values.Sum(AnswerHistogram.Term) - AnswerHistogram.Term(Weight);
    }

    /// <summary>
    /// Values from low to high, then words; chances sum to 1 over all of them. Empty where no suspect has a reading there.
    /// </summary>
    public static IReadOnlyList<PartedAnswer> Of(Gain gain, Test test, IReadOnlyList<RepairSite> sites, double nominal)
    {
        var dimension = test.Probe.Dimension;
        var words = new Dictionary<Answer, double>();
        var values = new List<(double V, double W, RepairSite Site)>();
        for (var i = 0; i < gain.Points.Count; i++)
        {
            var (point, p) = (gain.Points[i], gain.Value(test, i));
            if (p.Word == Answer.Refused || point.Weight <= 0)
                continue;
            if (p.Word is { } word)
                words[word] = words.GetValueOrDefault(word) + point.Weight;
            else
                values.Add((test.Probe.IsEitherWay ? Math.Abs(p.Mean) : p.Mean, point.Weight, sites[point.Counts]));
        }
        var total = words.Values.Sum() + values.Sum(v => v.W);
        var heaps = Heaps(values, dimension, nominal);
        var whole = heaps.Count == 0 ? 0 : (heaps.Sum(h => h.Term) - heaps.Aggregate(Heap.Of).Term) / total;
        var least = Math.Min(LeastBits, LeastPart * whole);
        while (heaps.Count > 1)
        {
            var (at, loss) = Enumerable
                .Range(0, heaps.Count - 1)
                .Select(i => (i, (heaps[i].Term + heaps[i + 1].Term - Heap.Of(heaps[i], heaps[i + 1]).Term) / total))
                .MinBy(x => x.Item2);
            if (heaps.Count <= Most && loss > least)
                break;
            heaps[at] = Heap.Of(heaps[at], heaps[at + 1]);
            heaps.RemoveAt(at + 1);
        }
        return
        [
            .. heaps.Select(h => new PartedAnswer(null, h.Low, Outcomes.Middle(h.Values), h.High, h.Weight / total)),
            .. words.OrderByDescending(w => w.Value).Select(w => new PartedAnswer(w.Key, 0, 0, 0, w.Value / total)),
        ];
    }

    private static List<Heap> Heaps(List<(double V, double W, RepairSite Site)> values, Dimension dimension, double nominal)
    {
        var heaps = new List<Heap>();
        foreach (var (v, w, site) in values.OrderBy(v => v.V))
        {
            if (heaps.Count == 0 || IsApart(heaps[^1].Low, v, dimension, nominal))
                heaps.Add(new Heap());
            heaps[^1].Values.Add((v, w));
            heaps[^1].Sites[site] = heaps[^1].Sites.GetValueOrDefault(site) + w;
        }
        return heaps;
    }

    private static bool IsApart(double low, double high, Dimension dimension, double nominal) =>
        dimension switch
        {
            Dimension.Volt => high - low > OfNominal * nominal,
            Dimension.Ohm => high + LeadOhms > Ratio * (low + LeadOhms),
            _ => high - low > Math.Max(LeastAmps, (Ratio - 1) * Math.Abs(low)),
        };
}
