using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What a reading says of a joint that comes and goes: open or closed now as it was before, or moved, or caught between; and of a wire that
/// touches by turns, whose touch takes the place of the open joint.
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

    /// <summary>
    /// The same of a wire that touches: a touch too short to be seen has blown its fuse all the same. What it has blown works again only
    /// where somebody has put a new one in without a word. With a new fuse it may touch still. Estimates.
    /// </summary>
    private const double Touches = 0.3,
        PutRight = 0.015;
    public const double TouchesStill = 0.5;

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

    /// <summary>How often it jumps, flickers or changes of its own accord just while another place is moved; estimate.</summary>
    private const double WhileAnotherIsMoved = 0.03;

    /// <summary>Probability (density for numbers) of a result where a joint comes and goes; updates whether it is open now.</summary>
    /// <param name="sound">What is shown while the fault is not there.</param>
    /// <param name="alone">What is shown of the fault where its place is left alone.</param>
    /// <param name="leavesDead">True where it blows a fuse: nothing comes back by itself, so nothing is seen to jump.</param>
    /// <param name="there">What is shown while it is there, at each of the sizes that it may have, evenly.</param>
    public static double Probability(
        Likelihood likelihood,
        Test test,
        ReadingResult result,
        in Predicted sound,
        in Predicted alone,
        ReadOnlySpan<Predicted> there,
        bool moved,
        bool leavesDead,
        Dimension dimension,
        double slip,
        Meanwhile meanwhile,
        double nominalVolts,
        ref Unknowns unknowns
    )
    {
        // Left alone it is as a rule what it was at the reading before.
        // Who measures while the function is dead would see it run again.
        var (comes, goes) =
            there.Length == 1 ? (Changes, Changes)
            : leavesDead ? (Touches, PutRight)
            : (Touches, Touches);
        // Whoever moves another place looks at what was there a moment before, and it seldom changes by itself in that moment.
        if (!moved && test.Setup.Moved.Count > 0)
            (comes, goes) = (Math.Min(comes, WhileAnotherIsMoved), Math.Min(goes, WhileAnotherIsMoved));
        var asIs = unknowns.Open * (1 - goes) + (1 - unknowns.Open) * comes;
        var often =
            moved ? OpenWhileMoved
            : meanwhile.Dead ? asIs / (asIs + (1 - asIs) * Overlooked)
            : asIs;
        var (before, open) = (asIs, there[0]);
        var shared = unknowns;
        // While moved the fault's own run is the open one.
        var healthy = moved
            ? likelihood.Evaluate(result, sound, dimension, slip, ref unknowns)
            : likelihood.Evaluate(result, alone, dimension, slip, ref unknowns);
        var (found, other) = (0.0, shared);
        var most = -1.0;
        var (told, telling) = (0.0, 0);
        foreach (ref readonly var size in there)
        {
            var with = shared;
            var fits = likelihood.Evaluate(result, size, dimension, slip, ref with);
            found += fits / there.Length;
            if (fits > most)
                (most, other) = (fits, with);
            if (!(fits > healthy / TellsApart && fits < healthy * TellsApart))
                (told, telling) = (told + fits, telling + 1);
        }
        // Once it has shown itself it is of a size that does.
        if (telling > 0 && there.Length > 1 && Math.Max(0, 2 * before - 1) is var shown)
            found = shown * told / telling + (1 - shown) * found;
        var between = moved ? BetweenMoved : BetweenAlone;
        var opened = often * (1 - between) * found + often * between * Halfway(result, sound, open, dimension);
        // Who sees it flicker has seen it both open and closed.
        var all =
            !leavesDead && (result.ComesAndGoes || result is ReadingResult.Extreme) && Likelihood.MayJump(result, sound, open, nominalVolts)
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
                        && Likelihood.MayJump(new ReadingResult.Jumps(double.NaN, double.NaN, dimension), sound, open, nominalVolts)
                            ? CaughtSteady
                            : 1
                    );
        // A touch of a size that changes nothing here does not say whether it touches.
        var now =
            there.Length > 1 ? OpenNow(often, telling > 0 ? told / telling : healthy, healthy)
            : all > 0 ? opened / all
            : often;
        if (now > 0.5)
            unknowns = other;
        // Let go of again it is as a rule what it was before it was moved; a fuse that it has blown stays so.
        unknowns.Open = moved && !leavesDead ? FallsBack * before + (1 - FallsBack) * now : now;
        return all;
    }

    /// <summary>What is shown with the fault there and without it has to differ by this factor in likelihood to say which it is.</summary>
    private const double TellsApart = 2;

    private static double OpenNow(double often, double open, double closed) =>
        often * open + (1 - often) * closed is > 0 and var both ? often * open / both : often;

    /// <summary>How likely it is open at the next reading, left alone.</summary>
    /// <param name="was">How likely it was at the last one.</param>
    public static double Next(double was) => was + Changes * (1 - 2 * was);

    /// <summary>
    /// Density of a reading somewhere between the sound and the open machine's: even in volts, even in decades of ohms; nothing for words.
    /// </summary>
    private static double Halfway(ReadingResult result, in Predicted sound, in Predicted open, Dimension dimension)
    {
        if (result is not ReadingResult.Number { Value: var v } || sound.Word is not null && open.Word is not null)
            return 0;
        if (dimension == Dimension.Ohm)
        {
            var (one, other) = (Ohms(sound), Ohms(open));
            var (low, high) = (Math.Max(Math.Min(one, other), 0.1), Math.Max(one, other));
            return v > low && v < high && high > 2 * low ? 1 / (v * Math.Log(high / low)) : 0;
        }
        if (sound.Word is not null || open.Word is not null)
            return 0;
        var (from, to) = (Math.Min(sound.Mean, open.Mean), Math.Max(sound.Mean, open.Mean));
        // What is next to sound or next to open is one of the two.
        var (least, most) = (from + 0.1 * (to - from), to - 0.1 * (to - from));
        return to - from > 0.01 && v > least && v < most ? 1 / (most - least) : 0;
    }

    private static double Ohms(in Predicted shown) => shown.Word is null ? shown.Mean : OpenOhms;

    /// <summary>Ohms beyond which a meter shows OL, as far as a bad contact goes; estimate.</summary>
    private const double OpenOhms = 1e6;
}
