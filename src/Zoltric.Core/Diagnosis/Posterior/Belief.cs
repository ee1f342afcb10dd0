using System.Runtime.CompilerServices;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What the readings so far make of every fault: a weight per suspect and value, what each has learnt of the supply, and the weight of
/// "not as the sheet says". Values that no reading has told apart are weighed together (<see cref="Held"/>). Immutable; <see cref="With"/>
/// adds one reading.
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
    private readonly Held _held;

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
    public IEnumerable<Weighed> Counted => Evidence.Where(e => !IsProofOfDead(_space.Circuit, e.Reading));

    private Belief(
        FaultSpace space,
        Likelihood likelihood,
        Held held,
        double[] log,
        Unknowns[] unknowns,
        double offLog,
        NotAsDrawn notAsDrawn,
        IReadOnlyList<Weighed> evidence
    )
    {
        (_space, _likelihood, _held, _log, _unknowns, _offLog, _notAsDrawn, Evidence) = (
            space,
            likelihood,
            held,
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
    public int Entries(int suspect) => _held.To(suspect) - _held.From(suspect);

    public Likelihood Likelihood => _likelihood;

    public static Belief Before(FaultSpace space, MeterClass meter, Circumstances circumstances = Circumstances.None)
    {
        var likelihood = new Likelihood(space.Circuit, meter);
        var held = Held.Together(space);
        var unknowns = new Unknowns[held.Count];
        Array.Fill(unknowns, likelihood.Unlearnt);
        return new Belief(
            space,
            likelihood,
            held,
            Priors(space, held, circumstances),
            unknowns,
            Math.Log(OffSheetPrior(space.Circuit.DrawnFrom)),
            NotAsDrawn.Before,
            []
        )
        {
            Circumstances = circumstances,
        };
    }

    private static double[] Priors(FaultSpace space, Held held, Circumstances circumstances)
    {
        var off = OffSheetPrior(space.Circuit.DrawnFrom);
        var log = new double[held.Count];
        for (var s = 0; s < space.Suspects.Count; s++)
            log.AsSpan(held.From(s)..held.To(s))
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
        var curves = Evidence.Select(w => NeedsCurves(_space, w.Reading) ? opened.Curves(w.Reading.Test) : null).OfType<Curve[]>().ToList();
        var held = _held.Apart(opened, s => s >= first && curves.Exists(c => !c[s].IsFlat));
        var (n, known) = (held.Count, held.From(first));
        var unknowns = new Unknowns[n];
        _unknowns.CopyTo(unknowns, 0);
        Array.Fill(unknowns, _likelihood.Unlearnt, known, n - known);
        var evidence = new List<Weighed>();
        // What the machine not as drawn shares with the drawn one is worked out anew, since the new suspects change what was to be expected
        // at each step.
        var (before, off, notAsDrawn) = (Priors(opened, held, Circumstances), _offLog, NotAsDrawn.Before);
        foreach (var w in Evidence)
        {
            var added = new double[n];
            w.Held.Spread<double>(w.Added, held, added);
            Weigh(opened, _likelihood, w.Reading, w.Power, first, held, added, unknowns, w.Renewed, w.Followed, w.StaysDead);
            (var ofOff, notAsDrawn) = OfNotAsDrawn(
                notAsDrawn,
                w.Reading,
                opened,
                held,
                before,
                added,
                w.Unlike,
                w.Sound,
                w.Remembered,
                IsComplaint(opened, evidence.Count, w.Reading),
                w.Otherwise
            );
            off += ofOff - w.OffSheet;
            for (var i = 0; i < n; i++)
                before[i] += added[i];
            evidence.Add(w with { Held = held, Added = added, OffSheet = ofOff });
        }
        return new Belief(opened, _likelihood, held, before, unknowns, off, notAsDrawn, evidence) { Circumstances = Circumstances };
    }

    /// <summary>
    /// True for what is weighed against what each fault would show. Volts read dead with every source off are proof and no evidence.
    /// </summary>
    private static bool NeedsCurves(FaultSpace space, Reading reading) =>
        reading.Result is not null
        && reading.Test.Probe is not (Probe.Replaced or Probe.Code) and not { Statistic: Statistic.Ripple }
        && !IsProofOfDead(space.Circuit, reading);

    /// <summary>True for a dead check that read dead.</summary>
    public static bool IsProofOfDead(Circuit circuit, Reading reading) =>
        TestRules.IsDeadCheck(circuit, reading.Test)
        && reading.Result switch
        {
            ReadingResult.Number n => SafetyLimits.IsDead(n.Value),
            ReadingResult.Range r => SafetyLimits.IsDead(r.Low) && SafetyLimits.IsDead(r.High),
            _ => false,
        };

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
        var all = readings.Select(r => FuseShunt.AsAmps(space.Circuit, r)).ToList();
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
            weighed.Add((r, Repeated(all, i, period) ? 0.2 : 1));
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
                        .Any(x => Unmoved(x.Test) == Unmoved(all[i].Test) && x.Result is not null && Contradicts(space, meter, x, all[i])),
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
            && all.Skip(i + 1)
                .Where((_, k) => period[i + 1 + k] == period[i])
                .FirstOrDefault(x => x.Test.ToString() == all[i].Test.ToString() && x.Result is not null)
                is { } later
            && Contradicts(space, meter, all[i], later);

        // A part put in, and the machine tried after it.
        bool Followed(int i) =>
            all[i].Test.Probe is Probe.Replaced && all.Skip(i + 1).Any(x => x.Result is not null && x.Test.Probe is not Probe.Code);
    }

    /// <summary>The test without what was moved by hand: a machine that is built otherwise shows the same with and without.</summary>
    private static string Unmoved(Test t) =>
        t.Setup.Moved.Count == 0 ? t.ToString() : (t with { Setup = t.Setup with { Moved = [] } }).ToString();

    private static string KeyOf(MeterClass meter, Circumstances circumstances, List<string> names, int count) =>
        $"{meter.Name} {circumstances}\n" + string.Join('\n', names.Take(count));

    private static bool Repeated(List<Reading> all, int i, int[] period) =>
        all.Take(i)
            .Where((_, k) => period[k] == period[i])
            .Any(x =>
                x.Test.ToString() == all[i].Test.ToString() && x.Result is not null && x.Result.ToString() == all[i].Result?.ToString()
            );

    private static bool Contradicts(FaultSpace space, MeterClass meter, Reading a, Reading b) =>
        (a.Result, b.Result) switch
        {
            (ReadingResult.Number x, ReadingResult.Number y) => Math.Abs(x.Value - y.Value)
                > 3 * meter.Band(x.Value, x.Dimension) + 0.02 * space.Circuit.NominalVolts,
            // It works and it flickers are two looks at one thing.
            ({ ComesAndGoes: true }, _) or (_, { ComesAndGoes: true }) => false,
            ({ } x, { } y) => x.ToString() != y.ToString(),
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
        var renewed = Evidence
            .Select(e => e.Reading.Test.Probe)
            .OfType<Probe.Replaced>()
            .Select(p => p.Tag)
            .ToHashSet(StringComparer.Ordinal);
        var curves = NeedsCurves(_space, reading) ? _space.Curves(reading.Test) : null;
        var held = curves is null ? _held : _held.Apart(_space, s => !curves[s].IsFlat);
        var (added, unknowns, log) = (new double[held.Count], new Unknowns[held.Count], new double[held.Count]);
        _held.Spread<double>(_log, held, log);
        _held.Spread<Unknowns>(_unknowns, held, unknowns);
        var staysDead = StaysDead(reading, period);
        Weigh(_space, _likelihood, reading, power, 0, held, added, unknowns, renewed, followed, staysDead);
        var (unlike, sound, remembered, ofOff, notAsDrawn) = (double.NaN, 0.0, double.NaN, 0.0, _notAsDrawn);
        if (curves is not null)
        {
            var (result, dimension) = (reading.Steady!, reading.Test.Probe.Dimension);
            unlike = power * Math.Log(_likelihood.OffSheet(result, dimension) * (otherwise && !reading.Doubtful ? Likelihood.Slip : 1));
            var fresh = _likelihood.Unlearnt;
            sound =
                power
                * Math.Log(
                    Math.Max(
                        _likelihood.Of(result, _space.PredictHealthy(reading.Test), dimension, SlipOf(_space, reading), ref fresh),
                        1e-12
                    )
                );
            if (staysDead && IsFedAndDead(_space.Circuit, reading))
            {
                unlike += Math.Log(DrawnOtherwiseInside);
                sound += Math.Log(DrawnOtherwiseInside);
            }
            if (new Remembered(_space, Evidence.Select(e => e.Reading)).Of(reading.Test) is { } was)
            {
                fresh = _likelihood.Unlearnt;
                // What it showed then was read with the same meter, points by themselves one after the other.
                var strays = _likelihood.MeterSigma(was.Mean, dimension) * (reading.Test.Probe.Tips.Count > 1 ? Math.Sqrt(2) : 1);
                remembered = _likelihood.Of(
                    result,
                    was with
                    {
                        Spread = double.Hypot(was.Spread, strays),
                    },
                    dimension,
                    SlipOf(_space, reading),
                    ref fresh
                );
            }
            (ofOff, notAsDrawn) = OfNotAsDrawn(
                notAsDrawn,
                reading,
                _space,
                held,
                log,
                added,
                unlike,
                sound,
                remembered,
                IsComplaint(_space, Evidence.Count, reading),
                otherwise && !reading.Doubtful
            );
        }
        for (var i = 0; i < log.Length; i++)
            log[i] += added[i];
        return new Belief(
            _space,
            _likelihood,
            held,
            log,
            unknowns,
            _offLog + ofOff,
            notAsDrawn,
            [
                .. Evidence,
                new Weighed(reading, power, held, added, ofOff, unlike, sound, remembered)
                {
                    Period = period,
                    Renewed = renewed,
                    Followed = followed,
                    StaysDead = staysDead,
                    Otherwise = otherwise && !reading.Doubtful,
                },
            ]
        )
        {
            Circumstances = Circumstances,
        };
    }

    /// <summary>
    /// How often a load that starts again while its circuit is measured is overlooked; and how often a part that has its volts at its own
    /// terminals and is dead is drawn otherwise inside, where nothing drawn about it can be the cause. Estimates.
    /// </summary>
    private const double Overlooked = 0.4,
        DrawnOtherwiseInside = 0.15;

    /// <summary>True for a reading in a setup in which a function was last seen dead.</summary>
    private bool StaysDead(Reading reading, int period) =>
        reading.Test.Probe is not (Probe.Sees or Probe.Hears)
        && Evidence.LastOrDefault(e =>
            e.Period == period && e.Reading.Test.Probe is Probe.Sees { IsFunction: true } && e.Reading.Test.Setup.Equals(reading.Test.Setup)
        )
            is { Reading: { Doubtful: false, Result: ReadingResult.Word { Answer: Answer.Dead } } };

    /// <summary>True where both tips are on one load and most of the supply stands across it.</summary>
    private static bool IsFedAndDead(Circuit circuit, Reading reading) =>
        reading is { Doubtful: false, Result: ReadingResult.Number { Dimension: Dimension.Volt } n }
        && reading.Test.Probe.Tips is [var p, var q]
        && p.Tag == q.Tag
        && circuit.FindPart(p.Tag) is { Kind.IsSource: false, Model.Load: not null }
        && Math.Abs(n.Value) > FedShare * circuit.NominalVolts;

    private const double FedShare = 0.75;

    /// <summary>Logarithm of what a reading says for a machine that is not as drawn, and what it teaches of that.</summary>
    /// <param name="before">By entry, the logarithm of the weight before the reading.</param>
    /// <param name="added">What the reading adds to it.</param>
    /// <param name="unlike">The same for a machine of which nothing is known.</param>
    /// <param name="sound">The same for a sound machine as drawn.</param>
    /// <param name="remembered">How likely it was where both its points are as they were read before, or NaN.</param>
    /// <param name="otherwise">True where the same test has been read otherwise before.</param>
    /// <param name="complaint">True for the reading that the job began with.</param>
    private static (double Log, NotAsDrawn After) OfNotAsDrawn(
        NotAsDrawn known,
        Reading reading,
        FaultSpace space,
        Held held,
        double[] before,
        double[] added,
        double unlike,
        double sound,
        double remembered,
        bool complaint,
        bool otherwise
    )
    {
        if (double.IsNaN(unlike))
            return (0, known);
        // A part that was taken out and is read by itself is sound, where what is wrong is how the machine is built.
        if (IsPartByItself(space.Circuit, reading.Test))
            return (sound, known);
        var most = double.NegativeInfinity;
        for (var i = 0; i < before.Length; i++)
            if (before[i] > most)
                most = before[i];
        var (expected, total) = (0.0, 0.0);
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var times = held.Times(s);
            for (var i = held.From(s); i < held.To(s); i++)
            {
                var log = before[i] - most;
                if (log < NegligibleBefore)
                    continue;
                var weight = times * Math.Exp(log);
                total += weight;
                expected += weight * Math.Exp(added[i]);
            }
        }
        // There is a job because of this figure, and few of the suspects make it: that says nothing of whether the machine is as drawn.
        if (complaint)
            return (Math.Log(expected / total), known);
        // A machine that is built otherwise does not change its mind, however the suspects would have it.
        var same = otherwise ? Likelihood.Slip : 1;
        return known.Weigh(reading.Test, same * expected / total, same * Math.Exp(sound), Math.Exp(unlike), remembered);
    }

    /// <summary>
    /// True where ohms are read on a part that was unplugged or pulled, across it or to the frame, or on a wire with both its ends off:
    /// whatever the machine is built like.
    /// </summary>
    private static bool IsPartByItself(Circuit circuit, Test test)
    {
        if (test.Probe is not (Probe.Ohms or Probe.Beep or Probe.Insulation))
            return false;
        var tips = test.Probe.Tips;
        // So is a wire, with what hangs on both its ends off.
        if (
            (
                test.Probe is Probe.Ohms o ? o.X.Text
                : test.Probe is Probe.Beep b ? b.X.Text
                : null
            )
                is { } text
            && circuit.FindWire(text) is { } wire
            && IsOff(wire.From)
            && IsOff(wire.To)
        )
            return true;
        return test.Setup.Interventions.Any(i =>
            (
                i is Intervention.Unplug u ? u.Tag
                : i is Intervention.Pull p ? p.Tag
                : null
            )
                is { } tag
            && circuit.FindPart(tag) is { Kind: not Circuits.Kinds.PinRow and not Circuits.Kinds.Module, Model.IsPoint: false }
            && tips.Any(t => IsOn(t, tag))
            && tips.All(t => IsOn(t, tag) || t.Bare == circuit.FrameFor(t) || t.Name == "PE")
        );

        bool IsOff(Terminal t) =>
            test.Setup.Interventions.Any(i =>
                i switch
                {
                    Intervention.Unplug u => u.Tag == t.Tag,
                    Intervention.Pull p => p.Tag == t.Tag,
                    Intervention.Lift l => l.P.Bare == t,
                    _ => false,
                }
            );

        static bool IsOn(Terminal t, string tag) => t.Tag == tag && t.Side is TerminalSide.None or TerminalSide.Part;
    }

    /// <summary>True for a job that begins with a figure: a limit of the sheet passed, a draw that was read.</summary>
    private static bool IsComplaint(FaultSpace space, int before, Reading reading) =>
        before == 0 && (reading.Test.Probe is Probe.Amps or Probe.Clamp || SlipOf(space, reading) == MeasuredSymptomSlip);

    /// <summary>Logarithm of a weight, against the largest, that foretells nothing.</summary>
    private const double NegligibleBefore = -14;

    /// <summary>What one reading adds to the logarithm of every weight, from a suspect on.</summary>
    private static void Weigh(
        FaultSpace space,
        Likelihood likelihood,
        Reading reading,
        double power,
        int first,
        Held held,
        double[] added,
        Unknowns[] unknowns,
        IReadOnlySet<string> renewed,
        bool followed,
        bool staysDead
    )
    {
        // Where it was tried after, that says what the part was worth.
        if (reading.Test.Probe is Probe.Replaced replaced && !followed)
            Replaced(space, replaced.Tag, first, held, added);
        if (reading.Test.Probe is Probe.Code code)
            Coded(space, code, reading.Result, first, held, added);
        if (!NeedsCurves(space, reading))
            return;
        var result = reading.Steady!;
        var dimension = reading.Test.Probe.Dimension;
        var slip = SlipOf(space, reading);
        var curves = space.Curves(reading.Test);
        Parallel.For(first, curves.Length, s =>
        {
            var (start, curve) = (held.From(s), curves[s]);
            if (space.OpenTwin(s) is { } twin && !renewed.Contains(space.Suspects[s].RepairUnit))
            {
                added[start] =
                    power
                    * Math.Log(
                        Math.Max(
                            ComesAndGoes(
                                space,
                                likelihood,
                                reading.Test,
                                result,
                                curve,
                                curves[twin],
                                s,
                                dimension,
                                slip,
                                staysDead,
                                ref unknowns[start]
                            ),
                            1e-12
                        )
                    );
                return;
            }
            if (renewed.Contains(space.Suspects[s].RepairUnit))
            {
                // With a new part in, its own fault is gone; unless the new one is bad too, or it was its plug.
                var gone = unknowns[start];
                var mended = likelihood.Of(result, space.PredictHealthy(reading.Test), dimension, slip, ref gone);
                for (var k = 0; k < held.To(s) - start; k++)
                    added[start + k] =
                        power
                        * Math.Log(
                            Math.Max(
                                NewPartGood * mended
                                    + (1 - NewPartGood) * likelihood.Of(result, curve.At(k), dimension, slip, ref unknowns[start + k]),
                                1e-12
                            )
                        );
                return;
            }
            for (var k = 0; k < held.To(s) - start; k++)
                added[start + k] =
                    power * Math.Log(Math.Max(likelihood.Of(result, curve.At(k), dimension, slip, ref unknowns[start + k]), 1e-12));
        });
    }

    /// <summary>How often a part put in mends its own fault; estimate.</summary>
    private const double NewPartGood = 0.9;

    /// <summary>Amps are seldom misread by much; estimate.</summary>
    private const double AmpsSlip = 0.004;

    /// <summary>Both tips on the posts of one source are seldom elsewhere; estimate.</summary>
    private const double PostsSlip = 0.01;

    /// <summary>A complaint that was measured is hardly ever none; estimate.</summary>
    private const double MeasuredSymptomSlip = 0.0005;

    /// <summary>A value beyond what the sheet allows a function is the complaint itself, read off: no slip.</summary>
    private static double SlipOf(FaultSpace space, Reading reading) =>
        reading is { Doubtful: false, Result: ReadingResult.Number { Value: var v }, Test: { Setup.Interventions.Count: 0 } test }
        && space.Circuit.Functions.Any(f =>
            f.Test is FunctionTest.Measured m
            && (v < m.Low || v > m.High)
            && m.Probe.ToString() == test.Probe.ToString()
            && space.Healthy(test.Setup).Holds(f.When)
        )
            ? MeasuredSymptomSlip
        : reading is { Doubtful: false, Test.Probe: Probe.Volts { P: var p, Q: { } q } }
        && p.Tag == q.Tag
        && space.Circuit.FindPart(p.Tag) is { Kind.IsSource: true }
            ? PostsSlip
        : SlipOf(reading);

    private static double SlipOf(Reading reading) =>
        reading is { Doubtful: false, Test.Probe: Probe.Amps or Probe.Clamp } ? AmpsSlip
        : reading.Doubtful ? Likelihood.DoubtfulSlip
        : reading.Test.Probe is not Probe.Sees ? Likelihood.Slip
        : reading.Result is ReadingResult.Word { Answer: Answer.Works } ? Likelihood.SeenSlip
        : Likelihood.SymptomSlip;

    /// <summary>
    /// How often a joint that comes and goes is open while its place is moved, and how often it changes by itself from one reading to the
    /// next; estimates.
    /// </summary>
    private const double OpenWhileMoved = 0.6,
        Changes = 0.15;

    /// <summary>How often it is as it was before, when it is let go of; estimate.</summary>
    private const double FallsBack = 0.7;

    /// <summary>
    /// How often a joint that makes contact badly shows something between sound and open, moved and left alone; and how often it makes a
    /// load flicker. Estimates.
    /// </summary>
    private const double BetweenMoved = 0.3,
        BetweenAlone = 0.1,
        FlickersMoved = 0.4,
        FlickersAlone = 0.12;

    /// <summary>The same of a meter that is watched; estimates.</summary>
    private const double JumpsMoved = 0.6,
        JumpsAlone = 0.12;

    private static double ComesAndGoes(
        FaultSpace space,
        Likelihood likelihood,
        Test test,
        ReadingResult result,
        Curve sound,
        Curve open,
        int suspect,
        Dimension dimension,
        double slip,
        bool staysDead,
        ref Unknowns unknowns
    )
    {
        var moved = space.IsMoved(suspect, test.Setup);
        // Left alone it is as a rule what it was at the reading before.
        // Who measures while the function is dead would see it run again.
        var often =
            moved ? OpenWhileMoved
            : staysDead ? unknowns.Open / (unknowns.Open + (1 - unknowns.Open) * Overlooked)
            : unknowns.Open;
        var (other, before) = (unknowns, unknowns.Open);
        // While moved the fault's own run is the open one.
        var healthy = moved
            ? likelihood.Of(result, space.PredictHealthy(test), dimension, slip, ref unknowns)
            : likelihood.Of(result, sound.At(0), dimension, slip, ref unknowns);
        var between = moved ? BetweenMoved : BetweenAlone;
        var opened =
            often * (1 - between) * likelihood.Of(result, open.At(0), dimension, slip, ref other)
            + often * between * Halfway(result, space.PredictHealthy(test), open.At(0), dimension);
        // Who sees it flicker has seen it both open and closed.
        var all =
            (result.ComesAndGoes || result is ReadingResult.Extreme)
            && Likelihood.MayJump(result, space.PredictHealthy(test), open.At(0), space.Circuit.NominalVolts)
                ? (result is ReadingResult.Word, moved) switch
                {
                    (true, true) => FlickersMoved,
                    (true, false) => FlickersAlone,
                    (_, true) => JumpsMoved,
                    _ => JumpsAlone,
                }
                : (1 - often) * healthy + opened;
        var now = all > 0 ? opened / all : often;
        if (now > 0.5)
            unknowns = other;
        // Let go of again it is as a rule what it was before it was moved.
        var left = moved ? FallsBack * before + (1 - FallsBack) * now : now;
        unknowns.Open = left + Changes * (1 - 2 * left);
        return all;
    }

    /// <summary>
    /// Density of a reading somewhere between the sound and the open machine's: even in volts, even in decades of ohms; nothing for words.
    /// </summary>
    private static double Halfway(ReadingResult result, in Predicted sound, in Predicted open, Dimension dimension)
    {
        if (result is not ReadingResult.Number { Value: var v } || sound.Word is not null)
            return 0;
        if (dimension == Dimension.Ohm)
        {
            var (low, high) = (Math.Max(sound.Mean, 0.1), open.Word is null ? Math.Max(open.Mean, sound.Mean) : OpenOhms);
            return v > low && v < high && high > 2 * low ? 1 / (v * Math.Log(high / low)) : 0;
        }
        if (open.Word is not null)
            return 0;
        var (from, to) = (Math.Min(sound.Mean, open.Mean), Math.Max(sound.Mean, open.Mean));
        // What is next to sound or next to open is one of the two.
        var (least, most) = (from + 0.1 * (to - from), to - 0.1 * (to - from));
        return to - from > 0.01 && v > least && v < most ? 1 / (most - least) : 0;
    }

    /// <summary>Ohms beyond which a meter shows OL, as far as a bad contact goes; estimate.</summary>
    private const double OpenOhms = 1e6;

    /// <summary>
    /// True when the joint has been seen to come and go: one test read two ways, or the joint shown open by a reading taken while its place
    /// was moved. A machine that is not as drawn contradicts itself too, and never changes its mind.
    /// </summary>
    public bool SeenToComeAndGo(int suspect)
    {
        if (_space.OpenTwin(suspect) is not { } twin)
            return false;
        foreach (var e in Evidence)
        {
            if (e.Reading.Result is not { } result || !_space.IsMoved(suspect, e.Reading.Test.Setup))
                continue;
            var (a, b) = (_likelihood.Unlearnt, _likelihood.Unlearnt);
            var dimension = e.Reading.Test.Probe.Dimension;
            if (
                _likelihood.Of(result, _space.Curves(e.Reading.Test)[twin].At(0), dimension, Likelihood.Slip, ref a)
                > MuchMore * _likelihood.Of(result, _space.PredictHealthy(e.Reading.Test), dimension, Likelihood.Slip, ref b)
            )
                return true;
        }
        return Evidence
            .GroupBy(e => (e.Period, e.Reading.Test.ToString()))
            .Any(g =>
                g.Any(x =>
                    g.Any(y =>
                        x.Reading.Result is { } r
                        && y.Reading.Result is { } t
                        && Contradicts(_space, _likelihood.Meter, x.Reading, y.Reading)
                    )
                )
            );
    }

    private const double MuchMore = 5;

    /// <summary>
    /// A part that was renewed and did not help: its own faults become unlikely, not impossible (the new one may be bad too).
    /// </summary>
    private static void Replaced(FaultSpace space, string tag, int first, Held held, double[] added)
    {
        for (var s = first; s < space.Suspects.Count; s++)
            if (space.Suspects[s].RepairUnit == tag)
                Fill(held, s, added, Math.Log(0.1));
    }

    /// <summary>
    /// How likely a code is active when the fault upsets what it is about, and when it does not: a module may be told wrong by a low supply
    /// or a shared ground. A stored one may be old, an absent one not set yet. Estimates.
    /// </summary>
    private const double ActiveUpset = 0.8,
        ActiveElse = 0.12,
        StoredUpset = 0.5,
        StoredElse = 0.38,
        AbsentUpset = 0.44;

    /// <summary>
    /// A code is weighed as a symptom: by whether the fault would upset what its line is about. So four codes with one feed in common point
    /// to the feed and not to one of its leads.
    /// </summary>
    private static void Coded(FaultSpace space, Probe.Code code, ReadingResult? result, int first, Held held, double[] added)
    {
        if (result is not ReadingResult.Word { Answer: var word } || CodeOf(space.Circuit, code.Number) is not { } known)
            return;
        // A supply that sags sets many codes, its own among them: that one says little of where.
        var ofSupply = known.About.Any(a => space.Circuit.FindPart(a) is { Kind.IsSource: true });
        var (upset, otherwise) = word switch
        {
            Answer.Active when !ofSupply => (ActiveUpset, ActiveElse),
            Answer.Active or Answer.Stored => (StoredUpset, StoredElse),
            Answer.Absent => (AbsentUpset, 1 - StoredElse),
            _ => (1, 1),
        };
        var setups = CommonCauses.SetupsOf(space.Circuit);
        Parallel.For(first, space.Suspects.Count, s =>
        {
            var unit = space.Suspects[s].RepairUnit;
            var upsets =
                known.About.Contains(unit)
                || known.About.Contains(unit.Split(':')[0])
                || space.Suspects[s].Together.Count == 0 && CommonCauses.Upsets(space, s, known, setups);
            Fill(held, s, added, Math.Log(upsets ? upset : otherwise));
        });
    }

    /// <summary>The sheet's line for a code: its number, or the one line whose number it ends in; readers put a prefix before it.</summary>
    private static FaultCode? CodeOf(Circuit circuit, string number)
    {
        if (circuit.Codes.FirstOrDefault(c => c.Code == number) is { } exact)
            return exact;
        var ends = circuit.Codes.Where(c => number.EndsWith(c.Code, StringComparison.OrdinalIgnoreCase)).ToList();
        return ends.Count == 1 ? ends[0] : null;
    }

    private static void Fill(Held held, int suspect, double[] added, double log) =>
        added.AsSpan(held.From(suspect)..held.To(suspect)).Fill(log);

    /// <summary>Normalised weights, and the share of "not on the sheet".</summary>
    /// <param name="without">Leaves out one reading, by its index in <see cref="Evidence"/>.</param>
    public Weights Weigh(int without = -1)
    {
        var w = (double[])_log.Clone();
        var off = _offLog;
        if (without >= 0)
        {
            var skip = new double[w.Length];
            Evidence[without].Held.Spread<double>(Evidence[without].Added, _held, skip);
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
            var times = _held.Times(s);
            for (var i = _held.From(s); i < _held.To(s); i++)
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
        return new Weights(_space, _held, w, offShare, _unknowns, AsDrawn);
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
    public int Contradictions(Weights weights) => Contradictions(weights.Each);

    private int Contradictions(double[] w)
    {
        var best = Best(w);
        var fine = _held.FineOf(best.Suspect, best.Entry);
        return Evidence.Count(e => e.Reading.Result is not null && e.Of(best.Suspect, fine) < e.Unlike - 1.5);
    }

    private (int Suspect, int Entry) Best(double[] w)
    {
        var best = (Suspect: 0, Entry: 0);
        for (var s = 0; s < _space.Suspects.Count; s++)
        for (var i = _held.From(s); i < _held.To(s); i++)
            if (w[i] > w[best.Entry])
                best = (s, i);
        return best;
    }

    /// <summary>
    /// True where the best on the sheet is a joint that may change with every reading and has not been seen to: it contradicts nothing, and
    /// explains nothing.
    /// </summary>
    private bool ChangesUnseen(double[] w) => Best(w).Suspect is var s && _space.OpenTwin(s) is not null && !SeenToComeAndGo(s);

    /// <summary>Supply against its stated volts as the likeliest faults see it, relative.</summary>
    public double Supply(Weights weights)
    {
        var (sum, total) = (0.0, 1e-12);
        for (var s = 0; s < _space.Suspects.Count; s++)
        {
            var times = _held.Times(s);
            for (var i = _held.From(s); i < _held.To(s); i++)
            {
                sum += times * weights.Each[i] * _unknowns[i].Supply;
                total += times * weights.Each[i];
            }
        }
        return sum / total;
    }
}

/// <summary>A reading, how much it counts, and what it added to the logarithm of every weight.</summary>
/// <param name="Added">By entry of <paramref name="Held"/>.</param>
/// <param name="OffSheet">The same for "not on the sheet".</param>
/// <param name="Unlike">The same for a machine of which nothing is known; NaN for what is no reading.</param>
/// <param name="Sound">The same for a sound machine.</param>
/// <param name="Remembered">How likely it was where both its points are as each was read before; NaN where they were not.</param>
internal sealed record Weighed(
    Reading Reading,
    double Power,
    Held Held,
    double[] Added,
    double OffSheet,
    double Unlike,
    double Sound,
    double Remembered
)
{
    /// <summary>True where the same test has been read otherwise before.</summary>
    public bool Otherwise { get; init; }

    /// <summary>Number of parts put in before it.</summary>
    public int Period { get; init; }

    /// <summary>Tags of the parts put in before it.</summary>
    public IReadOnlySet<string> Renewed { get; init; } = new HashSet<string>();

    /// <summary>For a part put in: true where the machine was tried after it.</summary>
    public bool Followed { get; init; }

    /// <summary>True for a reading in a setup in which a function was last seen dead.</summary>
    public bool StaysDead { get; init; }

    /// <summary>What it added to a suspect's fine point.</summary>
    public double Of(int suspect, int fine) => Added[Held.At(suspect, fine)];
}
