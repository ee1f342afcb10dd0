using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// The last reading of ohms, or of capacity, across the same two points, or of volts on the way home in the same setup. By how far the
/// parts there are off the sheet within their tolerance it has shown, and at the next reading they are off by as much: it is counted once,
/// however often it is read.
/// </summary>
/// <remarks>Source: the conditional normal distribution of one of two correlated readings, any textbook of statistics.</remarks>
internal sealed class AlikeReading
{
    /// <summary>How far the parts that two such readings go through are the same; estimate.</summary>
    private const double Same = 0.95;

    /// <summary>Two readings go through the same parts where they should differ by no more than this share of the larger.</summary>
    private const double MostApart = 0.25;

    /// <summary>Further off than this in standard deviations it was no tolerance that was read.</summary>
    private const double MostDeviations = 3.5;

    private readonly Likelihood _likelihood;
    private readonly ResponseCurve[] _curves;
    private readonly Predicted _healthy;
    private readonly double _value;
    private readonly Dimension _dimension;

    private AlikeReading(FaultSpace space, Likelihood likelihood, Test test, ReadingResult.Number read)
    {
        (_likelihood, _curves, _healthy) = (likelihood, space.Curves(test), space.PredictHealthy(test));
        (_value, _dimension) = (read.Value, read.Dimension);
    }

    /// <summary>Null where there is none, or where it is one and the same test, which counts little anyhow.</summary>
    /// <param name="period">Parts put in before the reading: what was read before one was put in is of another machine.</param>
    public static AlikeReading? Before(FaultSpace space, Likelihood likelihood, IEnumerable<Weighed> evidence, Reading reading, int period)
    {
        if (reading.Steady is not ReadingResult.Number { Value: var value })
            return null;
        if (reading.Test.Probe is Probe.Volts { Function: VoltsFunction.Dc } volts)
            return BeforeVolts(space, likelihood, evidence, reading, volts, value, period);
        if (reading.Test.Probe.Dimension is not (Dimension.Ohm or Dimension.Microfarad))
            return null;
        var tips = reading.Test.Probe.Tips;
        var winding = space.PredictHealthy(reading.Test).Winding;
        foreach (var w in evidence.Reverse())
            if (
                w.Period == period
                && w.Reading is { Doubtful: false, Steady: ReadingResult.Number n }
                && w.Reading.Test.Probe.GetType() == reading.Test.Probe.GetType()
                && w.Reading.Test.Probe.Tips is var other
                && (
                    tips.SequenceEqual(other)
                    || tips.SequenceEqual(other.Reverse())
                    || winding > 0 && space.PredictHealthy(w.Reading.Test).Winding == winding
                )
            )
                return new AlikeReading(space, likelihood, w.Reading.Test, n);
        return null;
    }

    /// <summary>Two points of one net read the same within this share and this much of nominal volts; estimates.</summary>
    private const double OneNet = 0.1,
        OneNetVolts = 0.002;

    /// <summary>
    /// From this share of nominal volts on, what readings have in common is learnt as the supply's; below it, on the way home, here.
    /// </summary>
    private const double WayHome = 0.3;

    private static AlikeReading? BeforeVolts(
        FaultSpace space,
        Likelihood likelihood,
        IEnumerable<Weighed> evidence,
        Reading reading,
        Probe.Volts volts,
        double value,
        int period
    )
    {
        var nominal = space.Circuit.NominalVolts;
        if (Math.Abs(value) is var size && (size > WayHome * nominal || size < OneNetVolts * nominal))
            return null;
        foreach (var w in evidence.Reverse())
            if (
                w.Period == period
                && w.Reading
                    is { Doubtful: false, Steady: ReadingResult.Number n, Test.Probe: Probe.Volts { Function: VoltsFunction.Dc } v }
                && v.Q == volts.Q
                && w.Reading.Test.Setup.Equals(reading.Test.Setup)
                && Math.Abs(n.Value - value) <= OneNet * size + OneNetVolts * nominal
            )
                return new AlikeReading(space, likelihood, w.Reading.Test, n);
        return null;
    }

    /// <summary>What a suspect's machine shows now, by what was read then.</summary>
    /// <param name="fine">Fine point of the suspect's value.</param>
    public Predicted Given(int suspect, int fine, in Predicted now) => Given(now, _curves[suspect].At(fine));

    /// <summary>The same of a sound machine.</summary>
    public Predicted GivenHealthy(in Predicted now) => Given(now, _healthy);

    /// <summary>Windings of one motor are wound alike: within some percent, as makers' tests have it; estimate.</summary>
    private const double WoundAlike = 0.04;

    /// <summary>What another pair of a motor's terminals read, this one reads as well, in the proportion that the machine makes.</summary>
    private Predicted OfWinding(in Predicted now, in Predicted then)
    {
        var mean = Math.Max(0, _value - Likelihood.Leads(_dimension)) * now.Mean / then.Mean;
        var strays = _likelihood.MeterSigma(_value, _dimension);
        return now with { Mean = mean, Spread = double.Hypot(WoundAlike * mean, strays), Winding = 0, Often = 0 };
    }

    private Predicted Given(in Predicted now, in Predicted then)
    {
        if (now is { Word: null, Winding: > 0 } && then is { Word: null, Mean: > 0 } && then.Winding == now.Winding)
            return OfWinding(now, then);
        if (
            now is not { Word: null, Ghost: false, Joints: null, Spread: > 0 }
            || then is not { Word: null, Ghost: false, Joints: null, Spread: > 0 }
        )
            return now;
        if (_dimension == Dimension.Volt && Math.Abs(now.Mean - then.Mean) > OneNet * Math.Abs(now.Mean))
            return now;
        if (Math.Abs(now.Mean - then.Mean) > MostApart * Math.Max(Math.Abs(now.Mean), Math.Abs(then.Mean)))
            return now;
        var (meter, spread) = (_likelihood.MeterSigma(then.Mean, _dimension), then.Spread * then.Spread);
        var all = meter * meter + spread;
        var off = _value - then.Mean - Likelihood.Leads(_dimension);
        if (off * off > MostDeviations * MostDeviations * all)
            return now;
        var (scale, learnt) = (now.Spread / then.Spread, spread / all);
        var left = Same * Same * spread * (1 - learnt) * scale * scale + (1 - Same * Same) * now.Spread * now.Spread;
        return now with { Mean = now.Mean + Same * scale * learnt * off, Spread = Math.Sqrt(left) };
    }
}
