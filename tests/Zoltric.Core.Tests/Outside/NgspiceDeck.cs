using System.Diagnostics;
using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Tests.Outside;

/// <summary>
/// Writes a circuit as an ngspice deck and runs it. Relays are hysteretic switches driven by their own coil volts, fuses are
/// latching switches driven by their own current, controls move in time: ngspice settles every state itself in a transient run.
/// Written from the circuit model, without the product's solver.
/// </summary>
internal sealed class NgspiceDeck
{
    private const double StepSeconds = 0.5;
    private readonly Circuit _c;
    private readonly StringBuilder _s = new();
    private readonly Dictionary<string, string> _alias = [];
    private readonly List<string> _terminals = [];
    private int _n;

    private NgspiceDeck(Circuit c) => _c = c;

    /// <summary>Volts at every wired terminal against the reference once all steps have settled.</summary>
    /// <returns>By terminal: the last volts, and how far they moved over the last fifth of a second.</returns>
    public static Dictionary<string, (double Volts, double Moved)> Volts(
        Circuit c,
        IReadOnlyList<IReadOnlyList<ControlMove>> steps,
        Fault? fault
    )
    {
        var deck = new NgspiceDeck(c);
        deck.Write(steps, fault);
        var seconds = (steps.Count + 1) * StepSeconds;
        // A diode that is thrown over by a switch can be more than one integration step can take; then ngspice is asked again with other
        // means.
        return deck.Run(
            seconds,
            ".options reltol=1e-6 abstol=1e-12 vntol=1e-7 gmin=1e-18 itl1=500 itl4=200 trtol=1e4 chgtol=1e-6 method=gear"
        )
            ?? deck.Run(seconds, ".options reltol=1e-5 abstol=1e-10 vntol=1e-6 gmin=1e-15 itl1=500 itl4=500 trtol=7 method=trap")
            ?? deck.Run(
                seconds,
                ".options reltol=1e-5 abstol=1e-9 vntol=1e-6 gmin=1e-12 itl1=500 itl4=1000 trtol=7 method=gear cshunt=1e-12"
            )
            ?? throw new InvalidOperationException($"ngspice gave no data:\n{deck._said}\n{deck._s}");
    }

    private static string I(FormattableString f) => FormattableString.Invariant(f);

    private static string Clean(string t) => "n" + t.Replace("+", "p").Replace("-", "m").Replace(":", "_c_").Replace(".", "_d_");

    private string Node(string point)
    {
        var name = Clean(point);
        while (_alias.TryGetValue(name, out var to))
            name = to;
        return name;
    }

    /// <summary>
    /// A resistance. Small ones are written with their current as an unknown (a sense source and a current-controlled voltage): as a plain
    /// conductance a 0.1 mΩ lug beside a gigaohm leaves ngspice's own pivots three digits, which is less than is compared here.
    /// </summary>
    private void R(string a, string b, double ohms)
    {
        var n = ++_n;
        if (ohms >= 1)
        {
            _s.AppendLine(I($"R{n} {a} {b} {ohms:R}"));
            return;
        }
        _s.AppendLine(I($"Vr{n} {a} r{n} 0"));
        _s.AppendLine(I($"Hr{n} r{n} {b} Vr{n} {ohms:R}"));
    }

    private void Write(IReadOnlyList<IReadOnlyList<ControlMove>> steps, Fault? fault)
    {
        _s.AppendLine("zoltric check");
        var reference = Clean(_c.ReferencePoint.ToString());
        _alias[reference] = "0";
        foreach (var b in _c.Bonds)
        {
            var (x, y) = (Node(b.A.ToString()), Node(b.B.ToString()));
            if (x == y)
                continue;
            if (x == "0")
                _alias[y] = x;
            else
                _alias[x] = y;
        }
        var wired = _c.Wires.SelectMany(w => new[] { w.From, w.To }).Concat(_c.Bonds.SelectMany(b => new[] { b.A, b.B })).ToHashSet();
        foreach (var t in wired.Select(t => t.ToString()).Distinct())
            _terminals.Add(t);
        var positions = new List<int[]> { _c.Controls.Select(k => k.Rest).ToArray() };
        foreach (var step in steps)
        {
            var next = (int[])positions[^1].Clone();
            foreach (var m in step)
                for (var i = 0; i < _c.Controls.Count; i++)
                    if (_c.Controls[i].Name == m.Control)
                        next[i] = _c.Controls[i].IndexOf(m.Position);
            positions.Add(next);
        }
        foreach (var w in _c.Wires)
            Wire(w, fault);
        foreach (var p in _c.Parts)
            Part(p, fault, positions, wired);
        if (fault is { Words: "grounded" } && _c.FindWire(fault.Target) is { } g)
            R(WireEnd(g, true), Node(_c.FramePoint.ToString()), fault.Value!.Value);
        if (fault is { Words: "to-supply" } && _c.FindWire(fault.Target) is { } s)
            R(WireEnd(s, true), Node($"{_c.Sources.First().Tag}.{_c.Sources.First().Model.Terminals[0]}"), fault.Value!.Value);
        if (fault is { Kind: FaultKind.Shorts, Toward: { } toward })
            R(_c.FindWire(fault.Target) is { } pair ? WireEnd(pair, true) : Node(fault.Target + "a"), Node(toward), fault.Value!.Value);
        // Every wired terminal leaks a little, so that islands have a potential; far below what is compared.
        foreach (var n in _terminals.Select(Node).Distinct().Where(n => n != "0"))
            R(n, "0", 1e15);
    }

    private string WireEnd(Wire w, bool start)
    {
        var t = start ? w.From : w.To;
        return t.Name.Length == 0 ? Clean($"{t.Tag}/{w.Id}/{(start ? 1 : 2)}") : Node(t.ToString());
    }

    private void Wire(Wire w, Fault? fault)
    {
        // The product's formula is checked elsewhere against published tables; here it is the common ground.
        var ohms = w.Ohms;
        if (fault?.Target == w.Id)
            ohms =
                fault.Kind == FaultKind.Open ? 1e9
                : fault.Kind == FaultKind.Resists ? ohms + fault.Value!.Value
                : ohms;
        R(WireEnd(w, true), WireEnd(w, false), ohms);
        foreach (var start in new[] { true, false })
        {
            var t = start ? w.From : w.To;
            if (t.Name.Length > 0)
                continue;
            var lug = 1e-4;
            if (fault?.Target == t.Tag && SourceSide.TryGetValue((_c.Title, t.Tag), out var wire) && wire == w.Id)
                lug = fault.Kind == FaultKind.Open ? 1e9 : lug + fault.Value!.Value;
            R(WireEnd(w, start), Node(t.ToString()), lug);
        }
    }

    /// <summary>The source-side wire of each stud of the demo sheets, read off the sheets by eye.</summary>
    public static readonly Dictionary<(string, string), string> SourceSide = new()
    {
        [("Pan roller PR-3: cranking", "GND1")] = "w32",
        [("Pan roller PR-3: cranking", "SP1")] = "w45",
        [("Quay sweeper QS-5: brush clutch", "GND1")] = "w30",
        [("Quay sweeper QS-5: brush clutch", "SP1")] = "w12",
        [("Brine pump BP-2: control panel", "SP0")] = "w40",
        [("Reclaimer gantry RG-1: travel", "SP0")] = "w55",
        [("Salt loader SL-9: horn, beacon and fan", "GND1")] = "w25",
        [("Salt loader SL-9: horn, beacon and fan", "GND2")] = "w24",
    };

    private void Part(Part p, Fault? fault, List<int[]> positions, HashSet<Terminal> wired)
    {
        var pins = p.Kind is Circuits.Kinds.PinRow;
        for (var l = 0; l < p.Model.Links.Count; l++)
        {
            var link = p.Model.Links[l];
            string At(string name) =>
                p.Model.Terminals.Contains(name) ? Node(new Terminal(p.Tag, name, pins).ToString()) : Clean($"{p.Tag}.inner.{name}");
            bool Wired(string name) =>
                p.Model.Posts.Contains(name) || !p.Model.Terminals.Contains(name) || wired.Contains(new Terminal(p.Tag, name, pins));
            if (!Wired(link.A) && !Wired(link.B))
                continue;
            var (a, b) = (At(link.A), At(link.B));
            var effect =
                pins && fault?.Target == $"{p.Tag}:{link.Name}"
                    ? fault.Words switch
                    {
                        "open" => new FaultEffect.Open(l),
                        "resists" => new FaultEffect.Series(l),
                        _ => null,
                    }
                : fault?.Target == p.Tag ? p.Model.Faults.First(m => m.Words == fault.Words).Effect
                : null;
            var open = effect switch
            {
                FaultEffect.Open o => o.Links.Contains(l),
                FaultEffect.Sticks s => s.Links.Contains(l),
                FaultEffect.Tripped t => t.Opened.Contains(l),
                FaultEffect.Holder { Link: var clips } => clips == l && fault!.Value is null,
                _ => false,
            };
            var closed =
                effect is FaultEffect.Closed k && k.Links.Contains(l) || effect is FaultEffect.Tripped made && made.Made.Contains(l);
            var set =
                effect is FaultEffect.SetOhms so && so.Links.Contains(l) ? fault!.Value!.Value
                : effect is FaultEffect.Seized z && z.Links.Contains(l) ? link.Ohms * z.OhmsFactor
                : (double?)null;
            if (
                effect is FaultEffect.Series se && se.Links.Contains(l)
                || effect is FaultEffect.Holder holder && holder.Link == l && fault!.Value is not null
            )
            {
                var mid = Clean($"{p.Tag}.series.{l}");
                R(mid, b, fault!.Value!.Value);
                b = mid;
            }
            if (effect is FaultEffect.Grounded gr && gr.Link == l)
                R(a, Node(_c.FramePoint.ToString()), fault!.Value!.Value);
            if (open)
            {
                R(a, b, 1e9);
                if (p.Model.Coil?.Link == l)
                    _s.AppendLine($"Vk{p.Tag} k{p.Tag} 0 0");
                continue;
            }
            if (closed)
            {
                R(a, b, link is Link.Contact stuck ? stuck.ClosedOhms : link.Ohms);
                continue;
            }
            switch (link)
            {
                case Link.Resistance r:
                    R(a, b, set ?? r.Ohms);
                    if (p.Model.Coil?.Link == l)
                        Coil(p, a, b);
                    break;
                case Link.Source s:
                    Source(p, s, a, b, effect is FaultEffect.Emf ? fault!.Value!.Value : s.Emf, set ?? s.Ohms);
                    break;
                case Link.Fuse f:
                    Fuse(p, f, a, b, positions);
                    break;
                case Link.Diode d:
                    // A junction with a knee of a few millivolts: exp(v / 1.3 mV) crosses one ampere at 0.06 V; a source makes up the rest.
                    _s.AppendLine(I($"Vd{p.Tag} {a} d{p.Tag} {d.Volts - 0.06:R}"));
                    _s.AppendLine(I($"D{p.Tag} d{p.Tag} {b} dm{p.Tag}"));
                    _s.AppendLine(I($".model dm{p.Tag} d(is={Math.Exp(-0.06 / 0.00129325):R} n=0.05 rs={d.Ohms:R})"));
                    R(a, b, 1e9);
                    // Its foot: a hundred kilo-ohms that conduct one way from nothing on; the knee's own 45 mV at some microamps are taken
                    // off.
                    _s.AppendLine(I($"Vf{p.Tag} {a} f{p.Tag} -0.0446"));
                    _s.AppendLine(I($"Df{p.Tag} f{p.Tag} {b} df{p.Tag}"));
                    _s.AppendLine(I($".model df{p.Tag} d(is={Math.Exp(-0.06 / 0.00129325):R} n=0.05 rs=1e5)"));
                    break;
                case Link.Contact { Rule: ClosedRule.ByCoil by } c:
                    CoilContact(p, c, by.PulledIn, a, b);
                    break;
                case Link.Contact c:
                    Control(c.Rule, a, b, c.ClosedOhms, positions);
                    break;
            }
        }
    }

    private void Coil(Part p, string a, string b)
    {
        var tau = p.Model.Coil!.OperateMs / 1000;
        _s.AppendLine(I($"Bk{p.Tag} kr{p.Tag} 0 V=abs(V({a})-V({b}))"));
        _s.AppendLine(I($"Rk{p.Tag} kr{p.Tag} k{p.Tag} 1k"));
        _s.AppendLine(I($"Ck{p.Tag} k{p.Tag} 0 {tau / 1000:R}"));
    }

    private void CoilContact(Part p, Link.Contact c, bool normallyOpen, string a, string b)
    {
        var coil = p.Model.Coil!;
        var (vt, vh) = ((coil.PullInVolts + coil.DropOutVolts) / 2, (coil.PullInVolts - coil.DropOutVolts) / 2);
        var (on, off) = normallyOpen ? (c.ClosedOhms, 1e9) : (1e9, c.ClosedOhms);
        _s.AppendLine(I($"S{++_n} {a} {b} k{p.Tag} 0 sw{_n}"));
        _s.AppendLine(I($".model sw{_n} sw vt={vt:R} vh={vh:R} ron={on:R} roff={off:R}"));
    }

    private void Source(Part p, Link.Source s, string a, string b, double emf, double ohms)
    {
        if (!double.IsInfinity(s.LimitAmps))
        {
            // A supply gives at most its limit; nothing feeds it backwards in these sheets.
            // A supply has an output capacitor; without one its limit is a kink that ngspice cannot step over.
            _s.AppendLine(I($"C{p.Tag} {a} {b} 10u"));
            _s.AppendLine(I($"V{p.Tag}on {p.Tag}on 0 pwl(0 0 1m 1)"));
            _s.AppendLine(I($"B{p.Tag} {b} {a} I=min(({emf:R}*V({p.Tag}on)-(V({a})-V({b})))/{ohms:R},{s.LimitAmps:R})"));
            return;
        }
        var inner = Clean($"{p.Tag}.emf");
        // Sources rise from nothing in a millisecond: a start from ngspice's own operating point can burn a fuse in its trial steps.
        _s.AppendLine(I($"V{p.Tag} {inner} {b} pwl(0 0 1m {emf:R})"));
        R(inner, a, ohms);
    }

    private void Fuse(Part p, Link.Fuse f, string a, string b, List<int[]> positions)
    {
        if (f.Rule is not null and not ClosedRule.Always)
        {
            Control(f.Rule, a, b, f.Ohms, positions);
            return;
        }
        if (double.IsInfinity(f.RatedAmps))
        {
            R(a, b, f.Ohms);
            return;
        }
        var limit = 1.35 * f.RatedAmps;
        var mid = Clean($"{p.Tag}.element");
        _s.AppendLine(I($"Vf{p.Tag} {a} {mid} 0"));
        _s.AppendLine(I($"Bf{p.Tag} fr{p.Tag} 0 V=abs(i(Vf{p.Tag}))"));
        _s.AppendLine(I($"Rf{p.Tag} fr{p.Tag} f{p.Tag} 1k"));
        _s.AppendLine(I($"Cf{p.Tag} f{p.Tag} 0 100u"));
        _s.AppendLine(I($"S{++_n} {mid} {b} f{p.Tag} 0 sw{_n}"));
        // Opens past the limit and never falls back: it would need a negative magnitude.
        _s.AppendLine(I($".model sw{_n} sw vt={(limit - 1) / 2:R} vh={(limit + 1) / 2:R} ron=1e9 roff={f.Ohms:R}"));
    }

    private void Control(ClosedRule rule, string a, string b, double ohms, List<int[]> positions)
    {
        bool Closed(int[] at)
        {
            if (rule is not ClosedRule.ByControls by)
                return true;
            string Position(string name)
            {
                for (var i = 0; i < _c.Controls.Count; i++)
                    if (_c.Controls[i].Name == name)
                        return _c.Controls[i].Positions[at[i]];
                return "";
            }
            bool Holds(Condition? w) =>
                w is null || w.Holds(Position, _ => throw new NotSupportedException("conditions on coils are not in the demo sheets"));
            return by.Closed.Any(Holds) && !by.Open.Any(Holds);
        }

        var states = positions.Select(Closed).ToList();
        if (states.Distinct().Count() == 1)
        {
            R(a, b, states[0] ? ohms : 1e9);
            return;
        }
        var pwl = new StringBuilder();
        for (var i = 0; i < states.Count; i++)
        {
            var at = i * StepSeconds;
            pwl.Append(I($" {(i == 0 ? 0 : at + 1e-4):R} {(states[i] ? 1 : 0)} {at + StepSeconds:R} {(states[i] ? 1 : 0)}"));
        }
        _s.AppendLine(I($"Vc{++_n} c{_n} 0 pwl({pwl})"));
        _s.AppendLine(I($"S{_n} {a} {b} c{_n} 0 swc{_n}"));
        _s.AppendLine(I($".model swc{_n} sw vt=0.5 vh=0.1 ron={ohms:R} roff=1e9"));
    }

    private string _said = "";

    private Dictionary<string, (double Volts, double Moved)>? Run(double seconds, string options)
    {
        var dir = Directory.CreateTempSubdirectory("zoltric-spice");
        try
        {
            var nodes = _terminals.Select(Node).Distinct().Where(n => n != "0").ToList();
            var data = Path.Combine(dir.FullName, "out.txt");
            var control = new StringBuilder(options).AppendLine();
            control.AppendLine(".control");
            control.AppendLine("set wr_singlescale");
            control.AppendLine("save " + string.Join(' ', nodes.Select(n => $"v({n})")));
            control.AppendLine(I($"tran 5m {seconds:R} {seconds - 0.2:R} 10m"));
            control.AppendLine($"wrdata {data} {string.Join(' ', nodes.Select(n => $"v({n})"))}");
            control.AppendLine("quit 0");
            control.AppendLine(".endc");
            control.AppendLine(".end");
            var file = Path.Combine(dir.FullName, "deck.cir");
            File.WriteAllText(file, _s.ToString() + control);
            var info = new ProcessStartInfo("ngspice", ["-b", file]) { RedirectStandardOutput = true, RedirectStandardError = true };
            using var process = Process.Start(info) ?? throw new InvalidOperationException("ngspice did not start");
            var error = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            if (!File.Exists(data))
            {
                _said = $"{output}\n{error.Result}";
                return null;
            }
            var rows = File.ReadLines(data)
                .Select(l =>
                    l.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => double.Parse(x, CultureInfo.InvariantCulture)).ToArray()
                )
                .ToList();
            var volts = nodes
                .Select((n, i) => (n, v: (rows[^1][i + 1], rows.Max(r => r[i + 1]) - rows.Min(r => r[i + 1]))))
                .ToDictionary(x => x.n, x => x.v);
            volts["0"] = (0, 0);
            return _terminals.ToDictionary(t => t, t => volts[Node(t)]);
        }
        finally
        {
            dir.Delete(true);
        }
    }

    /// <summary>Runs a deck written by hand and gives the values its print lines show.</summary>
    public static Dictionary<string, double> Print(string deck)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, deck);
            using var process = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
            ) ?? throw new InvalidOperationException("ngspice did not start");
            var error = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            var values = output
                .Split('\n')
                .Select(l => l.Split(" = "))
                .Where(p => p.Length == 2 && double.TryParse(p[1], CultureInfo.InvariantCulture, out _))
                .ToDictionary(p => p[0].Trim(), p => double.Parse(p[1], CultureInfo.InvariantCulture));
            return values.Count > 0 ? values : throw new InvalidOperationException($"ngspice printed nothing:\n{output}\n{error.Result}");
        }
        finally
        {
            File.Delete(file);
        }
    }
}
