using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Drawing.Schematic;

/// <summary>Takes the parts of a sheet apart into the pieces that are drawn, in the order in which the paths meet them.</summary>
public sealed class Units
{
    private readonly HashSet<Terminal> _used = [];
    private readonly Dictionary<Terminal, Terminal> _enteredBefore = [];
    private readonly List<Unit> _all = [];
    private readonly Dictionary<Terminal, (Unit Unit, Port Port)> _at = [];
    private readonly HashSet<(string Tag, string Pin)> _turned;

    private Units(Circuit circuit)
    {
        _turned = HarnessSides.Turned(circuit);
        foreach (var w in circuit.Wires)
        {
            _used.Add(w.From);
            _used.Add(w.To);
        }
        foreach (var b in circuit.Bonds)
        {
            _used.Add(b.A);
            _used.Add(b.B);
        }
        foreach (var hop in circuit.Paths.SelectMany(p => p.Hops))
            if (hop.Enter != hop.Leave)
                _enteredBefore.TryAdd(hop.Leave, hop.Enter);
    }

    public IReadOnlyList<Unit> All => _all;

    /// <summary>The unit and port of a terminal, or null when the terminal is not drawn.</summary>
    public (Unit Unit, Port Port)? At(Terminal t) => _at.TryGetValue(t, out var found) ? found : null;

    public static Units Of(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var units = new Units(circuit);
        foreach (var part in circuit.Parts)
            units.TakeApart(part);
        return units;
    }

    private void TakeApart(Part part)
    {
        var model = part.Model;
        // Splices and studs are the bars that wires run to, not pieces of their own.
        if (model.IsPoint)
            return;
        if (part.Kind is PinRow)
        {
            for (var i = 0; i < model.Links.Count; i++)
            {
                var (a, b) = (Pin(part, model.Links[i].A), Pin(part, model.Links[i].B));
                if (!_used.Contains(a) && !_used.Contains(b))
                    continue;
                var ports =
                    part.Kind is Connector ? (_turned.Contains((part.Tag, model.Links[i].Name)) ? Turn(a, b) : Turn(b, a)) : Down(a, b);
                Add(part, UnitShape.Pin, ports, [i]);
            }
            return;
        }
        if (part.Kind is Module)
        {
            Box(part, ModulePorts(part));
            return;
        }
        if (part.Kind is Mains)
        {
            Box(part, [.. model.Terminals.Where(Used(part)).Select(t => new Port(new(part.Tag, t), Side.Bottom))]);
            return;
        }
        if (part.Kind is Transformer)
        {
            Box(part, [.. model.Terminals.Select(t => new Port(new(part.Tag, t), t[0] == 'P' ? Side.Top : Side.Bottom))]);
            return;
        }
        if (part.Kind is Starter)
        {
            Box(part, [.. model.Terminals.Select(t => new Port(new(part.Tag, t), t is "G" or "M" ? Side.Bottom : Side.Top))]);
            return;
        }
        if (model.Terminals.Count > 2 && model.Links.All(l => l is Link.Resistance))
        {
            // Loads of several elements: phases above, what they return to below; a wiper or star point below.
            var above = part.Kind is ThreePhaseLoad ? 3 : 1;
            Box(
                part,
                [
                    .. model
                        .Terminals.Select((t, i) => (t, i))
                        .Where(x => x.i < above || Used(part)(x.t))
                        .Select(x => new Port(new(part.Tag, x.t), x.i < above ? Side.Top : Side.Bottom)),
                ]
            );
            return;
        }
        foreach (var group in Groups(part))
            AddGroup(part, group);
    }

    private Func<string, bool> Used(Part part) => t => _used.Contains(new Terminal(part.Tag, t));

    private static Terminal Pin(Part part, string name) => new(part.Tag, name, true);

    private static List<Port> Turn(Terminal below, Terminal above) => [new Port(above, Side.Top), new Port(below, Side.Bottom)];

    /// <summary>First of the two is drawn above unless a path runs through them the other way.</summary>
    private List<Port> Down(Terminal first, Terminal second) =>
        _enteredBefore.TryGetValue(first, out var from)
        && from == second
        && !(_enteredBefore.TryGetValue(second, out var other) && other == first)
            ? [new Port(second, Side.Top), new Port(first, Side.Bottom)]
            : [new Port(first, Side.Top), new Port(second, Side.Bottom)];

    /// <summary>Links of a part that hang together by their terminals, those without a wire left out.</summary>
    private List<List<int>> Groups(Part part)
    {
        var model = part.Model;
        var groups = new List<List<int>>();
        for (var i = 0; i < model.Links.Count; i++)
        {
            var link = model.Links[i];
            var touching = groups.Where(g => g.Exists(k => Touch(model.Links[k], link))).ToList();
            var merged = touching.SelectMany(g => g).Append(i).Order().ToList();
            groups.RemoveAll(touching.Contains);
            groups.Add(merged);
        }
        var used = groups.Where(g => g.Exists(i => Used(part)(model.Links[i].A) || Used(part)(model.Links[i].B))).ToList();
        return used.Count > 0 ? used : groups.Take(1).ToList();

        static bool Touch(Link x, Link y) => x.A == y.A || x.A == y.B || x.B == y.A || x.B == y.B;
    }

    private void AddGroup(Part part, List<int> group)
    {
        var model = part.Model;
        var links = group.Select(i => model.Links[i]).ToList();
        var names = links.SelectMany(l => new[] { l.A, l.B }).Distinct().ToList();
        var drawn = names.Where(Used(part)).ToList();
        var coil = model.Coil is { } c && group.Contains(c.Link) && part.Kind is CoilDevice;
        var moved = links.Exists(l => l is Link.Contact { Rule: ClosedRule.ByCoil });
        var common = names.MaxBy(n => (links.Count(l => l.A == n || l.B == n), -names.IndexOf(n)))!;
        if (names.Count <= 2 || drawn.Count <= 2 && (drawn.Count < 2 || links.Exists(l => Joins(l, drawn[0], drawn[1]))))
        {
            // Of a changeover only the throw in use is drawn.
            var first = drawn.Count > 0 ? drawn[0] : names[0];
            var own = links.Find(l => drawn.Count == 2 ? Joins(l, drawn[0], drawn[1]) : l.A == first || l.B == first) ?? links[0];
            var shown = group.Where(i => model.Links[i] == own || Joins(model.Links[i], own.A, own.B)).ToList();
            Add(part, UnitShape.Single, Down(new(part.Tag, own.A), new(part.Tag, own.B)), shown, coil, moved);
            return;
        }
        if (!links.TrueForAll(l => l.A == common || l.B == common))
        {
            Box(part, [.. drawn.Select((n, i) => new Port(new(part.Tag, n), links.Exists(l => l.A == n) ? Side.Top : Side.Bottom))], group);
            return;
        }
        var throws = names.Where(n => n != common && Used(part)(n)).ToList();
        Add(
            part,
            UnitShape.Changeover,
            [new Port(new(part.Tag, common), Side.Top), .. throws.Select(t => new Port(new(part.Tag, t), Side.Bottom))],
            group,
            coil,
            moved
        );

        static bool Joins(Link l, string a, string b) => l.A == a && l.B == b || l.A == b && l.B == a;
    }

    private List<Port> ModulePorts(Part part)
    {
        var ports = new List<Port>();
        void Put(string pin, Side side)
        {
            if (Used(part)(pin) && !ports.Exists(p => p.Terminal.Name == pin))
                ports.Add(new Port(new Terminal(part.Tag, pin), side));
        }
        foreach (var line in part.ModuleLines)
            switch (line)
            {
                case ModuleLine.Supply s:
                    foreach (var pin in s.Pins)
                        Put(pin, Side.Top);
                    break;
                case ModuleLine.Input i:
                    Put(i.Pin, Side.Top);
                    break;
                case ModuleLine.Output o:
                    Put(o.Pin, o.High ? Side.Bottom : Side.Top);
                    break;
                case ModuleLine.Bus b:
                    Put(b.HighPin, Side.Bottom);
                    Put(b.LowPin, Side.Bottom);
                    break;
                case ModuleLine.SingleWire b:
                    Put(b.Pin, Side.Bottom);
                    break;
                default:
                    break;
            }
        foreach (var s in part.ModuleLines.OfType<ModuleLine.Supply>())
        foreach (var pin in s.Grounds)
            Put(pin, Side.Bottom);
        foreach (var t in part.Model.Terminals)
            Put(t, t == "+" ? Side.Top : Side.Bottom);
        return ports;
    }

    private void Box(Part part, List<Port> ports, List<int>? links = null)
    {
        if (ports.Count == 0)
            ports.Add(new Port(new Terminal(part.Tag, part.Model.Terminals[0]), Side.Top));
        Add(part, UnitShape.Box, ports, links ?? [.. Enumerable.Range(0, part.Model.Links.Count)]);
    }

    /// <summary>A wire between two bars.</summary>
    internal Unit AddBare(Part part, Wire? wire, Terminal from, Terminal to)
    {
        var unit = new Unit(_all.Count, part, UnitShape.Bare, [new Port(from, Side.Top), new Port(to, Side.Bottom)], []) { Wire = wire };
        _all.Add(unit);
        return unit;
    }

    private void Add(Part part, UnitShape shape, IReadOnlyList<Port> ports, IReadOnlyList<int> links, bool coil = false, bool moved = false)
    {
        var unit = new Unit(_all.Count, part, shape, ports, links) { IsCoil = coil, IsCoilContact = moved };
        _all.Add(unit);
        foreach (var p in ports)
            _at.TryAdd(p.Terminal, (unit, p));
    }
}
