using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>
/// Brings one network to rest. Parts without delay are made consistent first (<see cref="InstantSolution"/>); then coils move in the order
/// of their operate times, soonest first; then a fuse whose settled current is too much opens, the worst first, and all is settled again.
/// A configuration met twice while coils still want to move is chatter; coils of which either may be first, with different ends, are a
/// race.
/// </summary>
internal sealed class Settling(
    Machine machine,
    Network network,
    FaultSet faults,
    MachineState state,
    List<(int P, int Q, double Ohms)> leads,
    ToleranceDraw? vary
)
{
    private const int MostSwitchings = 400;

    /// <summary>Nodes that make solving an instant worth one step more of a budget.</summary>
    private const int NodesOfStep = 40;

    /// <summary>
    /// Nodes that make one more step of a switching state that nobody has met before: it is factored, and held. What switches without end
    /// makes nothing else.
    /// </summary>
    private const int NodesOfState = 8;

    /// <summary>Chatter is looked for from this many movements on; most machines rest before.</summary>
    private const int FewSwitchings = 6;

    /// <summary>More coils than this in one instant are not tried one by one.</summary>
    private const int MostRacers = 6;

    /// <summary>
    /// Past so many times its rating a fuse or breaker opens within some milliseconds (IEC 60898-1: type C at ten times at most; IEC 60269
    /// for gG is near it), before what takes a tenth of a second has moved.
    /// </summary>
    private const double AtOnceTimes = 10,
        AtOnceMs = 100;

    /// <summary>Operate times of like relays differ by more than this share; common practice, no source.</summary>
    private const double SameTime = 0.1;

    private readonly bool _opensAny = faults.Changes.Exists(c => c.Change == BranchChange.Open);
    private readonly WorkBudget? _budget = WorkBudget.Current;
    private readonly InstantSolution _instant = new(machine, network, faults, state, leads, vary);

    public MachineState State => state;

    public void Move(ControlMove move)
    {
        var control = state.Index.Control(move.Control);
        if (control >= 0)
            state.Move(control, machine.Circuit.Controls[control].IndexOf(move.Position));
    }

    /// <summary>The machine as it rests, and where it chatters also the other end of its round; nothing is settled after it.</summary>
    public OperatingPoint Result()
    {
        var rests = _instant.Result();
        if (_otherEnd is null || rests.Chattering.Count == 0)
            return rests;
        var other = new InstantSolution(machine, network, faults, _otherEnd, leads, vary);
        other.Solve();
        rests.OtherEnd = other.Result();
        return rests;
    }

    /// <summary>Where the machine goes round and never rests: the state on the way that differs most from the one kept.</summary>
    private MachineState? _otherEnd;

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
            if (state.Flag(branch) || faults.Holds(branch))
                continue;
            var i = Math.Max(_instant.AllAmps(branch), _strokes.GetValueOrDefault(branch));
            if (i / fuse.RatedAmps > ratio)
                (worst, ratio, amps, part) = (branch, i / fuse.RatedAmps, i, p);
        }
        if (worst < 0)
            return TripResidual();
        // The poles of a breaker are one mechanism (IEC 60898-1): one that carries too much opens all.
        foreach (var (p, _, branch) in machine.Fuses)
            if (p == part)
                state.SetFlag(branch, true);
        state.BlewInStrokes |= _strokes.Count > 0;
        state.BlownAt.Add((part, amps));
        _strokes = [];
        Array.Clear(state.Chatters);
        return true;
    }

    /// <summary>Opens the first device through which more goes out than comes home.</summary>
    private bool TripResidual()
    {
        foreach (var (part, rule, branches) in machine.Residuals)
        {
            if (state.Flag(branches[0]) || _instant.Sum(branches) is var amps && amps <= rule.Amps)
                continue;
            foreach (var branch in branches)
                state.SetFlag(branch, true);
            state.BlownAt.Add((part, amps));
            return true;
        }
        return false;
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
            var met = _instant.NewStates;
            _instant.Solve();
            _budget?.Spend(1 + network.Nodes.Length / NodesOfStep + (_instant.NewStates - met) * network.Nodes.Length / NodesOfState);
            NoteOverloads(ref overloads);
            if (batch is not null && !OrderIndifferent(batch))
            {
                state.Return(batch.Before);
                batch.Left.CopyTo(left, 0);
                (batch, oneByOne) = (null, true);
                _instant.Solve();
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
            if (double.IsPositiveInfinity(soonest) || soonest > AtOnceMs && OpensAtOnce())
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
        var (kept, most) = (state.Clone(), 0);
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
            _instant.Solve();
            NoteOverloads(ref overloads!);
            if (Enumerable.Range(0, left.Length).Count(i => state.Held(i) != kept.Held(i)) is var apart && apart > most)
                (_otherEnd, most) = (state.Clone(), apart);
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
        _instant.Solve();
    }

    /// <summary>
    /// Milliseconds a coil takes at the volts it has: one barely above its pull-in is slow. At rated volts it is the stated operate time.
    /// </summary>
    private double MovementMs(int mover)
    {
        var m = state.Index.Movers[mover];
        if (m.Input >= 0 || state.Held(mover))
            return m.Coil.ReleaseMs;
        return m.Coil.OperateMs * m.Rise(DecidingVolts(mover)) / m.RatedRise;
    }

    private bool OpensAtOnce()
    {
        foreach (var (_, fuse, branch) in machine.Fuses)
            if (!state.Flag(branch) && !faults.Holds(branch) && _instant.AllAmps(branch) > AtOnceTimes * fuse.RatedAmps)
                return true;
        return false;
    }

    /// <summary>Fuses that carry too much at this moment of the switching.</summary>
    private void NoteOverloads(ref Dictionary<int, double>? overloads)
    {
        foreach (var (_, fuse, branch) in machine.Fuses)
            if (
                !state.Flag(branch)
                && !faults.Holds(branch)
                && _instant.AllAmps(branch) is var amps
                && amps > Defaults.FuseBlowFactor * fuse.RatedAmps
            )
            {
                overloads ??= [];
                overloads[branch] = Math.Max(overloads.GetValueOrDefault(branch), amps);
            }
    }

    /// <summary>Overloads met while chattering. The current comes again at every stroke, so the fuse goes in the end.</summary>
    private Dictionary<int, double> _strokes = [];

    /// <summary>Volts that decide: the highest across its windings, or the lowest where all have to be fed.</summary>
    private double DecidingVolts(int mover)
    {
        var m = state.Index.Movers[mover];
        if (m.Pull >= 0 && !state.Held(mover))
            return _instant.AllVolts(m.Pull);
        if (m.Coil.InOrder && !_instant.TurnRight(m.Branches[0], m.Branches[1]))
            return 0;
        var volts = _instant.AllVolts(m.Branches[0]);
        for (var i = 1; i < m.Branches.Length; i++)
            volts = m.Coil.Deciding(volts, _instant.AllVolts(m.Branches[i]));
        return volts;
    }

    private bool Wants(int mover)
    {
        var m = state.Index.Movers[mover];
        var held = state.Held(mover);
        var scale = vary?.Threshold(m.Part) ?? 1;
        if (m.Reset >= 0 && !faults.IsOpen(m.Reset) && _instant.AllVolts(m.Reset) >= m.Coil.PullInVolts * scale)
            return false;
        if (_opensAny && m.IsOpen(faults, held))
            return m.Reset >= 0 && held;
        if (m.Turns && faults.IsStuck(m.Part))
            return false;
        if (m.Coil.IsTrip && faults.HoldsTrip(m.Part))
            return held;
        var volts = DecidingVolts(mover);
        if (m.Input >= 0)
            return volts > m.Coil.PullInVolts != m.Inverted;
        var wants = held ? volts > m.Coil.DropOutVolts * scale : volts >= m.Coil.PullInVolts * scale;
        // A timer stays as it is until its time is up.
        return wants != held && state.Elapsed < (wants ? m.Coil.OnDelay : m.Coil.OffDelay) ? held : wants;
    }
}
