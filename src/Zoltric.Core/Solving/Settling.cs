using System.Buffers;
using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// Brings one network to rest. Sources and other parts without delay are made consistent first; then coils move in the order of
/// their operate times, soonest first; then a fuse whose settled current is too much opens, the worst first, and all is settled again.
/// A configuration met twice while coils still want to move is chatter; coils of which either may be first, with different ends, are a
/// race.
/// </summary>
/// <remarks>
/// A faulty machine is a base state with its fault, and a few switches that differ, as changes on it. What happens next hangs on the
/// volts of the watched branches alone, and only those are worked out on the way. Changes that would cancel are solved as a whole.
/// </remarks>
internal sealed class Settling(
    Machine machine,
    Network network,
    FaultSet faults,
    MachineState state,
    List<(int P, int Q, double Ohms)> leads,
    ToleranceDraw? vary
)
{
    private const int MostInstantRounds = 60;
    private const int MostSwitchings = 400;

    /// <summary>Chatter is looked for from this many movements on; most machines rest before.</summary>
    private const int FewSwitchings = 6;

    /// <summary>More coils than this in one instant are not tried one by one.</summary>
    private const int MostRacers = 6;

    /// <summary>With more changes than this, factoring the branches concerned anew is less work than updates upon updates.</summary>
    private const int MostUpdates = 24;

    /// <summary>Operate times of like relays differ by more than this share; common practice, no source.</summary>
    private const double SameTime = 0.1;

    private readonly List<(int A, int B, double G)> _joins =
    [
        .. faults.Joins.Select(j => (network.Nodes[j.P], network.Nodes[j.Q], 1 / j.Ohms)),
    ];
    private readonly bool _endsAlone =
        !machine.IsAlternating && !faults.Joins.Any(j => network.IsEnd(network.Nodes[j.P]) || network.IsEnd(network.Nodes[j.Q]));
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
    private AlternatingPart? _ac;

    public MachineState State => state;

    public void Move(ControlMove move)
    {
        var control = state.Index.Control(move.Control);
        if (control >= 0)
            state.Move(control, machine.Circuit.Controls[control].IndexOf(move.Position));
    }

    /// <summary>The machine as it rests; nothing is settled after it.</summary>
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

    public void Settle()
    {
        do SettleCoils();
        while (BlowWorstFuse());
    }

    /// <summary>Lets time pass: each timer in the order of its delay.</summary>
    public void Wait(double seconds)
    {
        foreach (
            var delay in state
                .Index.Movers.SelectMany(c => new[] { c.Coil.OnDelay, c.Coil.OffDelay })
                .Where(d => d > 0 && d <= seconds)
                .Distinct()
                .Order()
        )
        {
            state.Elapsed = delay;
            Settle();
        }
        state.Elapsed = 0;
        state.Wait(seconds);
        Settle();
    }

    private bool BlowWorstFuse()
    {
        var (worst, ratio, amps, part) = (-1, Defaults.FuseBlowFactor, 0.0, 0);
        foreach (var (p, fuse, branch) in machine.Fuses)
        {
            if (state.Flag(branch))
                continue;
            var i = Math.Max(AllAmps(branch), _strokes.GetValueOrDefault(branch));
            if (i / fuse.RatedAmps > ratio)
                (worst, ratio, amps, part) = (branch, i / fuse.RatedAmps, i, p);
        }
        if (worst < 0)
            return false;
        state.SetFlag(worst, true);
        state.BlewInStrokes |= _strokes.Count > 0;
        state.BlownAt.Add((part, amps));
        _strokes = [];
        Array.Clear(state.Chatters);
        return true;
    }

    private void SettleCoils()
    {
        // What is left of each coil's movement: 1 when it starts to want to move, 0 when its contacts change; NaN while at rest.
        var left = new double[state.Index.Movers.Length];
        Array.Fill(left, double.NaN);
        SettleCoils(left, mayRace: true);
    }

    /// <summary>Coils about to complete their movement as good as together, soonest first, and the machine just before.</summary>
    private sealed record Tie(MachineState Before, double[] Left, List<int> Movers)
    {
        /// <summary>Those that have turned, by mover.</summary>
        public bool[] Turned { get; } = new bool[Left.Length];
    }

    /// <summary>A tie whose coils turn together is looked at once and made again in the same place.</summary>
    private Tie? _batch;

    /// <param name="lasting">True for one that is followed coil by coil.</param>
    private Tie? TieOf(double[] left, double[] takes, double soonest, bool lasting)
    {
        // Module inputs follow their volts; only what has mass races.
        bool Near(int i) =>
            !double.IsNaN(left[i]) && state.Index.Movers[i].Input < 0 && left[i] * takes[i] - soonest <= SameTime * takes[i];
        var count = 0;
        for (var i = 0; i < left.Length; i++)
            if (Near(i))
                count++;
        if (count < 2)
            return null;
        var tie = lasting
            ? new Tie(state.Clone(), new double[left.Length], new List<int>(count))
            : _batch ??= new Tie(state.Clone(), new double[left.Length], new List<int>(count));
        if (!lasting)
        {
            tie.Before.Become(state);
            tie.Movers.Clear();
            Array.Clear(tie.Turned);
        }
        left.CopyTo(tie.Left, 0);
        for (var i = 0; i < left.Length; i++)
            if (Near(i))
                tie.Movers.Add(i);
        if (lasting)
            tie.Movers.Sort((i, j) => (left[i] * takes[i], i).CompareTo((left[j] * takes[j], j)));
        return tie;
    }

    /// <summary>
    /// Coils that complete their movement as good as together turn together, and the machine is solved once for all of them: as long as
    /// each would still have moved with the others' contacts as they are then, their order made no difference. Where it might have, the
    /// step is taken back and they turn one by one.
    /// </summary>
    private void SettleCoils(double[] left, bool mayRace)
    {
        var coils = state.Index.Movers;
        var takes = new double[coils.Length];
        HashSet<ulong>? seen = null;
        Tie? batch = null,
            tie = null;
        var oneByOne = !mayRace;
        Dictionary<int, double>? overloads = null;
        for (var n = 0; n < MostSwitchings; n++)
        {
            SolveInstant();
            NoteOverloads(ref overloads);
            if (batch is not null && !OrderIndifferent(batch))
            {
                state.Return(batch.Before);
                batch.Left.CopyTo(left, 0);
                (batch, oneByOne) = (null, true);
                SolveInstant();
            }
            batch = null;
            var soonest = double.PositiveInfinity;
            for (var i = 0; i < coils.Length; i++)
            {
                if (Wants(i) == state.Held(i))
                {
                    left[i] = double.NaN;
                    continue;
                }
                if (double.IsNaN(left[i]))
                    left[i] = 1;
                takes[i] = MovementMs(i);
                soonest = Math.Min(soonest, left[i] * takes[i]);
            }
            if (tie is not null && tie.Movers.Exists(i => double.IsNaN(left[i]) != tie.Turned[i]))
            {
                // One that moved would go back, or one that was as near has been stopped: then it matters which is first.
                Race(tie);
                return;
            }
            tie = null;
            if (double.IsPositiveInfinity(soonest))
                return;
            if (n >= FewSwitchings)
            {
                if (!(seen ??= []).Add(Configuration(left)))
                {
                    Chatter(left, overloads ?? []);
                    return;
                }
            }
            var together = TieOf(left, takes, soonest, oneByOne);
            if (oneByOne)
                tie = mayRace && together?.Movers.Count <= MostRacers ? together : null;
            else
                batch = together;
            if (batch is not null)
                foreach (var i in batch.Movers)
                    batch.Turned[i] = true;
            var step = batch is null ? soonest : batch.Movers.Max(i => left[i] * takes[i]);
            for (var i = 0; i < coils.Length; i++)
            {
                if (double.IsNaN(left[i]))
                    continue;
                left[i] -= step / takes[i];
                if (batch is null ? left[i] > 1e-9 : !batch.Turned[i])
                {
                    left[i] = Math.Max(left[i], 1e-6);
                    continue;
                }
                left[i] = double.NaN;
                if (tie is not null)
                    tie.Turned[i] = true;
                state.Hold(i, !state.Held(i));
            }
        }
    }

    /// <summary>Whether each coil of a batch would have moved as it did with all the others moved already.</summary>
    private bool OrderIndifferent(Tie batch)
    {
        foreach (var i in batch.Movers)
        {
            var now = state.Held(i);
            state.Switches[state.Index.FirstMover + i] = now ? (byte)0 : (byte)1;
            var moves = Wants(i) == now;
            state.Switches[state.Index.FirstMover + i] = now ? (byte)1 : (byte)0;
            if (!moves)
                return false;
        }
        return true;
    }

    /// <summary>One number for what is held and how far each coil is on its way.</summary>
    private ulong Configuration(double[] left)
    {
        var hash = 14695981039346656037UL;
        for (var i = 0; i < left.Length; i++)
        {
            var x = (state.Held(i) ? 1UL : 0UL) + (double.IsNaN(left[i]) ? 0UL : 2UL + 2UL * (ulong)Math.Round(left[i] * 1000));
            hash = (hash ^ x) * 1099511628211UL;
        }
        return hash;
    }

    /// <summary>The machine came back to where it was: it goes round once more, and whatever moves on the way never rests.</summary>
    private void Chatter(double[] left, Dictionary<int, double> overloads)
    {
        var start = Configuration(left);
        var takes = new double[left.Length];
        for (var n = 0; n < MostSwitchings; n++)
        {
            var soonest = double.PositiveInfinity;
            for (var i = 0; i < left.Length; i++)
                if (!double.IsNaN(left[i]))
                    soonest = Math.Min(soonest, left[i] * (takes[i] = MovementMs(i)));
            for (var i = 0; i < left.Length; i++)
            {
                if (double.IsNaN(left[i]))
                    continue;
                left[i] -= soonest / takes[i];
                if (left[i] > 1e-9)
                    continue;
                left[i] = double.NaN;
                state.Hold(i, !state.Held(i));
                state.Chatters[i] = true;
            }
            SolveInstant();
            NoteOverloads(ref overloads!);
            for (var i = 0; i < left.Length; i++)
            {
                if (Wants(i) == state.Held(i))
                    left[i] = double.NaN;
                else if (double.IsNaN(left[i]))
                    left[i] = 1;
            }
            if (Configuration(left) == start)
                break;
        }
        _strokes = overloads;
    }

    /// <summary>
    /// Tries each of the tied coils first, the others a breath behind. Ends that differ are a race between them; the soonest by its volts,
    /// or the sheet's first, then wins here, and the result says so.
    /// </summary>
    private void Race(Tie tie)
    {
        var ends = tie
            .Movers.Select(first =>
            {
                var left = (double[])tie.Left.Clone();
                foreach (var i in tie.Movers)
                    left[i] = 1e-6;
                left[first] = double.NaN;
                var run = new Settling(machine, network, faults, tie.Before.Clone(), leads, vary);
                run.State.Hold(first, !run.State.Held(first));
                run.SettleCoils(left, mayRace: false);
                return run;
            })
            .ToList();
        var differ = ends.Exists(e => !e.State.EndsAs(ends[0].State));
        state.Become(ends[0].State);
        if (differ)
            foreach (var i in tie.Movers)
                state.Races[i] = true;
        _strokes = ends[0]._strokes;
        SolveInstant();
    }

    /// <summary>
    /// Milliseconds a coil takes at the volts it has: the flux rises as 1 − exp(−t/τ), so a coil barely above its pull-in is slow. At rated
    /// volts it is the stated operate time.
    /// </summary>
    private double MovementMs(int mover)
    {
        var coil = state.Index.Movers[mover].Coil;
        if (state.Index.Movers[mover].Input >= 0 || state.Held(mover))
            return coil.ReleaseMs;
        var pullIn = coil.PullInVolts;
        var volts = MostVolts(mover);
        double Rise(double v) => v > pullIn * 1.0001 ? Math.Log(v / (v - pullIn)) : 10;
        return coil.OperateMs * Rise(volts) / Rise(coil.RatedVolts);
    }

    /// <summary>Fuses that carry too much at this moment of the switching.</summary>
    private void NoteOverloads(ref Dictionary<int, double>? overloads)
    {
        foreach (var (_, fuse, branch) in machine.Fuses)
            if (!state.Flag(branch) && AllAmps(branch) is var amps && amps > Defaults.FuseBlowFactor * fuse.RatedAmps)
            {
                overloads ??= [];
                overloads[branch] = Math.Max(overloads.GetValueOrDefault(branch), amps);
            }
    }

    /// <summary>Overloads met while chattering. The current comes again at every stroke, so the fuse goes in the end.</summary>
    private Dictionary<int, double> _strokes = [];

    private double MostVolts(int mover)
    {
        var most = 0.0;
        foreach (var b in state.Index.Movers[mover].Branches)
            most = Math.Max(most, AllVolts(b));
        return most;
    }

    private bool Wants(int mover)
    {
        var m = state.Index.Movers[mover];
        // An open winding has its volts and no pull.
        foreach (var change in faults.Changes)
            if (change.Branch == m.Branches[0] && change.Change == BranchChange.Open)
                return false;
        var volts = MostVolts(mover);
        if (m.Input >= 0)
            return volts > m.Coil.PullInVolts != m.Inverted;
        var scale = vary?.Threshold(m.Part) ?? 1;
        var held = state.Held(mover);
        var wants = held ? volts > m.Coil.DropOutVolts * scale : volts >= m.Coil.PullInVolts * scale;
        // A timer stays as it is until its time is up.
        return wants != held && state.Elapsed < (wants ? m.Coil.OnDelay : m.Coil.OffDelay) ? held : wants;
    }

    /// <summary>Direct volts across a watched branch.</summary>
    private double Across(int branch) => _watched[network.Layout.WatchedPlace[branch]];

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
    private double AllVolts(int branch) => Effective(Across(branch), _ac?.Across(network.A(branch), network.B(branch)) ?? 0);

    /// <summary>Effective amps through a branch.</summary>
    private double AllAmps(int branch) => Effective(Amps(branch), _ac?.Amps(branch) ?? 0);

    private static double Effective(double direct, Complex alternating) =>
        alternating == Complex.Zero ? Math.Abs(direct) : Math.Sqrt(direct * direct + alternating.Magnitude * alternating.Magnitude);

    private void SolveInstant()
    {
        for (var round = 0; round < MostInstantRounds; round++)
        {
            Solve();
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
            var next = mode switch
            {
                SourceMode.Giving when gives > source.LimitAmps * (1 + 1e-9) => SourceMode.Limited,
                SourceMode.Giving when gives < -1e-7 && source.TakingOhms != source.Ohms => SourceMode.Taking,
                SourceMode.Taking when across < emf - 1e-9 => SourceMode.Giving,
                SourceMode.Limited when across > emf - source.LimitAmps * source.Ohms => SourceMode.Giving,
                _ => mode,
            };
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
            // Three straight lines: blocked, its foot from nothing to the forward volts, and above. Each line ends where the next begins.
            var next = mode switch
            {
                SourceMode.Conducting => Amps(branch) < diode.Volts / Defaults.DiodeFootOhms - 1e-12 ? SourceMode.Foot : mode,
                SourceMode.Foot => Across(branch) is var v && v > diode.Volts + 1e-9 ? SourceMode.Conducting
                : v < -1e-9 ? SourceMode.Giving
                : mode,
                _ => Across(branch) > 1e-9 ? SourceMode.Foot : mode,
            };
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

    private void Solve()
    {
        _base = machine.FactorsEachTime
            ? new BaseState(machine, network, state, leads, vary)
            : network.BaseState(state, vary, leads, machine.IsAlternating || vary is not null ? null : _near, _endsAlone, () =>
                _base?.Next(state, leads) ?? new BaseState(machine, network, state, leads, vary)
            );
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
        if (machine.IsAlternating)
            _ac = new AlternatingSolution(machine, network, faults, _base, _changed, _modifications, _joins).Solve();
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
        var nextAmps = source >= 0 ? _base.Drive(source, next, VoltsBehind(source), state) : next * emf;
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
