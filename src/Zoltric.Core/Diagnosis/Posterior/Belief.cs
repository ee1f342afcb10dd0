using System.Runtime.CompilerServices;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Metering;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Posterior over every fault: a weight per suspect and value, what each has learnt of the supply, and the weight of "not as the sheet
/// says". Values that no reading has told apart are weighed together (<see cref="ValuePartition"/>). Immutable; <see cref="With"/> adds
/// one reading.
/// </summary>
internal sealed class Belief
{
    /// <summary>Odds that the machine is not as the sheet says, by where the sheet comes from; estimates.</summary>
    public static double OffSheetPrior(Provenance from) =>
        from switch
        {
            Provenance.Traced => 0.02,
            Provenance.Maker => 0.04,
            _ => 0.15,
        };

    /// <summary>Most that "not as the sheet says" may hold while only one reading speaks for it.</summary>
    public const double MostFromOneReading = 0.30;

    private readonly FaultSpace _space;
    private readonly Likelihood _likelihood;
    private readonly ValuePartition _partition;

    /// <summary>By entry, the logarithm of the weight of each fine point that it stands for.</summary>
    private readonly double[] _log;
    private readonly Unknowns[] _unknowns;
    private readonly double _offLog;

    private readonly NotAsDrawn _notAsDrawn;

    /// <summary>When the machine is said to fail.</summary>
    public Circumstances Circumstances { get; private init; }

    /// <summary>How likely a machine that is not as drawn reads as drawn the next time.</summary>
    public double AsDrawn => _notAsDrawn.AsDrawn;

    /// <summary>Readings weighed so far with what each added.</summary>
    public IReadOnlyList<Weighed> Evidence { get; }

    /// <summary>The same without proofs of dead, which are no evidence.</summary>
    public IEnumerable<Weighed> Counted => Evidence.Where(e => !ReadingKinds.IsProofOfDead(_space.Circuit, e.Reading));

    private Belief(
        FaultSpace space,
        Likelihood likelihood,
        ValuePartition partition,
        double[] log,
        Unknowns[] unknowns,
        double offLog,
        NotAsDrawn notAsDrawn,
        IReadOnlyList<Weighed> evidence
    )
    {
        (_space, _likelihood, _partition, _log, _unknowns, _offLog, _notAsDrawn, Evidence) = (
            space,
            likelihood,
            partition,
            log,
            unknowns,
            offLog,
            notAsDrawn,
            evidence
        );
    }

    public FaultSpace Space => _space;

    /// <summary>Bytes that it holds by itself: weights, what each suspect has learnt, and what the last reading added.</summary>
    private long HeldBytes => (long)_log.Length * (2 * sizeof(double) + Unsafe.SizeOf<Unknowns>());

    /// <summary>Values of a suspect that the readings have told apart: its fine points, or 1.</summary>
    public int Entries(int suspect) => _partition.To(suspect) - _partition.From(suspect);

    public Likelihood Likelihood => _likelihood;

    public static Belief Before(FaultSpace space, MeterClass meter, Circumstances circumstances = Circumstances.None)
    {
        var likelihood = new Likelihood(space.Circuit, meter);
        var partition = ValuePartition.Together(space);
        var unknowns = new Unknowns[partition.Count];
        Array.Fill(unknowns, likelihood.Unlearnt);
        return new Belief(
            space,
            likelihood,
            partition,
            Priors(space, partition, circumstances),
            unknowns,
            Math.Log(OffSheetPrior(space.Circuit.DrawnFrom)),
            NotAsDrawn.Before,
            []
        )
        {
            Circumstances = circumstances,
        };
    }

    private static double[] Priors(FaultSpace space, ValuePartition partition, Circumstances circumstances)
    {
        var off = OffSheetPrior(space.Circuit.DrawnFrom);
        var log = new double[partition.Count];
        for (var s = 0; s < space.Suspects.Count; s++)
            log.AsSpan(partition.From(s)..partition.To(s))
                .Fill(
                    Math.Log(
                        (1 - off)
                            * CircumstanceWords.Factor(space.Circuit, space.Suspects[s], circumstances)
                            * space.Suspects[s].Odds
                            / space.Total
                            / space.FineCount(s)
                    )
                );
        return log;
    }

    /// <summary>The same readings weighed for more suspects as well.</summary>
    public Belief Within(FaultSpace opened)
    {
        if (opened == _space)
            return this;
        var first = _space.Suspects.Count;
        var curves = Evidence
            .Where(w => ReadingKinds.NeedsCurves(_space, w.Reading))
            .SelectMany(w => new[] { w.Reading.Test, OffItsPlug.Of(opened, w.Reading) })
            .OfType<Test>()
            .Select(opened.Curves)
            .ToList();
        var renewed = Evidence.SelectMany(w => w.Renewed).ToHashSet(StringComparer.Ordinal);
        var blown = Evidence
            .Select((w, i) => BlownSince.Before(opened, Evidence.Take(i).Select(e => e.Reading), w.Reading, s => s >= first))
            .ToList();
        var partition = _partition.Apart(opened, s =>
            s >= first
            && (curves.Exists(c => !c[s].IsFlat || LeftIsCurved(opened, c, s, renewed)) || blown.Exists(b => b?.IsCurved(s) == true))
        );
        var (n, known) = (partition.Count, partition.From(first));
        var unknowns = new Unknowns[n];
        _unknowns.CopyTo(unknowns, 0);
        Array.Fill(unknowns, _likelihood.Unlearnt, known, n - known);
        var evidence = new List<Weighed>();
        // What the machine not as drawn shares with the drawn one is worked out anew, since the new suspects change what was to be expected
        // at each step.
        var (before, off, notAsDrawn) = (Priors(opened, partition, Circumstances), _offLog, NotAsDrawn.Before);
        foreach (var w in Evidence)
        {
            var added = new double[n];
            w.Partition.Spread<double>(w.Added, partition, added);
            ReadingWeight.Weigh(
                opened,
                _likelihood,
                evidence.Count,
                w.Reading,
                w.Power,
                first,
                partition,
                added,
                unknowns,
                w.Renewed,
                w.Followed,
                w.Meanwhile,
                AlikeReading.Before(opened, _likelihood, evidence, w.Reading, w.Period),
                blown[evidence.Count]
            );
            ComplaintWeight.Add(opened, [.. evidence.Select(e => e.Reading)], w.Reading, first, partition, added);
            (var ofOff, notAsDrawn) = NotAsDrawn.After(
                notAsDrawn,
                w.Reading,
                opened,
                partition,
                before,
                added,
                w.Unlike,
                w.Sound,
                w.Remembered,
                ReadingKinds.IsComplaint(opened, evidence.Count, w.Reading),
                w.Otherwise
            );
            off += ofOff - w.OffSheet;
            for (var i = 0; i < n; i++)
                before[i] += added[i];
            evidence.Add(w with { Partition = partition, Added = added, OffSheet = ofOff });
        }
        return new Belief(opened, _likelihood, partition, before, unknowns, off, notAsDrawn, evidence) { Circumstances = Circumstances };
    }

    /// <summary>
    /// All readings that carry a result, in order. Of contradicting repeats the earlier is doubted; agreeing ones count little.
    /// </summary>
    public static Belief Of(
        FaultSpace space,
        MeterClass meter,
        IEnumerable<Reading> readings,
        Circumstances circumstances = Circumstances.None
    )
    {
        var all = BlownAgain
            .Open(space.Circuit, FoundTripped.Looks(space, readings))
            .Select(r => FuseShunt.AsAmps(space.Circuit, r))
            .ToList();
        if (BlownAgain.WentLater(space.Circuit, all))
            circumstances |= Circumstances.NowAndThen;
        var weighed = new List<(Reading Reading, double Power)>();
        // A part put in opens a new period: what stood before is judged on the machine as found.
        var period = new int[all.Count];
        for (var i = 1; i < all.Count; i++)
            period[i] = period[i - 1] + (all[i - 1].Test.Probe is Probe.Replaced ? 1 : 0);
        // One reading that a later one corrects was a slip; what goes to and fro comes and goes, and all of it counts.
        var corrected = Enumerable.Range(0, all.Count).Where(Corrected).ToList();
        if (corrected.Count > 1)
            corrected.Clear();
        for (var i = 0; i < all.Count; i++)
        {
            var r = all[i];
            if (corrected.Contains(i))
                r = r with { Doubtful = true };
            weighed.Add(
                (
                    r,
                    BlownAgain.IsOnTheFuse(r.Test, BlownAgain.After(space.Circuit, all.Take(i))) ? 0
                    : Repeated(all, i, period) ? 0.2
                    : HeldAnew(all, i) ? NewOneHeld
                    : SeenBadLater(all, i) ? CouldSee
                    : 1
                )
            );
        }
        // One more reading than last time is the common case: what was weighed before is kept.
        var names = weighed.Select((w, i) => FormattableString.Invariant($"{w.Reading} {w.Power} {period[i]} {Followed(i)}")).ToList();
        for (var known = names.Count; known >= 0; known--)
        {
            var belief = known == 0 ? Before(space, meter, circumstances) : space.Find<Belief>(KeyOf(meter, circumstances, names, known));
            if (belief is null)
                continue;
            for (var i = known; i < weighed.Count; i++)
            {
                belief = belief.With(
                    weighed[i].Reading,
                    weighed[i].Power,
                    all.Take(i)
                        .Where((_, k) => period[k] == period[i])
                        .Any(x => x.Test.Unmoved == all[i].Test.Unmoved && x.Result is not null && Contradicts(space, meter, x, all[i])),
                    period[i],
                    Followed(i)
                );
                var kept = belief;
                space.Keep(KeyOf(meter, circumstances, names, i + 1), kept, () => kept.HeldBytes);
            }
            return belief;
        }
        throw new InvalidOperationException("There is always the belief before any reading.");

        // What changes while a place is moved corrects nothing, nor does a machine that worked and works no more: that is the finding.
        bool Corrected(int i) =>
            all[i].Test.Setup.Moved.Count == 0
            && all[i].Test.Probe is not Probe.Sees
            && Enumerable
                .Range(i + 1, all.Count - i - 1)
                .FirstOrDefault(k => period[k] == period[i] && all[k].Test == all[i].Test && all[k].Result is not null, -1)
                is > 0
                    and var later
            && Contradicts(space, meter, all[i], all[later])
            && !NewFuseTried(i, later);

        // A new fuse that was whole then may have gone in what was tried since.
        bool NewFuseTried(int from, int to) =>
            all.Take(from).Any(x => x.Test.Probe is Probe.Replaced put && space.Circuit.FindPart(put.Tag)?.Kind is Circuits.Kinds.Fuse)
            && all.Take(to)
                .Skip(from + 1)
                .Any(x =>
                    x is { Result: not null, Test.Setup: { Interventions.Count: 0 } setup }
                    && SwitchedOn.In(all, setup)
                    && setup != all[from].Test.Setup
                );

        // A part put in, and the machine tried after it.
        bool Followed(int i) =>
            all[i].Test.Probe is Probe.Replaced && all.Skip(i + 1).Any(x => x.Result is not null && x.Test.Probe is not Probe.Code);
    }

    private static string KeyOf(MeterClass meter, Circumstances circumstances, List<string> names, int count) =>
        $"{meter.Name} {circumstances}\n" + string.Join('\n', names.Take(count));

    /// <summary>
    /// True for what says the same again, with nothing seen otherwise in between: alive while it is moved, dead when let go of and alive
    /// again is no repeat.
    /// </summary>
    private static bool Repeated(List<Reading> all, int i, int[] period) =>
        Enumerable
            .Range(0, i)
            .Any(k =>
                period[k] == period[i]
                && all[k].Test == all[i].Test
                && all[k].Result is { } result
                && result == all[i].Result
                && !all.Skip(k + 1)
                    .Take(i - k - 1)
                    .Any(x => x.Result is { } between && between != result && x.Test.Unmoved == all[i].Test.Unmoved)
            );

    /// <summary>
    /// How much more a look at a whole fuse counts where the same eyes saw it blown later, with no new one put in between: that it had
    /// opened could be seen; estimate.
    /// </summary>
    private const double CouldSee = 3;

    private static bool SeenBadLater(List<Reading> all, int i) =>
        all[i] is { Test.Probe: Probe.Looks { Tag: var tag }, Result: ReadingResult.Word { Answer: Answer.Good } }
        && all.Skip(i + 1).TakeWhile(r => r.Test.Probe is not Probe.Replaced x || !SameTag(x.Tag, tag)).Any(r => IsSeenBad(r, tag));

    /// <summary>
    /// How much more a look at a whole fuse counts where a new one was put in and switched on: it is not looked at for what it is, but for
    /// whether it held; estimate.
    /// </summary>
    private const double NewOneHeld = 6;

    /// <summary>True for a new fuse, looked at with the machine switched on, that has held.</summary>
    internal static bool HeldAnew(IReadOnlyList<Reading> all, int i) =>
        all[i]
            is {
                Doubtful: false,
                Test: { Probe: Probe.Looks { Tag: var tag }, Setup: var setup },
                Result: ReadingResult.Word { Answer: Answer.Good }
            }
        && SwitchedOn.In(all, setup)
        && Enumerable.Range(0, i).LastOrDefault(k => all[k].Test.Probe is Probe.Replaced x && SameTag(x.Tag, tag), -1) is >= 0 and var put
        && !all.Skip(put).Take(i - put).Any(r => IsSeenBad(r, tag));

    private static bool IsSeenBad(Reading r, string tag) =>
        r is { Test.Probe: Probe.Looks look, Result: ReadingResult.Word { Answer: Answer.Bad } } && SameTag(look.Tag, tag);

    private static bool SameTag(string a, string b) => a.Equals(b, StringComparison.OrdinalIgnoreCase);

    private static bool Contradicts(FaultSpace space, MeterClass meter, Reading a, Reading b) =>
        (a.Result, b.Result) switch
        {
            (ReadingResult.Number x, ReadingResult.Number y) => Math.Abs(x.Value - y.Value)
                > 3 * meter.Band(x.Value, x.Dimension) + 0.02 * space.Circuit.NominalVolts,
            // It works and it flickers are two looks at one thing.
            ({ ComesAndGoes: true }, _) or (_, { ComesAndGoes: true }) => false,
            ({ } x, { } y) => x != y,
            _ => false,
        };

    /// <summary>With one more reading weighed.</summary>
    /// <param name="power">Less than 1 for a reading that says the same again.</param>
    /// <param name="otherwise">True when the same test has been read otherwise before: a machine not as drawn would not change its mind
    /// either.</param>
    /// <param name="period">Number of parts put in before it.</param>
    /// <param name="followed">For a part put in: true where the machine was tried after it.</param>
    public Belief With(Reading reading, double power = 1, bool otherwise = false, int period = 0, bool followed = false)
    {
        var renewed = Renewed();
        var curves = ReadingKinds.NeedsCurves(_space, reading) ? _space.Curves(reading.Test) : null;
        var apart = curves is null ? null : OffItsPlug.Of(_space, reading);
        var off = apart is null ? null : _space.Curves(apart);
        var blown = curves is null ? null : BlownSince.Before(_space, Evidence.Select(e => e.Reading), reading, Counts());
        var partition = curves is null
            ? _partition
            : _partition.Apart(_space, s =>
                !curves[s].IsFlat || off?[s].IsFlat == false || LeftIsCurved(_space, curves, s, renewed) || blown?.IsCurved(s) == true
            );
        var (added, unknowns, log) = (new double[partition.Count], new Unknowns[partition.Count], new double[partition.Count]);
        _partition.Spread<double>(_log, partition, log);
        _partition.Spread<Unknowns>(_unknowns, partition, unknowns);
        var meanwhile = Meanwhile.Of(Evidence, reading, period);
        var alike = AlikeReading.Before(_space, _likelihood, Evidence, reading, period);
        ReadingWeight.Weigh(
            _space,
            _likelihood,
            Evidence.Count,
            reading,
            power,
            0,
            partition,
            added,
            unknowns,
            renewed,
            followed,
            meanwhile,
            alike,
            blown
        );
        ComplaintWeight.Add(_space, [.. Evidence.Select(e => e.Reading)], reading, 0, partition, added);
        var (unlike, sound, remembered, ofOff, notAsDrawn) = (double.NaN, 0.0, double.NaN, 0.0, _notAsDrawn);
        if (curves is not null)
        {
            var (result, dimension) = (reading.Steady!, reading.Test.Probe.Dimension);
            var healthy = _space.PredictHealthy(reading.Test);
            healthy = healthy with { SoundShare = healthy.Share };
            unlike =
                power
                * Math.Log(
                    _likelihood.OffSheet(result, dimension, healthy.OfMains) * (otherwise && !reading.Doubtful ? Likelihood.Slip : 1)
                );
            var fresh = _likelihood.Unlearnt;
            var slip = Slips.Probability(_space, Evidence.Count, reading);
            var density = _likelihood.Evaluate(result, alike?.GivenHealthy(healthy) ?? healthy, dimension, slip, ref fresh);
            if (apart is not null)
            {
                fresh = _likelihood.Unlearnt;
                (density, _) = OffItsPlug.Mix(
                    density,
                    _likelihood.Evaluate(result, _space.PredictHealthy(apart), dimension, slip, ref fresh)
                );
            }
            sound = power * Math.Log(Math.Max(density, 1e-12));
            if (meanwhile.Dead && ReadingKinds.IsFedAndDead(_space.Circuit, reading))
            {
                unlike += Math.Log(DrawnOtherwiseInside);
                sound += Math.Log(DrawnOtherwiseInside);
            }
            if (IsCured(reading, period))
            {
                unlike += Math.Log(CuredOtherwise);
                sound += Math.Log(CuredOtherwise);
            }
            if (new ReadingsByPoint(_space, Evidence.Select(e => e.Reading)).Find(reading.Test) is { } was)
            {
                fresh = _likelihood.Unlearnt;
                // What it showed then was read with the same meter, points by themselves one after the other.
                var strays = _likelihood.MeterSigma(was.Mean, dimension) * (reading.Test.Probe.Tips.Count > 1 ? Math.Sqrt(2) : 1);
                remembered = _likelihood.Evaluate(
                    result,
                    was with
                    {
                        Spread = double.Hypot(was.Spread, strays),
                    },
                    dimension,
                    slip,
                    ref fresh
                );
            }
        }
        (ofOff, notAsDrawn) = NotAsDrawn.After(
            notAsDrawn,
            reading,
            _space,
            partition,
            log,
            added,
            unlike,
            sound,
            remembered,
            ReadingKinds.IsComplaint(_space, Evidence.Count, reading),
            otherwise && !reading.Doubtful
        );
        for (var i = 0; i < log.Length; i++)
            log[i] += added[i];
        return new Belief(
            _space,
            _likelihood,
            partition,
            log,
            unknowns,
            _offLog + ofOff,
            notAsDrawn,
            [
                .. Evidence,
                new Weighed(reading, power, partition, added, ofOff, unlike, sound, remembered)
                {
                    Period = period,
                    Renewed = renewed,
                    Followed = followed,
                    Meanwhile = meanwhile,
                    Otherwise = otherwise && !reading.Doubtful,
                },
            ]
        )
        {
            Circumstances = Circumstances,
        };
    }

    /// <summary>How often a part that was put in mends what is not drawn; estimate.</summary>
    private const double CuredOtherwise = 0.2;

    /// <summary>True where it works with a new part in, and did not before.</summary>
    private bool IsCured(Reading reading, int period) =>
        period > 0
        && reading is { Doubtful: false, Test.Probe: Probe.Sees, Result: ReadingResult.Word { Answer: Answer.Works } }
        && Evidence.Any(e =>
            e.Period < period
            && e.Reading.Test == reading.Test
            && e.Reading is { Doubtful: false, Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak } }
        )
        && !Evidence.Any(e => e.Period == period && e.Reading.Test == reading.Test);

    /// <summary>Share of all weight below which a suspect is out of the question for now; estimate.</summary>
    private const double OutOfTheQuestion = 5e-4;

    /// <summary>Whether a suspect is in the question yet.</summary>
    private Func<int, bool> Counts()
    {
        var most = _log.Max();
        var all = _log.Sum(x => Math.Exp(x - most));
        return s =>
        {
            var own = 0.0;
            for (var i = _partition.From(s); i < _partition.To(s); i++)
                own += Math.Exp(_log[i] - most);
            return own > OutOfTheQuestion * all;
        };
    }

    /// <summary>
    /// How often a part that has its volts at its own terminals and is dead is drawn otherwise inside, where nothing drawn about it can be
    /// the cause; estimate.
    /// </summary>
    private const double DrawnOtherwiseInside = 0.15;

    /// <summary>
    /// True when the joint has been seen to come and go: one test read two ways, or the joint shown open by a reading taken while its place
    /// was moved. A machine that is not as drawn contradicts itself too, and never changes its mind.
    /// </summary>
    public bool SeenToComeAndGo(int suspect)
    {
        if (_space.ForGood(suspect) is not { } there)
            return false;
        foreach (var e in Evidence)
        {
            if (e.Reading.Result is not { } result || !_space.IsMoved(suspect, e.Reading.Test.Setup))
                continue;
            var shown = _space.Curves(e.Reading.Test)[there];
            if (_space.Sizes(there).Max(k => Fits(result, shown.At(k))) > MuchMore * Fits(result, Without(e.Reading.Test)))
                return true;

            double Fits(ReadingResult read, in Predicted predicted)
            {
                var unlearnt = _likelihood.Unlearnt;
                return _likelihood.Evaluate(read, predicted, e.Reading.Test.Probe.Dimension, Likelihood.Slip, ref unlearnt);
            }
        }
        return Evidence
            .GroupBy(e => (e.Period, e.Reading.Test))
            .Any(g =>
                g.Any(x =>
                    g.Any(y =>
                        x.Reading.Result is { } r
                        && y.Reading.Result is { } t
                        && Contradicts(_space, _likelihood.Meter, x.Reading, y.Reading)
                    )
                )
            );

        Predicted Without(Test test) =>
            _space.TouchOf(suspect)?.Gone is { } blown ? _space.Curves(test)[blown].At(0) : _space.PredictHealthy(test);
    }

    private const double MuchMore = 5;

    /// <summary>
    /// True where what leads was mended, and what was read after it says that it was not that alone: the new part is bad, or there is a
    /// second
    /// fault.
    /// </summary>
    public bool MendedInVain(Weights weights)
    {
        var (suspect, entry) = Best(weights.AsFound);
        var after = Evidence.Where(e => e.Renewed.Contains(_space.Suspects[suspect].RepairUnit)).ToList();
        return after.Count > 0
            && (
                _unknowns[entry].Mended < 0.5
                // It is seen dead still.
                || after.Exists(e =>
                    e.Reading
                        is { Doubtful: false, Test.Probe: Probe.Sees, Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak } }
                )
            );
    }

    /// <summary>What was put in or mended so far: part, wire, pin.</summary>
    private HashSet<string> Renewed() =>
        Evidence.Select(e => e.Reading.Test.Probe).OfType<Probe.Replaced>().Select(p => p.Tag).ToHashSet(StringComparer.Ordinal);

    /// <summary>True where what is left of two faults, one being mended, has values of its own that a test tells apart.</summary>
    private static bool LeftIsCurved(FaultSpace space, ResponseCurve[] curves, int suspect, HashSet<string> renewed) =>
        renewed.Count > 0 && space.Left(suspect, renewed) is { Fine: null } left && !curves[left.Suspect].IsFlat;

    /// <summary>
    /// What two faults hold of which one was mended is the other's from then on: the machine is looked at as it is now.
    /// </summary>
    private double[] AsMended(double[] w)
    {
        var renewed = Renewed();
        if (renewed.Count == 0)
            return w;
        var now = (double[])w.Clone();
        for (var s = 0; s < _space.Suspects.Count; s++)
        {
            if (_space.Left(s, renewed) is not { } left)
                continue;
            for (var i = _partition.From(s); i < _partition.To(s); i++)
            {
                var (each, times) = (w[i], _partition.Times(s));
                if (times > 1 && left.Fine is null)
                    for (var k = 0; k < times; k++)
                        now[_partition.At(left.Suspect, left.At(k))] += each / _partition.Times(left.Suspect);
                else
                    now[_partition.At(left.Suspect, left.At(_partition.FineOf(s, i)))] += each * times / _partition.Times(left.Suspect);
                now[i] = 0;
            }
        }
        return now;
    }

    /// <summary>Normalised weights, and the share of "not on the sheet".</summary>
    /// <param name="without">Leaves out one reading, by its index in <see cref="Evidence"/>.</param>
    public Weights Weigh(int without = -1)
    {
        var w = (double[])_log.Clone();
        var off = _offLog;
        if (without >= 0)
        {
            var skip = new double[w.Length];
            Evidence[without].Partition.Spread<double>(Evidence[without].Added, _partition, skip);
            for (var i = 0; i < w.Length; i++)
                w[i] -= skip[i];
            off -= Evidence[without].OffSheet;
        }
        var most = off;
        foreach (var log in w)
            most = Math.Max(most, log);
        var offShare = Math.Exp(off - most);
        var sum = offShare;
        for (var s = 0; s < _space.Suspects.Count; s++)
        {
            var times = _partition.Times(s);
            for (var i = _partition.From(s); i < _partition.To(s); i++)
                sum += times * (w[i] = w[i] - most > Negligible ? Math.Exp(w[i] - most) : 0);
        }
        for (var i = 0; i < w.Length; i++)
            w[i] /= sum;
        offShare /= sum;
        if (offShare > MostFromOneReading && Contradictions(w) <= 1 && !ChangesUnseen(w))
        {
            var scale = (1 - MostFromOneReading) / (1 - offShare);
            for (var i = 0; i < w.Length; i++)
                w[i] *= scale;
            offShare = MostFromOneReading;
        }
        for (var i = 0; i < w.Length; i++)
            w[i] = Rounded(w[i]);
        return new Weights(_space, _partition, AsMended(w), offShare, _unknowns, AsDrawn) { AsFound = w };
    }

    /// <summary>
    /// Keeps 28 bits of the mantissa. The last digits depend on which state parallel work solved first; without them what nothing tells
    /// apart weighs the same, and the same readings give the same advice.
    /// </summary>
    private static double Rounded(double weight) =>
        BitConverter.Int64BitsToDouble((BitConverter.DoubleToInt64Bits(weight) + (1L << 23)) & ~((1L << 24) - 1));

    /// <summary>Logarithm of a weight, against the largest, that counts as none.</summary>
    private const double Negligible = -40;

    /// <summary>Readings that the best fault on the sheet takes for slips.</summary>
    public int Contradictions(Weights weights) => Contradictions(weights.AsFound);

    private int Contradictions(double[] w)
    {
        var best = Best(w);
        var fine = _partition.FineOf(best.Suspect, best.Entry);
        return Evidence.Count(e => e.Reading.Result is not null && e.At(best.Suspect, fine) < e.Unlike - 1.5);
    }

    private (int Suspect, int Entry) Best(double[] w)
    {
        var best = (Suspect: 0, Entry: 0);
        for (var s = 0; s < _space.Suspects.Count; s++)
        for (var i = _partition.From(s); i < _partition.To(s); i++)
            if (w[i] > w[best.Entry])
                best = (s, i);
        return best;
    }

    /// <summary>
    /// True where the best on the sheet is a joint that may change with every reading and has not been seen to: it contradicts nothing, and
    /// explains nothing.
    /// </summary>
    private bool ChangesUnseen(double[] w) => Best(w).Suspect is var s && _space.ForGood(s) is not null && !SeenToComeAndGo(s);

    /// <summary>Supply against its stated volts as the likeliest faults see it, relative.</summary>
    /// <param name="ofMains">True for the mains.</param>
    /// <param name="ofRatio">How much of it goes with what a transformer makes of them, 0 to 1.</param>
    public double Supply(Weights weights, bool ofMains, double ofRatio = 0)
    {
        var (sum, total) = (0.0, 1e-12);
        for (var s = 0; s < _space.Suspects.Count; s++)
        {
            var times = _partition.Times(s);
            for (var i = _partition.From(s); i < _partition.To(s); i++)
            {
                sum += times * weights.Each[i] * (ofMains ? _unknowns[i].Mains + ofRatio * _unknowns[i].Ratio : _unknowns[i].Supply);
                total += times * weights.Each[i];
            }
        }
        return sum / total;
    }
}
