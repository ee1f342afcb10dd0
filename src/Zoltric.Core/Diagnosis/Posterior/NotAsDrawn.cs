using System.Collections.Immutable;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What the readings have taught of a machine that is not as the sheet says. It is as drawn in most places: a reading is as the suspects
/// together would have it, or as a sound machine, or else anything. How often it is anything is learnt (Laplace's rule of succession), and
/// of each point whether it goes with the suspects or with the sound machine: what is built otherwise is so at every reading, where a joint
/// that comes and goes is not. Immutable.
/// </summary>
internal sealed class NotAsDrawn
{
    /// <summary>
    /// Readings as drawn, and not, before the first one; and of a point, with the suspects and with a sound machine; estimates.
    /// </summary>
    private const double AsDrawnBefore = 2,
        UnlikeBefore = 1,
        EitherBefore = 1;

    /// <summary>How likely two points have between them what each was read at by itself; estimate.</summary>
    public const double Remembers = 0.8;

    /// <summary>
    /// Of the faults that fit the complaint, the share that has to move a reading for it to be as likely as any other to meet what is not
    /// drawn; and how likely it is at the least, against that; estimates.
    /// </summary>
    private const double WholeReach = 0.25,
        LeastReach = 0.1;

    public static readonly NotAsDrawn Before = new(
        AsDrawnBefore,
        UnlikeBefore,
        ImmutableDictionary<Terminal, (double, double)>.Empty,
        null
    );

    private readonly double _asDrawn,
        _unlike;

    /// <summary>By suspect, its weight when only the complaint was known; null before anything else was read.</summary>
    private readonly double[]? _complained;

    /// <summary>Readings at each point that went with the suspects, and with a sound machine.</summary>
    private readonly ImmutableDictionary<Terminal, (double Suspects, double Sound)> _points;

    private NotAsDrawn(double asDrawn, double unlike, ImmutableDictionary<Terminal, (double, double)> points, double[]? complained) =>
        (_asDrawn, _unlike, _points, _complained) = (asDrawn, unlike, points, complained);

    /// <summary>How likely it reads as drawn the next time.</summary>
    public double AsDrawn => _asDrawn / (_asDrawn + _unlike);

    /// <summary>Logarithm of how likely a reading was, and what it teaches.</summary>
    /// <param name="suspects">Probability of it, or density, under the suspects together.</param>
    /// <param name="sound">The same under a sound machine.</param>
    /// <param name="unlike">The same under a machine of which nothing is known.</param>
    /// <param name="remembered">The same where both points were read before and have not changed; NaN where they were not.</param>
    /// <param name="reach">Share of the faults that fit the complaint and move the reading, 0 to 1.</param>
    public (double Log, NotAsDrawn After) Weigh(Test test, double suspects, double sound, double unlike, double remembered, double reach)
    {
        // A reading of one wire by itself meets what is not drawn only if that is in this wire; one of a whole string, if it is anywhere in
        // it. Once it has been met, it may be met again.
        var met = Math.Min(1, _unlike - UnlikeBefore);
        var meets = Math.Clamp(reach / WholeReach, LeastReach, 1);
        var anything = (1 - AsDrawn) * (meets + (1 - meets) * met);
        var tips = test.Probe.Tips.Distinct().ToList();
        var (withSuspects, withSound) = (EitherBefore, EitherBefore);
        foreach (var tip in tips)
        {
            var (x, y) = _points.GetValueOrDefault(tip);
            (withSuspects, withSound) = (withSuspects + x, withSound + y);
        }
        var drawn = (1 - anything) * (withSuspects * suspects + withSound * sound) / (withSuspects + withSound);
        if (!double.IsNaN(remembered))
            drawn = (1 - anything) * Remembers * remembered + (1 - Remembers) * drawn;
        var not = anything * unlike;
        var share = drawn / (drawn + not);
        // Where the two would have it alike nothing is learnt of which it goes with.
        var (told, points) = (share * Math.Abs(suspects - sound) / (suspects + sound), _points);
        foreach (var tip in tips)
        {
            var (x, y) = points.GetValueOrDefault(tip);
            points = points.SetItem(tip, (x + told * suspects / (suspects + sound), y + told * sound / (suspects + sound)));
        }
        return (Math.Log(drawn + not), new NotAsDrawn(_asDrawn + share, _unlike + 1 - share, points, _complained));
    }

    /// <summary>Logarithm of what a reading says for a machine that is not as drawn, and what it teaches of that.</summary>
    /// <param name="before">By entry, the logarithm of the weight before the reading.</param>
    /// <param name="added">What the reading adds to it.</param>
    /// <param name="unlike">The same for a machine of which nothing is known.</param>
    /// <param name="sound">The same for a sound machine as drawn.</param>
    /// <param name="remembered">How likely it was where both its points are as they were read before, or NaN.</param>
    /// <param name="otherwise">True where the same test has been read otherwise before.</param>
    /// <param name="complaint">True for the reading that the job began with.</param>
    public static (double Log, NotAsDrawn After) After(
        NotAsDrawn known,
        Reading reading,
        FaultSpace space,
        ValuePartition partition,
        double[] before,
        double[] added,
        double unlike,
        double sound,
        double remembered,
        bool complaint,
        bool otherwise
    )
    {
        var isCode = reading.Test.Probe is Probe.Code;
        if (double.IsNaN(unlike) && !isCode)
            return (0, known);
        // A part that was taken out and is read by itself is sound, where what is wrong is how the machine is built.
        if (ReadingKinds.IsPartByItself(space.Circuit, reading.Test))
            return (sound, known);
        var most = double.NegativeInfinity;
        for (var i = 0; i < before.Length; i++)
            if (before[i] > most)
                most = before[i];
        var (expected, total) = (0.0, 0.0);
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var times = partition.Times(s);
            for (var i = partition.From(s); i < partition.To(s); i++)
            {
                var log = before[i] - most;
                if (log < NegligibleBefore)
                    continue;
                var weight = times * Math.Exp(log);
                total += weight;
                expected += weight * Math.Exp(added[i]);
            }
        }
        // There is a job because of this figure, and few of the suspects make it: that says nothing of whether the machine is as drawn. Nor
        // does a code.
        if (complaint || isCode)
            return (Math.Log(expected / total), known);
        // A machine that is built otherwise does not change its mind, however the suspects would have it.
        var same = otherwise ? Likelihood.Slip : 1;
        if (known._complained is null)
            known = new NotAsDrawn(known._asDrawn, known._unlike, known._points, Complained(space, partition, before));
        return known.Weigh(
            reading.Test,
            same * expected / total,
            same * Math.Exp(sound),
            Math.Exp(unlike),
            remembered,
            known.Reach(space, reading.Test)
        );
    }

    private static double[] Complained(FaultSpace space, ValuePartition partition, double[] log)
    {
        var (weights, most) = (new double[space.Suspects.Count], log.Max());
        for (var s = 0; s < weights.Length; s++)
        for (var i = partition.From(s); i < partition.To(s); i++)
            weights[s] += partition.Times(s) * Math.Exp(log[i] - most);
        var total = weights.Sum();
        for (var s = 0; s < weights.Length; s++)
            weights[s] /= total;
        return weights;
    }

    /// <summary>Share of the faults that fit the complaint and move a reading off what a sound machine shows.</summary>
    private double Reach(FaultSpace space, Test test)
    {
        var (curves, healthy, reach) = (space.Curves(test), space.PredictHealthy(test), 0.0);
        var nominal = space.Circuit.NominalVolts;
        for (var s = 0; s < _complained!.Length; s++)
            if (_complained[s] > NegligibleReach)
                reach += _complained[s] * (curves[s].IsFlat ? Moved(curves[s].At(0)) : Quarters(curves[s], space.FineCount(s)));
        return reach;

        double Quarters(ResponseCurve curve, int fine) =>
            (Moved(curve.At(fine / 4)) + Moved(curve.At(fine / 2)) + Moved(curve.At(fine * 3 / 4))) / 3;

        double Moved(in Predicted p) =>
            p.Word != healthy.Word
            || p.Word is null
                && Math.Abs(p.Mean - healthy.Mean)
                    > MovedShare * Math.Abs(healthy.Mean)
                        + test.Probe.Dimension switch
                        {
                            Dimension.Volt => MovedVolts * nominal,
                            Dimension.Ohm => MovedOhms,
                            _ => MovedAmps,
                        }
                ? 1
                : 0;
    }

    private const double NegligibleReach = 1e-5;

    /// <summary>
    /// From where on a fault moves a reading: a share of what a sound machine shows, and beside it a share of nominal volts, Ω or A;
    /// estimates.
    /// </summary>
    private const double MovedShare = 0.2,
        MovedVolts = 0.03,
        MovedOhms = 0.5,
        MovedAmps = 0.05;

    /// <summary>Logarithm of a weight, against the largest, that foretells nothing.</summary>
    private const double NegligibleBefore = -14;
}
