using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// What has a lever or flag is found as the trouble left it: a look at it by itself is weighed in the setup in which the trouble was seen,
/// since every test starts with such devices set back.
/// </summary>
internal static class FoundTripped
{
    /// <summary>The readings with such looks put into the setup that was tried before them; the rest as they are.</summary>
    public static IEnumerable<Reading> Looks(Circuit circuit, IEnumerable<Reading> readings)
    {
        Setup? tried = null;
        foreach (var r in readings)
        {
            if (
                r is
                {
                    Test: { Probe: Probe.Sees, Setup: { Interventions.Count: 0 } setup },
                    Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.Flickers },
                }
            )
                tried = setup;
            yield return tried is not null
            && r.Test is { Probe: Probe.Looks look, Setup: { Steps.Count: 0, Interventions.Count: 0 } }
            && circuit.FindPart(look.Tag)?.Model.Trip is not null
                ? r with
                {
                    Test = r.Test with { Setup = tried },
                }
                : r;
        }
    }
}
