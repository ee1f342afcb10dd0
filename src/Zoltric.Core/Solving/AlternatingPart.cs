using System.Numerics;

namespace Zoltric.Core.Solving;

/// <summary>The alternating side of an operating point: phasors at nodes and in branches, effective values.</summary>
internal sealed class AlternatingPart
{
    private readonly Network _network;
    private readonly Complex[] _volts;
    private readonly Dictionary<int, Complex> _windings = [];

    public double[] G { get; }
    public Complex[] Emf { get; }
    public INodalSolver<double> Solver { get; }

    public AlternatingPart(Network network, Complex[] volts, double[] g, Complex[] emf, INodalSolver<double> solver,
        IEnumerable<(int Primary, int Secondary, double Ratio, double G)> couplings)
    {
        (_network, _volts, G, Emf, Solver) = (network, volts, g, emf, solver);
        foreach (var (p, s, ratio, y) in couplings)
        {
            var amps = y * (Across(network.A(p), network.B(p)) - ratio * Across(network.A(s), network.B(s)));
            _windings[p] = amps;
            _windings[s] = -ratio * amps;
        }
    }

    /// <summary>Phasor at a node, V; the reference (-1) is 0.</summary>
    public Complex Volts(int node) => node < 0 ? Complex.Zero : _volts[node];

    public Complex Across(int a, int b) => Volts(a) - Volts(b);

    /// <summary>Phasor of the current from a branch's first point to its second, A.</summary>
    public Complex Amps(int branch) => _windings.TryGetValue(branch, out var amps) ? amps
        : G[branch] * (Across(_network.A(branch), _network.B(branch)) - Emf[branch]);
}
