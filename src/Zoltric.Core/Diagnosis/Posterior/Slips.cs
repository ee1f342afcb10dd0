using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>How often a reading of each sort is a slip: read at another point, in another setup, or misread.</summary>
internal static class Slips
{
    /// <summary>Amps are seldom misread by much; estimate.</summary>
    private const double Amps = 0.004;

    /// <summary>Both tips on the posts of one source are seldom elsewhere; estimate.</summary>
    private const double Posts = 0.01;

    /// <summary>A part that is off the machine is not mistaken for another point; estimate.</summary>
    private const double InHand = 0.01;

    /// <summary>A figure between the two sides of a parted plug was as likely read on one of them; estimate.</summary>
    private const double AcrossParted = 0.5;

    /// <summary>A complaint that was measured is hardly ever none; estimate.</summary>
    public const double MeasuredSymptom = 0.0005;

    /// <summary>Amps beyond what a sound machine draws from which a draw is a complaint, A; common practice, no source.</summary>
    private const double Draw = 0.05;

    /// <summary>
    /// A value beyond what the sheet allows a function is the complaint itself, read off: no slip. So is a draw that a job begins with.
    /// </summary>
    /// <param name="before">Readings of the job before it.</param>
    public static double Probability(FaultSpace space, int before, Reading reading) =>
        before == 0 && IsDraw(space, reading) ? MeasuredSymptom
        : reading is { Doubtful: false, Result: ReadingResult.Number { Value: var v }, Test: { Setup.Interventions.Count: 0 } test }
        && space.Circuit.Functions.Any(f =>
            f.Test is FunctionTest.Measured m
            && (v < m.Low || v > m.High)
            && m.Probe == test.Probe
            && space.Healthy(test.Setup).Holds(f.When)
        )
            ? MeasuredSymptom
        : reading is { Doubtful: false, Test.Probe: Probe.Volts { P: var p, Q: { } q } }
        && p.Tag == q.Tag
        && space.Circuit.FindPart(p.Tag) is { Kind.IsSource: true }
            ? Posts
        : reading is { Doubtful: false, Test.Probe: Probe.Sees, Result: ReadingResult.Word { Answer: Answer.Works } }
        && space.PredictHealthy(reading.Test).Word is Answer.Dead
            // What runs by itself is a symptom, and seen as surely as one.
            ? Likelihood.SymptomSlip
        : !reading.Doubtful && ReadingKinds.IsPartByItself(space.Circuit, reading.Test) ? InHand
        : PlugSides.Between(space.Circuit, reading.Test.Setup, reading.Test.Probe.Tips) is not null ? AcrossParted
        : Probability(reading);

    private static bool IsDraw(FaultSpace space, Reading reading) =>
        reading is { Doubtful: false, Result: ReadingResult.Number { Value: var v }, Test: { Probe: Probe.Amps or Probe.Clamp } test }
        && space.PredictHealthy(test) is { Word: null, Mean: var sound }
        && Math.Abs(v) > 2 * Math.Abs(sound) + Draw;

    private static double Probability(Reading reading) =>
        reading is { Doubtful: false, Test.Probe: Probe.Amps or Probe.Clamp } ? Amps
        : reading.Doubtful ? Likelihood.DoubtfulSlip
        : reading.Test.Probe is not Probe.Sees ? Likelihood.Slip
        : reading.Result is ReadingResult.Word { Answer: Answer.Works } ? Likelihood.SeenSlip
        : Likelihood.SymptomSlip;
}
