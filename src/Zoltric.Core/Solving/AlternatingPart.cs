using System.Numerics;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>The alternating side of an operating point: phasors at nodes and in branches, effective values.</summary>
internal sealed class AlternatingPart
{
    private readonly Network _network;
    private readonly Complex[] _volts;
    private readonly Dictionary<int, Complex> _windings = [];

    private readonly double[] _g;
    private readonly Complex[] _emf;
    private readonly IReadOnlyList<(int Branch, double G, Complex Emf)> _changed;
    private readonly ReactiveBranches? _reactive;

    public INodalSolver<double> Solver { get; }

    /// <summary>How it differs from its base state when that is by one update or none, else null.</summary>
    public AlternatingUpdate? Update { get; init; }

    public AlternatingPart(
        Network network,
        Complex[] volts,
        double[] g,
        Complex[] emf,
        INodalSolver<double> solver,
        IEnumerable<CoupledWindings> couplings,
        IReadOnlyList<ReactiveBranch> reactive,
        IReadOnlyList<(int Branch, double G, Complex Emf)>? changed = null,
        IReadOnlyList<(int A, int B, double G)>? joins = null
    )
    {
        (_network, _volts, _g, _emf, Solver, _changed) = (network, volts, g, emf, solver, changed ?? []);
        if (reactive.Count > 0)
        {
            _reactive = new ReactiveBranches(network, reactive, G, solver);
            _reactive.Correct(volts);
        }
        foreach (var (leak, nodes) in network.Floating(joins ?? []))
        {
            var shift = volts[leak];
            foreach (var n in nodes)
                volts[n] -= shift;
        }
        foreach (var (p, s, ratio, y, _) in couplings)
        {
            var amps = y * (Across(network.A(p), network.B(p)) - ratio * Across(network.A(s), network.B(s)));
            _windings[p] = amps;
            _windings[s] = -ratio * amps;
        }
    }

    /// <summary>Phasor at a node, V; the reference (-1) is 0.</summary>
    public Complex Volts(int node) => node < 0 ? Complex.Zero : _volts[node];

    public Complex Across(int a, int b) => Volts(a) - Volts(b);

    /// <summary>Volts behind a branch.</summary>
    public Complex Emf(int branch)
    {
        foreach (var c in _changed)
            if (c.Branch == branch)
                return c.Emf;
        return _emf[branch];
    }

    /// <summary>Conductance of a branch as the solver has it, S.</summary>
    private double G(int branch)
    {
        foreach (var c in _changed)
            if (c.Branch == branch)
                return c.G;
        return _g[branch];
    }

    /// <summary>Admittance of a winding or capacitor, S.</summary>
    public Complex Siemens(int branch) => _reactive?.Siemens(branch) ?? G(branch);

    /// <summary>What a unit current makes at every node, V per A, from what it makes without windings and capacitors.</summary>
    public Complex[] Reacting(double[] response)
    {
        var y = Array.ConvertAll(response, x => new Complex(x, 0));
        _reactive?.Correct(y);
        return y;
    }

    /// <summary>True where phasors turn on the way: nothing here is resistance alone.</summary>
    public bool Reacts => _reactive is { Any: true };

    /// <summary>Phasor of the current from a branch's first point to its second, A.</summary>
    public Complex Amps(int branch)
    {
        if (_windings.TryGetValue(branch, out var amps))
            return amps;
        var (g, emf) = (_g[branch], _emf[branch]);
        foreach (var c in _changed)
            if (c.Branch == branch)
                (g, emf) = (c.G, c.Emf);
        return (_reactive?.Siemens(branch) ?? g) * (Across(_network.A(branch), _network.B(branch)) - emf);
    }
}

/// <summary>
/// One conductance changed on the baseState phasors: where, δ / (1 + δ·z), and the response there; no response where nothing is changed.
/// </summary>
internal sealed record AlternatingUpdate(int A, int B, double Factor, double[]? Z);
