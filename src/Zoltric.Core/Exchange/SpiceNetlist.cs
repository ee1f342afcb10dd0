using System.Numerics;
using System.Runtime.CompilerServices;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Exchange;

/// <summary>
/// Writes a circuit in one setup as a SPICE netlist that ngspice runs as it stands: <c>.op</c> for direct current, <c>.ac</c> at one
/// frequency for alternating. Relays are hysteretic switches driven by their coils and start as they were settled here; on alternating
/// current, which a small-signal run cannot switch, contacts stand as they were settled.
/// </summary>
public static class SpiceNetlist
{
    /// <summary>Element names by what they stand for: a wire's id, <c>TAG.link</c>, <c>STUD/wire</c>.</summary>
    /// <param name="faults">What is wrong with the machine that is written; its resistances then stand as the faults leave them.</param>
    /// <param name="plain">Writes every resistance as one element, so that it can be altered by its name, at the cost of digits beside
    /// gigaohms.</param>
    /// <exception cref="FaultException">When the circuit cannot take a fault as worded.</exception>
    public static string Write(
        Machine machine,
        Setup setup,
        IDictionary<string, string>? elements = null,
        IReadOnlyList<Fault>? faults = null,
        bool plain = false
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(setup);
        return new Writer(machine.Circuit, machine.Run(setup, faults), setup, elements ?? new Dictionary<string, string>())
        {
            Plain = plain,
        }.Write();
    }

    /// <summary>Node of the netlist that a terminal lies on.</summary>
    public static string NodeOf(Machine machine, Setup setup, Terminal terminal)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var op = machine.Run(setup);
        return op.Node(terminal) is >= 0 and var node ? NodesOf(op)[node] : "0";
    }

    /// <summary>Names in the netlist of a settled machine's nodes, by node number.</summary>
    public static IReadOnlyList<string> NodesOf(OperatingPoint op)
    {
        ArgumentNullException.ThrowIfNull(op);
        return new Writer(op.Circuit, op, Setup.Rest, new Dictionary<string, string>()).Names;
    }

    private sealed class Writer
    {
        private readonly Circuit _circuit;
        private readonly OperatingPoint _op;
        private readonly Network _network;
        private readonly Setup _setup;
        private readonly IDictionary<string, string> _elements;
        private readonly StringBuilder _s = new();
        private readonly HashSet<string> _used = new(StringComparer.OrdinalIgnoreCase);
        private readonly string[] _names;
        private readonly bool _ac;

        public Writer(Circuit circuit, OperatingPoint op, Setup setup, IDictionary<string, string> elements)
        {
            (_circuit, _op, _network, _setup, _elements) = (circuit, op, op.Network, setup, elements);
            _ac = circuit.Sources.Any(s => s.Model.Links.Any(l => l is Link.Source { Ac: var ac } && ac != Complex.Zero));
            _names = NodeNames();
        }

        public bool Plain { get; init; }

        private static string Clean(string text)
        {
            var s = new StringBuilder();
            foreach (var c in text)
                s.Append(
                    char.IsAsciiLetterOrDigit(c) ? c
                    : c == '+' ? 'p'
                    : '_'
                );
            return s.ToString();
        }

        /// <summary>Each node is called after the first of the sheet's terminals on it.</summary>
        private string[] NodeNames()
        {
            var names = new string[_network.Size];
            var used = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
            foreach (var part in _circuit.Parts)
            foreach (var t in part.Model.Terminals)
            {
                var terminal = new Terminal(part.Tag, t, part.Kind is Circuits.Kinds.PinRow);
                foreach (var node in (ReadOnlySpan<int>)[_op.Node(terminal), _op.Node(terminal, partSide: true)])
                    if (node >= 0 && names[node] is null)
                        names[node] = Own(used, Clean(terminal.ToString()));
            }
            for (var i = 0; i < names.Length; i++)
                names[i] ??= Own(used, $"inner{i}");
            return names;
        }

        private static string Own(HashSet<string> used, string name)
        {
            var own = name;
            for (var i = 2; !used.Add(own); i++)
                own = $"{name}_{i}";
            return own;
        }

        public IReadOnlyList<string> Names => _names;

        private string Name(int node) => node < 0 ? "0" : _names[node];

        /// <summary>Numbers are written in the one culture there is (InvariantGlobalization).</summary>
        private void Line(ref DefaultInterpolatedStringHandler text) => _s.Append(text.ToStringAndClear()).Append('\n');

        public string Write()
        {
            Line($"* {_circuit.Title.ReplaceLineEndings(" ")}");
            Line($"* setup: {(_setup.IsRest ? "at rest" : _setup.ToString())}; node 0 is {_circuit.ReferencePoint}");
            foreach (var (tag, amps) in _op.Blown)
                Line($"* {tag} is open: it met {amps:0.##} A");
            if (_circuit.Parts.Any(p => p.Model.Bus is not null))
                Line($"* bus wires are shown at rest, without traffic");
            for (var i = 0; i < _network.Branches.Count; i++)
                if (!_network.Removed[i])
                    Branch(i);
            foreach (var (a, b, g) in _op.Joins)
                Resistor("fault", "R_fault", Name(a), Name(b), 1 / g);
            if (_ac)
                Windings();
            else
                foreach (var (part, m) in _circuit.Parts.Select((p, i) => (p, _op.State.Index.MoverOfPart[i])).Where(x => x.Item2 >= 0))
                    Held(part, m);
            // Islands that nothing ties to node 0 still need a potential. A tie that is the only one carries nothing, whatever its ohms.
            var leak = _op.Joins.Any(j => !_network.SameIsland(j.A, j.B)) ? 1 / Network.IslandLeak : 1e6;
            for (var n = 0; n < _network.Size; n++)
                if (_network.LeakOf(n) > 0)
                    Line($"Rleak{n} {Name(n)} 0 {leak:R}");
            Line($".options gmin=1e-15 reltol=1e-6 abstol=1e-12 vntol=1e-9 itl1=500");
            if (_ac)
                Line($".ac lin 1 {_circuit.Hertz:R} {_circuit.Hertz:R}");
            else
                Line($".op");
            Line($".end");
            return _s.ToString();
        }

        private void Branch(int i)
        {
            var spec = _network.Branches[i];
            var (a, b) = (Name(_network.A(i)), Name(_network.B(i)));
            switch (spec.Owner)
            {
                case BranchOwner.Wire:
                {
                    var w = _circuit.Wires[spec.Index];
                    Resistor(w.Id, $"R_{Clean(w.Id)}", a, b, 1 / _op.Conductance(i));
                    return;
                }
                case BranchOwner.Lug:
                    Resistor($"lug {i}", $"R_lug{i}", a, b, 1 / _op.Conductance(i));
                    return;
                case BranchOwner.Lead:
                    Resistor($"lead {i}", $"R_lead{i}", a, b, 1 / _op.Conductance(i));
                    return;
            }
            var part = _circuit.Parts[spec.Part];
            // Alternating current meets a winding through its coupling.
            if (_ac && part.Model.Coupling is { } k && (spec.Index == k.Primary || spec.Index == k.Secondary))
                return;
            Link(part, part.Model.Links[spec.Index], spec, i, a, b);
        }

        private void Resistor(string what, string name, string a, string b, double ohms)
        {
            var own = Own(_used, name);
            _elements[what] = own;
            if (a == b)
                return;
            if (Plain || ohms >= Small)
            {
                Line($"{own} {a} {b} {ohms:R}");
                return;
            }
            // As a plain conductance a tenth of a milliohm beside a gigaohm leaves double precision three digits: its current is an unknown
            // instead.
            Line($"V{own} {a} {own}_m 0");
            Line($"H{own} {own}_m {b} V{own} {ohms:R}");
        }

        /// <summary>Resistances below this are written with their current, Ω.</summary>
        private const double Small = 0.01;

        private void Link(Part part, Link link, BranchSpec spec, int i, string a, string b)
        {
            var name = $"{part.Tag}_{Clean(link.Name)}";
            var what = $"{part.Tag}.{link.Name}";
            switch (link)
            {
                case Link.Source s:
                    Source(s, i, name, a, b);
                    break;
                case Link.Reactance _ when _ac:
                    Reactance(_op.Phasors!.Siemens(i), what, name, a, b);
                    break;
                case Link.Diode d when !_op.IsFaulted(i):
                    // A junction with a knee of a few millivolts; a source makes up the rest of its forward volts.
                    Line($"V_{name} {a} {name}_j {d.Volts - 0.06:R}");
                    Line($"D_{name} {name}_j {b} dm_{name}");
                    Line($".model dm_{name} d(is={Math.Exp(-0.06 / 0.00129325):R} n=0.05 rs={d.Ohms:R})");
                    // Its foot, the same way round; what the knee takes at some microamps is taken off.
                    Line($"V_{name}_f {a} {name}_f -0.0446");
                    Line($"D_{name}_f {name}_f {b} df_{name}");
                    Line($".model df_{name} d(is={Math.Exp(-0.06 / 0.00129325):R} n=0.05 rs={Defaults.DiodeFootOhms:R})");
                    Resistor(what, $"R_{name}", a, b, Defaults.OpenOhms);
                    break;
                case Link.Contact { PulsedShare: not null } when !_op.IsFaulted(i):
                    // What pulses stands still: it counts in the mean over time alone.
                    Resistor(what, $"R_{name}", a, b, Defaults.OpenOhms);
                    break;
                case Link.Contact { Rule: ClosedRule.ByCoil by } c when !_ac && !_op.IsFaulted(i):
                {
                    var (on, off) = by.PulledIn ? (c.ClosedOhms, Defaults.OpenOhms) : (Defaults.OpenOhms, c.ClosedOhms);
                    Switch(name, a, b, $"h_{part.Tag}", on, off, 0.5, 0.1, _op.PulledIn(spec.Part));
                    break;
                }
                case Link.Contact { Rule: ClosedRule.ByControls by } c
                    when !_ac
                        && !_op.IsFaulted(i)
                        && by.Closed.Concat(by.Open).Any(w => w is not null && w.Leaves().Any(l => l is Condition.Active)):
                    Line($"B_{name} c_{name} 0 V={Closed(by)}");
                    Switch(name, a, b, $"c_{name}", c.ClosedOhms, Defaults.OpenOhms, 0.5, 0.1, 1 / _op.Conductance(i) < 1e6);
                    break;
                case not null when _op.Emf(i) != 0:
                    // A bus wire's resting level, or a diode that a fault has changed.
                    Line($"V_{name} {name}_e {b} {_op.Emf(i):R}");
                    Resistor(what, $"R_{name}", $"{name}_e", a, 1 / _op.Conductance(i));
                    break;
                default:
                    Resistor(what, $"R_{name}", a, b, 1 / _op.Conductance(i));
                    break;
            }
        }

        /// <summary>What alternating current meets at the one frequency: a resistance with a coil or a capacitor beside it.</summary>
        private void Reactance(Complex siemens, string what, string name, string a, string b)
        {
            Resistor(what, $"R_{name}", a, b, 1 / Math.Max(siemens.Real, 1 / Defaults.OpenOhms));
            var omega = 2 * Math.PI * _circuit.Hertz;
            if (a != b && siemens.Imaginary > 0)
                Line($"C_{name} {a} {b} {siemens.Imaginary / omega:R}");
            else if (a != b && siemens.Imaginary < 0)
                Line($"L_{name} {a} {b} {-1 / (omega * siemens.Imaginary):R}");
        }

        private void Source(Link.Source s, int i, string name, string a, string b)
        {
            var ohms = 1 / _op.Conductance(i);
            if (s.Ac != Complex.Zero)
            {
                var volts = _op.Holds(s.When) ? _op.AcEmf(i) : Complex.Zero;
                Line($"V_{name} {name}_e {b} dc 0 ac {volts.Magnitude:R} {volts.Phase * 180 / Math.PI:R}");
                Resistor(name, $"R_{name}", $"{name}_e", a, ohms);
                return;
            }
            if (_op.State.Mode(i) == SourceMode.Limited && _op.IsFaulted(i))
            {
                Line($"I_{name} {b} {a} {_op.Faults.LimitOf(i) ?? s.LimitAmps:R}");
                return;
            }
            if (!double.IsInfinity(s.LimitAmps) && !_op.IsFaulted(i))
            {
                Line($"B_{name} {b} {a} I=min(({(_op.Holds(s.When) ? s.Emf : 0):R}-(V({a})-V({b})))/{s.Ohms:R},{s.LimitAmps:R})");
                return;
            }
            Line($"V_{name} {name}_e {b} {_op.Emf(i):R}");
            Resistor(name, $"R_{name}", $"{name}_e", a, ohms);
        }

        private void Switch(string name, string a, string b, string control, double on, double off, double vt, double vh, bool starts)
        {
            if (a == b)
                return;
            Line($"S_{name} {a} {b} {control} 0 sw_{name} {(starts ? "on" : "off")}");
            Line($".model sw_{name} sw vt={vt:R} vh={vh:R} ron={on:R} roff={off:R}");
        }

        /// <summary>
        /// A node that is at one volt while a coil holds: the coil's volts through a switch with its pull-in and drop-out.
        /// </summary>
        private void Held(Part part, int mover)
        {
            var m = _op.State.Index.Movers[mover];
            var coil = m.Coil;
            // Between its drop-out and its pull-in a coil stays as it was, which a run without history cannot know.
            // Nor can it one that latches, or whose pull-in winding is bridged once it holds.
            var each = m.Branches.Select(b => Math.Abs(_op.Volts(_network.A(b)) - _op.Volts(_network.B(b))));
            var now = each.Aggregate(coil.Deciding);
            if (_op.IsOpenCoil(m) || now > coil.DropOutVolts && now < coil.PullInVolts || m.Pull >= 0 || m.Reset >= 0)
            {
                Line($"V_h{part.Tag} h_{part.Tag} 0 {(_op.State.Held(mover) ? 1 : 0)}");
                return;
            }
            var across = m
                .Branches.Select(b =>
                    $"abs(V({Name(_network.A(b))})-V({Name(_network.B(b))}))".Replace("V(0)", "0", StringComparison.Ordinal)
                )
                .ToList();
            var volts = across.Aggregate((x, y) => coil.Weakest ? $"min({x},{y})" : $"max({x},{y})");
            Line($"B_h{part.Tag} hv_{part.Tag} 0 V={volts}");
            Line($"V_h{part.Tag} h1_{part.Tag} 0 1");
            Line($"S_h{part.Tag} h1_{part.Tag} h_{part.Tag} hv_{part.Tag} 0 swh_{part.Tag} {(_op.State.Held(mover) ? "on" : "off")}");
            Line(
                $".model swh_{part.Tag} sw vt={(coil.PullInVolts + coil.DropOutVolts) / 2:R} "
                    + $"vh={(coil.PullInVolts - coil.DropOutVolts) / 2:R} ron=1 roff=1e9"
            );
            Line($"R_h{part.Tag} h_{part.Tag} 0 1k");
        }

        private string Closed(ClosedRule.ByControls rule)
        {
            var closed = rule.Closed.Select(Expression).Aggregate((x, y) => $"max({x},{y})");
            return rule.Open.Count == 0 ? closed : $"({closed})*(1-({rule.Open.Select(Expression).Aggregate((x, y) => $"max({x},{y})")}))";
        }

        private string Expression(Condition? c) =>
            c switch
            {
                null => "1",
                Condition.And and => $"min({Expression(and.Left)},{Expression(and.Right)})",
                Condition.Or or => $"max({Expression(or.Left)},{Expression(or.Right)})",
                Condition.Not not => $"(1-({Expression(not.Inner)}))",
                Condition.Active active when active.Tag.Contains(".in", StringComparison.Ordinal) => _op.Holds(active) ? "1" : "0",
                Condition.Active active => $"V(h_{active.Tag})",
                _ => _op.Holds(c) ? "1" : "0",
            };

        /// <summary>An ideal ratio behind the copper of both windings: what the primary draws, the secondary gives.</summary>
        private void Windings()
        {
            foreach (var (part, index) in _circuit.Parts.Select((p, i) => (p, i)).Where(x => x.p.Model.Coupling is not null))
            {
                var k = part.Model.Coupling!;
                var (p, s) = (_network.Layout.LinkBranches[index][k.Primary], _network.Layout.LinkBranches[index][k.Secondary]);
                if (_network.Removed[p] || _network.Removed[s])
                    continue;
                var open = _op.LinkOpen(index, k.Primary);
                var ohms = open ? 1 / Network.IslandLeak : 1 / _op.Conductance(p) + k.Ratio * k.Ratio / _op.Conductance(s);
                var t = part.Tag;
                Line($"E_{t} {t}_i {Name(_network.B(p))} {Name(_network.A(s))} {Name(_network.B(s))} {k.Ratio:R}");
                Line($"V_{t} {t}_j {t}_i 0");
                Line($"R_{t} {Name(_network.A(p))} {t}_j {ohms:R}");
                Line($"F_{t} {Name(_network.B(s))} {Name(_network.A(s))} V_{t} {k.Ratio:R}");
                // Windings keep the two sides tied for direct current only weakly; the iron lies across the primary.
                Line($"R_{t}_s {Name(_network.A(s))} {Name(_network.B(s))} {1 / Network.IslandLeak:R}");
                var iron = open ? 1 / Network.IslandLeak : k.MagnetisingOhms;
                Line($"R_{t}_p {Name(_network.A(p))} {Name(_network.B(p))} {iron:R}");
            }
        }
    }
}
