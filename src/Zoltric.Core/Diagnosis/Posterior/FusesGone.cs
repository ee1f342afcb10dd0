using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Which fuses each suspect has blown in the settings that were tried so far, new ones that were put in and those that were in the machine
/// when the job began. (A setting that is worked out by itself starts with whole fuses.)
/// </summary>
internal sealed class FusesGone
{
    /// <summary>
    /// By suspect: fuses that it has blown, each with the points of its grid at which it has; null where it has blown none.
    /// </summary>
    private readonly List<(string Fuse, bool New, bool[] At)>?[] _blown;

    private FusesGone(List<(string Fuse, bool New, bool[] At)>?[] blown) => _blown = blown;

    /// <summary>Null where nothing was tried by which any suspect blows a fuse.</summary>
    /// <param name="counts">
    /// False for a suspect that is out of the question now: what it has blown of the machine's own fuses is asked once it is in it.
    /// </param>
    public static FusesGone? After(FaultSpace space, IEnumerable<Reading> readings, Func<int, bool> counts)
    {
        var fuses = space.Circuit.Parts.Where(p => p.Kind is Circuits.Kinds.Fuse).Select(p => p.Tag).ToList();
        // By fuse the settings that were tried with the one that is in now, and whether that is a new one.
        var tried = fuses.ToDictionary(f => f, _ => (New: false, With: new HashSet<Setup>()), StringComparer.OrdinalIgnoreCase);
        foreach (var r in readings)
            if (r.Test.Probe is Probe.Replaced put)
            {
                if (tried.ContainsKey(put.Tag))
                    tried[put.Tag] = (true, []);
            }
            else if (
                r is { Result: not null, Test.Setup: { Interventions.Count: 0 } setup }
                && r.Test.Probe is not (Probe.Looks or Probe.Code)
            )
                foreach (var (_, with) in tried.Values)
                    with.Add(setup);
        var settings = tried.Values.SelectMany(t => t.With).Distinct().ToList();
        if (settings.Count == 0)
            return null;
        // Of the machine's own fuses only what is weighed with them blown is told from them.
        var anyNew = tried.Values.Any(t => t is { New: true, With.Count: > 0 });
        var blown = new List<(string Fuse, bool New, bool[] At)>?[space.Suspects.Count];
        WorkBudget.For(0, blown.Length, s =>
        {
            if (!MayBlow(space.Suspects[s]) || !anyNew && !(OpenedFaults.DrawsMore(space.Suspects[s]) && counts(s)))
                return;
            foreach (var setting in settings)
            {
                var along = space.BlownAlong(setting, s);
                foreach (var fuse in along.SelectMany(a => a).Distinct(StringComparer.OrdinalIgnoreCase))
                    if (tried.TryGetValue(fuse, out var t) && t.With.Contains(setting))
                        (blown[s] ??= []).Add(
                            (fuse, t.New, Array.ConvertAll(along, a => a.Contains(fuse, StringComparer.OrdinalIgnoreCase)))
                        );
            }
        });
        return Array.TrueForAll(blown, b => b is null) ? null : new FusesGone(blown);
    }

    /// <summary>What is blown already, opens by itself, or is weighed with its fuse holding, blows nothing.</summary>
    private static bool MayBlow(Suspect s) =>
        s is { Template.Kind: not (FaultKind.Blown or FaultKind.Open), Held.Count: 0 } && s.Also?.Kind != FaultKind.Blown;

    /// <summary>True where this suspect has blown one at any of its sizes.</summary>
    public bool Any(int suspect) => _blown[suspect] is not null;

    /// <summary>Tags of those that it has blown at this point of its grid.</summary>
    public string[] Open(int suspect, int point, bool isNew) =>
        _blown[suspect] is not { } by
            ? []
            : [.. by.Where(b => b.New == isNew && b.At[point]).Select(b => b.Fuse).Distinct(StringComparer.OrdinalIgnoreCase)];
}
