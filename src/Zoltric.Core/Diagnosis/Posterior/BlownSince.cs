using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Fuses that were put in and tried since: a fault that blows the new one in a setting that was tried has it open in every later one, too.
/// (A setting that is worked out by itself starts with whole fuses.) What was blown before a new one was put in is a suspect together with
/// its cause instead.
/// </summary>
internal sealed class BlownSince
{
    private readonly FaultSpace _space;
    private readonly IReadOnlyList<(string Fuse, IReadOnlyList<Setup> Tried, ResponseCurve[] Open)> _put;

    private BlownSince(FaultSpace space, IReadOnlyList<(string Fuse, IReadOnlyList<Setup> Tried, ResponseCurve[] Open)> put)
    {
        (_space, _put) = (space, put);
    }

    /// <summary>Null where no new fuse was tried before the reading, and for a look at one, which is weighed in its own setting.</summary>
    public static BlownSince? Before(FaultSpace space, IEnumerable<Reading> before, Reading reading)
    {
        if (reading.Test.Probe is Probe.Looks or Probe.Replaced or Probe.Code)
            return null;
        var tried = new Dictionary<string, List<Setup>>(StringComparer.OrdinalIgnoreCase);
        foreach (var r in before)
        {
            if (r.Test.Probe is Probe.Replaced put)
            {
                if (space.Circuit.FindPart(put.Tag)?.Kind is Circuits.Kinds.Fuse)
                    tried[put.Tag] = [];
            }
            else if (r is { Result: not null, Test.Setup: { Steps.Count: > 0, Interventions.Count: 0 } setup })
                foreach (var setups in tried.Values.Where(s => !s.Contains(setup)))
                    setups.Add(setup);
        }
        var opened = new List<(string Fuse, IReadOnlyList<Setup> Tried, ResponseCurve[] Open)>();
        foreach (var (fuse, setups) in tried.Where(t => t.Value.Count > 0))
            if (BlownAgain.Pulled(reading.Test, [fuse]) is var open && open != reading.Test && !BlownAgain.OhmsFrom(reading.Test, [fuse]))
                opened.Add((fuse, setups, space.Curves(open)));
        return opened.Count == 0 ? null : new BlownSince(space, opened);
    }

    /// <summary>True where a fault that has a size blows one of them: it may do so at some sizes and not at others.</summary>
    public bool IsCurved(int suspect) =>
        _put.Any(p => p.Tried.Any(t => _space.BlownAlong(t, suspect).Length > 0) && _space.Curved(suspect));

    /// <summary>What is shown with the fuse open that this fault has blown; null where it has blown none.</summary>
    public Predicted? At(int suspect, int fine)
    {
        foreach (var (fuse, tried, open) in _put)
        foreach (var setup in tried)
            if (
                _space.BlownAlong(setup, suspect) is { Length: > 0 } along
                && along[_space.NearestPoint(suspect, fine)].Contains(fuse, StringComparer.OrdinalIgnoreCase)
            )
                return open[suspect].At(fine);
        return null;
    }
}
