using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Ohms across one part that was taken off its plug, which nobody wrote down: in its circuit something beside it would have been read.
/// </summary>
internal static class OffItsPlug
{
    /// <summary>How often it was off where nothing says so; estimate.</summary>
    private const double Share = 0.15;

    /// <summary>More ohms than the sound machine shows there by so much may be of a part by itself.</summary>
    private const double Above = 1.3;

    /// <summary>Density of a result of which both are known: with the part in its circuit, and by itself; true where that is
    /// likelier.</summary>
    public static (double Density, bool ByItself) Mix(double inCircuit, double byItself) =>
        ((1 - Share) * inCircuit + Share * byItself, Share * byItself > (1 - Share) * inCircuit);

    /// <summary>The test as it was then taken; null where the reading leaves no room for that.</summary>
    public static Test? Of(FaultSpace space, Reading reading)
    {
        if (
            reading.Test.Probe is not (Probe.Ohms or Probe.Beep)
            || reading.Test.Probe.Tips is not [var p, var q]
            || p.Tag != q.Tag
            || space.Circuit.FindPart(p.Tag)
                is not { Kind: not PinRow and not Module and not Splice and not Stud and { IsSource: false } } part
            || reading.Test.Setup.Interventions.Any(i =>
                i is Intervention.Unplug { Tag: var u } && u == part.Tag || i is Intervention.Pull { Tag: var f } && f == part.Tag
            )
        )
            return null;
        var healthy = space.PredictHealthy(reading.Test);
        var more = reading.Result switch
        {
            ReadingResult.OverLimit => healthy.Word is null,
            ReadingResult.Number n => healthy.Word is null && n.Value > Above * healthy.Mean,
            ReadingResult.Word { Answer: Answer.Silent } => healthy.Word is Answer.Beep,
            _ => false,
        };
        Intervention off = part.Kind is Fuse ? new Intervention.Pull(part.Tag) : new Intervention.Unplug(part.Tag);
        return more
            ? reading.Test with
            {
                Setup = reading.Test.Setup with { Interventions = [.. reading.Test.Setup.Interventions, off] },
            }
            : null;
    }
}
