using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// What the readings so far make of every fault: a weight per suspect and value, what each has learnt of the supply, and the weight of
/// "not as the sheet says". Immutable; <see cref="With"/> adds one reading.
/// </summary>
internal sealed class Belief
{
    /// <summary>Odds that the machine is not as the sheet says, by where the sheet comes from; estimates.</summary>
    public static double OffSheetPrior(Provenance from) => from switch { Provenance.Traced => 0.02, Provenance.Maker => 0.04, _ => 0.15 };

    /// <summary>Most that "not as the sheet says" may hold while only one reading speaks for it.</summary>
    public const double MostFromOneReading = 0.30;

    private readonly FaultSpace _space;
    private readonly Likelihood _likelihood;
    private readonly double[] _log;
    private readonly double[] _supplyMean;
    private readonly double[] _supplyVariance;
    private readonly double _offLog;

    /// <summary>Readings weighed so far with what each added, by fine point; the last entry is "not on the sheet".</summary>
    public IReadOnlyList<(Reading Reading, double[] Added)> Evidence { get; }

    private Belief(FaultSpace space, Likelihood likelihood, double[] log, double[] mean, double[] variance, double offLog, IReadOnlyList<(Reading, double[])> evidence)
    {
        (_space, _likelihood, _log, _supplyMean, _supplyVariance, _offLog, Evidence) = (space, likelihood, log, mean, variance, offLog, evidence);
    }

    public FaultSpace Space => _space;
    public Likelihood Likelihood => _likelihood;

    public static Belief Before(FaultSpace space, MeterClass meter)
    {
        var likelihood = new Likelihood(space.Circuit, meter);
        var n = space.FineStart[^1];
        var log = new double[n];
        var off = OffSheetPrior(space.Circuit.DrawnFrom);
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var (from, to) = (space.FineStart[s], space.FineStart[s + 1]);
            var each = Math.Log((1 - off) * space.Suspects[s].Odds / space.Total / (to - from));
            for (var i = from; i < to; i++) log[i] = each;
        }
        var variance = new double[n];
        Array.Fill(variance, likelihood.SupplySigma * likelihood.SupplySigma);
        return new Belief(space, likelihood, log, new double[n], variance, Math.Log(off), []);
    }

    /// <summary>All readings that carry a result, in order. Of contradicting repeats the earlier is doubted; agreeing ones count little.</summary>
    public static Belief Of(FaultSpace space, MeterClass meter, IEnumerable<Reading> readings)
    {
        var belief = Before(space, meter);
        var all = readings.ToList();
        for (var i = 0; i < all.Count; i++)
        {
            var r = all[i];
            var later = all.Skip(i + 1).FirstOrDefault(x => x.Test.ToString() == r.Test.ToString() && x.Result is not null);
            if (later is not null && Contradicts(space, meter, r, later)) r = r with { Doubtful = true };
            belief = belief.With(r, Repeated(all, i) ? 0.2 : 1);
        }
        return belief;
    }

    private static bool Repeated(List<Reading> all, int i) =>
        all.Take(i).Any(x => x.Test.ToString() == all[i].Test.ToString() && x.Result is not null && x.Result.ToString() == all[i].Result?.ToString());

    private static bool Contradicts(FaultSpace space, MeterClass meter, Reading a, Reading b) => (a.Result, b.Result) switch
    {
        (ReadingResult.Number x, ReadingResult.Number y) => Math.Abs(x.Value - y.Value) > 3 * meter.Band(x.Value, x.Dimension) + 0.02 * space.Circuit.NominalVolts,
        ({ } x, { } y) => x.ToString() != y.ToString(),
        _ => false,
    };

    /// <summary>With one more reading weighed.</summary>
    /// <param name="power">Less than 1 for a reading that says the same again.</param>
    public Belief With(Reading reading, double power = 1)
    {
        var n = _log.Length;
        var added = new double[n + 1];
        var (mean, variance) = ((double[])_supplyMean.Clone(), (double[])_supplyVariance.Clone());
        if (reading.Test.Probe is Probe.Replaced replaced) Replaced(replaced.Tag, added);
        else if (reading.Result is { } result && reading.Test.Probe is not Probe.Code)
        {
            var dimension = ReadingReader.AnswerDimension(reading.Test.Probe);
            var slip = reading.Doubtful ? Likelihood.DoubtfulSlip : reading.Test.Probe is not Probe.Sees ? Likelihood.Slip
                : result is ReadingResult.Word { Text: "works" } ? Likelihood.SeenSlip : Likelihood.SymptomSlip;
            var curves = _space.Curves(reading.Test);
            Parallel.For(0, curves.Length, s =>
            {
                var (start, curve) = (_space.FineStart[s], curves[s]);
                for (var k = 0; k < curve.Count; k++)
                    added[start + k] = power * Math.Log(Math.Max(_likelihood.Of(result, curve.At(k), dimension, slip, ref mean[start + k], ref variance[start + k]), 1e-12));
            });
            added[n] = power * Math.Log(_likelihood.OffSheet(result, dimension));
        }
        var log = new double[n];
        for (var i = 0; i < n; i++) log[i] = _log[i] + added[i];
        return new Belief(_space, _likelihood, log, mean, variance, _offLog + added[n], [.. Evidence, (reading, added)]);
    }

    /// <summary>A part that was renewed and did not help: its own faults become unlikely, not impossible (the new one may be bad too).</summary>
    private void Replaced(string tag, double[] added)
    {
        for (var s = 0; s < _space.Suspects.Count; s++)
            if (_space.Suspects[s].RepairUnit == tag)
                for (var i = _space.FineStart[s]; i < _space.FineStart[s + 1]; i++) added[i] = Math.Log(0.1);
    }

    /// <summary>Normalised weights by fine point, and the share of "not on the sheet".</summary>
    /// <param name="without">Leaves out one reading, by its index in <see cref="Evidence"/>.</param>
    public Weights Weigh(int without = -1)
    {
        var n = _log.Length;
        var skip = without >= 0 ? Evidence[without].Added : null;
        var off = _offLog - (skip?[n] ?? 0);
        var most = off;
        for (var i = 0; i < n; i++) most = Math.Max(most, _log[i] - (skip?[i] ?? 0));
        var w = new double[n];
        var offShare = Math.Exp(off - most);
        var sum = offShare;
        for (var i = 0; i < n; i++) sum += w[i] = Math.Exp(_log[i] - (skip?[i] ?? 0) - most);
        for (var i = 0; i < n; i++) w[i] /= sum;
        offShare /= sum;
        if (offShare > MostFromOneReading && Contradictions(w) <= 1)
        {
            var scale = (1 - MostFromOneReading) / (1 - offShare);
            for (var i = 0; i < n; i++) w[i] *= scale;
            offShare = MostFromOneReading;
        }
        return new Weights(_space, w, offShare);
    }

    /// <summary>Readings that the best fault on the sheet takes for slips.</summary>
    private int Contradictions(double[] w)
    {
        var best = 0;
        for (var i = 1; i < w.Length; i++) if (w[i] > w[best]) best = i;
        return Evidence.Count(e => e.Reading.Result is not null && e.Added[best] < e.Added[^1] - 1.5);
    }

    /// <summary>Supply against its stated volts as the likeliest faults see it, relative.</summary>
    public double Supply(Weights weights)
    {
        var (sum, total) = (0.0, 1e-12);
        for (var i = 0; i < _supplyMean.Length; i++) { sum += weights.Fine[i] * _supplyMean[i]; total += weights.Fine[i]; }
        return sum / total;
    }
}

/// <summary>Normalised weights over all fine points; with <paramref name="OffSheet"/> they add to 1.</summary>
internal sealed record Weights(FaultSpace Space, double[] Fine, double OffSheet)
{
    public double Of(int suspect)
    {
        var sum = 0.0;
        for (var i = Space.FineStart[suspect]; i < Space.FineStart[suspect + 1]; i++) sum += Fine[i];
        return sum;
    }

    private IReadOnlyList<Representative>? _representatives;

    /// <summary>A few grid points per suspect that stand for its whole curve, heaviest suspects first; tiny ones are left out.</summary>
    public IReadOnlyList<Representative> Representatives => _representatives ??= Pick();

    private const double LeastShare = 2e-5;
    private const int MostPoints = 6;

    /// <summary>
    /// A value that the readings have pinned between two grid points is stood for by itself: grid points beside it would differ from suspect to
    /// suspect and make tests look telling that are not.
    /// </summary>
    private const int FewPoints = 3;

    private IEnumerable<Representative> Narrow(int s, double share)
    {
        var (from, to) = (Space.FineStart[s], Space.FineStart[s + 1]);
        var (sum, slice) = (0.0, 0);
        for (var i = from; i < to && slice < 3; i++)
        {
            sum += Fine[i];
            var taken = 0;
            while (slice < 3 && sum >= share * (2 * slice + 1) / 6) { slice++; taken++; }
            if (taken > 0) yield return new Representative(s, Space.NearestPoint(s, i - from), share * taken / 3) { FinePoint = i - from };
        }
    }

    private List<Representative> Pick()
    {
        var all = new List<Representative>();
        for (var s = 0; s < Space.Suspects.Count; s++)
        {
            var points = new double[Space.Points(s)];
            var share = 0.0;
            for (var i = Space.FineStart[s]; i < Space.FineStart[s + 1]; i++)
            {
                points[Space.NearestPoint(s, i - Space.FineStart[s])] += Fine[i];
                share += Fine[i];
            }
            if (share < LeastShare) continue;
            var carrying = points.Select((w, p) => (w, p)).Where(x => x.w > 0.01 * share).ToList();
            if (carrying.Count <= FewPoints && Space.Curved(s)) { all.AddRange(Narrow(s, share)); continue; }
            if (carrying.Count <= MostPoints) { foreach (var (w, p) in carrying) all.Add(new Representative(s, p, w)); continue; }
            // Equal slices of the weight, each stood for by its middle.
            var (sum, next) = (0.0, 0.5 / MostPoints);
            var whole = carrying.Sum(x => x.w);
            foreach (var (w, p) in carrying)
            {
                sum += w / whole;
                var slices = 0;
                while (next < sum) { slices++; next += 1.0 / MostPoints; }
                if (slices > 0) all.Add(new Representative(s, p, share * slices / MostPoints));
            }
        }
        return all;
    }
}

/// <summary>A grid point of a suspect with the weight it stands for.</summary>
internal readonly record struct Representative(int Suspect, int Point, double Weight)
{
    /// <summary>The fine point when the value is pinned closer than the grid, else null.</summary>
    public int? FinePoint { get; init; }
}
