using System.Buffers;
using System.Numerics;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// One machine at one instant: coils and fuses as they are, sources, filaments and diodes made consistent with the volts they get.
/// </summary>
/// <remarks>
/// A faulty machine is a base state with its fault, and a few switches that differ, as changes on it: G·v = i with added conductances of
/// low rank. What happens next hangs on the volts of the watched branches alone, and only those are worked out. Changes that would cancel
/// are solved as a whole, as far as they reach.
/// </remarks>
internal sealed class InstantSolution(
    Machine machine,
    Network network,
    FaultSet faults,
    MachineState state,
    List<(int P, int Q, double Ohms)> leads,
    ToleranceDraw? vary
)
{
    private const int MostInstantRounds = 60;

    /// <summary>With more changes than this, factoring the branches concerned anew is less work than updates upon updates.</summary>
    private const int MostUpdates = 24;

    private readonly List<(int A, int B, double G)> _joins =
    [
        .. faults.Joins.Select(j => (network.Nodes[j.P], network.Nodes[j.Q], 1 / j.Ohms)),
    ];
    private readonly bool _endsAlone =
        !network.Alternates && !faults.Joins.Any(j => network.IsEnd(network.Nodes[j.P]) || network.IsEnd(network.Nodes[j.Q]));
    private readonly List<ChangedLink> _changed = [];
    private readonly List<Modification> _modifications = [];
    private readonly List<(int Branch, double G)> _near = [];
    private BaseState _base = null!;

    // Either the changes on the base state, or potentials of its own with the solver that made them.
    private LowRankUpdate? _update;
    private double[]? _volts;
    private INodalSolver<double>? _solver;

    /// <summary>Volts across the branches of <see cref="Layout.Watched"/>.</summary>
    private readonly double[] _watched = ArrayPool<double>.Shared.Rent(network.WatchedNodes.Length);
    private readonly int[] _place = network.Layout.WatchedPlace;
    private AlternatingPart? _ac;

    /// <summary>The machine as it rests; nothing is solved after it.</summary>
    public OperatingPoint Result()
    {
        ArrayPool<double>.Shared.Return(_watched);
        var traffic =
            machine.Buses.Length == 0 && machine.Pulsed.Length == 0
                ? null
                : new Traffic(machine, network, faults, state, _base, _update, _volts, _solver, Injected());
        var mean = traffic is null ? _volts : traffic.Mean();
        return new(network, _base, mean, _changed.Count == 0 ? [] : [.. _changed], _solver, faults, network.Shared(state), _ac, _update)
        {
            WhileOn = traffic?.WhileOn ?? [],
        };
    }

    private double[] Injected()
    {
        var b = (double[])_base.Injected.Clone();
        foreach (var m in _modifications)
            Potentials.Inject(b, m.A, m.B, m.Amps);
        return b;
    }

    /// <summary>Direct volts across a watched branch.</summary>
    private double Across(int branch) => _watched[_place[branch]];

    /// <summary>Direct amps through a watched branch.</summary>
    private double Amps(int branch)
    {
        var (g, emf) = (_base.G[branch], _base.Emf[branch]);
        foreach (var c in _changed)
            if (c.Branch == branch)
                (g, emf) = (c.G, c.Emf);
        return g * (Across(branch) - emf);
    }

    /// <summary>Effective volts across a branch, direct and alternating together.</summary>
    public double AllVolts(int branch) => Effective(Across(branch), _ac?.Across(network.A(branch), network.B(branch)) ?? 0);

    /// <summary>Whether the alternating volts across two branches follow each other clockwise; true where nothing alternates.</summary>
    public bool TurnRight(int first, int second) =>
        _ac is null || Phases.TurnRight(_ac.Across(network.A(first), network.B(first)), _ac.Across(network.A(second), network.B(second)));

    /// <summary>Effective amps through a branch.</summary>
    public double AllAmps(int branch) => Effective(Amps(branch), _ac?.Amps(branch) ?? 0);

    /// <summary>Effective amps of several branches together, each counted from its first end to its second.</summary>
    public double Sum(int[] branches)
    {
        var (direct, alternating) = (0.0, Complex.Zero);
        foreach (var branch in branches)
            (direct, alternating) = (direct + Amps(branch), alternating + (_ac?.Amps(branch) ?? 0));
        return Effective(direct, alternating);
    }

    private static double Effective(double direct, Complex alternating) =>
        alternating == Complex.Zero ? Math.Abs(direct) : Math.Sqrt(direct * direct + alternating.Magnitude * alternating.Magnitude);

    /// <summary>Solves for what the state says now; sources, filaments and diodes in it may change.</summary>
    public void Solve()
    {
        for (var round = 0; round < MostInstantRounds; round++)
        {
            SolveOnce();
            if (!UpdateSources() & !UpdateFilaments() & !UpdateDiodes(oneAtATime: round > MostInstantRounds / 3))
                return;
        }
    }

    private bool UpdateSources()
    {
        var changed = false;
        for (var s = 0; s < machine.Sources.Length; s++)
        {
            var (_, source, branch) = machine.Sources[s];
            if (network.Removed[branch] || !_base.Drives(s))
                continue;
            var mode = state.Mode(branch);
            var across = Across(branch);
            var emf = VoltsBehind(s);
            var gives = -Amps(branch);
            var limit = faults.LimitOf(branch) ?? source.LimitAmps;
            var next = Modes.Next(source, mode, gives, across, emf, limit);
            if (next == mode)
                continue;
            state.SetMode(branch, next);
            changed = true;
        }
        return changed;
    }

    /// <summary>A filament that glows has more resistance and so keeps more of the volts: it does not hunt.</summary>
    private bool UpdateFilaments()
    {
        var changed = false;
        foreach (var (filament, branch) in machine.Filaments)
            if (AllVolts(branch) >= filament.GlowVolts != state.Flag(branch))
            {
                state.SetFlag(branch, !state.Flag(branch));
                changed = true;
            }
        return changed;
    }

    private bool UpdateDiodes(bool oneAtATime)
    {
        var changed = false;
        foreach (var (_, diode, branch) in machine.Diodes)
        {
            if (faults.Changes.Exists(c => c.Branch == branch && c.Change is BranchChange.Open or BranchChange.Closed))
                continue;
            var mode = state.Mode(branch);
            var next = Modes.Next(diode, mode, Amps(branch), Across(branch));
            if (next == mode)
                continue;
            state.SetMode(branch, next);
            changed = true;
            // Diodes that push each other to and fro are turned singly.
            if (oneAtATime)
                return true;
        }
        return changed;
    }

    /// <summary>Volts behind a source on this machine.</summary>
    private double VoltsBehind(int source)
    {
        foreach (var change in faults.Changes)
        {
            if (change.Branch != machine.Sources[source].Branch)
                continue;
            if (change.Change == BranchChange.Emf)
                return change.Value;
            // A dead source drives nothing, not even through its insulation.
            if (change.Change == BranchChange.Open)
                return 0;
        }
        return _base.SourceVolts(source);
    }

    /// <summary>Base states that had to be made on the way: switching states that nobody has met before.</summary>
    public int NewStates { get; private set; }

    private BaseState Made()
    {
        NewStates++;
        return _base?.Next(state, leads) ?? new BaseState(machine, network, state, leads, vary);
    }

    private void SolveOnce()
    {
        _base = machine.FactorsEachTime
            ? new BaseState(machine, network, state, leads, vary)
            : network.BaseState(state, vary, leads, network.Alternates || vary is not null ? null : _near, _endsAlone, Made);
        (_volts, _solver) = (null, null);
        _changed.Clear();
        _modifications.Clear();
        // Paths that a fault adds come first: what one of them ties is not parted by what opens after it.
        foreach (var (a, b, g) in _joins)
            if (a != b)
                _modifications.Add(new Modification(a, b, g, 0));
        foreach (var (branch, g) in _near)
        {
            _changed.Add(new ChangedLink(branch, g, 0));
            if (Matters(branch))
                _modifications.Add(new Modification(network.A(branch), network.B(branch), g - _base.G[branch], 0, branch, g));
        }
        foreach (var change in faults.Changes)
            Change(change);
        _update =
            _modifications.Count == 0 ? _base.Unchanged
            : machine.FactorsEachTime || _modifications.Count - _near.Count > MostUpdates ? null
            : LowRankUpdate.TryMake(_base, _modifications);
        if (_update is null)
            SolveAfresh();
        else
        {
            _base.WatchedVolts.CopyTo(_watched, 0);
            _update.Watched(_watched.AsSpan(0, network.WatchedNodes.Length));
        }
        if (network.Alternates)
            _ac = new AlternatingSolution(machine, network, faults, _base, _changed, _modifications, _joins, vary).Solve();
    }

    private void Change(ChangedBranch change)
    {
        var branch = change.Branch;
        if (network.Removed[branch])
            return;
        var at = _changed.FindIndex(c => c.Branch == branch);
        var (g, emf) = at < 0 ? (_base.G[branch], _base.Emf[branch]) : (_changed[at].G, _changed[at].Emf);
        var next = Conductances.Under(machine.Circuit, network.Branches[branch], change, g);
        var amps = g * emf;
        var source = Array.FindIndex(machine.Sources, s => s.Branch == branch);
        var nextAmps = source >= 0 ? _base.Drive(source, next, VoltsBehind(source), state, faults.LimitOf(branch)) : next * emf;
        if (next == g && nextAmps == amps)
            return;
        var changed = new ChangedLink(branch, next, next > 0 ? nextAmps / next : 0);
        if (at < 0)
            _changed.Add(changed);
        else
            _changed[at] = changed;
        if (network.A(branch) == network.B(branch) || !Matters(branch) && changed.Emf == 0)
            return;
        // A contact that has closed and a fault that opens it are one change, not two that cancel.
        _modifications.RemoveAll(m => m.Branch == branch);
        var (siemens, more) = (next - _base.G[branch], nextAmps - _base.G[branch] * _base.Emf[branch]);
        if (siemens != 0 || more != 0)
            _modifications.Add(new Modification(network.A(branch), network.B(branch), siemens, more, branch, next));
    }

    /// <summary>False where what a branch conducts moves no potential.</summary>
    private bool Matters(int branch) => network.A(branch) != network.B(branch) && !(_endsAlone && network.End(branch) >= 0);

    /// <summary>Factors anew, as far as the change reaches, where an update would cancel.</summary>
    private void SolveAfresh()
    {
        INodalSolver<double> solver;
        if (machine.FactorsEachTime)
        {
            solver = network.Factor(ChangedLink.Over(_base.G, _changed));
            // Added conductance never cancels, so this cannot fail.
            foreach (var (a, b, g) in _joins)
                if (a != b)
                    solver = UpdatedSolver<double>.TryMake(solver, network.Size, a, b, g)!;
        }
        else
            solver = network.Afresh(_base, _changed, faults);
        _solver = solver;
        var volts = Injected();
        solver.Solve(volts);
        _volts = volts;
        network.Watch(volts, _watched);
    }
}
