using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Explanation;

public enum Judgement
{
    Low,
    Ok,
    High,
    Unsure,
}

/// <summary>What a good reading is: the healthy machine doing its job, and this machine if the point read is not the trouble.</summary>
/// <param name="Healthy">Null value for words.</param>
/// <param name="GoodSoFar">Lowest, middle, highest; equals healthy where they do not differ. Null for words.</param>
public sealed record Expected(HealthyBand Healthy, (double Low, double Nominal, double High)? GoodSoFar, Answer? GoodWord)
{
    /// <summary>True where a motor's windings are read, of which the sheet knows what they take at work and not their copper.</summary>
    public bool OfWinding { get; init; }

    /// <summary>True where that is a lamp's filament.</summary>
    public bool OfFilament { get; init; }

    /// <summary>True where other terminals of the same motor have been read: that is what is compared.</summary>
    public bool ByOtherWinding { get; init; }

    /// <summary>True when the two senses differ by more than the band.</summary>
    public bool Differ => GoodSoFar is { } g && Healthy.Low is { } low && Healthy.High is { } high && (g.Nominal < low || g.Nominal > high);
}

/// <summary>What one reading says.</summary>
/// <param name="ProvedUnderLoad">True when the load's current flowed past the point while it held its volts.</param>
public sealed record Verdict(Reading Reading, Judgement Judgement, Expected Expected, bool ProvedUnderLoad, string Meaning);

/// <summary>Judges readings against what the suspects remaining without them predict.</summary>
internal sealed class Judge(Belief belief)
{
    private readonly FaultSpace _space = belief.Space;
    private readonly double _nominal = belief.Space.Circuit.NominalVolts;

    /// <summary>Share of the healthy current that counts as the load's current flowing.</summary>
    private const double CarryingShare = 0.5;

    /// <summary>True where the amps are the load's current, next to those of a healthy machine.</summary>
    internal static bool IsCarrying(double amps, double healthy) => amps >= CarryingShare * healthy;

    public Expected Expect(Test test, Weights weights)
    {
        var healthyShown = Meter.Read(_space.Machine, test);
        var healthy = HealthyBand.Of(healthyShown, belief.Likelihood.Meter);
        var dimension = test.Probe.Dimension;
        if (healthyShown.Value is not { } h)
            return new Expected(healthy, null, healthyShown.Winding > 0 ? Answer.Beep : healthyShown.Answer)
            {
                OfWinding = healthyShown.Winding > 0,
                OfFilament = IsFilament(healthyShown),
            };
        var near = Math.Abs(h) < 0.2 * _nominal;
        var values = new List<(double V, double W, Representative At)>();
        foreach (var p in weights.Representatives)
        {
            var x = _space.Quick(test, p);
            if (x.Word is not null)
                continue;
            var fits =
                dimension == Dimension.Ampere ? Math.Abs(x.Mean - h) <= 0.3 * Math.Abs(h) + AlikeAmps
                : dimension != Dimension.Volt ? Math.Abs(x.Mean - h) <= 0.3 * Math.Abs(h) + 0.5
                : near ? Math.Abs(x.Mean - h) <= Math.Max(NothingShare * _nominal, 0.5 * Math.Abs(h))
                : x.Mean * Math.Sign(h) >= HoldsShare * Math.Abs(h);
            if (fits)
                values.Add((x.Mean, p.Weight, p));
        }
        var total = values.Sum(v => v.W);
        var (good, spread) = (h, healthyShown.Spread);
        if (!near && SupplyRead(test, healthyShown) is { } share)
            // Where the source has been read in this very setting, what is lost from there to here is lost, whatever the suspects would
            // have.
            (good, spread) = (h * share, Math.Min(spread, BesideSupply * Math.Abs(h * share)));
        else
        {
            if (total > 0.02)
            {
                values.Sort((a, b) => a.V.CompareTo(b.V));
                var sum = 0.0;
                foreach (var (v, w, at) in values)
                    if ((sum += w) >= total / 2)
                    {
                        (good, spread) = (v, _space.Predict(test, at).Spread);
                        break;
                    }
            }
            if (dimension == Dimension.Volt)
                good *= 1 + belief.Supply(weights, healthyShown.OfMains, healthyShown.OfRatio);
        }
        var half =
            (healthyShown.OwnInstrument ? 0 : belief.Likelihood.MeterSigma(good, dimension) * 2)
            + 2 * spread
            + (
                dimension == Dimension.Volt
                    ? (healthyShown.OfMains && !KnowsMains(test, healthyShown.OfRatio) ? HealthyBand.MainsEitherWay : 0.03) * Math.Abs(good)
                        + 0.004 * _nominal
                    : 0.1 * Math.Abs(good)
            );
        if (healthyShown.Winding > 0)
            return OfWinding(test, healthyShown, healthy, h + half);
        return new Expected(healthy, (dimension == Dimension.Ohm ? Math.Max(0, good - half) : good - half, good, good + half), null);
    }

    /// <summary>
    /// Suspects that leave a point less than this share of its volts do not make that right: a lamp on half of them is dim whoever took the
    /// rest. The same in amps, beside three tenths: what a fuse carries that takes a battery down overnight. Estimates.
    /// </summary>
    private const double HoldsShare = 0.75,
        AlikeAmps = 0.05;

    /// <summary>
    /// Where a sound machine has next to nothing, suspects that have more than this share of nominal volts do not excuse it: two readings
    /// of one bad ground would call each other good. Estimate.
    /// </summary>
    private const double NothingShare = 0.02;

    /// <summary>How far volts stray for what lies between the posts and the point, as a share; estimate.</summary>
    private const double BesideSupply = 0.015;

    /// <summary>
    /// What the source that a reading of direct volts goes with has at its posts in the same setting, as a share of what a sound one has;
    /// null where nobody has read it, and for a reading of the source itself.
    /// </summary>
    private double? SupplyRead(Test test, MeterReading healthy)
    {
        if (healthy is not { FollowsSupply: true, OfMains: false } || test.Probe is not Probe.Volts { Function: VoltsFunction.Dc } volts)
            return null;
        var op = _space.Healthy(test.Setup);
        var sources = _space
            .Circuit.Sources.Where(s =>
                s.Model.Links.OfType<Link.Source>().Any(l => l.Emf != 0 && (l.When is not { } when || op.Holds(when)))
            )
            .ToList();
        if (sources is not [var source] || volts.Tips.All(t => t.Tag == source.Tag))
            return null;
        foreach (var w in belief.Evidence)
            if (
                w.Reading
                    is {
                        Doubtful: false,
                        Test: { Probe: Probe.Volts { P.Tag: var p, Q: { Tag: var q } } } posts,
                        Result: ReadingResult.Number n
                    }
                && p == source.Tag
                && q == source.Tag
                && posts.Setup == test.Setup
                && _space.PredictHealthy(posts) is { Word: null, Mean: > 0 and var sound }
            )
                return n.Value / sound;
        return null;
    }

    /// <summary>True where another reading has told what the mains are, and what a transformer makes of them.</summary>
    private bool KnowsMains(Test but, double ofRatio) =>
        belief.Evidence.Any(w =>
            w.Reading.Test != but
            && w.Reading is { Doubtful: false, Result: ReadingResult.Number { Dimension: Dimension.Volt, Value: > 0 and var volts } }
            && _space.PredictHealthy(w.Reading.Test) is { Word: null, OfMains: true, Mean: > 0 and var sound } healthy
            && Math.Abs(healthy.OfRatio - ofRatio) < 0.5
            && Math.Abs(volts - sound) < HealthyBand.MainsEitherWay * sound
        );

    /// <summary>
    /// How far two readings of one motor's windings may differ, as a share, and by tips and leads, Ω; common practice, no source.
    /// </summary>
    private const double WindingsDiffer = 0.1,
        TipsDiffer = 0.3;

    private bool IsFilament(MeterReading shown) => shown.Winding > 0 && _space.Circuit.Parts[shown.Winding - 1].Kind is Circuits.Kinds.Lamp;

    /// <summary>
    /// A motor's windings: of several, as another pair of its terminals has read where one was, the likest of several, else anything from
    /// its copper up
    /// to what it stands for at work.
    /// </summary>
    private Expected OfWinding(Test test, MeterReading shown, HealthyBand healthy, double most)
    {
        var own = belief.Evidence.LastOrDefault(w => w.Reading.Test == test)?.Reading.Result is ReadingResult.Number n ? n.Value : 0;
        var others = belief
            .Evidence.Where(w => w.Reading is { Doubtful: false, Result: ReadingResult.Number { Dimension: Dimension.Ohm } })
            .Where(w => HasSeveral(shown) && w.Reading.Test != test && !SamePoints(w.Reading.Test, test))
            .Select(w => (((ReadingResult.Number)w.Reading.Result!).Value, Sound: _space.PredictHealthy(w.Reading.Test)))
            .Where(o => o.Sound is { Word: null, Mean: > 0 } && o.Sound.Winding == shown.Winding)
            .Select(o => o.Value * shown.Value!.Value / o.Sound.Mean)
            .OrderBy(like => Math.Abs(like - own))
            .ToList();
        if (others.Count == 0)
            return new Expected(healthy, (HealthyBand.LeastCopper(shown, shown.Value!.Value), shown.Value.Value, most), null)
            {
                OfWinding = true,
                OfFilament = IsFilament(shown),
            };
        var half = WindingsDiffer * others[0] + TipsDiffer;
        return new Expected(healthy, (Math.Max(0, others[0] - half), others[0], others[0] + half), null)
        {
            OfWinding = true,
            OfFilament = IsFilament(shown),
            ByOtherWinding = true,
        };
    }

    /// <summary>True where what is read has more windings than one, so that another pair of its terminals tells what this one
    /// has.</summary>
    private bool HasSeveral(MeterReading shown) =>
        _space.Circuit.Parts[shown.Winding - 1].Model.Links.OfType<Link.Resistance>().Skip(1).Any();

    private static bool SamePoints(Test a, Test b) =>
        a.Probe.OhmsAcross is { } x
        && b.Probe.OhmsAcross is { } y
        && ((x.P.Terminal, x.Q.Terminal) == (y.P.Terminal, y.Q.Terminal) || (x.P.Terminal, x.Q.Terminal) == (y.Q.Terminal, y.P.Terminal));

    public Verdict On(int index)
    {
        var reading = belief.Evidence[index].Reading;
        var without = belief.Weigh(index);
        var expected = Expect(reading.Test, without);
        var limit = ReadingLimit.Of(_space.Circuit, reading.Test, _space.Healthy(reading.Test.Setup), expected.Healthy);
        var judgement =
            reading.Doubtful
            || reading.Result is null
            || reading.Test.Probe is Probe.Code
            || ReadingKinds.IsSeriesScreen(_space.Circuit, reading.Test)
                ? Judgement.Unsure
                : Held(reading, limit) ?? Compare(reading, expected);
        // A limit on one side says nothing of the other.
        if (
            judgement == Judgement.Ok
            && limit is { Source: LimitSource.Sheet }
            && (double.IsInfinity(limit.High) || double.IsInfinity(limit.Low))
            && reading.Result is ReadingResult.Number { Value: var read }
            && expected.Healthy is { Low: { } low, High: { } high }
        )
            judgement =
                double.IsInfinity(limit.High) && read > high + BeyondBand * Math.Abs(high) ? Judgement.High
                : double.IsInfinity(limit.Low) && read < low - BeyondBand * Math.Abs(low) ? Judgement.Low
                : judgement;
        if (judgement is Judgement.High && limit is { Source: LimitSource.Sheet, High: double.PositiveInfinity })
            limit = null;
        if (judgement is Judgement.Low && limit is { Source: LimitSource.Sheet, Low: double.NegativeInfinity })
            limit = null;
        // Inside the sheet's or the maker's limit is right; inside the trade's the computed band still speaks.
        if (limit is { Source: LimitSource.Trade } && judgement != Judgement.High)
            limit = null;
        var proved = judgement == Judgement.Ok && Carried(reading.Test, belief.Weigh());
        var (before, putIn) = Before(index);
        return new Verdict(
            reading,
            judgement,
            expected,
            proved,
            VerdictWords.Say(
                new Judged(_space.Circuit, reading, judgement, expected, limit, proved)
                {
                    HeldAnew = Belief.HeldAnew([.. belief.Evidence.Select(e => e.Reading)], index),
                    Earlier = before,
                    PutIn = putIn,
                }
            )
        );
    }

    /// <summary>What the function that is looked at did before this reading, and the part that was put in since.</summary>
    private (Earlier, Part?) Before(int index)
    {
        if (belief.Evidence[index].Reading is not { Test: { Probe: Probe.Sees { What: var what } } test })
            return default;
        var earlier = belief.Evidence.Take(index).Select(e => e.Reading).ToList();
        bool Fails(Reading r) =>
            r is { Test.Probe: Probe.Sees s, Result: ReadingResult.Word { Answer: not Answer.Works } or ReadingResult.Jumps }
            && s.What == what;
        var last = earlier.FindLastIndex(Fails);
        if (last < 0)
            return (
                earlier.Exists(r => r is { Test.Probe: Probe.Sees or Probe.Code, Result: not ReadingResult.Word { Answer: Answer.Works } })
                    ? Earlier.None
                    : Earlier.NothingDead,
                null
            );
        if (earlier.Skip(last + 1).LastOrDefault(r => r.Test.Probe is Probe.Replaced) is { Test.Probe: Probe.Replaced { Tag: var tag } })
            return (Earlier.DeadBeforeThePart, _space.Circuit.FindPart(tag));
        if (test.Setup.Moved.Count > 0 && earlier.Exists(r => Fails(r) && r.Test.Setup.Moved.Count == 0))
            return (Earlier.DeadUnmoved, null);
        return (earlier[last].Test.Setup == test.Setup ? Earlier.Dead : Earlier.None, null);
    }

    /// <summary>How far beyond the computed band, as a share, what a limit of one side lets pass is still too much; estimate.</summary>
    private const double BeyondBand = 0.03;

    /// <summary>What a limit says of a reading; null where there is none, or where only the computed band can tell.</summary>
    private static Judgement? Held(Reading reading, ReadingLimit? limit)
    {
        if (limit is null || reading.Result is not (ReadingResult.Number or ReadingResult.Range))
            return null;
        var value = reading.Result is ReadingResult.Number n
            ? n.Value
            : (((ReadingResult.Range)reading.Result).Low + ((ReadingResult.Range)reading.Result).High) / 2;
        if (limit.Source == LimitSource.Trade)
            return Math.Abs(value) > limit.High ? Judgement.High : null;
        return value < limit.Low ? Judgement.Low
            : value > limit.High ? Judgement.High
            : limit.Source is LimitSource.Sheet or LimitSource.Bus ? Judgement.Ok
            : null;
    }

    /// <summary>Volts as a sound machine has them are not too many, whatever the suspects would have.</summary>
    private static bool IsHealthy(ReadingResult.Number read, HealthyBand healthy) =>
        read.Dimension == Dimension.Volt && healthy is { Low: > 0 and var low, High: { } high } && read.Value >= low && read.Value <= high;

    private Judgement Compare(Reading reading, Expected e)
    {
        var result = reading.Result!;
        switch (result)
        {
            // Below nothing by more than a sound machine is above or below it: what is lost on the way home, or the tips the other way
            // round.
            case ReadingResult.Number { Dimension: Dimension.Volt, Value: < 0 and var below }
                when e.GoodSoFar is { } none
                    && Math.Abs(none.Nominal) < NothingShare * _nominal
                    && below < none.Low
                    && -below > Math.Max(none.High, -none.Low):
                return Judgement.High;
            case ReadingResult.Number { Value: >= Reading.LeastInsulation and var insulation } when reading.Test.Probe is Probe.Insulation:
                var apart = e.GoodWord == Answer.OverLimit || e.GoodSoFar is { Nominal: >= Reading.SoundInsulation };
                return !apart ? Judgement.High
                    : insulation >= Reading.SoundInsulation ? Judgement.Ok
                    : Judgement.Unsure;
            // No beep is more ohms, a beep fewer.
            case ReadingResult.Word w when reading.Test.Probe is Probe.Beep:
                return w.Answer == e.GoodWord ? Judgement.Ok
                    : e.OfWinding ? Judgement.Unsure
                    : w.Answer == Answer.Beep ? Judgement.Low
                    : Judgement.High;
            // A person says that it works, whether its condition holds or a lead makes it.
            case ReadingResult.Word { Answer: Answer.Works } when e.GoodWord == Answer.StuckOn:
                return Judgement.Ok;
            // How much, whichever way.
            case ReadingResult.Number n when e.GoodSoFar is { } g && reading.Test.Probe.IsEitherWay:
                var (much, least, most) = (
                    Math.Abs(n.Value),
                    Math.Max(Math.Max(g.Low, -g.High), 0),
                    Math.Max(Math.Abs(g.Low), Math.Abs(g.High))
                );
                return much < least ? Judgement.Low
                    : much > most && !IsHealthy(n, e.Healthy) ? Judgement.High
                    : Judgement.Ok;
            case ReadingResult.Number n when e.GoodSoFar is { } g:
                return n.Value < g.Low ? Judgement.Low
                    : n.Value > g.High && !IsHealthy(n, e.Healthy) ? Judgement.High
                    : Judgement.Ok;
            case ReadingResult.Range r when e.GoodSoFar is { } g:
                return r.High < g.Low || (r.Low + r.High) / 2 < g.Low ? Judgement.Low
                    : r.Low > g.High ? Judgement.High
                    : Judgement.Ok;
            case ReadingResult.Jumps j:
                return j.Dimension == Dimension.Ohm ? Judgement.High : Judgement.Low;
            case ReadingResult.OverLimit:
                return e.Healthy.Answer == Answer.OverLimit ? Judgement.Ok : Judgement.High;
            case ReadingResult.Number:
                return e.GoodWord == Answer.OverLimit ? Judgement.Low : Judgement.Unsure;
            case ReadingResult.Word { Answer: Answer.Unsure }:
                return Judgement.Unsure;
            case ReadingResult.Word w:
                return w.Answer == e.GoodWord ? Judgement.Ok
                    : e.OfWinding ? Judgement.Unsure
                    : w.Answer is Answer.StuckOn or Answer.Chatters or Answer.Hums or Answer.Beep ? Judgement.High
                    : w.Answer == Answer.Works && e.Healthy.Answer == Answer.Dead ? Judgement.High
                    : Judgement.Low;
            default:
                return Judgement.Unsure;
        }
    }

    /// <summary>
    /// True when, as the remaining suspects have it, at least half of the working current passes the point in that setup: the conductor
    /// between the source and the point is then proved for that current, not merely present.
    /// </summary>
    private bool Carried(Test test, Weights weights)
    {
        var points = test.Probe.Tips.Where(t => t != _space.Circuit.ReferencePoint).ToList();
        if (points.Count == 0 || test.Setup.Interventions.Count > 0 || test.Probe is not (Probe.Volts or Probe.Drop))
            return false;
        var healthy = points.Sum(p => Through(_space.Healthy(test.Setup), p));
        if (healthy < 1e-4)
            return false;
        var (carrying, total) = (0.0, 1e-12);
        foreach (var p in weights.Representatives)
        {
            total += p.Weight;
            if (IsCarrying(points.Sum(t => Through(_space.Run(test.Setup, p), t)), healthy))
                carrying += p.Weight;
        }
        return carrying / total > 0.9;
    }

    /// <summary>Amps through a terminal: half of all that flows into and out of it along wires, or through its part.</summary>
    private static double Through(OperatingPoint op, Terminal t)
    {
        var sum = 0.0;
        var wires = op.Circuit.Wires;
        for (var i = 0; i < wires.Count; i++)
            if (wires[i].From == t || wires[i].To == t)
                sum = Math.Max(sum, Math.Abs(op.WireFlow(i).Amps));
        return sum;
    }
}
