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

    /// <summary>
    /// A machine that is not as the sheet says is as drawn in most places. How often it reads as the sheet and what is suspected on it would have it is not known
    /// and learnt from the readings: these were as drawn, and were not, before the first one (Laplace's rule of succession); estimates.
    /// </summary>
    private const double AsDrawnBefore = 2, UnlikeBefore = 1;

    /// <summary>Most that "not as the sheet says" may hold while only one reading speaks for it.</summary>
    public const double MostFromOneReading = 0.30;

    private readonly FaultSpace _space;
    private readonly Likelihood _likelihood;
    private readonly double[] _log;
    private readonly Unknowns[] _unknowns;
    private readonly double _offLog;

    /// <summary>Readings as drawn, and not, on a machine that is not as drawn, with those before the first.</summary>
    private readonly (double AsDrawn, double Unlike) _places;

    /// <summary>How likely a machine that is not as drawn reads as drawn the next time.</summary>
    public double AsDrawn => _places.AsDrawn / (_places.AsDrawn + _places.Unlike);

    /// <summary>Readings weighed so far with what each added, by fine point; the last entry is "not on the sheet".</summary>
    public IReadOnlyList<Weighed> Evidence { get; }

    private Belief(FaultSpace space, Likelihood likelihood, double[] log, Unknowns[] unknowns, double offLog, (double AsDrawn, double Unlike) places, IReadOnlyList<Weighed> evidence)
    {
        (_space, _likelihood, _log, _unknowns, _offLog, _places, Evidence) = (space, likelihood, log, unknowns, offLog, places, evidence);
    }

    public FaultSpace Space => _space;
    public Likelihood Likelihood => _likelihood;

    public static Belief Before(FaultSpace space, MeterClass meter)
    {
        var likelihood = new Likelihood(space.Circuit, meter);
        var n = space.FineStart[^1];
        var off = OffSheetPrior(space.Circuit.DrawnFrom);
        var unknowns = new Unknowns[n];
        Array.Fill(unknowns, new Unknowns(likelihood.SupplySigma * likelihood.SupplySigma));
        var log = new double[n];
        Priors(space, log);
        return new Belief(space, likelihood, log, unknowns, Math.Log(off), (AsDrawnBefore, UnlikeBefore), []);
    }

    private static void Priors(FaultSpace space, double[] log)
    {
        var off = OffSheetPrior(space.Circuit.DrawnFrom);
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var (from, to) = (space.FineStart[s], space.FineStart[s + 1]);
            var each = Math.Log((1 - off) * space.Suspects[s].Odds / space.Total / (to - from));
            for (var i = from; i < to; i++) log[i] = each;
        }
    }

    /// <summary>The same readings weighed for more suspects as well.</summary>
    public Belief Within(FaultSpace opened)
    {
        if (opened == _space) return this;
        var (known, n, first) = (_log.Length, opened.FineStart[^1], _space.Suspects.Count);
        var unknowns = new Unknowns[n];
        _unknowns.CopyTo(unknowns, 0);
        Array.Fill(unknowns, new Unknowns(_likelihood.SupplySigma * _likelihood.SupplySigma), known, n - known);
        var evidence = new List<Weighed>();
        // What the machine not as drawn shares with the drawn one is worked out anew, since the new suspects change what was to be expected at each step.
        var (before, off, places) = (Before(opened, _likelihood.Meter)._log, _offLog, (AsDrawnBefore, UnlikeBefore));
        foreach (var w in Evidence)
        {
            var added = new double[n + 1];
            Array.Copy(w.Added, added, known);
            Weigh(opened, _likelihood, w.Reading, w.Power, first, added, unknowns);
            added[n] = AsDrawnOrNot(before, added, w.Unlike, w.Sound, ref places);
            off += added[n] - w.Added[known];
            for (var i = 0; i < n; i++) before[i] += added[i];
            evidence.Add(w with { Added = added });
        }
        return new Belief(opened, _likelihood, before, unknowns, off, places, evidence);
    }

    /// <summary>All readings that carry a result, in order. Of contradicting repeats the earlier is doubted; agreeing ones count little.</summary>
    public static Belief Of(FaultSpace space, MeterClass meter, IEnumerable<Reading> readings)
    {
        var all = readings.ToList();
        var weighed = new List<(Reading Reading, double Power)>();
        // One reading that a later one corrects was a slip; what goes to and fro comes and goes, and all of it counts.
        var corrected = Enumerable.Range(0, all.Count).Where(Corrected).ToList();
        if (corrected.Count > 1) corrected.Clear();
        for (var i = 0; i < all.Count; i++)
        {
            var r = all[i];
            if (corrected.Contains(i)) r = r with { Doubtful = true };
            weighed.Add((r, Repeated(all, i) ? 0.2 : 1));
        }
        // One more reading than last time is the common case: what was weighed before is kept.
        var names = weighed.Select(w => FormattableString.Invariant($"{w.Reading} {w.Power}")).ToList();
        for (var known = names.Count; known >= 0; known--)
        {
            var belief = known == 0 ? Before(space, meter) : space.Known(KeyOf(meter, names, known));
            if (belief is null) continue;
            for (var i = known; i < weighed.Count; i++)
            {
                belief = belief.With(weighed[i].Reading, weighed[i].Power, all.Take(i).Any(x => x.Test.ToString() == all[i].Test.ToString() && x.Result is not null && Contradicts(space, meter, x, all[i])));
                space.Keep(KeyOf(meter, names, i + 1), belief);
            }
            return belief;
        }
        throw new InvalidOperationException("There is always the belief before any reading.");

        bool Corrected(int i) =>
            all.Skip(i + 1).FirstOrDefault(x => x.Test.ToString() == all[i].Test.ToString() && x.Result is not null) is { } later && Contradicts(space, meter, all[i], later);
    }

    private static string KeyOf(MeterClass meter, List<string> names, int count) => meter.Name + "\n" + string.Join('\n', names.Take(count));

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
    /// <param name="otherwise">True when the same test has been read otherwise before: a machine not as drawn would not change its mind either.</param>
    public Belief With(Reading reading, double power = 1, bool otherwise = false)
    {
        var n = _log.Length;
        var added = new double[n + 1];
        var unknowns = (Unknowns[])_unknowns.Clone();
        Weigh(_space, _likelihood, reading, power, 0, added, unknowns);
        var (unlike, sound, places) = (double.NaN, 0.0, _places);
        if (reading.Result is { } result && reading.Test.Probe is not (Probe.Replaced or Probe.Code))
        {
            unlike = power * Math.Log(_likelihood.OffSheet(result, ReadingReader.AnswerDimension(reading.Test.Probe)) * (otherwise && !reading.Doubtful ? Likelihood.Slip : 1));
            var fresh = new Unknowns(_likelihood.SupplySigma * _likelihood.SupplySigma);
            sound = power * Math.Log(Math.Max(_likelihood.Of(result, _space.PredictHealthy(reading.Test), ReadingReader.AnswerDimension(reading.Test.Probe), SlipOf(reading), ref fresh), 1e-12));
            added[n] = AsDrawnOrNot(_log, added, unlike, sound, ref places);
        }
        var log = new double[n];
        for (var i = 0; i < n; i++) log[i] = _log[i] + added[i];
        return new Belief(_space, _likelihood, log, unknowns, _offLog + added[n], places, [.. Evidence, new Weighed(reading, power, added, unlike, sound)]);
    }

    /// <summary>
    /// What a reading says for a machine that is not as drawn: as a rule what the suspects together would have expected, or a sound machine, now and then anything.
    /// </summary>
    /// <param name="before">Logarithm of every fine point's weight before the reading.</param>
    /// <param name="added">What the reading adds to it.</param>
    /// <param name="unlike">The same for a machine of which nothing is known.</param>
    /// <param name="sound">The same for a sound machine as drawn.</param>
    /// <param name="places">Readings as drawn and not, in and out.</param>
    private static double AsDrawnOrNot(double[] before, double[] added, double unlike, double sound, ref (double AsDrawn, double Unlike) places)
    {
        if (double.IsNaN(unlike)) return 0;
        var most = double.NegativeInfinity;
        for (var i = 0; i < before.Length; i++) if (before[i] > most) most = before[i];
        var (expected, total) = (0.0, 0.0);
        for (var i = 0; i < before.Length; i++)
        {
            var log = before[i] - most;
            if (log < NegligibleBefore) continue;
            var weight = Math.Exp(log);
            total += weight;
            expected += weight * Math.Exp(added[i]);
        }
        var sum = places.AsDrawn + places.Unlike;
        var (drawn, not) = (places.AsDrawn / sum * (expected / total + Math.Exp(sound)) / 2, places.Unlike / sum * Math.Exp(unlike));
        places = (places.AsDrawn + drawn / (drawn + not), places.Unlike + not / (drawn + not));
        return Math.Log(drawn + not);
    }

    /// <summary>Logarithm of a weight, against the largest, that foretells nothing.</summary>
    private const double NegligibleBefore = -14;

    /// <summary>What one reading adds to the logarithm of every fine point, from a suspect on.</summary>
    private static void Weigh(FaultSpace space, Likelihood likelihood, Reading reading, double power, int first, double[] added, Unknowns[] unknowns)
    {
        if (reading.Test.Probe is Probe.Replaced replaced) Replaced(space, replaced.Tag, first, added);
        if (reading.Test.Probe is Probe.Code code) Coded(space, code, reading.Result, first, added);
        if (reading.Result is not { } result || reading.Test.Probe is Probe.Replaced or Probe.Code) return;
        var dimension = ReadingReader.AnswerDimension(reading.Test.Probe);
        var slip = SlipOf(reading);
        var curves = space.Curves(reading.Test);
        Parallel.For(first, curves.Length, s =>
        {
            var (start, curve) = (space.FineStart[s], curves[s]);
            if (space.OpenTwin(s) is { } twin)
            {
                added[start] = power * Math.Log(Math.Max(ComesAndGoes(space, likelihood, reading.Test, result, curve, curves[twin], s, dimension, slip, ref unknowns[start]), 1e-12));
                return;
            }
            for (var k = 0; k < curve.Count; k++)
                added[start + k] = power * Math.Log(Math.Max(likelihood.Of(result, curve.At(k), dimension, slip, ref unknowns[start + k]), 1e-12));
        });
    }

    private static double SlipOf(Reading reading) => reading.Doubtful ? Likelihood.DoubtfulSlip : reading.Test.Probe is not Probe.Sees ? Likelihood.Slip
        : reading.Result is ReadingResult.Word { Text: "works" } ? Likelihood.SeenSlip : Likelihood.SymptomSlip;

    /// <summary>How often a joint that comes and goes is open while its place is moved, and how often it changes by itself from one reading to the next; estimates.</summary>
    private const double OpenWhileMoved = 0.8, Changes = 0.15;

    private static double ComesAndGoes(FaultSpace space, Likelihood likelihood, Test test, ReadingResult result, Curve sound, Curve open, int suspect, Dimension dimension, double slip, ref Unknowns unknowns)
    {
        var moved = space.IsMoved(suspect, test.Setup);
        // Left alone it is as a rule what it was at the reading before.
        var often = moved ? OpenWhileMoved : unknowns.Open;
        var other = unknowns;
        // While moved the fault's own run is the open one.
        var healthy = moved ? likelihood.Of(result, space.PredictHealthy(test), dimension, slip, ref unknowns) : likelihood.Of(result, sound.At(0), dimension, slip, ref unknowns);
        var opened = often * likelihood.Of(result, open.At(0), dimension, slip, ref other);
        var all = (1 - often) * healthy + opened;
        var now = all > 0 ? opened / all : often;
        unknowns.Open = now + Changes * (1 - 2 * now);
        return all;
    }

    /// <summary>
    /// True when the joint has been seen to come and go: one test read two ways, or the joint shown open by a reading taken while its place was moved. A machine that
    /// is not as drawn contradicts itself too, and never changes its mind.
    /// </summary>
    public bool SeenToComeAndGo(int suspect)
    {
        if (_space.OpenTwin(suspect) is not { } twin) return false;
        foreach (var e in Evidence)
        {
            if (e.Reading.Result is not { } result || !_space.IsMoved(suspect, e.Reading.Test.Setup)) continue;
            var (a, b) = (new Unknowns(_likelihood.SupplySigma * _likelihood.SupplySigma), new Unknowns(_likelihood.SupplySigma * _likelihood.SupplySigma));
            var dimension = ReadingReader.AnswerDimension(e.Reading.Test.Probe);
            if (_likelihood.Of(result, _space.Curves(e.Reading.Test)[twin].At(0), dimension, Likelihood.Slip, ref a) > MuchMore * _likelihood.Of(result, _space.PredictHealthy(e.Reading.Test), dimension, Likelihood.Slip, ref b)) return true;
        }
        return Evidence.GroupBy(e => e.Reading.Test.ToString()).Any(g => g.Any(x => g.Any(y => x.Reading.Result is { } r && y.Reading.Result is { } t && Contradicts(_space, _likelihood.Meter, x.Reading, y.Reading))));
    }

    private const double MuchMore = 5;

    /// <summary>A part that was renewed and did not help: its own faults become unlikely, not impossible (the new one may be bad too).</summary>
    private static void Replaced(FaultSpace space, string tag, int first, double[] added)
    {
        for (var s = first; s < space.Suspects.Count; s++)
            if (space.Suspects[s].RepairUnit == tag) Fill(space, s, added, Math.Log(0.1));
    }

    /// <summary>How much likelier an active code makes what its sheet line is about; a stored one may be old. Estimates.</summary>
    private const double ActiveCode = 4, StoredCode = 1.3, AbsentCode = 0.7;

    /// <summary>A code points at what its line is about, and nudges: a module may be told wrong by a low supply or a shared ground.</summary>
    private static void Coded(FaultSpace space, Probe.Code code, ReadingResult? result, int first, double[] added)
    {
        if (space.Circuit.Codes.FirstOrDefault(c => c.Code == code.Number) is not { } known || result is not ReadingResult.Word { Text: var word }) return;
        // A supply that sags sets many codes, its own among them: that one says little of where.
        var ofSupply = known.About.Any(a => space.Circuit.FindPart(a) is { Kind.IsSource: true });
        var factor = word switch { "active" => ofSupply ? StoredCode : ActiveCode, "stored" => StoredCode, "absent" => AbsentCode, _ => 1 };
        for (var s = first; s < space.Suspects.Count; s++)
            if (known.About.Contains(space.Suspects[s].RepairUnit) || known.About.Contains(space.Suspects[s].RepairUnit.Split(':')[0])) Fill(space, s, added, Math.Log(factor));
    }

    private static void Fill(FaultSpace space, int suspect, double[] added, double log) =>
        Array.Fill(added, log, space.FineStart[suspect], space.FineStart[suspect + 1] - space.FineStart[suspect]);

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
        for (var i = 0; i < n; i++)
        {
            var log = _log[i] - (skip?[i] ?? 0) - most;
            if (log > Negligible) sum += w[i] = Math.Exp(log);
        }
        for (var i = 0; i < n; i++) w[i] /= sum;
        offShare /= sum;
        if (offShare > MostFromOneReading && Contradictions(w) <= 1)
        {
            var scale = (1 - MostFromOneReading) / (1 - offShare);
            for (var i = 0; i < n; i++) w[i] *= scale;
            offShare = MostFromOneReading;
        }
        return new Weights(_space, w, offShare, _unknowns, AsDrawn);
    }

    /// <summary>Logarithm of a weight, against the largest, that counts as none.</summary>
    private const double Negligible = -40;

    /// <summary>Readings that the best fault on the sheet takes for slips.</summary>
    public int Contradictions(Weights weights) => Contradictions(weights.Fine);

    private int Contradictions(double[] w)
    {
        var best = 0;
        for (var i = 1; i < w.Length; i++) if (w[i] > w[best]) best = i;
        return Evidence.Count(e => e.Reading.Result is not null && e.Added[best] < e.Unlike - 1.5);
    }

    /// <summary>Supply against its stated volts as the likeliest faults see it, relative.</summary>
    public double Supply(Weights weights)
    {
        var (sum, total) = (0.0, 1e-12);
        for (var i = 0; i < _unknowns.Length; i++) { sum += weights.Fine[i] * _unknowns[i].Supply; total += weights.Fine[i]; }
        return sum / total;
    }
}

/// <summary>A reading, how much it counts, and what it added to the logarithm of every fine point; the last entry is "not on the sheet".</summary>
/// <param name="Unlike">The same for a machine of which nothing is known; NaN for what is no reading.</param>
/// <param name="Sound">The same for a sound machine.</param>
internal sealed record Weighed(Reading Reading, double Power, double[] Added, double Unlike, double Sound);

/// <summary>Normalised weights over all fine points; with <paramref name="OffSheet"/> they add to 1.</summary>
/// <param name="AsDrawn">How likely a machine that is not as drawn reads as drawn the next time.</param>
internal sealed record Weights(FaultSpace Space, double[] Fine, double OffSheet, Unknowns[] Unknowns, double AsDrawn)
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
    private const int MostPoints = 6, LeastPoints = 3;
    private const double LittleShare = 0.005;

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
            if (taken > 0) yield return new Representative(s, Space.NearestPoint(s, i - from), share * taken / 3) { FinePoint = i - from, Supply = Unknowns[i].Off };
        }
    }

    private Representative At(int s, int point, double weight)
    {
        var fine = Space.FineStart[s] + (Space.Curved(s) ? Math.Min(point * FaultSpace.Fine, Space.FineStart[s + 1] - Space.FineStart[s] - 1) : point);
        return new Representative(s, point, weight) { Supply = Unknowns[fine].Off };
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
            if (Space.OpenTwin(s) is { } open)
            {
                var now = Unknowns[Space.FineStart[s]].Open;
                all.Add(At(s, 0, share * (1 - now)));
                all.Add(At(open, 0, share * now) with { StandsFor = s });
                continue;
            }
            var carrying = points.Select((w, p) => (w, p)).Where(x => x.w > 0.01 * share).ToList();
            if (carrying.Count <= FewPoints && Space.Curved(s)) { all.AddRange(Narrow(s, share)); continue; }
            // Of many that each hold little, few points do.
            var most = share < LittleShare ? LeastPoints : MostPoints;
            if (carrying.Count <= most) { foreach (var (w, p) in carrying) all.Add(At(s, p, w)); continue; }
            // Equal slices of the weight, each stood for by its middle.
            var (sum, next) = (0.0, 0.5 / most);
            var whole = carrying.Sum(x => x.w);
            foreach (var (w, p) in carrying)
            {
                sum += w / whole;
                var slices = 0;
                while (next < sum) { slices++; next += 1.0 / most; }
                if (slices > 0) all.Add(At(s, p, share * slices / most));
            }
        }
        return all;
    }
}

/// <summary>A grid point of a suspect with the weight it stands for.</summary>
internal readonly record struct Representative(int Suspect, int Point, double Weight)
{
    /// <summary>The suspect it counts for, where that is another: a joint that comes and goes is open now and then.</summary>
    public int? StandsFor { get; init; }

    public int Counts => StandsFor ?? Suspect;

    /// <summary>How far off the supply is, as this suspect has the readings, relative.</summary>
    public double Supply { get; init; }

    /// <summary>The fine point when the value is pinned closer than the grid, else null.</summary>
    public int? FinePoint { get; init; }
}
