using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What a reading says of a joint that comes and goes: open or closed now as it was before, or moved, or caught between.
/// </summary>
internal static class Intermittence
{
    /// <summary>How often a load that starts again while its circuit is measured is overlooked; estimate.</summary>
    private const double Overlooked = 0.4;

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

    /// <summary>
    /// How often a figure is caught steady where it jumps in that setup: whoever holds the tips there for seconds sees it move; estimate.
    /// </summary>
    private const double CaughtSteady = 0.25;

    /// <summary>How often it jumps or flickers of its own accord just while another place is moved; estimate.</summary>
    private const double WhileAnotherIsMoved = 0.03;

    /// <summary>Probability (density for numbers) of a result where a joint comes and goes; updates whether it is open now.</summary>
    public static double Probability(
        FaultSpace space,
        Likelihood likelihood,
        Test test,
        ReadingResult result,
        in Predicted sound,
        in Predicted open,
        int suspect,
        Dimension dimension,
        double slip,
        Meanwhile meanwhile,
        ref Unknowns unknowns
    )
    {
        var moved = space.IsMoved(suspect, test.Setup);
        // Left alone it is as a rule what it was at the reading before.
        // Who measures while the function is dead would see it run again.
        var often =
            moved ? OpenWhileMoved
            : meanwhile.Dead ? unknowns.Open / (unknowns.Open + (1 - unknowns.Open) * Overlooked)
            : unknowns.Open;
        var (other, before) = (unknowns, unknowns.Open);
        // While moved the fault's own run is the open one.
        var healthy = moved
            ? likelihood.Evaluate(result, space.PredictHealthy(test), dimension, slip, ref unknowns)
            : likelihood.Evaluate(result, sound, dimension, slip, ref unknowns);
        var between = moved ? BetweenMoved : BetweenAlone;
        var opened =
            often * (1 - between) * likelihood.Evaluate(result, open, dimension, slip, ref other)
            + often * between * Halfway(result, space.PredictHealthy(test), open, dimension);
        // Who sees it flicker has seen it both open and closed.
        var all =
            (result.ComesAndGoes || result is ReadingResult.Extreme)
            && Likelihood.MayJump(result, space.PredictHealthy(test), open, space.Circuit.NominalVolts)
                ? (result is ReadingResult.Word, moved) switch
                {
                    (_, false) when test.Setup.Moved.Count > 0 => WhileAnotherIsMoved,
                    (true, true) => FlickersMoved,
                    (true, false) => FlickersAlone,
                    (_, true) => JumpsMoved,
                    _ => JumpsAlone,
                }
                : ((1 - often) * healthy + opened)
                    * (
                        meanwhile.Jumping
                        && Likelihood.MayJump(
                            new ReadingResult.Jumps(double.NaN, double.NaN, dimension),
                            space.PredictHealthy(test),
                            open,
                            space.Circuit.NominalVolts
                        )
                            ? CaughtSteady
                            : 1
                    );
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
}
