using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What a test would show on a machine that is built otherwise than drawn, going by what was read before: it is so at every reading. A
/// point shows again what it showed, and so as a rule do the points that nothing but a conductor parts from it; two points have between
/// them what each was read at. A joint that comes and goes does not keep to that.
/// </summary>
internal sealed class ReadingsByPoint
{
    /// <summary>Conductors from one point to the next that still count as there; estimate.</summary>
    private const int MostHops = 3;

    /// <summary>
    /// Volts, as a share of nominal, within which a sound machine has a point alike in two setups, and by which a point beside may differ;
    /// estimates.
    /// </summary>
    private const double Alike = 0.1,
        Beside = 0.01;

    /// <summary>Volts, as a share of nominal, under which a reading is taken for none: what is left is the meter's.</summary>
    private const double Nothing = 0.004;

    private readonly FaultSpace _space;

    /// <summary>By setup with nothing moved, what each point was last read at against the reference, V.</summary>
    private readonly Dictionary<Setup, Dictionary<Terminal, double>> _read;

    /// <summary>
    /// The same for the points beside those that were not as on a sound machine; beside those that were, what is built otherwise may begin.
    /// </summary>
    private readonly Dictionary<Setup, Dictionary<Terminal, double>> _beside;

    public ReadingsByPoint(FaultSpace space, IEnumerable<Reading> readings)
    {
        _space = space;
        _read = Read(readings);
        _beside = _read.ToDictionary(r => r.Key, r => Spread(r.Key, r.Value));
    }

    /// <summary>By setup with nothing moved, what each point was last read at against the reference, V.</summary>
    public static Dictionary<Setup, Dictionary<Terminal, double>> Read(IEnumerable<Reading> readings)
    {
        var all = new Dictionary<Setup, Dictionary<Terminal, double>>();
        foreach (var r in readings)
        {
            if (
                r
                is not {
                    Doubtful: false,
                    Test.Probe: Probe.Volts { Function: VoltsFunction.Dc, Q: null } v,
                    Result: ReadingResult.Number n
                }
            )
                continue;
            var setup = r.Test.Setup.Unmoved;
            if (!all.TryGetValue(setup, out var points))
                all[setup] = points = [];
            points[v.P] = n.Value;
        }
        return all;
    }

    /// <summary>Null where nothing was read that bears on it.</summary>
    public Predicted? Find(Test test)
    {
        if (_read.Count == 0 || test.Probe is not Probe.Volts { Function: VoltsFunction.Dc } v)
            return null;
        var setup = test.Setup.Unmoved;
        _read.TryGetValue(setup, out var read);
        if (v.Q is { } q)
            return read is not null && read.TryGetValue(v.P, out var p) && read.TryGetValue(q, out var other) ? Volts(p - other, 0) : null;
        if (read is not null && read.TryGetValue(v.P, out var same))
            return Volts(same, 0);
        foreach (var (elsewhere, points) in _read)
            if (
                points.TryGetValue(v.P, out var then)
                && elsewhere.Interventions.SequenceEqual(setup.Interventions)
                && Math.Abs(Sound(setup, v.P) - Sound(elsewhere, v.P)) < Alike * _space.Circuit.NominalVolts
            )
                return Volts(then, Beside);
        return _beside.TryGetValue(setup, out var beside) && beside.TryGetValue(v.P, out var near) ? Volts(near, Beside) : null;
    }

    private double Sound(Setup setup, Terminal t) => _space.Healthy(setup) is var op ? op.Volts(op.Node(t)) : 0;

    private Predicted Volts(double volts, double spread) =>
        new(
            Math.Abs(volts) < Nothing * _space.Circuit.NominalVolts ? 0 : volts,
            spread * _space.Circuit.NominalVolts,
            false,
            null,
            double.NaN,
            0
        );

    /// <summary>From what was read outwards, nearest first.</summary>
    private Dictionary<Terminal, double> Spread(Setup setup, Dictionary<Terminal, double> read)
    {
        var edge = read.Keys.Where(t => Math.Abs(read[t] - Sound(setup, t)) > Alike * _space.Circuit.NominalVolts).ToList();
        var reached = edge.ToDictionary(t => t, t => read[t]);
        for (var hop = 0; hop < MostHops && edge.Count > 0; hop++)
        {
            var next = new List<Terminal>();
            foreach (var t in edge)
            foreach (var n in _space.Beside(t))
                if (reached.TryAdd(n, reached[t]))
                    next.Add(n);
            edge = next;
        }
        return reached;
    }
}
