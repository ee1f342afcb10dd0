using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Fuses that a fault has blown in a setting that was tried before: they are open in every later one too, and look and measure so, until a
/// new one is put in. Of the fuses that were in the machine when the job began, the blown one with its cause is a suspect of its own; the
/// cause by itself then fits only what a whole one shows, as far as one was put in without a word.
/// </summary>
internal sealed class BlownSince
{
    private readonly FaultSpace _space;
    private readonly Test _test;

    private readonly FusesGone _gone;

    private readonly ConcurrentDictionary<(int Suspect, int Point, bool New), Predicted?> _shown = new();

    /// <summary>By fuse, what it shows itself once it is blown: the same whoever has blown it.</summary>
    private readonly ConcurrentDictionary<string, Predicted?> _itself = new(StringComparer.OrdinalIgnoreCase);

    private BlownSince(FaultSpace space, Test test, FusesGone gone) => (_space, _test, _gone) = (space, test, gone);

    /// <summary>Null where nothing was tried before the reading by which any suspect blows a fuse.</summary>
    /// <param name="counts">
    /// False for a suspect that is out of the question now: what it has blown of the machine's own fuses is asked once it is in it.
    /// </param>
    public static BlownSince? Before(FaultSpace space, IEnumerable<Reading> before, Reading reading, Func<int, bool> counts) =>
        reading.Test.Probe is Probe.Replaced or Probe.Code ? null
        : FusesGone.After(space, before, counts) is { } gone ? new BlownSince(space, reading.Test, gone)
        : null;

    /// <summary>True where a fault that has a size blows one of them: it may do so at some sizes and not at others.</summary>
    public bool IsCurved(int suspect) => _gone.Any(suspect) && _space.Curved(suspect);

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
        !_gone.Any(suspect) ? null : _shown.GetOrAdd((suspect, point, isNew), _ =>
            {
                var open = _gone.Open(suspect, point, isNew);
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
