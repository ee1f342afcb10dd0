using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// One machine of direct current from instant to instant. Every step solves G·v = i with what the branches store put in as conductances and
/// currents: the trapezoidal rule, and the backward one for the steps after something switched (L. Chua, P. Lin, Computer-Aided Analysis of
/// Electronic Circuits: companion models).
/// </summary>
/// <remarks>Fuses and breakers stay as they are: what opens them takes longer, or opens them before the first step.</remarks>
internal sealed class Transient
{
    private const int MostRounds = 40;

    /// <summary>Steps by the backward rule after something switched: the trapezoidal one would ring.</summary>
    private const int StepsAfterSwitching = 2;

    /// <summary>
    /// A contact that closes bounces: open again after so long and for so long, s, twice; small relays a millisecond or two in all (common
    /// practice, no source).
    /// </summary>
    private static readonly (double After, double For)[] s_bounces = [(0.3e-3, 0.4e-3), (0.3e-3, 0.2e-3)];

    /// <summary>Rounds a second of what is pulsed, and of the ripple of an alternator at a fast idle; common practice, no source.</summary>
    private const double PulsesPerSecond = 100,
        RipplesPerSecond = 1200;

    /// <summary>
    /// What is left of an alternator's volts between two crests: six pulses of a three-phase bridge go down to cos 30°; the battery holds
    /// most
    /// of that off (common practice, no source).
    /// </summary>
    private const double RippleDepth = 0.03;

    /// <summary>A capacitor that has stood loses what leaks to it through open contacts; estimate.</summary>
    private const double RestedOhms = 1e6;

    private readonly Machine _machine;
    private readonly Circuit _circuit;
    private readonly Network _network;
    private readonly FaultSet _faults;
    private readonly MachineState _state;
    private readonly IReadOnlyList<(int P, int Q, double Ohms)> _leads;
    private readonly double[] _g;
    private readonly double[] _emf;
    private readonly double[] _rest;
    private readonly Stored[] _stored;
    private readonly Stored?[] _storedAt;
    private readonly Pending?[] _pending;
    private readonly List<Bounce> _bouncing = [];
    private double[] _volts;
    private INodalSolver<double>? _solver;
    private double _factoredFor;
    private bool _factoredBackward;
    private int _backward = StepsAfterSwitching;

    /// <summary>A branch that stores, with what it holds.</summary>
    private sealed class Stored(int branch, Storage kind, double soundOhms)
    {
        public int Branch { get; } = branch;
        public Storage Kind { get; } = kind;

        /// <summary>Ohms of the sound branch.</summary>
        public double SoundOhms { get; } = soundOhms;

        /// <summary>Amps of a coil's field; volts that a speed makes, or of a charge; heat of a filament, 0 to 1.</summary>
        public double Holds;

        /// <summary>Volts and amps of the branch at the last instant.</summary>
        public double LastVolts,
            LastAmps;
    }

    private sealed record Pending(bool On, double At);

    private sealed record Bounce(int Part, double From, double To);

    /// <param name="settled">The machine before anything moves, which this one changes.</param>
    public Transient(
        Machine machine,
        Network network,
        FaultSet faults,
        MachineState settled,
        IReadOnlyList<(int P, int Q, double Ohms)> leads
    )
    {
        (_machine, _circuit, _network, _faults, _state, _leads) = (machine, machine.Circuit, network, faults, settled, leads);
        var n = network.Branches.Count;
        (_g, _emf, _rest, _storedAt) = (new double[n], new double[n], new double[n], new Stored?[n]);
        _volts = new double[network.Size];
        _pending = new Pending?[settled.Index.Movers.Length];
        _stored =
        [
            .. Enumerable
                .Range(0, n)
                .Where(b => network.Branches[b].Owner == BranchOwner.Link && !network.Removed[b])
                .Select(b => (Branch: b, Kind: Storage.Of(Owner(b), network.Branches[b].Index)))
                .Where(x => x.Kind is not null)
                .Select(x => new Stored(x.Branch, x.Kind!, Owner(x.Branch).Model.Links[network.Branches[x.Branch].Index].Ohms)),
        ];
        Refresh();
        Solve(null);
        foreach (var s in _stored)
        {
            _storedAt[s.Branch] = s;
            (s.LastVolts, s.LastAmps) = (Across(s.Branch), _rest[s.Branch] * Across(s.Branch));
            s.Holds = s.Kind switch
            {
                Storage.Field => s.LastAmps,
                Storage.Speed k => (1 - k.CopperShare) * s.LastVolts,
                Storage.Heat => HeatAt(s),
                _ => s.LastVolts,
            };
        }
    }

    /// <summary>Seconds since the start.</summary>
    public double Now { get; private set; }

    /// <summary>False leaves out that contacts bounce.</summary>
    public bool Bounces { get; init; } = true;

    /// <summary>Volts of a node against another, -1 for the reference.</summary>
    public double Volts(int a, int b) => Potentials.Across(_volts, a, b);

    /// <summary>Amps through a branch from its first end to its second.</summary>
    public double Amps(int branch) => _storedAt[branch] is { } s ? s.LastAmps : _g[branch] * (Across(branch) - _emf[branch]);

    /// <summary>A control is moved: from the next step on.</summary>
    public void Move(ControlMove move)
    {
        ArgumentNullException.ThrowIfNull(move);
        var control = _state.Index.Control(move.Control);
        if (control < 0)
            return;
        _state.Move(control, _circuit.Controls[control].IndexOf(move.Position));
        Switched();
    }

    /// <summary>Goes on by so many seconds.</summary>
    public void Step(double seconds)
    {
        Now += seconds;
        if (Complete() || _bouncing.Count > 0 || Pulses(seconds))
            Switched();
        if (_backward > 0)
            Refresh();
        Solve(seconds);
        Keep(seconds);
        if (_backward > 0)
            _backward--;
        Decide();
    }

    private void Switched() => (_solver, _backward) = (null, StepsAfterSwitching);

    private Part Owner(int branch) => _circuit.Parts[_network.Branches[branch].Part];

    private double Across(int branch) => Potentials.Across(_volts, _network.A(branch), _network.B(branch));

    /// <summary>Conductances and volts behind them in the switching state as it is now.</summary>
    private void Refresh()
    {
        for (var i = 0; i < _rest.Length; i++)
        {
            if (_network.Removed[i])
                continue;
            _rest[i] = Conductances.Siemens(_circuit, _network.Branches[i], i, _state, _leads);
            if (_network.Branches[i].Owner == BranchOwner.Link && Link(i) is Link.Contact c)
                _rest[i] = ContactSiemens(i, c, _rest[i]);
        }
        foreach (var change in _faults.Changes)
            if (!_network.Removed[change.Branch])
                _rest[change.Branch] = Conductances.Under(_circuit, _network.Branches[change.Branch], change, _rest[change.Branch]);
        _rest.CopyTo(_g, 0);
        Array.Clear(_emf);
        foreach (var (_, diode, branch) in _machine.Diodes)
            if (_state.Mode(branch) == SourceMode.Conducting)
                _emf[branch] = diode.Volts;
        foreach (var (part, _, high, low) in _machine.Buses)
            if (_state.PulledIn(part) && !_state.Asleep(part))
                (_emf[high], _emf[low]) = (Defaults.BusRestVolts, Defaults.BusRestVolts);
    }

    private Link Link(int branch) => Owner(branch).Model.Links[_network.Branches[branch].Index];

    private double ContactSiemens(int branch, Link.Contact contact, double now)
    {
        var part = _network.Branches[branch].Part;
        if (contact.PulsedShare is { } share)
            return Conductances.Closed(contact.Rule, part, _state) && Now * PulsesPerSecond % 1 < share
                ? 1 / contact.ClosedOhms
                : 1 / Defaults.OpenOhms;
        return contact.Rule is ClosedRule.ByCoil && _bouncing.Exists(b => b.Part == part && Now >= b.From && Now < b.To)
            ? 1 / Defaults.OpenOhms
            : now;
    }

    /// <summary>Whether something that is pulsed has turned in the last step.</summary>
    private bool Pulses(double seconds) =>
        _machine.Pulsed.Any(p =>
        {
            var (now, before) = (Now * PulsesPerSecond % 1, (Now - seconds) * PulsesPerSecond % 1);
            return now < before || now < p.Contact.PulsedShare != before < p.Contact.PulsedShare;
        });

    /// <summary>One instant; sources and diodes are made consistent with the volts they get.</summary>
    /// <param name="seconds">Length of the step; null for the machine at rest.</param>
    private void Solve(double? seconds)
    {
        for (var round = 0; round < MostRounds; round++)
        {
            var amps = new double[_network.Size];
            Store(seconds, amps);
            foreach (var (_, diode, branch) in _machine.Diodes)
                Inject(amps, branch, _g[branch] * _emf[branch]);
            foreach (var (_, _, high, low) in _machine.Buses)
            {
                Inject(amps, high, _g[high] * _emf[high]);
                Inject(amps, low, _g[low] * _emf[low]);
            }
            for (var s = 0; s < _machine.Sources.Length; s++)
                Inject(amps, _machine.Sources[s].Branch, Driven(s));
            if (_solver is null || _factoredFor != (seconds ?? 0) || _factoredBackward != _backward > 0)
                Factor(seconds ?? 0);
            _solver!.Solve(amps);
            _volts = amps;
            if (!Turned(round > MostRounds / 3))
                return;
            (_solver, _backward) = (null, seconds is null ? _backward : Math.Max(_backward, 1));
            Refresh();
        }
    }

    private void Factor(double seconds)
    {
        (_factoredFor, _factoredBackward) = (seconds, _backward > 0);
        INodalSolver<double> solver = _network.Factor(_g);
        foreach (var (p, q, ohms) in _faults.Joins)
            if (_network.Nodes[p] != _network.Nodes[q])
                solver = UpdatedSolver<double>.TryMake(solver, _network.Size, _network.Nodes[p], _network.Nodes[q], 1 / ohms)!;
        _solver = solver;
    }

    private void Inject(double[] amps, int branch, double a) => Potentials.Inject(amps, _network.A(branch), _network.B(branch), a);

    /// <summary>Amps that a source puts in at its first end; its volts behind its ohms are kept for its current.</summary>
    private double Driven(int source)
    {
        var (part, link, branch) = _machine.Sources[source];
        if (_network.Removed[branch] || !_state.Holds(link.When))
            return 0;
        if (_state.Mode(branch) == SourceMode.Limited)
            return _faults.LimitOf(branch) ?? link.LimitAmps;
        var volts = _network.Supported.TryGetValue(branch, out var held) ? held : link.Emf;
        foreach (var change in _faults.Changes)
            if (change.Branch == branch)
                volts =
                    change.Change == BranchChange.Emf ? change.Value
                    : change.Change == BranchChange.Open ? 0
                    : volts;
        if (_circuit.Parts[part].Kind is Charger)
        {
            // Six crests a round: between cos 30° and 1.
            var phase = (Now * RipplesPerSecond % 1 - 0.5) * Math.PI / 3;
            volts *= 1 - RippleDepth * (1 - Math.Cos(phase)) / (1 - Math.Cos(Math.PI / 6));
        }
        _emf[branch] = volts;
        return _g[branch] * volts;
    }

    /// <summary>Modes of sources and diodes by the volts just found; true where one has changed.</summary>
    private bool Turned(bool oneAtATime)
    {
        var changed = false;
        foreach (var (_, link, branch) in _machine.Sources)
        {
            if (_network.Removed[branch] || !_state.Holds(link.When))
                continue;
            var (mode, limit) = (_state.Mode(branch), _faults.LimitOf(branch) ?? link.LimitAmps);
            var gives = _g[branch] * (_emf[branch] - Across(branch));
            var next = Modes.Next(link, mode, gives, Across(branch), _emf[branch], limit);
            if (next == mode)
                continue;
            _state.SetMode(branch, next);
            changed = true;
        }
        foreach (var (_, diode, branch) in _machine.Diodes)
        {
            if (_faults.Changes.Exists(c => c.Branch == branch && c.Change is BranchChange.Open or BranchChange.Closed))
                continue;
            var (mode, across) = (_state.Mode(branch), Across(branch));
            var next = Modes.Next(diode, mode, _g[branch] * (across - _emf[branch]), across);
            if (next == mode)
                continue;
            _state.SetMode(branch, next);
            changed = true;
            if (oneAtATime)
                return true;
        }
        return changed;
    }

    /// <summary>Puts what is stored into conductances and currents.</summary>
    private void Store(double? seconds, double[] amps)
    {
        foreach (var s in _stored)
        {
            var rest = _rest[s.Branch];
            if (seconds is not { } h || rest < 2 / Defaults.OpenOhms && s.Kind is not Storage.Charge)
            {
                _g[s.Branch] = s.Kind is Storage.Charge && seconds is null ? 1 / RestedOhms : rest;
                continue;
            }
            var (siemens, more) = Companion(s, 1 / rest, h, _backward > 0);
            _g[s.Branch] = siemens;
            Inject(amps, s.Branch, -more);
        }
    }

    /// <summary>Conductance of a branch over a step, S, and the amps that flow beside it from its first end to its second.</summary>
    private static (double Siemens, double Amps) Companion(Stored s, double ohms, double h, bool backward)
    {
        switch (s.Kind)
        {
            case Storage.Field field:
            {
                // Turns that are shorted take their square from the inductance.
                var (l, damping) = (Henries(field, s, ohms), 1 / (Storage.DampingTimes * s.SoundOhms));
                if (backward)
                {
                    var g = 1 / (ohms + l / h);
                    return (g + damping, g * l / h * s.Holds);
                }
                var t = 1 / (ohms + 2 * l / h);
                return (t + damping, t * (s.LastVolts + (2 * l / h - ohms) * s.Holds));
            }
            case Storage.Speed speed:
            {
                var (copper, back, farads) = Motor(speed, ohms);
                var k = (backward ? h : h / 2) / farads;
                var a = 1 / (1 + k / back);
                var before = backward ? s.Holds : (1 - k / back) * s.Holds + k * s.LastAmps;
                var g = 1 / (copper + a * k);
                return (g, -g * a * before);
            }
            case Storage.Charge charge:
            {
                var g = (backward ? 1 : 2) * charge.Farads / h;
                return (g, -g * s.LastVolts - (backward ? 0 : s.LastAmps));
            }
            case Storage.Heat heat:
                return (1 / (ohms * (heat.ColdShare + (1 - heat.ColdShare) * s.Holds)), 0);
            default:
                return (1 / ohms, 0);
        }
    }

    private static double Henries(Storage.Field field, Stored s, double ohms) =>
        field.Seconds * s.SoundOhms * Math.Pow(Math.Min(1, ohms / s.SoundOhms), 2);

    /// <summary>Copper, what stands for the speed, and its capacitance, which makes the time of its rise what it is stated as.</summary>
    private static (double Copper, double Back, double Farads) Motor(Storage.Speed speed, double ohms)
    {
        var (copper, back) = (speed.CopperShare * ohms, (1 - speed.CopperShare) * ohms);
        return (copper, back, speed.Seconds * (copper + back) / (copper * back));
    }

    /// <summary>What the branches hold after a step.</summary>
    private void Keep(double h)
    {
        foreach (var s in _stored)
        {
            var (rest, volts) = (_rest[s.Branch], Across(s.Branch));
            if (rest < 2 / Defaults.OpenOhms && s.Kind is not Storage.Charge)
            {
                (s.LastVolts, s.LastAmps, s.Holds) = (volts, rest * volts, s.Kind is Storage.Speed ? s.Holds : 0);
                continue;
            }
            var (siemens, more) = Companion(s, 1 / rest, h, _backward > 0);
            var amps = siemens * volts + more;
            s.Holds = s.Kind switch
            {
                Storage.Field => amps - volts / (Storage.DampingTimes * s.SoundOhms),
                Storage.Speed k => volts - amps * Motor(k, 1 / rest).Copper,
                Storage.Charge => volts,
                Storage.Heat k => s.Holds + (HeatAt(s, volts) - s.Holds) * (1 - Math.Exp(-h / k.Seconds)),
                _ => s.Holds,
            };
            (s.LastVolts, s.LastAmps) = (volts, amps);
            // A filament's ohms are others at every step.
            if (s.Kind is Storage.Heat)
                _solver = null;
        }
    }

    /// <summary>Heat of a filament that stays at its volts, as a share of that at rated volts; full from there on.</summary>
    private double HeatAt(Stored s, double? volts = null) =>
        Math.Min(1, Math.Abs(volts ?? s.LastVolts) / Math.Max(1e-9, Owner(s.Branch).Model.Load?.Rated * s.SoundOhms ?? 1));

    /// <summary>Movements that are due now.</summary>
    private bool Complete()
    {
        var any = false;
        for (var m = 0; m < _pending.Length; m++)
        {
            if (_pending[m] is not { } p || p.At > Now)
                continue;
            _pending[m] = null;
            _state.Hold(m, p.On);
            any = true;
            if (!p.On || !Bounces || _state.Index.Movers[m].Input >= 0 || !_circuit.Parts[_state.Index.Movers[m].Part].Model.Clicks)
                continue;
            var at = p.At;
            foreach (var (after, length) in s_bounces)
            {
                _bouncing.Add(new Bounce(_state.Index.Movers[m].Part, at + after, at + after + length));
                at += after + length;
            }
        }
        _bouncing.RemoveAll(b => b.To <= Now - 1e-3);
        return any;
    }

    /// <summary>What wants to move by now; what has changed its mind stays.</summary>
    private void Decide()
    {
        for (var m = 0; m < _pending.Length; m++)
        {
            var mover = _state.Index.Movers[m];
            var held = _state.Held(m);
            var level = Level(mover, held);
            var wants =
                mover.IsOpen(_faults, held) ? false
                : mover.Reset >= 0 && Math.Abs(Across(mover.Reset)) >= mover.Coil.PullInVolts ? false
                : mover.Input >= 0 ? level > mover.Coil.PullInVolts != mover.Inverted
                : held ? level > mover.Coil.DropOutVolts
                : level >= mover.Coil.PullInVolts;
            if (wants == held)
                _pending[m] = null;
            else
                _pending[m] ??= new Pending(wants, Now + Travel(mover, wants));
        }
    }

    private double Travel(Mover mover, bool on)
    {
        var delay = on ? mover.Coil.OnDelay : mover.Coil.OffDelay;
        return delay
            + (
                on && HasField(mover.Branches[0])
                    ? Storage.TravelSeconds(mover.Coil)
                    : (on ? mover.Coil.OperateMs : mover.Coil.ReleaseMs) / 1000
            );
    }

    private bool HasField(int branch) => _storedAt[branch]?.Kind is Storage.Field;

    /// <summary>Volts that decide; of a coil with a field, what its current makes across its ohms.</summary>
    private double Level(Mover mover, bool held)
    {
        double Of(int branch) =>
            _storedAt[branch] is { Kind: Storage.Field } s && _rest[branch] > 0
                ? Math.Abs(s.Holds) / _rest[branch]
                : Math.Abs(Across(branch));
        if (mover.Pull >= 0 && !held)
            return Of(mover.Pull);
        var level = Of(mover.Branches[0]);
        for (var i = 1; i < mover.Branches.Length; i++)
            level = mover.Coil.Deciding(level, Of(mover.Branches[i]));
        return level;
    }
}
