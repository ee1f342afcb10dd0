using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Fuses that a fault has blown in a setting that was tried before: they are open in every later one too, and look and measure so, until a
/// new one is put in. (A setting that is worked out by itself starts with whole fuses.) Of the fuses that were in the machine when the job
/// began, the blown one with its cause is a suspect of its own; the cause by itself then fits only what a whole one shows, as far as one
/// was put in without a word.
/// </summary>
internal sealed class BlownSince
{
    private readonly FaultSpace _space;
    private readonly Test _test;

    /// <summary>
    /// By suspect: fuses that it has blown, each with the points of its grid at which it has; null where it has blown none.
    /// </summary>
    private readonly List<(string Fuse, bool New, bool[] At)>?[] _blown;

    private readonly ConcurrentDictionary<(int Suspect, int Point, bool New), Predicted?> _shown = new();

    /// <summary>By fuse, what it shows itself once it is blown: the same whoever has blown it.</summary>
    private readonly ConcurrentDictionary<string, Predicted?> _itself = new(StringComparer.OrdinalIgnoreCase);

    private BlownSince(FaultSpace space, Test test, List<(string Fuse, bool New, bool[] At)>?[] blown) =>
        (_space, _test, _blown) = (space, test, blown);

    /// <summary>Null where nothing was tried before the reading by which any suspect blows a fuse.</summary>
    /// <param name="counts">
    /// False for a suspect that is out of the question now: what it has blown of the machine's own fuses is asked once it is in it.
    /// </param>
    public static BlownSince? Before(FaultSpace space, IEnumerable<Reading> before, Reading reading, Func<int, bool> counts)
    {
        if (reading.Test.Probe is Probe.Replaced or Probe.Code)
            return null;
        var fuses = space.Circuit.Parts.Where(p => p.Kind is Circuits.Kinds.Fuse).Select(p => p.Tag).ToList();
        // By fuse the settings that were tried with the one that is in now, and whether that is a new one.
        var tried = fuses.ToDictionary(f => f, _ => (New: false, With: new HashSet<Setup>()), StringComparer.OrdinalIgnoreCase);
        foreach (var r in before)
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
        return Array.TrueForAll(blown, b => b is null) ? null : new BlownSince(space, reading.Test, blown);
    }

    /// <summary>What is blown already, opens by itself, or is weighed with its fuse holding, blows nothing.</summary>
    private static bool MayBlow(Suspect s) =>
        s is { Template.Kind: not (FaultKind.Blown or FaultKind.Open), Held.Count: 0 } && s.Also?.Kind != FaultKind.Blown;

    /// <summary>True where a fault that has a size blows one of them: it may do so at some sizes and not at others.</summary>
    public bool IsCurved(int suspect) => _blown[suspect] is not null && _space.Curved(suspect);

    /// <summary>What is shown with the new fuses open that this fault has blown; null where it has blown none.</summary>
    public Predicted? At(int suspect, int fine) => Shown(suspect, _space.NearestPoint(suspect, fine), true);

    /// <summary>
    /// The same of the fuses that were in the machine when the job began. Between a size that blows one and one that does not, it has.
    /// </summary>
    public Predicted? AtFirst(int suspect, int fine)
    {
        var (one, other) = _space.PointsAbout(suspect, fine);
        return Shown(suspect, one, false) ?? Shown(suspect, other, false);
    }

    private Predicted? Shown(int suspect, int point, bool isNew) =>
        _blown[suspect] is not { } by ? null : _shown.GetOrAdd((suspect, point, isNew), _ =>
            {
                string[] open =
                [
                    .. by.Where(b => b.New == isNew && b.At[point]).Select(b => b.Fuse).Distinct(StringComparer.OrdinalIgnoreCase),
                ];
                if (open.Length == 0)
                    return null;
                // The fuse itself shows what a blown one shows.
                if (Array.Find(open, f => BlownAgain.IsAt(_test, f)) is { } itself)
                    return _itself.GetOrAdd(itself, f => _space.BlownAlone(f) is { } alone ? _space.Predict(_test, alone, 0) : null);
                return BlownAgain.Pulled(_test, open) is var pulled && pulled != _test && !BlownAgain.OhmsFrom(_test, open)
                    ? _space.Predict(pulled, suspect, point)
                    : null;
            });
}
