using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// One settled state of a machine: node potentials, branch conductances, and what pulled in, blew or chattered on the way. Volts are
/// against the reference.
/// </summary>
public sealed class OperatingPoint
{
    private readonly Network _network;
    private readonly BaseState _base;
    private readonly ChangedLink[] _changed;
    private readonly INodalSolver<double>? _solver;
    private readonly FaultSet _faults;
    private readonly AlternatingPart? _ac;

    /// <summary>How the machine differs from its base state; null where it was factored afresh.</summary>
    private readonly LowRankUpdate? _update;

    /// <summary>Potentials of its own, V: of a machine factored afresh, or the mean where modules drive a bus in turn.</summary>
    private readonly double[]? _volts;

    internal OperatingPoint(
        Network network,
        BaseState baseState,
        double[]? volts,
        ChangedLink[] changed,
        INodalSolver<double>? solver,
        FaultSet faults,
        MachineState state,
        AlternatingPart? ac,
        LowRankUpdate? update
    ) =>
        (_network, _base, _volts, _changed, _solver, _faults, State, _ac, _update) = (
            network,
            baseState,
            volts,
            changed,
            solver,
            faults,
            state,
            ac,
            update
        );

    internal MachineState State { get; }

    private int _stateKey;

    /// <summary>Equal for equal switching states: coils, blown fuses, source modes, chatter.</summary>
    internal int StateKey => _stateKey != 0 ? _stateKey : _stateKey = MakeStateKey();

    private int MakeStateKey()
    {
        var hash = new HashCode();
        hash.AddBytes(State.Switches.AsSpan(State.Index.FirstMover));
        for (var i = 0; i < State.HasClicked.Length; i++)
            hash.Add((State.HasClicked[i], State.Chatters[i]));
        var key = hash.ToHashCode();
        return key == 0 ? 1 : key;
    }

    internal Network Network => _network;
    public Circuit Circuit => _network.Layout.Circuit;

    /// <summary>Names a node that a tip can touch: the loom's side of a terminal, or the part's own.</summary>
    /// <param name="partSide">The side where the terminal names none; a lifted one is then its post.</param>
    public int Node(Terminal t, bool partSide = false) =>
        _network.Nodes[
            t.Side == TerminalSide.Part || t.Side == TerminalSide.None && (partSide || _network.IsLifted(t))
                ? _network.Layout.PartPoint(t)
                : _network.Layout.LoomPoint(t)
        ];

    /// <summary>Node at a wire's own end.</summary>
    public int WireNode(Wire w, bool start) => _network.Nodes[_network.Layout.WirePoint(w, start)];

    /// <summary>Potential of a node, V; the reference (-1) is 0.</summary>
    public double Volts(int node) =>
        node < 0 ? 0
        : _volts is null ? _update!.Volts(node)
        : _volts[node];

    /// <summary>Number of nodes, which <see cref="Node"/> numbers from 0.</summary>
    public int Nodes => _base.Volts.Length;

    internal BaseState BaseState => _base;

    internal ChangedLink[] Changed => _changed;

    internal LowRankUpdate? Update => _update;

    /// <summary>Potentials of its own, where it is no change on its base state.</summary>
    internal double[]? OwnVolts => _volts;

    /// <summary>Phasors, or null where nothing alternates.</summary>
    internal AlternatingPart? Phasors => _ac;

    internal FaultSet Faults => _faults;

    internal Sensitivities Sensitivities => _sensitivities ??= new Sensitivities(this);

    private Sensitivities? _sensitivities;

    /// <summary>Volts at a terminal on the loom's side.</summary>
    public double Volts(Terminal t) => Volts(Node(t));

    /// <summary>Alternating phasor between two nodes, V effective.</summary>
    public Complex AcVolts(int p, int q) => _ac?.Across(p, q) ?? Complex.Zero;

    /// <summary>Unit current in at p and out at q: the potential it makes at every node, V per A. Shared: not to be written to.</summary>
    /// <param name="alternating">As alternating current sees the circuit, through its transformers.</param>
    internal double[] Response(int p, int q, bool alternating = false)
    {
        if (!alternating && IsAtChangedEnd(p, q))
            return KeptResponses.Solved(p, q, Nodes, Afresh);
        if (alternating ? _ac?.Update is not null : _update is not null)
        {
            var baseState = alternating ? _base.Alternating.Response(p, q) : _base.Response(p, q);
            if (alternating)
                return Corrected(baseState, _ac!.Update!);
            var y = _update!.Corrected(baseState);
            return p == q || Across(y, p, q) > FewDigits * Across(baseState, p, q) ? y : KeptResponses.Solved(p, q, Nodes, Afresh);
        }
        return KeptResponses.Solved(p, q, Nodes, alternating && _ac is not null ? _ac.Solver : _solver ?? _update!);
    }

    /// <summary>The same as alternating current meets it, as phasors.</summary>
    internal Complex[] PhasorResponse(int p, int q)
    {
        var y = Response(p, q, alternating: true);
        return _ac is { Reacts: true } ? _ac.Reacting(y) : Array.ConvertAll(y, x => new Complex(x, 0));
    }

    /// <summary>The baseState phasors' own response, corrected for the one change of this machine.</summary>
    private static double[] Corrected(double[] y, AlternatingUpdate update)
    {
        if (update.Z is null)
            return y;
        var along = update.Factor * Across(y, update.A, update.B);
        if (along == 0)
            return y;
        var corrected = new double[y.Length];
        for (var i = 0; i < corrected.Length; i++)
            corrected[i] = y[i] - along * update.Z[i];
        return corrected;
    }

    /// <summary>Ohms seen between two nodes with every source at rest.</summary>
    public double Ohms(int p, int q)
    {
        if (p == q)
            return 0;
        if (_update is null || IsAtChangedEnd(p, q))
            return Across(Response(p, q), p, q);
        // By reciprocity what the changes take away is what they see of these two points.
        var baseState = _base.Response(p, q);
        var (across, left) = (Across(baseState, p, q), Across(baseState, p, q) - _update.Taken(baseState));
        if (left > FewDigits * across)
            return left;
        // Next to nothing is left of a large resistance: a fault joins what was apart.
        return Across(KeptResponses.Solved(p, q, Nodes, Afresh), p, q);
    }

    /// <summary>
    /// True where a node is the end of a changed branch that nothing else hangs on: the ohms behind it are those of the branch, and an
    /// update may not have it.
    /// </summary>
    internal bool IsAtChangedEnd(int p, int q)
    {
        foreach (var c in _changed)
            if (_network.End(c.Branch) is >= 0 and var end && (end == p || end == q))
                return true;
        return false;
    }

    private INodalSolver<double> Afresh => _afresh ??= _update is null ? _solver! : _network.Afresh(_base, _changed, _faults);

    /// <summary>What is left of a difference below this share of it is not to be relied on.</summary>
    private const double FewDigits = 1e-9;

    private INodalSolver<double>? _afresh;

    /// <summary>The part of direct volts between two nodes that grows with the sources, V.</summary>
    internal double VoltsFromSources(int p, int q)
    {
        if (p == q)
            return 0;
        if (_base.FromSources is not { } from)
            return Volts(p) - Volts(q);
        if (_update?.Moved(from, _base.Response(p, q), p, q) is { } moved && !double.IsNaN(moved))
            return moved;
        return Across(_fromSources ??= _base.FromSourcesThrough(Afresh)!, p, q);
    }

    private double[]? _fromSources;

    private static double Across(double[] x, int a, int b) => Potentials.Across(x, a, b);

    /// <summary>
    /// Volts and ohms by which a reading may differ and still spread as the other does, and the share of a meter's current that goes
    /// another way.
    /// </summary>
    private const double LittleShare = 0.01,
        LittleOfItself = 0.1,
        LeastShare = 0.002,
        LittleOhms = 1,
        LittleCurrent = 0.05;

    /// <summary>
    /// True when direct volts between two nodes are near enough to those of the base state, without the fault, to be spread alike by
    /// the tolerances of the parts: potentials, resistance behind the nodes and the way a meter's current takes.
    /// </summary>
    internal bool SpreadsAsStanding(int p, int q)
    {
        if (_update is null || _ac is not null || IsAtChangedEnd(p, q) || Tied(p, q) != _base.Ties.Tied(p, q))
            return false;
        if (_update.Count == 0)
            return _volts is null;
        // Of a reading near nothing, on the way home, as much as would be little of a supply is the whole.
        var (nominal, baseState) = (Circuit.NominalVolts, Math.Abs(Across(_base.Volts, p, q)));
        return _volts is null
            && _update.MovesLittle(
                _base.Response(p, q),
                Math.Min(LittleShare * nominal, Math.Max(LeastShare * nominal, LittleOfItself * baseState)),
                LittleOhms,
                LittleCurrent
            );
    }

    /// <summary>Most that any node's potential differs from that of another machine, V.</summary>
    internal double MostApart(OperatingPoint o)
    {
        if (_volts is null && o._volts is null && _update!.MostApart(o._update!) is var apart && !double.IsNaN(apart))
            return apart;
        apart = 0;
        for (var i = 0; i < Nodes; i++)
            apart = Math.Max(apart, Math.Abs(Volts(i) - o.Volts(i)));
        return apart;
    }

    /// <summary>
    /// Amps of a part as a meter in series shows them: a flame lets so much through, whatever alternating volts stand behind it.
    /// </summary>
    internal double LetThrough(int part, double amps)
    {
        if (Circuit.Parts[part] is not { Kind: Circuits.Kinds.FlameRod, Model.Links: [Link.Source flame, ..] })
            return amps;
        var branch = Network.Layout.LinkBranches[part][0];
        var limit = Faults.LimitOf(branch) ?? (IsFaulted(branch) ? double.PositiveInfinity : flame.LimitAmps);
        return Math.Min(amps, limit);
    }

    /// <summary>The base state by itself, without the fault.</summary>
    internal OperatingPoint Unfaulted() => new(_network, _base, null, [], null, FaultSet.None, State, null, _base.Unchanged);

    /// <summary>What conductors join: as in its switching state, or in a graph of its own.</summary>
    internal ConductionGraph Ties =>
        _ties ??= Known is ({ } ties, []) ? ties : new ConductionGraph(_network, [.. Enumerable.Range(0, Branches).Select(G)]);

    private ConductionGraph? _ties;
    private KnownTies? _known;

    // A class: several threads read one machine, and a reference is never half written.
    private sealed record KnownTies(ConductionGraph? OfState, ChangedLink[] ByFault);

    /// <summary>
    /// What conductors join in its switching state without the fault, of the base state or of one near it, made once for all machines
    /// in it; and the branches by which the fault makes that otherwise. No ties where the fault is on a branch that the state may have
    /// changed too.
    /// </summary>
    private KnownTies Known => _known ??= MakeKnown();

    private KnownTies MakeKnown()
    {
        var byFault = Array.FindAll(_changed, c => IsChanged(c.Branch));
        var isStanding = byFault.Length == _changed.Length;
        if (!isStanding && Array.Exists(byFault, c => _network.Layout.WatchedPlace[c.Branch] >= 0))
            return new KnownTies(null, byFault);
        var ties = isStanding
            ? _base.Ties
            : _network.TiesOf(State, () => [.. Enumerable.Range(0, Branches).Select(i => IsChanged(i) ? _base.G[i] : G(i))]);
        return new KnownTies(ties, Array.FindAll(byFault, c => ties.Changes(c)));
    }

    internal int Branches => _base.G.Length;

    internal double Conductance(int branch) => G(branch);

    internal bool IsFaulted(int branch) => IsChanged(branch);

    /// <summary>Capacity of a link on this machine, µF; 0 for one that a fault has opened.</summary>
    public double Microfarads(int part, Link.Reactance link)
    {
        ArgumentNullException.ThrowIfNull(link);
        var branch = _network.Layout.LinkBranches[part][Circuit.Parts[part].Model.LinkIndex(link.Name)];
        var capacity = link.Microfarads ?? 0;
        foreach (var c in _faults.Changes)
            if (c.Branch == branch)
                capacity =
                    c.Change == BranchChange.Open ? 0
                    : c.Change == BranchChange.SetMicrofarads ? c.Value
                    : capacity;
        return capacity;
    }

    /// <summary>Direct volts behind a branch on this machine.</summary>
    internal double Emf(int branch)
    {
        foreach (var c in _changed)
            if (c.Branch == branch)
                return c.Emf;
        return _base.Emf[branch];
    }

    /// <summary>True when a fault has opened the winding that moves these contacts.</summary>
    internal bool IsOpenCoil(Mover mover) => mover.IsOpen(_faults, held: true);

    /// <summary>Paths between nodes that a fault has made, S.</summary>
    internal IEnumerable<(int A, int B, double G)> Joins =>
        _faults.Joins.Select(j => (_network.Nodes[j.P], _network.Nodes[j.Q], 1 / j.Ohms));

    /// <summary>Alternating volts behind a source branch on this machine.</summary>
    internal Complex AcEmf(int branch) => _ac?.Emf(branch) ?? Complex.Zero;

    /// <summary>Conductance of a branch on this machine, S.</summary>
    internal double G(int branch)
    {
        foreach (var c in _changed)
            if (c.Branch == branch)
                return c.G;
        return _base.G[branch];
    }

    /// <summary>Amps through a branch from its first point to its second.</summary>
    internal double BranchAmps(int branch)
    {
        var (g, emf) = (_base.G[branch], _base.Emf[branch]);
        foreach (var c in _changed)
            if (c.Branch == branch)
                (g, emf) = (c.G, c.Emf);
        return g * (Volts(_network.A(branch)) - Volts(_network.B(branch)) - emf);
    }

    /// <summary>Phasor of the alternating current through a branch, A.</summary>
    internal Complex BranchAcAmps(int branch) => _ac?.Amps(branch) ?? Complex.Zero;

    /// <summary>Signed amps where only direct current flows, else the effective value of both.</summary>
    internal double AllAmps(int branch) =>
        BranchAcAmps(branch) is var ac && ac == Complex.Zero
            ? BranchAmps(branch)
            : Math.Sqrt(Math.Pow(BranchAmps(branch), 2) + Math.Pow(ac.Magnitude, 2));

    /// <summary>Amps through a wire, from its first end to its second; the effective value where alternating current flows.</summary>
    public double WireAmps(string id)
    {
        return _network.Layout.WireIndex(id) is >= 0 and var i
            ? AllAmps(_network.Layout.WireBranches[i])
            : throw new ArgumentException($"There is no wire {id}.", nameof(id));
    }

    private Flow FlowOf(int branch) => new(BranchAmps(branch), BranchAcAmps(branch));

    /// <summary>
    /// Current through a wire of the sheet, by its place in <see cref="Circuit.Wires"/>, from its first end to its second.
    /// </summary>
    public Flow WireFlow(int wire) => FlowOf(_network.Layout.WireBranches[wire]);

    /// <summary>Current through one link of a part, by index, from its A to its B.</summary>
    public Flow LinkFlow(int part, int link) => FlowOf(_network.Layout.LinkBranches[part][link]);

    /// <summary>Potentials while each pulsed output is on, V; empty where none beats.</summary>
    internal IReadOnlyList<double[]> WhileOn { get; init; } = [];

    /// <summary>Volts that make no difference across what a fault changes; far below what moves a coil.</summary>
    private const double NoVolts = 1e-5;

    /// <summary>Amps in what a fault opens that make none: what an open contact leaks, and far below what an input takes.</summary>
    private const double NoAmps = 1e-6;

    /// <summary>
    /// True where faults change only what has no volts across it here, so that the same potentials are those of the faulty machine too:
    /// its laws hold with them as they did. Direct current only.
    /// </summary>
    internal bool IsUntouchedBy(FaultSet faults)
    {
        if (_ac is not null)
            return false;
        foreach (var c in faults.Changes)
        {
            if (c.Change is BranchChange.Emf or BranchChange.Limit or BranchChange.Scale or BranchChange.SetMicrofarads)
                return false;
            // A wire loses next to no volts on what an input takes: there it is the current that tells.
            if (c.Change is BranchChange.Open or BranchChange.Series)
            {
                if (Math.Abs(BranchAmps(c.Branch)) > NoAmps)
                    return false;
            }
            else if (Math.Abs(Volts(_network.A(c.Branch)) - Volts(_network.B(c.Branch))) > NoVolts)
                return false;
        }
        foreach (var (p, q, _) in faults.Joins)
            if (Math.Abs(Volts(_network.Nodes[p]) - (q < 0 ? 0 : Volts(_network.Nodes[q]))) > NoVolts)
                return false;
        foreach (var part in faults.Unmoved)
        foreach (var b in _network.Layout.LinkBranches[part])
            if (Math.Abs(Volts(_network.A(b)) - Volts(_network.B(b))) > NoVolts)
                return false;
        return true;
    }

    /// <summary>Current from which something is said to flow, A.</summary>
    private const double LeastFlow = 1e-4;

    /// <summary>True where current flows in a wire or pin, or anywhere in a part.</summary>
    /// <param name="target">As a fault names it.</param>
    internal bool Flows(string target)
    {
        var layout = _network.Layout;
        if (layout.WireIndex(target) is >= 0 and var wire)
            return Math.Abs(AllAmps(layout.WireBranches[wire])) > LeastFlow;
        var part = Circuit.FindPart(target.Split(':', '/')[0]) is { } p ? Circuit.IndexOf(p.Tag) : -1;
        return part >= 0
            && (layout.LinkBranches[part].Length == 0 || Array.Exists(layout.LinkBranches[part], b => Math.Abs(AllAmps(b)) > LeastFlow));
    }

    /// <summary>Lowest and highest volts between two nodes over a beat of the pulsed outputs, the mean among them; null where none
    /// beats.</summary>
    internal (double Low, double High)? BeatVolts(int p, int q) => Beat(Volts(p) - Volts(q), on => Potentials.Across(on, p, q));

    /// <summary>The same for the amps through a wire, from its first end to its second.</summary>
    internal (double Low, double High)? BeatAmps(string wire)
    {
        if (_network.Layout.WireIndex(wire) is not (>= 0 and var i))
            return null;
        var b = _network.Layout.WireBranches[i];
        return Beat(BranchAmps(b), on => Conductance(b) * Potentials.Across(on, _network.A(b), _network.B(b)));
    }

    private (double Low, double High)? Beat(double mean, Func<double[], double> on)
    {
        if (WhileOn.Count == 0)
            return null;
        var all = WhileOn.Select(on).Append(mean).ToList();
        return (all.Min(), all.Max());
    }

    /// <summary>Most amps through one link of a part over a beat of the pulsed outputs: what a coil or an injector answers to.</summary>
    public double MostLinkAmps(int part, int link) => WhileOn.Count == 0 ? Math.Abs(LinkAmps(part, link)) : MostLinkFlow(part, link).Amps;

    /// <summary>The same with the volts across the link at that instant.</summary>
    public (double Volts, double Amps) MostLinkFlow(int part, int link)
    {
        var most = (Volts: LinkVolts(part, link), Amps: Math.Abs(LinkAmps(part, link)));
        var b = _network.Layout.LinkBranches[part][link];
        foreach (var on in WhileOn)
        {
            var volts = Math.Abs(Potentials.Across(on, _network.A(b), _network.B(b)));
            if (Conductance(b) * volts > most.Amps)
                most = (volts, Conductance(b) * volts);
        }
        return most;
    }

    /// <summary>Amps through one link of a part, by index.</summary>
    public double LinkAmps(int part, int link) => AllAmps(_network.Layout.LinkBranches[part][link]);

    /// <summary>Volts across one link of a part.</summary>
    public double LinkVolts(int part, int link)
    {
        var b = _network.Layout.LinkBranches[part][link];
        var direct = Volts(_network.A(b)) - Volts(_network.B(b));
        var ac = AcVolts(_network.A(b), _network.B(b));
        return ac == Complex.Zero ? direct : Math.Sqrt(direct * direct + ac.Magnitude * ac.Magnitude);
    }

    /// <summary>True where more alternating than direct volts stand across one link of a part.</summary>
    internal bool IsAlternating(int part, int link)
    {
        var b = _network.Layout.LinkBranches[part][link];
        return AcVolts(_network.A(b), _network.B(b)).Magnitude > Math.Abs(Volts(_network.A(b)) - Volts(_network.B(b)));
    }

    /// <summary>True when a link conducts no more than insulation.</summary>
    public bool LinkOpen(int part, int link) => G(_network.Layout.LinkBranches[part][link]) <= 2 / Defaults.OpenOhms;

    public bool PulledIn(int part) => State.PulledIn(part);

    public bool HasClicked(int part) => State.Index.MoverOfPart[part] is >= 0 and var m && State.HasClicked[m];

    public bool Chatters(int part)
    {
        for (var m = 0; m < State.Chatters.Length; m++)
            if (State.Chatters[m] && State.Index.Movers[m].Part == part)
                return true;
        return false;
    }

    /// <summary>True where a part's coil may draw its current and nothing moves.</summary>
    public bool Mute(int part) => _faults.IsMute(part);

    /// <summary>True when the part draws its current and still does not move.</summary>
    public bool Stuck(int part) => _faults.IsStuck(part);

    /// <summary>Fuses that opened on the way, with the settled amps that did it.</summary>
    public IReadOnlyList<(string Tag, double Amps)> Blown => State.BlownAt.Select(b => (Circuit.Parts[b.Part].Tag, b.Amps)).ToList();

    internal bool AnyBlown => State.BlownAt.Count > 0;

    /// <summary>True when a fuse went by the repeated strokes of a chatter. How many strokes it takes is not computed.</summary>
    public bool BlewWhileChattering => State.BlewInStrokes;

    /// <summary>Of a machine that chatters: the other end of its round, between which and this one its volts go; else null.</summary>
    internal OperatingPoint? OtherEnd { get; set; }

    /// <summary>Tags of coils that never came to rest.</summary>
    public IReadOnlyList<string> Chattering => Tags(State.Chatters);

    /// <summary>Tags of the parts whose movers are marked, in the order of the sheet.</summary>
    private List<string> Tags(bool[] movers)
    {
        if (!Array.Exists(movers, m => m))
            return [];
        return State
            .Index.Movers.Where((_, i) => movers[i])
            .Select(m => m.Part)
            .Distinct()
            .Order()
            .Select(p => Circuit.Parts[p].Tag)
            .ToList();
    }

    /// <summary>Tags of coils that moved in the same instant and of which either may win.</summary>
    public IReadOnlyList<string> Racing => Tags(State.Races);

    public string Position(string control) => State.PositionOf(control);

    public bool Holds(Condition? condition) => State.Holds(condition);

    /// <summary>
    /// True when two nodes reach each other through less than a megohm, so that a volt meter between them does not load what it reads.
    /// </summary>
    /// <param name="q">The reference when not given.</param>
    public bool Tied(int p, int q = -1) => TiedByParts(p, q) || TiedByFault(p, q);

    /// <summary>The same by trees that were made before.</summary>
    /// <param name="trees">What <see cref="Trees"/> gave.</param>
    internal bool Tied(int[] trees, int p, int q) => trees[p + 1] == trees[q + 1] || TiedByFault(p, q);

    /// <summary>Whether two nodes reach each other with the paths that a fault has made.</summary>
    private bool TiedByFault(int p, int q)
    {
        if (_faults.Joins.Count == 0)
            return false;
        if (_faults.Joins is [var only])
        {
            var (a, b) = (_network.Nodes[only.P], _network.Nodes[only.Q]);
            return 1 / only.Ohms > ConductionGraph.Least
                && (TiedByParts(p, a) && TiedByParts(b, q) || TiedByParts(p, b) && TiedByParts(a, q));
        }
        var (met, open) = (new HashSet<int> { p }, new Queue<int>([p]));
        while (open.TryDequeue(out var at))
            foreach (var (a, b, g) in Joins)
            {
                if (g <= ConductionGraph.Least)
                    continue;
                foreach (var (near, far) in new[] { (a, b), (b, a) })
                    if (!met.Contains(far) && TiedByParts(at, near))
                    {
                        if (TiedByParts(far, q))
                            return true;
                        met.Add(far);
                        open.Enqueue(far);
                    }
            }
        return false;
    }

    private bool TiedByParts(int p, int q)
    {
        if (_ties is { } own)
            return own.Tied(p, q);
        if (_known is null && TiedAsChanged(p, q) is { } tied)
            return tied;
        var (ties, byFault) = Known;
        if (ties is null)
            return Ties.Tied(p, q);
        return byFault.Length == 0 ? ties.Tied(p, q) : ties.Tied(p, q, byFault) ?? Ties.Tied(p, q);
    }

    private ChangedLink[]? _tiesChanged;

    private ChangedLink[] TiesChanged => _tiesChanged ??= Array.FindAll(_changed, c => _base.Ties.Changes(c));

    /// <summary>
    /// By node, counted from the reference, the tree it is in; nodes of one tree are tied, others only where a fault made a path
    /// between them. Machines that join the same share it as a rule.
    /// </summary>
    internal int[] Trees()
    {
        if (_ties is { } own)
            return own.Trees;
        if (TiesChanged.Length == 0)
            return _base.Ties.Trees;
        if (_base.Ties.TreesWith(TiesChanged) is { } trees)
            return trees;
        var (ties, byFault) = Known;
        return (byFault.Length == 0 ? ties?.Trees : ties?.TreesWith(byFault)) ?? Ties.Trees;
    }

    /// <summary>Few changes of the base state's ties are followed by themselves; null where they are many, or need a walk.</summary>
    private bool? TiedAsChanged(int p, int q)
    {
        var changed = TiesChanged;
        return changed.Length > FewTies ? null
            : changed.Length == 0 ? _base.Ties.Tied(p, q)
            : _base.Ties.Tied(p, q, changed);
    }

    private const int FewTies = 24;

    /// <summary>Potentials of all nodes, V. Not to be written to: they may be its own.</summary>
    internal double[] AllVolts()
    {
        if (_volts is not null)
            return _volts;
        var volts = new double[Nodes];
        _update!.WriteVolts(volts);
        return volts;
    }

    private bool IsChanged(int branch)
    {
        foreach (var c in _faults.Changes)
            if (c.Branch == branch)
                return true;
        return false;
    }
}
