using System.Buffers;
using System.Collections.Concurrent;
using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// A network in one switching state with nothing wrong: conductances, sources, factor and potentials, made once. Faults and meters are
/// changes on it: each needs the response to a unit current at its own two points, kept here, and then a few multiplications.
/// </summary>
internal sealed class BaseState
{
    private readonly Network _network;
    private readonly KeptResponses _responses;
    private readonly Machine _machine;
    private readonly ToleranceDraw? _vary;
    private AlternatingBaseState? _alternating;
    private readonly bool[] _drives;

    public double[] G { get; }
    public double[] Emf { get; }

    /// <summary>Injected currents by node, A.</summary>
    public double[] Injected { get; }
    public double[] Volts { get; }
    public SparseLdl<double> Factor { get; }

    /// <summary>Volts across the branches of <see cref="Layout.Watched"/>.</summary>
    public double[] WatchedVolts { get; }

    /// <summary>The switching state it stands for, and seconds waited in it.</summary>
    public byte[] Switches { get; }
    public double Waited { get; }

    public BaseState(
        Machine machine,
        Network network,
        MachineState state,
        IReadOnlyList<(int P, int Q, double Ohms)> leads,
        ToleranceDraw? vary
    )
    {
        (_machine, _network, _vary) = (machine, network, vary);
        (Switches, Waited) = ([.. state.Switches], state.Waited);
        _responses = new KeptResponses(machine.Responses);
        (G, Emf, Injected) = (new double[network.Branches.Count], new double[network.Branches.Count], new double[network.Size]);
        for (var i = 0; i < G.Length; i++)
            G[i] = Conductance(i, state, leads);
        _drives = new bool[machine.Sources.Length];
        Drive(state);
        Factor = network.Factor(G);
        Volts = (double[])Injected.Clone();
        Factor.Solve(Volts);
        WatchedVolts = new double[_network.WatchedNodes.Length];
        _network.Watch(Volts, WatchedVolts);
    }

    /// <summary>The next state: what changed of another one, on its factor.</summary>
    private BaseState(BaseState from, MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads, List<int> changed, bool plain)
    {
        (_machine, _network, _vary) = (from._machine, from._network, from._vary);
        (Switches, Waited) = ([.. state.Switches], state.Waited);
        _responses = new KeptResponses(_machine.Responses);
        (G, Emf, Injected, _drives) = ((double[])from.G.Clone(), from.Emf, from.Injected, from._drives);
        foreach (var i in changed)
            G[i] = Conductance(i, state, leads);
        // Where only contacts and fuses differ, the sources put in what they did.
        if (!plain)
        {
            (Emf, Injected, _drives) = (new double[Emf.Length], new double[Injected.Length], new bool[_drives.Length]);
            Drive(state);
        }
        Factor = _network.Factor(from.Factor, G, changed);
        Volts = (double[])Injected.Clone();
        Factor.Solve(Volts);
        WatchedVolts = new double[_network.WatchedNodes.Length];
        _network.Watch(Volts, WatchedVolts);
    }

    /// <summary>More changed branches than this are not followed one by one.</summary>
    private const int MostChanged = 24;

    /// <summary>
    /// Branches that other switches change here, with their conductances there; false where that is more than a few conductances: another
    /// source, another time, many branches.
    /// </summary>
    /// <param name="endsAlone">True where no fault joins anything to a node that nothing else hangs on.</param>
    public bool Near(
        MachineState state,
        IReadOnlyList<(int P, int Q, double Ohms)> leads,
        List<(int Branch, double G)> changed,
        bool endsAlone
    )
    {
        changed.Clear();
        if (state.Waited != Waited || _vary is not null)
            return false;
        // What differs is counted before any of it is worked out.
        var (index, count) = (state.Index, 0);
        for (var i = Differs(state, 0); i < Switches.Length; i = Differs(state, i + 1))
            if (!index.IsPlain(i) || (count += index.BranchesOf(i).Length) > MostNear)
                return false;
        for (var i = Differs(state, 0); i < Switches.Length; i = Differs(state, i + 1))
            foreach (var branch in index.BranchesOf(i))
            {
                if (_network.Removed[branch] || Listed(changed, branch))
                    continue;
                var g = Conductance(branch, state, leads);
                if (g == G[branch])
                    continue;
                // What joins two parts that nothing tied is solved as it is: their potentials here are made of leakage.
                if (
                    _network.A(branch) != _network.B(branch)
                    && !(endsAlone && _network.End(branch) >= 0)
                    && (g - G[branch]) * Seen(branch) > MostJoined
                )
                    return false;
                changed.Add((branch, g));
            }
        return true;
    }

    /// <summary>The next place from one on at which a state differs, or the number of places.</summary>
    private int Differs(MachineState state, int from) => from + Switches.AsSpan(from).CommonPrefixLength(state.Switches.AsSpan(from));

    private static bool Listed(List<(int Branch, double G)> changed, int branch)
    {
        foreach (var c in changed)
            if (c.Branch == branch)
                return true;
        return false;
    }

    /// <summary>
    /// Branches by which a state may differ from another and be a change on it: as long as that is less work than a state of its own, which
    /// grows with the circuit.
    /// </summary>
    private int MostNear => Math.Clamp(Volts.Length / 64, 8, 48);

    /// <summary>The base state of other switches, from this one when few branches differ; null when it is better made anew.</summary>
    public BaseState? Next(MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads)
    {
        if (state.Waited != Waited)
            return null;
        var (changed, plain) = (new List<int>(), true);
        for (var i = 0; i < Switches.Length; i++)
        {
            if (Switches[i] == state.Switches[i])
                continue;
            plain &= state.Index.IsPlain(i);
            changed.AddRange(state.Index.BranchesOf(i));
            if (changed.Count > MostChanged)
                return null;
        }
        return new BaseState(this, state, leads, changed, plain);
    }

    private double Conductance(int i, MachineState state, IReadOnlyList<(int P, int Q, double Ohms)> leads)
    {
        if (_network.Removed[i])
            return 0;
        var spec = _network.Branches[i];
        return Conductances.Siemens(_machine.Circuit, spec, i, state, leads) * (_vary?.Factor(spec.Owner, i) ?? 1);
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
            if (state.Mode(branch) != SourceMode.Conducting)
                continue;
            Emf[branch] = diode.Volts;
            Inject(branch, G[branch] * diode.Volts);
        }
        foreach (var (part, _, high, low) in _machine.Buses)
        {
            if (!state.PulledIn(part) || state.Asleep(part))
                continue;
            foreach (var branch in (ReadOnlySpan<int>)[high, low])
            {
                Emf[branch] = Defaults.BusRestVolts;
                Inject(branch, G[branch] * Defaults.BusRestVolts);
            }
        }
    }

    private double[]? _fromSources;

    /// <summary>
    /// The part of every potential that the sources make, V, and that grows with their volts; null where that is all of it. A module drives
    /// its bus to volts of its own.
    /// </summary>
    public double[]? FromSources => _fromSources ??= FromSourcesThrough(Factor);

    /// <summary>The same on a machine with a solver of its own.</summary>
    public double[]? FromSourcesThrough(INodalSolver<double> solver)
    {
        if (!Array.Exists(_machine.Buses, b => Emf[b.High] != 0))
            return null;
        var volts = (double[])Injected.Clone();
        foreach (var (_, _, high, low) in _machine.Buses)
        foreach (var branch in (ReadOnlySpan<int>)[high, low])
        {
            if (_network.A(branch) is >= 0 and var a)
                volts[a] -= G[branch] * Emf[branch];
            if (_network.B(branch) is >= 0 and var b)
                volts[b] += G[branch] * Emf[branch];
        }
        solver.Solve(volts);
        return volts;
    }

    private void Inject(int branch, double amps) => Potentials.Inject(Injected, _network.A(branch), _network.B(branch), amps);

    /// <summary>Whether a source's own condition holds in this state.</summary>
    public bool Drives(int source) => _drives[source];

    /// <summary>Volts behind a healthy source, V; 0 while its condition does not hold.</summary>
    public double SourceVolts(int source) =>
        !_drives[source] ? 0
        : _network.Supported.TryGetValue(_machine.Sources[source].Branch, out var held) ? held
        : _machine.Sources[source].Source.Emf * (_vary?.Emf ?? 1);

    /// <summary>Current a source puts in: that of its volts behind its resistance, or its limit.</summary>
    /// <param name="limit">Amps at most where a fault has changed them.</param>
    public double Drive(int source, double g, double emf, MachineState state, double? limit = null) =>
        state.Mode(_machine.Sources[source].Branch) == SourceMode.Limited ? limit ?? _machine.Sources[source].Source.LimitAmps : g * emf;

    /// <summary>Potentials for one ampere in at a and out at b, V; the reference is -1.</summary>
    public double[] Response(int a, int b) => _responses.Response(a, b, Volts.Length, Factor);

    /// <summary>The same for a node against the reference if it was made before, else null.</summary>
    public double[]? KnownResponse(int node) => _responses.Known(node);

    /// <summary>The same for a branch, from its first node to its second.</summary>
    public double[] Response(int branch) => _responses.Response(branch, _network, Factor);

    /// <summary>
    /// A branch whose stray moves a reading by less than this share of nominal, with its volts here or with a part of nominal where a fault
    /// may give it more, has no say in how the reading spreads.
    /// </summary>
    private const double LeastMoved = 1e-5,
        MayHave = 0.1,
        Noise = 1e-12;

    /// <summary>
    /// Branches that have a say in how a reading between two nodes spreads, by the way one ampere in at a and out at b takes.
    /// </summary>
    public int[] Carriers(int a, int b) => _responses.Carriers(a, b, () => MakeCarriers(Response(a, b), 1));

    /// <summary>
    /// The same for a current that a change sends another way: of a branch, what does not go through it itself counts as the whole. Null
    /// where next to nothing does, so that a machine without the branch hangs on insulation.
    /// </summary>
    public int[]? Carriers(in Modification m)
    {
        if (m.Branch < 0)
            return Carriers(m.A, m.B);
        var beside = Math.Abs(1 - G[m.Branch] * Seen(m.Branch));
        var branch = m.Branch;
        return beside < LeastBeside ? null : _responses.Carriers(branch, Aside, () => MakeCarriers(Response(branch), beside));
    }

    private const double LeastBeside = 1e-8;

    /// <summary>Marks a branch where the second of two nodes would stand.</summary>
    private const int Aside = -2;

    private int[] MakeCarriers(double[] y, double whole)
    {
        var (carriers, nominal) = (new List<int>(), _machine.Circuit.NominalVolts);
        for (var i = 0; i < G.Length; i++)
        {
            var (from, to) = (_network.A(i), _network.B(i));
            var (across, drop) = (Math.Abs(Potentials.Across(y, from, to)), Potentials.Across(Volts, from, to) - Emf[i]);
            // Far above what the circuit makes of it, where an island hangs on insulation, a difference is noise.
            if (
                G[i] * across * _network.Spread[i] * Math.Max(Math.Abs(drop), MayHave * nominal) >= LeastMoved * nominal * whole
                && across > Noise * Math.Abs(from < 0 ? 0 : y[from])
            )
                carriers.Add(i);
        }
        return [.. carriers];
    }

    private Assembled? _assembled;

    /// <summary>Its conductances as the factor takes them.</summary>
    public Assembled Assembled => _assembled ??= _network.Assembled(G);

    /// <summary>Siemens times ohms from which on a branch that closes joins what was apart.</summary>
    private const double MostJoined = 1e7;

    private double[]? _self;

    /// <summary>Volts that a unit current of one modification makes at another, Ω; at itself, the resistance between its ends.</summary>
    public double Seen(in Modification x, in Modification y)
    {
        if (x.Branch < 0 || x.Branch != y.Branch)
        {
            if (_responses.Rows is { } rows)
            {
                if (Watched(y.Branch) is >= 0 and var atY)
                    return Row(rows, x.A, atY) - Row(rows, x.B, atY);
                if (Watched(x.Branch) is >= 0 and var atX)
                    return Row(rows, y.A, atX) - Row(rows, y.B, atX);
            }
            if (_responses.KnownOf(x.Branch) is { } z)
                return LowRankUpdate.Across(z, y);
            return Factor.Between(x.A, x.B, y.A, y.B);
        }
        return Seen(x.Branch);
    }

    /// <summary>Resistance between the ends of a branch, itself beside it, Ω.</summary>
    private double Seen(int branch)
    {
        var self = _self ?? MadeSelf();
        var (a, b) = (_network.A(branch), _network.B(branch));
        return double.IsNaN(self[branch]) ? self[branch] = Factor.Between(a, b, a, b) : self[branch];
    }

    private readonly ConcurrentDictionary<int, (double Siemens, double Volts)> _beside = new();

    /// <summary>
    /// What lies beside a branch without a source between its two ends, S, and the volts across it, which may be far too few for the
    /// difference of two potentials to show.
    /// </summary>
    public (double Siemens, double Volts) Beside(int branch)
    {
        if (_beside.TryGetValue(branch, out var known))
            return known;
        const double Opened = 1 / Defaults.OpenOhms;
        var solver = _network.Refactor(this, [new ChangedLink(branch, Opened, 0)]);
        var (a, b) = (_network.A(branch), _network.B(branch));
        // Lent: neither solution is kept, and there are as many as branches.
        var lent = ArrayPool<double>.Shared.Rent(Volts.Length);
        var x = lent.AsSpan(0, Volts.Length);
        x.Clear();
        Potentials.Inject(x, a, b, 1);
        solver.Solve(x);
        var opened = 1 / Potentials.Across(x, a, b);
        Injected.CopyTo(x);
        solver.Solve(x);
        var (beside, volts) = (Math.Max(0, opened - Opened), Potentials.Across(x, a, b));
        ArrayPool<double>.Shared.Return(lent);
        return _beside[branch] = (beside, volts * opened / (G[branch] + beside));
    }

    private int Watched(int branch) =>
        branch >= 0 && branch < _network.Layout.WatchedPlace.Length ? _network.Layout.WatchedPlace[branch] : -1;

    private double Row(double[] rows, int node, int watched) => node < 0 ? 0 : rows[node * _network.WatchedNodes.Length + watched];

    private double[] MadeSelf()
    {
        var self = new double[G.Length];
        Array.Fill(self, double.NaN);
        return _self = self;
    }

    private int _served;

    /// <summary>True for a state that others are changes on: worth making ready for many.</summary>
    public bool ServesMany { get; set; }

    /// <summary>Nodes at the ends of the watched branches.</summary>
    public (int A, int B)[] WatchedNodes => _network.WatchedNodes;

    /// <summary>
    /// By node, what a unit current from it to the reference makes across each watched branch, Ω; null as long as this state has served too
    /// few machines for it to be worth making.
    /// </summary>
    public double[]? WatchedRows()
    {
        if (_responses.Rows is { } rows)
            return rows;
        var watched = _network.WatchedNodes;
        return !ServesMany || Interlocked.Increment(ref _served) <= watched.Length
            ? null
            : _responses.MakeRows(watched, Volts.Length, Factor);
    }

    private LowRankUpdate? _unchanged;

    /// <summary>The state as it is.</summary>
    public LowRankUpdate Unchanged => _unchanged ??= LowRankUpdate.None(this);

    private ConductionGraph? _ties;

    /// <summary>What conductors join in this state.</summary>
    public ConductionGraph Ties => _ties ??= new ConductionGraph(_network, G);

    /// <summary>The alternating side of the same state.</summary>
    public AlternatingBaseState Alternating => _alternating ??= new AlternatingBaseState(_machine, _network, this, _vary);
}

/// <summary>
/// The alternating part of a base state: everything here is resistance, so phasors are two real solutions on the same conductances.
/// Windings are coupled by their ratio; direct current only sees their copper.
/// </summary>
internal sealed class AlternatingBaseState
{
    private readonly KeptResponses _responses;
    private readonly HashSet<int> _windings = [];

    public double[] G { get; }
    public Complex[] Emf { get; }
    public Complex[] Injected { get; }
    public Complex[] Volts { get; }
    public INodalSolver<double> Solver { get; }
    public List<CoupledWindings> Couplings { get; }
    public AlternatingPart Part { get; }

    public AlternatingBaseState(Machine machine, Network network, BaseState direct, ToleranceDraw? vary)
    {
        _responses = new KeptResponses(machine.Responses);
        G = direct.G;
        Couplings = machine.CouplingsOf(network, G);
        if (Couplings.Count > 0)
        {
            G = (double[])G.Clone();
            foreach (var c in Couplings)
            {
                (G[c.Primary], G[c.Secondary]) = (c.Magnetising, Network.IslandLeak);
                _windings.Add(c.Primary);
                _windings.Add(c.Secondary);
            }
            Solver = new RefinedSolver(network.AlternatingSolver(G, [], Couplings), network, G, [], Couplings);
        }
        else
            Solver = direct.Factor;
        (Emf, Injected) = (new Complex[G.Length], new Complex[network.Size]);
        for (var s = 0; s < machine.Sources.Length; s++)
        {
            var (_, source, branch) = machine.Sources[s];
            if (source.Ac == Complex.Zero || network.Removed[branch] || !direct.Drives(s))
                continue;
            Emf[branch] = source.Ac * (vary?.Emf ?? 1);
            var amps = G[branch] * Emf[branch];
            if (network.A(branch) is >= 0 and var a)
                Injected[a] += amps;
            if (network.B(branch) is >= 0 and var b)
                Injected[b] -= amps;
        }
        Volts = Solve(Solver, Injected);
        var reactive = machine.ReactiveIn(network, direct.Switches, FaultSet.None, vary);
        Part = new AlternatingPart(network, (Complex[])Volts.Clone(), G, Emf, Solver, Couplings, reactive)
        {
            Update = new AlternatingUpdate(-1, -1, 0, null),
        };
    }

    /// <summary>True when a change of this branch changes a transformer.</summary>
    public bool IsWinding(int branch) => _windings.Contains(branch);

    public double[] Response(int a, int b) => _responses.Response(a, b, Volts.Length, Solver);

    public static Complex[] Solve(INodalSolver<double> solver, Complex[] injected)
    {
        var (re, im) = (new double[injected.Length], new double[injected.Length]);
        for (var i = 0; i < injected.Length; i++)
            (re[i], im[i]) = (injected[i].Real, injected[i].Imaginary);
        solver.Solve(re);
        if (Array.Exists(im, x => x != 0))
            solver.Solve(im);
        var volts = new Complex[injected.Length];
        for (var i = 0; i < volts.Length; i++)
            volts[i] = new Complex(re[i], im[i]);
        return volts;
    }
}
