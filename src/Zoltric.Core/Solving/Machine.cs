using System.Numerics;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>
/// A circuit that can be run: put into a setup, with faults, it settles and gives an operating point. Safe for use by several
/// requests at a time. Networks are kept per set of interventions.
/// </summary>
public sealed class Machine
{
    private const int MostNetworks = 200;
    private const int MostInstantRounds = 60;
    private const int MostSwitchings = 400;

    /// <summary>More coils than this in one instant are not tried one by one.</summary>
    private const int MostRacers = 6;

    private readonly Layout _layout;
    private readonly FaultEffects _effects;
    private readonly Dictionary<string, Network> _networks = [];
    private readonly (int Part, Link.Source Source, int Branch)[] _sources;
    private readonly (int Primary, int Secondary, double Ratio)[] _couplings;
    private readonly bool _alternating;
    private readonly (int Part, Link.Diode Diode, int Branch)[] _diodes;
    private readonly (int Part, Link.Fuse Fuse, int Branch)[] _fuses;
    private readonly Mover[] _coils;
    private readonly (int Part, BusRule Bus, int High, int Low)[] _buses;
    private readonly (Link.Resistance Filament, int Branch)[] _filaments;

    /// <summary>What changes contacts in its own time: a coil, a module's supply (input -1) or one of its inputs.</summary>
    private sealed record Mover(int Part, int Input, CoilRule Coil, int[] Branches, bool Inverted);

    public Machine(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        Circuit = circuit;
        _layout = new Layout(circuit);
        _effects = new FaultEffects(_layout);
        var links = circuit.Parts.SelectMany((p, i) => p.Model.Links.Select((l, k) => (Part: i, Link: l, Branch: _layout.LinkBranches[i][k]))).ToList();
        _sources = links.Where(l => l.Link is Link.Source).Select(l => (l.Part, (Link.Source)l.Link, l.Branch)).ToArray();
        _alternating = Array.Exists(_sources, s => s.Source.Ac != Complex.Zero);
        _couplings = circuit.Parts.Select((p, i) => (Part: i, p.Model.Coupling)).Where(c => c.Coupling is not null)
            .Select(c => (_layout.LinkBranches[c.Part][c.Coupling!.Primary], _layout.LinkBranches[c.Part][c.Coupling.Secondary], c.Coupling.Ratio)).ToArray();
        _diodes = links.Where(l => l.Link is Link.Diode).Select(l => (l.Part, (Link.Diode)l.Link, l.Branch)).ToArray();
        _fuses = links.Where(l => l.Link is Link.Fuse).Select(l => (l.Part, (Link.Fuse)l.Link, l.Branch)).ToArray();
        _buses = circuit.Parts.Select((p, i) => (Part: i, p.Model.Bus)).Where(b => b.Bus is not null)
            .Select(b => (b.Part, b.Bus!, _layout.LinkBranches[b.Part][b.Bus!.High], _layout.LinkBranches[b.Part][b.Bus.Low])).ToArray();
        _filaments = links.Where(l => l.Link is Link.Resistance { ColdOhms: not null }).Select(l => ((Link.Resistance)l.Link, l.Branch)).ToArray();
        _coils = circuit.Parts.Select((p, i) => (Part: i, p.Model.Coil)).Where(c => c.Coil is not null)
            .Select(c => new Mover(c.Part, -1, c.Coil!, [.. c.Coil!.Links.Select(l => _layout.LinkBranches[c.Part][l])], false))
            .Concat(circuit.Parts.SelectMany((p, i) => p.Model.Inputs.Select((input, k) => new Mover(i, k,
                new CoilRule(input.Link, input.Volts, input.Volts, input.Volts, 1, 1), [_layout.LinkBranches[i][input.Link]], !input.Above)))).ToArray();
    }

    public Circuit Circuit { get; }

    /// <summary>Throws <see cref="FaultException"/> when the circuit cannot take the fault as worded.</summary>
    public void Check(IEnumerable<Fault> faults) => _effects.Of(faults);

    /// <summary>The lug branch's wire that parts when a stud is said to be open, or null.</summary>
    public string? SourceSideWire(string stud) =>
        _effects.SourceSideLug(stud) is { } branch ? _layout.Lugs(stud).First(l => l.Branch == branch).Wire : null;

    /// <summary>Runs the setup from rest: interventions first, then each step of controls, settling between.</summary>
    /// <param name="faults">What is wrong with this machine.</param>
    /// <param name="lead">A lamp or ammeter held between two points for the probe, Ω.</param>
    /// <param name="leadFromStart">True when the lead is there before the controls move (a series ammeter).</param>
    /// <param name="vary">Multiplies each branch's conductance and each emf: part-to-part spread of a particular machine.</param>
    public OperatingPoint Run(Setup setup, IReadOnlyList<Fault>? faults = null, (Terminal P, Terminal Q, double Ohms)? lead = null,
        bool leadFromStart = false, MachineSpread? vary = null)
    {
        ArgumentNullException.ThrowIfNull(setup);
        var set = faults is null or [] ? FaultSet.None : _effects.Of(Swapped(setup, Shaken(setup, faults)));
        var plain = Leads(setup);
        var withLead = lead is { } l ? [.. plain, (_layout.LoomPoint(l.P), _layout.LoomPoint(l.Q), l.Ohms)] : plain;
        var run = new Settling(this, NetworkFor(setup, leadFromStart ? withLead : plain, leadFromStart && lead is not null), set, MachineState.AtRest(Circuit),
            leadFromStart ? withLead : plain, vary);
        run.Settle();
        foreach (var step in setup.Steps)
        {
            foreach (var move in step) run.Move(move);
            run.Settle();
        }
        if (setup.AfterSeconds > 0) run.Wait(setup.AfterSeconds);
        if (lead is not null && !leadFromStart)
        {
            run = new Settling(this, NetworkFor(setup, withLead, true), set, run.State, withLead, vary);
            run.Settle();
        }
        return run.Result();
    }

    /// <summary>
    /// Coils and module inputs whose state in this setup depends on what went before: settled from rest and settled from everything pulled in,
    /// they end differently. Empty where the machine has one state, or where the second start is none the machine could survive.
    /// </summary>
    public IReadOnlyList<string> DependsOnHistory(Setup setup, IReadOnlyList<Fault>? faults = null)
    {
        ArgumentNullException.ThrowIfNull(setup);
        var set = faults is null or [] ? FaultSet.None : _effects.Of(Swapped(setup, Shaken(setup, faults)));
        var leads = Leads(setup);
        var network = NetworkFor(setup, leads, false);
        var from = Run(setup, faults);
        var start = MachineState.AtRest(Circuit);
        foreach (var c in _coils) if (c.Input < 0) start.PulledIn[c.Part] = true; else start.InputsOn.Add((c.Part, c.Input));
        var run = new Settling(this, network, set, start, leads, null);
        foreach (var move in setup.Steps.SelectMany(s => s)) run.Move(move);
        run.Settle();
        if (run.State.Blown.Count > from.State.Blown.Count || from.Chattering.Count > 0 || run.State.Chatters.Contains(true)) return [];
        return Circuit.Parts.Where((_, i) => run.State.PulledIn[i] != from.State.PulledIn[i]).Select(p => p.Tag).ToList();
    }

    /// <summary>An intermittent fault shows only while one of its places is moved.</summary>
    private IReadOnlyList<Fault> Shaken(Setup setup, IReadOnlyList<Fault> faults)
    {
        if (!faults.Any(f => f.Words == "intermittent")) return faults;
        return faults.Where(f => f.Words != "intermittent" || PlacesOf(f.Target).Any(p => setup.Moved.Contains(p, StringComparer.OrdinalIgnoreCase))).ToList();
    }

    private IEnumerable<string> PlacesOf(string target)
    {
        IEnumerable<string> tags = Circuit.FindWire(target) is { } w ? [w.From.Tag, w.To.Tag] : [target.Split(':', '/')[0]];
        return tags.Select(t => Circuit.FindPart(t)?.Place ?? t);
    }

    /// <summary>A swapped part takes its own faults to the other place.</summary>
    private static IReadOnlyList<Fault> Swapped(Setup setup, IReadOnlyList<Fault> faults)
    {
        foreach (var swap in setup.Interventions.OfType<Intervention.Swap>())
            faults = faults.Select(f => f.Target == swap.Tag ? f with { Target = swap.With } : f.Target == swap.With ? f with { Target = swap.Tag } : f).ToList();
        return faults;
    }

    private List<(int P, int Q, double Ohms)> Leads(Setup setup)
    {
        var leads = new List<(int, int, double)>();
        foreach (var i in setup.Interventions)
            switch (i)
            {
                case Intervention.Jumper j: leads.Add((_layout.LoomPoint(j.P), _layout.LoomPoint(j.Q), Defaults.JumperOhms)); break;
                case Intervention.Feed f:
                    leads.Add((_layout.LoomPoint(FaultEffects.SupplyPositive(Circuit)), _layout.LoomPoint(f.P), Defaults.FeedOhms));
                    break;
            }
        return leads;
    }

    private Network NetworkFor(Setup setup, List<(int P, int Q, double Ohms)> leads, bool probing)
    {
        var key = string.Join(", ", setup.Interventions) + (probing ? $" | {leads[^1].P} {leads[^1].Q}" : "");
        lock (_networks)
        {
            if (_networks.TryGetValue(key, out var known)) return known;
            if (_networks.Count >= MostNetworks) _networks.Clear();
            return _networks[key] = new Network(_layout, setup, leads.Select(l => (l.P, l.Q)).ToList());
        }
    }

    /// <summary>
    /// Brings one network to rest. Sources and other parts without delay are made consistent first; then coils move in the order of
    /// their operate times, soonest first; then a fuse whose settled current is too much opens, the worst first, and all is settled again.
    /// A configuration met twice while coils still want to move is chatter.
    /// </summary>
    private sealed class Settling(Machine machine, Network network, FaultSet faults, MachineState state,
        List<(int P, int Q, double Ohms)> leads, MachineSpread? vary)
    {
        private readonly double[] _g = new double[network.Branches.Count];
        private readonly double[] _emf = new double[network.Branches.Count];
        private double[] _volts = new double[network.Size];
        private INodalSolver<double> _solver = null!;
        private readonly List<(int A, int B, double G)> _joins =
            faults.Joins.Select(j => (network.Nodes[j.P], network.Nodes[j.Q], 1 / j.Ohms)).ToList();

        public MachineState State => state;

        public void Move(ControlMove move)
        {
            var controls = machine.Circuit.Controls;
            for (var i = 0; i < controls.Count; i++)
                if (controls[i].Name == move.Control) state.Positions[i] = controls[i].IndexOf(move.Position);
        }

        public OperatingPoint Result() => new(network, WithTraffic(), _g, _emf, _solver, faults, state, _ac);

        private double[] _injected = [];

        /// <summary>
        /// What a meter shows where modules drive a bus in turn: the mean over time. One solution for the bus at rest, one for each module while
        /// it drives, weighed by their shares of time.
        /// </summary>
        private double[] WithTraffic()
        {
            var awake = Array.FindAll(machine._buses, b => state.PulledIn[b.Part] && state.Waited < b.Bus.SleepAfter && b.Bus.Share > 0);
            if (awake.Length == 0) return _volts;
            // More traffic than the wires can carry leaves no time at rest.
            var crowd = Math.Max(1, awake.Sum(b => b.Bus.Share));
            var mean = (double[])_volts.Clone();
            foreach (var (_, bus, high, low) in awake)
            {
                var solver = UpdatedSolver<double>.TryMake(_solver, network.Size, network.A(high), network.B(high), 1 / Defaults.BusDriveOhms)!;
                solver = UpdatedSolver<double>.TryMake(solver, network.Size, network.A(low), network.B(low), 1 / Defaults.BusDriveOhms)!;
                var driven = (double[])_injected.Clone();
                Add(driven, network.A(high), Defaults.BusDriveVolts / Defaults.BusDriveOhms);
                Add(driven, network.B(high), -Defaults.BusDriveVolts / Defaults.BusDriveOhms);
                solver.Solve(driven);
                for (var i = 0; i < mean.Length; i++) mean[i] += bus.Share / crowd * (driven[i] - _volts[i]);
            }
            return mean;
        }

        private AlternatingPart? _ac;

        public void Settle()
        {
            do SettleCoils(); while (BlowWorstFuse());
        }

        /// <summary>Lets time pass: each timer in the order of its delay.</summary>
        public void Wait(double seconds)
        {
            foreach (var delay in machine._coils.SelectMany(c => new[] { c.Coil.OnDelay, c.Coil.OffDelay }).Where(d => d > 0 && d <= seconds).Distinct().Order())
            {
                state.Elapsed = delay;
                Settle();
            }
            state.Elapsed = 0;
            state.Waited = seconds;
            Settle();
        }

        private bool BlowWorstFuse()
        {
            var (worst, ratio, amps, part) = (-1, Defaults.FuseBlowFactor, 0.0, 0);
            foreach (var (p, fuse, branch) in machine._fuses)
            {
                if (state.Blown.Contains(branch)) continue;
                var i = Math.Max(AllAmps(branch), _strokes.GetValueOrDefault(branch));
                if (i / fuse.RatedAmps > ratio) (worst, ratio, amps, part) = (branch, i / fuse.RatedAmps, i, p);
            }
            if (worst < 0) return false;
            state.Blown.Add(worst);
            state.BlewInStrokes |= _strokes.Count > 0;
            state.BlownAt.Add((part, amps));
            _strokes = [];
            Array.Clear(state.Chatters);
            return true;
        }

        private void SettleCoils()
        {
            // What is left of each coil's movement: 1 when it starts to want to move, 0 when its contacts change; NaN while at rest.
            var left = new double[machine._coils.Length];
            Array.Fill(left, double.NaN);
            SettleCoils(left, mayRace: true);
        }

        /// <summary>Coils about to complete their movement as good as together, soonest first, and the machine just before.</summary>
        private sealed record Tie(MachineState Before, double[] Left, List<int> Movers)
        {
            public HashSet<int> Turned { get; } = [];
        }

        /// <summary>Operate times of like relays differ by more than this share; common practice, no source.</summary>
        private const double SameTime = 0.1;

        private Tie? TieOf(double[] left, double[] takes, double soonest)
        {
            List<int>? near = null;
            for (var i = 0; i < left.Length; i++)
                // Module inputs follow their volts; only what has mass races.
                if (!double.IsNaN(left[i]) && machine._coils[i].Input < 0 && left[i] * takes[i] - soonest <= SameTime * takes[i]) (near ??= []).Add(i);
            if (near is null || near.Count is < 2 or > MostRacers) return null;
            return new Tie(state.Clone(), (double[])left.Clone(), [.. near.OrderBy(i => left[i] * takes[i])]);
        }

        private void SettleCoils(double[] left, bool mayRace)
        {
            var coils = machine._coils;
            Tie? tie = null;
            var takes = new double[coils.Length];
            var seen = new Dictionary<string, int>();
            var moved = new List<int>();
            var overloads = new Dictionary<int, double>();
            for (var n = 0; n < MostSwitchings; n++)
            {
                SolveInstant();
                NoteOverloads(overloads);
                var soonest = double.PositiveInfinity;
                for (var i = 0; i < coils.Length; i++)
                {
                    if (Wants(coils[i]) == Held(coils[i])) { left[i] = double.NaN; continue; }
                    if (double.IsNaN(left[i])) left[i] = 1;
                    takes[i] = MovementMs(coils[i]);
                    soonest = Math.Min(soonest, left[i] * takes[i]);
                }
                if (tie is not null && tie.Movers.Exists(i => double.IsNaN(left[i]) ? !tie.Turned.Contains(i) : tie.Turned.Contains(i)))
                {
                    // One that moved would go back, or one that was as near has been stopped: then it matters which is first.
                    Race(tie);
                    return;
                }
                tie = null;
                if (double.IsPositiveInfinity(soonest)) return;
                var key = string.Join(';', coils.Select((c, i) => $"{(Held(c) ? 1 : 0)}{left[i]:0.###}"));
                if (seen.TryGetValue(key, out var since))
                {
                    foreach (var c in moved.Skip(since)) state.Chatters[c] = true;
                    _strokes = overloads;
                    return;
                }
                seen[key] = moved.Count;
                if (mayRace) tie = TieOf(left, takes, soonest);
                for (var i = 0; i < coils.Length; i++)
                {
                    if (double.IsNaN(left[i])) continue;
                    left[i] -= soonest / takes[i];
                    if (left[i] > 1e-9) continue;
                    left[i] = double.NaN;
                    tie?.Turned.Add(i);
                    Turn(coils[i]);
                    moved.Add(coils[i].Part);
                }
            }
        }

        /// <summary>
        /// Tries each of the tied coils first, the others a breath behind. Ends that differ are a race between them; the soonest by its volts, or
        /// the sheet's first, then wins here, and the result says so.
        /// </summary>
        private void Race(Tie tie)
        {
            var ends = tie.Movers.Select(first =>
            {
                var left = (double[])tie.Left.Clone();
                foreach (var i in tie.Movers) left[i] = 1e-6;
                left[first] = double.NaN;
                var run = new Settling(machine, network, faults, tie.Before.Clone(), leads, vary);
                run.Turn(machine._coils[first]);
                run.SettleCoils(left, mayRace: false);
                return run;
            }).ToList();
            var differ = ends.Exists(e => !e.State.EndsAs(ends[0].State));
            state.Become(ends[0].State);
            if (differ) foreach (var i in tie.Movers) state.Races[machine._coils[i].Part] = true;
            _strokes = ends[0]._strokes;
            SolveInstant();
        }

        /// <summary>
        /// Milliseconds a coil takes at the volts it has: the flux rises as 1 − exp(−t/τ), so a coil barely above its pull-in is slow. At rated
        /// volts it is the stated operate time.
        /// </summary>
        private double MovementMs(Mover c)
        {
            if (c.Input >= 0 || Held(c)) return c.Coil.ReleaseMs;
            var pullIn = c.Coil.PullInVolts;
            var volts = MostVolts(c);
            double Rise(double v) => v > pullIn * 1.0001 ? Math.Log(v / (v - pullIn)) : 10;
            return c.Coil.OperateMs * Rise(volts) / Rise(c.Coil.RatedVolts);
        }

        /// <summary>Fuses that carry too much at this moment of the switching.</summary>
        private void NoteOverloads(Dictionary<int, double> overloads)
        {
            foreach (var (_, fuse, branch) in machine._fuses)
                if (!state.Blown.Contains(branch) && AllAmps(branch) > Defaults.FuseBlowFactor * fuse.RatedAmps)
                    overloads[branch] = Math.Max(overloads.GetValueOrDefault(branch), AllAmps(branch));
        }

        /// <summary>Overloads met while chattering. The current comes again at every stroke, so the fuse goes in the end.</summary>
        private Dictionary<int, double> _strokes = [];

        private bool Held(Mover c) => c.Input < 0 ? state.PulledIn[c.Part] : state.InputsOn.Contains((c.Part, c.Input));

        private void Turn(Mover c)
        {
            if (c.Input >= 0)
            {
                if (!state.InputsOn.Remove((c.Part, c.Input))) state.InputsOn.Add((c.Part, c.Input));
                return;
            }
            state.PulledIn[c.Part] = !state.PulledIn[c.Part];
            if (state.PulledIn[c.Part]) state.HasClicked[c.Part] = true;
        }

        private double MostVolts(Mover c)
        {
            var most = 0.0;
            foreach (var b in c.Branches) most = Math.Max(most, AllVolts(b));
            return most;
        }

        private bool Wants(Mover c)
        {
            // An open winding has its volts and no pull.
            foreach (var change in faults.Changes) if (change.Branch == c.Branches[0] && change.Change == BranchChange.Open) return false;
            var volts = MostVolts(c);
            if (c.Input >= 0) return volts > c.Coil.PullInVolts != c.Inverted;
            var scale = vary?.Threshold(c.Part) ?? 1;
            var held = Held(c);
            var wants = held ? volts > c.Coil.DropOutVolts * scale : volts >= c.Coil.PullInVolts * scale;
            // A timer stays as it is until its time is up.
            return wants != held && state.Elapsed < (wants ? c.Coil.OnDelay : c.Coil.OffDelay) ? held : wants;
        }

        private double V(int node) => node < 0 ? 0 : _volts[node];

        private double Amps(int branch) => _g[branch] * (V(network.A(branch)) - V(network.B(branch)) - _emf[branch]);

        /// <summary>Effective volts across a branch, direct and alternating together.</summary>
        private double AllVolts(int branch) => Effective(V(network.A(branch)) - V(network.B(branch)), _ac?.Across(network.A(branch), network.B(branch)) ?? 0);

        /// <summary>Effective amps through a branch.</summary>
        private double AllAmps(int branch) => Effective(Amps(branch), _ac?.Amps(branch) ?? 0);

        private static double Effective(double direct, Complex alternating) =>
            alternating == Complex.Zero ? Math.Abs(direct) : Math.Sqrt(direct * direct + alternating.Magnitude * alternating.Magnitude);

        /// <summary>
        /// The alternating part: everything here is resistance, so phasors are two real solutions on the same conductances. Windings are coupled
        /// by their ratio; direct current only sees their copper.
        /// </summary>
        private AlternatingPart SolveAlternating()
        {
            var g = _g;
            var solver = _solver;
            var couplings = machine._couplings.Where(c => !network.Removed[c.Primary] && !network.Removed[c.Secondary])
                .Select(c => (c.Primary, c.Secondary, c.Ratio, G: 1 / (1 / _g[c.Primary] + c.Ratio * c.Ratio / _g[c.Secondary]))).ToList();
            if (couplings.Count > 0)
            {
                g = (double[])_g.Clone();
                foreach (var c in couplings) g[c.Primary] = g[c.Secondary] = Network.IslandLeak;
                solver = network.AlternatingSolver(g, _joins, couplings);
            }
            var emf = new Complex[g.Length];
            var (re, im) = (new double[network.Size], new double[network.Size]);
            foreach (var (_, source, branch) in machine._sources)
            {
                if (source.Ac == Complex.Zero || network.Removed[branch]) continue;
                emf[branch] = AcOf(source, branch);
                var amps = g[branch] * emf[branch];
                Add(re, network.A(branch), amps.Real);
                Add(re, network.B(branch), -amps.Real);
                Add(im, network.A(branch), amps.Imaginary);
                Add(im, network.B(branch), -amps.Imaginary);
            }
            solver.Solve(re);
            solver.Solve(im);
            return new AlternatingPart(network, re.Zip(im, (r, i) => new Complex(r, i)).ToArray(), g, emf, solver, couplings);
        }

        private Complex AcOf(Link.Source source, int branch)
        {
            var volts = Holds(source.When) ? source.Ac * (vary?.Emf ?? 1) : 0;
            foreach (var change in faults.Changes)
                if (change.Branch == branch) volts *= change.Change switch { BranchChange.Open => 0, BranchChange.Scale => change.Value, _ => 1 };
            return volts;
        }

        private void SolveInstant()
        {
            for (var round = 0; round < MostInstantRounds; round++)
            {
                Solve();
                if (!UpdateSources() & !UpdateFilaments() & !UpdateDiodes(oneAtATime: round > MostInstantRounds / 3)) return;
            }
        }

        private bool UpdateSources()
        {
            var changed = false;
            foreach (var (_, source, branch) in machine._sources)
            {
                if (network.Removed[branch] || !Holds(source.When)) continue;
                var mode = state.Sources.GetValueOrDefault(branch);
                var across = V(network.A(branch)) - V(network.B(branch));
                var emf = EmfOf(source, branch);
                var gives = -Amps(branch);
                var next = mode switch
                {
                    SourceMode.Giving when gives > source.LimitAmps * (1 + 1e-9) => SourceMode.Limited,
                    SourceMode.Giving when gives < -1e-7 && source.TakingOhms != source.Ohms => SourceMode.Taking,
                    SourceMode.Taking when across < emf - 1e-9 => SourceMode.Giving,
                    SourceMode.Limited when across > emf - source.LimitAmps * source.Ohms => SourceMode.Giving,
                    _ => mode,
                };
                if (next == mode) continue;
                state.Sources[branch] = next;
                changed = true;
            }
            return changed;
        }

        /// <summary>A filament that glows has more resistance and so keeps more of the volts: it does not hunt.</summary>
        private bool UpdateFilaments()
        {
            var changed = false;
            foreach (var (filament, branch) in machine._filaments)
                if (AllVolts(branch) >= filament.GlowVolts != state.Glows.Contains(branch))
                {
                    if (!state.Glows.Remove(branch)) state.Glows.Add(branch);
                    changed = true;
                }
            return changed;
        }

        private bool UpdateDiodes(bool oneAtATime)
        {
            var changed = false;
            foreach (var (_, diode, branch) in machine._diodes)
            {
                if (faults.Changes.Exists(c => c.Branch == branch && c.Change is BranchChange.Open or BranchChange.Closed)) continue;
                var mode = state.Sources.GetValueOrDefault(branch);
                var forward = V(network.A(branch)) - V(network.B(branch)) - diode.Volts;
                var next = mode == SourceMode.Conducting ? Amps(branch) < -1e-12 ? SourceMode.Giving : mode : forward > 1e-9 ? SourceMode.Conducting : mode;
                if (next == mode) continue;
                state.Sources[branch] = next;
                changed = true;
                // Diodes that push each other to and fro are turned singly.
                if (oneAtATime) return true;
            }
            return changed;
        }

        private void Solve()
        {
            var layout = network.Layout;
            Array.Clear(_emf);
            var inject = new double[network.Size];
            for (var i = 0; i < _g.Length; i++)
            {
                var spec = network.Branches[i];
                _g[i] = network.Removed[i] ? 0 : vary is null ? Healthy(spec, i) : Healthy(spec, i) * vary.Factor(spec.Owner, i);
            }
            var healthy = (double[])_g.Clone();
            var changed = new List<(int, double)>();
            foreach (var change in faults.Changes)
            {
                if (network.Removed[change.Branch]) continue;
                var g = Changed(network.Branches[change.Branch], change);
                if (g != _g[change.Branch]) { changed.Add((change.Branch, g)); _g[change.Branch] = g; }
            }
            _solver = network.Solver(healthy, changed, _joins);
            foreach (var (_, source, branch) in machine._sources)
            {
                var emf = EmfOf(source, branch);
                var amps = state.Sources.GetValueOrDefault(branch) == SourceMode.Limited ? source.LimitAmps : _g[branch] * emf;
                _emf[branch] = _g[branch] > 0 ? amps / _g[branch] : 0;
                Add(inject, network.A(branch), amps);
                Add(inject, network.B(branch), -amps);
            }
            foreach (var (_, diode, branch) in machine._diodes)
            {
                if (state.Sources.GetValueOrDefault(branch) != SourceMode.Conducting) continue;
                _emf[branch] = diode.Volts;
                Add(inject, network.A(branch), _g[branch] * diode.Volts);
                Add(inject, network.B(branch), -_g[branch] * diode.Volts);
            }
            foreach (var (part, bus, high, low) in machine._buses)
            {
                if (!state.PulledIn[part] || state.Waited >= bus.SleepAfter) continue;
                foreach (var branch in (ReadOnlySpan<int>)[high, low])
                {
                    _emf[branch] = Defaults.BusRestVolts;
                    Add(inject, network.A(branch), _g[branch] * Defaults.BusRestVolts);
                    Add(inject, network.B(branch), -_g[branch] * Defaults.BusRestVolts);
                }
            }
            if (machine._buses.Length > 0) _injected = (double[])inject.Clone();
            _solver.Solve(inject);
            _volts = inject;
            if (machine._alternating) _ac = SolveAlternating();
        }

        private double EmfOf(Link.Source source, int branch)
        {
            foreach (var change in faults.Changes)
            {
                if (change.Branch != branch) continue;
                if (change.Change == BranchChange.Emf) return change.Value;
                // A dead source drives nothing, not even through its insulation.
                if (change.Change == BranchChange.Open) return 0;
            }
            return Holds(source.When) ? source.Emf * (vary?.Emf ?? 1) : 0;
        }

        private static void Add(double[] b, int node, double amps)
        {
            if (node >= 0) b[node] += amps;
        }

        private double Healthy(BranchSpec spec, int branch)
        {
            switch (spec.Owner)
            {
                case BranchOwner.Wire: return 1 / machine.Circuit.Wires[spec.Index].Ohms;
                case BranchOwner.Lug: return 1 / Defaults.StudOhms;
                case BranchOwner.Lead: return 1 / leads[spec.Index].Ohms;
            }
            var link = machine.Circuit.Parts[spec.Part].Model.Links[spec.Index];
            return link switch
            {
                Link.Resistance { ColdOhms: { } cold } when !state.Glows.Contains(branch) => 1 / cold,
                Link.Resistance r => 1 / (state.Waited >= r.SleepAfter ? r.SleepOhms : r.Ohms),
                Link.Contact c => Closed(c.Rule, spec.Part) ? 1 / c.ClosedOhms : 1 / Defaults.OpenOhms,
                Link.Fuse f => !state.Blown.Contains(branch) && (f.Rule is null || Closed(f.Rule, spec.Part)) ? 1 / f.Ohms : 1 / Defaults.OpenOhms,
                Link.Diode d => state.Sources.GetValueOrDefault(branch) == SourceMode.Conducting ? 1 / d.Ohms : 1 / Defaults.OpenOhms,
                Link.Source { When: { } when } when !Holds(when) => 1 / Defaults.OpenOhms,
                Link.Source s => state.Sources.GetValueOrDefault(branch) switch
                {
                    SourceMode.Taking => 1 / s.TakingOhms,
                    SourceMode.Limited => 1 / Defaults.OpenOhms,
                    _ => 1 / s.Ohms,
                },
                _ => throw new InvalidOperationException($"no model for {link}"),
            };
        }

        private double Changed(BranchSpec spec, ChangedBranch change)
        {
            var now = _g[change.Branch];
            var conducts = now > 2 / Defaults.OpenOhms;
            return change.Change switch
            {
                BranchChange.Open => 1 / Defaults.OpenOhms,
                BranchChange.Series => conducts ? 1 / (1 / now + change.Value) : now,
                BranchChange.SetOhms => conducts ? 1 / change.Value : now,
                BranchChange.Closed => 1 / machine.Circuit.Parts[spec.Part].Model.Links[spec.Index].Ohms,
                _ => now,
            };
        }

        private bool Closed(ClosedRule rule, int part) => rule switch
        {
            ClosedRule.Always => true,
            ClosedRule.ByCoil c => state.PulledIn[part] == c.PulledIn,
            ClosedRule.ByControls c => c.Closed.Any(Holds) && !c.Open.Any(Holds),
            _ => true,
        };

        private bool Holds(Condition? condition) => condition is null || condition.Holds(Position, Active);

        private string Position(string control)
        {
            var controls = machine.Circuit.Controls;
            for (var i = 0; i < controls.Count; i++) if (controls[i].Name == control) return controls[i].Positions[state.Positions[i]];
            return "";
        }

        private bool Active(string name) => state.Active(machine.Circuit, name);
    }
}

/// <summary>How one particular machine strays from its sheet; used to try the diagnosis on machines it does not know.</summary>
/// <param name="Emf">Factor on every source's volts.</param>
/// <param name="ByBranch">Factor on the conductance of each branch of the layout; branches beyond its end keep theirs.</param>
/// <param name="Thresholds">Factor on pull-in and drop-out volts, by part.</param>
public sealed record MachineSpread(double Emf, IReadOnlyList<double> ByBranch, IReadOnlyList<double> Thresholds)
{
    internal double Factor(BranchOwner owner, int branch) => owner != BranchOwner.Lead && branch < ByBranch.Count ? ByBranch[branch] : 1;
    internal double Threshold(int part) => Thresholds[part];

    /// <summary>Draws a machine: every part within its tolerance, the sources within the given range.</summary>
    public static MachineSpread Draw(Machine machine, Random random, double lowestEmf, double highestEmf)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(random);
        var layout = new Layout(machine.Circuit);
        var factors = layout.Branches.Select(b =>
        {
            var spread = b.Owner switch
            {
                BranchOwner.Wire => Spread.Wire,
                BranchOwner.Link => machine.Circuit.Parts[b.Part].Model.Links[b.Index].LogSpread,
                _ => Spread.Contact,
            };
            return Math.Exp(spread * Math.Sqrt(3) * (2 * random.NextDouble() - 1));
        }).ToList();
        return new MachineSpread(lowestEmf + (highestEmf - lowestEmf) * random.NextDouble(), factors,
            machine.Circuit.Parts.Select(_ => 1 + 0.04 * (2 * random.NextDouble() - 1)).ToList());
    }
}
