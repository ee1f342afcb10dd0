using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// A fuse, and what has a lever or flag, is found as the trouble left it: a look at it by itself is weighed in the setup in which the
/// trouble was seen, since every test starts with such devices whole and set back. A new one is as it was put in until something is tried.
/// </summary>
internal static class FoundTripped
{
    /// <summary>The readings with such looks put into the setup that was tried before them; the rest as they are.</summary>
    public static IEnumerable<Reading> Looks(Circuit circuit, IEnumerable<Reading> readings)
    {
        Setup? tried = null;
        var renewed = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var r in readings)
        {
            if (
                r is
                {
                    Test: { Probe: Probe.Sees, Setup: { Interventions.Count: 0 } setup },
                    Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.Flickers },
                }
            )
            {
                tried = setup;
                renewed.Clear();
            }
            if (r.Test.Probe is Probe.Replaced { Tag: var tag })
                renewed.Add(tag);
            yield return tried is not null
            && r.Test is { Probe: Probe.Looks look, Setup: { Steps.Count: 0, Interventions.Count: 0 } }
            && !renewed.Contains(look.Tag)
            && circuit.FindPart(look.Tag) is { } seen
            && (seen.Model.Trip is not null || seen.Kind is Circuits.Kinds.Fuse)
                ? r with
                {
                    Test = r.Test with { Setup = tried },
                }
                : r;
        }
    }
}
