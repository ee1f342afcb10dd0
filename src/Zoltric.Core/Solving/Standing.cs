using System.Numerics;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>
/// A network in one switching state with nothing wrong: conductances, sources, factor and potentials, made once. Faults and meters are changes
/// on it: each needs the response to a unit current at its own two points, kept here, and then a few multiplications.
/// </summary>
internal sealed class Standing
{
    private readonly Network _network;
    private readonly KeptResponses _responses;
    private readonly Machine _machine;
    private readonly MachineSpread? _vary;
    private StandingAc? _alternating;
    private readonly bool[] _drives;

    public double[] G { get; }
    public double[] Emf { get; }

    /// <summary>Injected currents by node, A.</summary>
    public double[] Injected { get; }
    public double[] Volts { get; }
    public SparseLdl<double> Factor { get; }

    private readonly byte[] _switches;
    private readonly double _waited;

    public Standing(Machine machine, Network network, MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads, MachineSpread? vary)
    {
        (_machine, _network, _vary) = (machine, network, vary);
        (_switches, _waited) = ([.. state.Switches], state.Waited);
        _responses = new KeptResponses(machine.Responses);
        (G, Emf, Injected) = (new double[network.Branches.Count], new double[network.Branches.Count], new double[network.Size]);
        for (var i = 0; i < G.Length; i++) G[i] = Conductance(i, state, leads);
        _drives = new bool[machine.Sources.Length];
        Drive(state);
        Factor = network.Factor(G);
        Volts = (double[])Injected.Clone();
        Factor.Solve(Volts);
    }

    /// <summary>The next state: what changed of another one, on its factor.</summary>
    private Standing(Standing from, MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads, List<int> changed)
    {
        (_machine, _network, _vary) = (from._machine, from._network, from._vary);
        (_switches, _waited) = ([.. state.Switches], state.Waited);
        _responses = new KeptResponses(_machine.Responses);
        (G, Emf, Injected) = ((double[])from.G.Clone(), new double[from.Emf.Length], new double[from.Injected.Length]);
        foreach (var i in changed) G[i] = Conductance(i, state, leads);
        _drives = new bool[_machine.Sources.Length];
        Drive(state);
        Factor = _network.Factor(from.Factor, G, changed);
        Volts = (double[])Injected.Clone();
        Factor.Solve(Volts);
    }

    /// <summary>More changed branches than this are not followed one by one.</summary>
    private const int MostChanged = 24;

    /// <summary>The standing state of other switches, from this one when few branches differ; null when it is better made anew.</summary>
    public Standing? Next(MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads)
    {
        if (state.Waited != _waited) return null;
        var changed = new List<int>();
        for (var i = 0; i < _switches.Length; i++)
        {
            if (_switches[i] == state.Switches[i]) continue;
            changed.AddRange(state.Index.BranchesOf(i));
            if (changed.Count > MostChanged) return null;
        }
        return new Standing(this, state, leads, changed);
    }

    private double Conductance(int i, MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads)
    {
        if (_network.Removed[i]) return 0;
        var spec = _network.Branches[i];
        return Conductances.Of(_machine.Circuit, spec, i, state, leads) * (_vary?.Factor(spec.Owner, i) ?? 1);
    }

    /// <summary>Sources, conducting diodes and bus wires put their currents in.</summary>
    private void Drive(MachineState state)
    {
        for (var s = 0; s < _drives.Length; s++)
        {
            var (_, source, branch) = _machine.Sources[s];
            _drives[s] = state.Holds(source.When);
            var amps = Drive(s, G[branch], SourceVolts(s), state);
            Emf[branch] = G[branch] > 0 ? amps / G[branch] : 0;
            Inject(branch, amps);
        }
        foreach (var (_, diode, branch) in _machine.Diodes)
        {
            if (state.Mode(branch) != SourceMode.Conducting) continue;
            Emf[branch] = diode.Volts;
            Inject(branch, G[branch] * diode.Volts);
        }
        foreach (var (part, _, high, low) in _machine.Buses)
        {
            if (!state.PulledIn(part) || state.Asleep(part)) continue;
            foreach (var branch in (ReadOnlySpan<int>)[high, low])
            {
                Emf[branch] = Defaults.BusRestVolts;
                Inject(branch, G[branch] * Defaults.BusRestVolts);
            }
        }
    }

    private void Inject(int branch, double amps)
    {
        if (_network.A(branch) is >= 0 and var a) Injected[a] += amps;
        if (_network.B(branch) is >= 0 and var b) Injected[b] -= amps;
    }

    /// <summary>Whether a source's own condition holds in this state.</summary>
    public bool Drives(int source) => _drives[source];

    /// <summary>Volts behind a healthy source, V; 0 while its condition does not hold.</summary>
    public double SourceVolts(int source) => _drives[source] ? _machine.Sources[source].Source.Emf * (_vary?.Emf ?? 1) : 0;

    /// <summary>Current a source puts in: that of its volts behind its resistance, or its limit.</summary>
    public double Drive(int source, double g, double emf, MachineState state) =>
        state.Mode(_machine.Sources[source].Branch) == SourceMode.Limited ? _machine.Sources[source].Source.LimitAmps : g * emf;

    /// <summary>Potentials for one ampere in at a and out at b, V; the reference is -1.</summary>
    public double[] Response(int a, int b) => _responses.Of(a, b, Volts.Length, Factor);

    /// <summary>The same for a branch, from its first node to its second.</summary>
    public double[] Response(int branch) => _responses.Of(branch, _network, Factor);

    private int[]? _ties;

    /// <summary>What conductors join in this state, as <see cref="OperatingPoint.Ties"/> tells it.</summary>
    public int[] Ties => _ties ??= OperatingPoint.Ties(_network, Volts.Length, i => G[i]);

    /// <summary>The alternating side of the same state.</summary>
    public StandingAc Alternating => _alternating ??= new StandingAc(_machine, _network, this, _vary);
}

/// <summary>
/// The alternating part of a standing state: everything here is resistance, so phasors are two real solutions on the same conductances.
/// Windings are coupled by their ratio; direct current only sees their copper.
/// </summary>
internal sealed class StandingAc
{
    private readonly KeptResponses _responses;
    private readonly HashSet<int> _windings = [];

    public double[] G { get; }
    public Complex[] Emf { get; }
    public Complex[] Injected { get; }
    public Complex[] Volts { get; }
    public INodalSolver<double> Solver { get; }
    public List<(int Primary, int Secondary, double Ratio, double G)> Couplings { get; }
    public AlternatingPart Part { get; }

    public StandingAc(Machine machine, Network network, Standing direct, MachineSpread? vary)
    {
        _responses = new KeptResponses(machine.Responses);
        G = direct.G;
        Couplings = machine.CouplingsOf(network, G);
        if (Couplings.Count > 0)
        {
            G = (double[])G.Clone();
            foreach (var c in Couplings)
            {
                G[c.Primary] = G[c.Secondary] = Network.IslandLeak;
                _windings.Add(c.Primary);
                _windings.Add(c.Secondary);
            }
            Solver = new RefinedSolver(network.AlternatingSolver(G, [], Couplings), network, G, [], Couplings);
        }
        else Solver = direct.Factor;
        (Emf, Injected) = (new Complex[G.Length], new Complex[network.Size]);
        for (var s = 0; s < machine.Sources.Length; s++)
        {
            var (_, source, branch) = machine.Sources[s];
            if (source.Ac == Complex.Zero || network.Removed[branch] || !direct.Drives(s)) continue;
            Emf[branch] = source.Ac * (vary?.Emf ?? 1);
            var amps = G[branch] * Emf[branch];
            if (network.A(branch) is >= 0 and var a) Injected[a] += amps;
            if (network.B(branch) is >= 0 and var b) Injected[b] -= amps;
        }
        Volts = Solve(Solver, Injected);
        Part = new AlternatingPart(network, Volts, G, Emf, Solver, Couplings) { Update = new StandingUpdate(-1, -1, 0, null) };
    }

    /// <summary>True when a change of this branch changes a transformer.</summary>
    public bool IsWinding(int branch) => _windings.Contains(branch);

    public double[] Response(int a, int b) => _responses.Of(a, b, Volts.Length, Solver);

    public static Complex[] Solve(INodalSolver<double> solver, Complex[] injected)
    {
        var (re, im) = (new double[injected.Length], new double[injected.Length]);
        for (var i = 0; i < injected.Length; i++) (re[i], im[i]) = (injected[i].Real, injected[i].Imaginary);
        solver.Solve(re);
        if (Array.Exists(im, x => x != 0)) solver.Solve(im);
        var volts = new Complex[injected.Length];
        for (var i = 0; i < volts.Length; i++) volts[i] = new Complex(re[i], im[i]);
        return volts;
    }
}
