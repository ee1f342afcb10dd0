using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// A fuse, and what has a lever or flag, is found as the trouble left it: a look at it by itself is weighed in the setup in which the
/// trouble was seen, since every test starts with such devices whole and set back. Found before anything was said, it went in what was
/// tried next, or else at work. A new one is as it was put in until something is tried.
/// </summary>
internal static class FoundTripped
{
    /// <summary>The readings with such looks put into the setup that was tried before them; the rest as they are.</summary>
    public static IEnumerable<Reading> Looks(FaultSpace space, IEnumerable<Reading> readings)
    {
        var circuit = space.Circuit;
        IReadOnlyList<Reading> all = [.. readings];
        Setup? tried = null;
        var renewed = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (var i = 0; i < all.Count; i++)
        {
            var r = all[i];
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
            yield return r.Test is { Probe: Probe.Looks look, Setup: { Steps.Count: 0, Interventions.Count: 0 } }
            && !renewed.Contains(look.Tag)
            && circuit.FindPart(look.Tag) is { } seen
            && (seen.Model.Trip is not null || seen.Kind is Circuits.Kinds.Fuse)
            && (tried ?? (r.Result is ReadingResult.Word { Answer: Answer.Bad } ? AtWork(space, seen, all.Skip(i + 1)) : null)) is { } then
                ? r with
                {
                    Test = r.Test with { Setup = then },
                }
                : r;
        }
    }

    /// <summary>The setup in which a device carries something: of what was tried later, else of a function; null for none.</summary>
    private static Setup? AtWork(FaultSpace space, Part device, IEnumerable<Reading> later)
    {
        var index = space.Circuit.IndexOf(device.Tag);
        return later
            .Select(r => r.Test.Setup)
            .Where(s => s is { Steps.Count: > 0, Interventions.Count: 0 })
            .Concat(space.Circuit.Functions.Select(f => FunctionSetups.SetupFor(space.Circuit, f)).OfType<Setup>())
            .FirstOrDefault(s => space.Healthy(s).MostLinkAmps(index, 0) > Carries);
    }

    /// <summary>Amps from which a device is at work; estimate.</summary>
    private const double Carries = 0.01;
}
