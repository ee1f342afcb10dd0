using Zoltric.Core.Circuits;

namespace Zoltric.Drawing.Schematic;

/// <summary>A port as a net knows it.</summary>
public sealed record NetPort(Unit Unit, Port Port, int Slot);

/// <summary>
/// What wires join without a part between: drawn as one bar with a stub to every port. A splice or stud is such a bar; two of them are
/// never the same one, the wire between them stands as a piece of its own.
/// </summary>
public sealed class DrawnNet(int index)
{
    public int Index { get; } = index;
    public List<NetPort> Ports { get; } = [];
    public List<Wire> Wires { get; } = [];

    /// <summary>The splice or stud that this bar is, or null.</summary>
    public Part? Point { get; internal set; }

    /// <summary>Channel of the bar: channel n lies above row n.</summary>
    public int Trunk { get; internal set; }

    /// <summary>Wires written at a port's stub: each wire of the net once.</summary>
    public Dictionary<(Unit Unit, Port Port), List<Wire>> Labels { get; } = [];

    /// <summary>Wire labels go to the end that is further from the point or from the port with the most wires.</summary>
    internal void PlaceLabels()
    {
        var at = Ports.GroupBy(p => p.Port.Terminal).ToDictionary(g => g.Key, g => g.First());
        var root = Point is { } p
            ? new Terminal(p.Tag, "")
            : Wires
                .SelectMany(w => new[] { w.From, w.To })
                .GroupBy(t => t)
                .OrderByDescending(g => g.Count())
                .Select(g => g.Key)
                .FirstOrDefault();
        var (seen, left, queue) = (new HashSet<Terminal> { root }, new List<Wire>(Wires), new Queue<Terminal>([root]));
        while (queue.TryDequeue(out var t))
            foreach (var wire in left.Where(w => w.From == t || w.To == t).ToList())
            {
                var other = wire.From == t ? wire.To : wire.From;
                left.Remove(wire);
                // A second wire between the same points stands below the first.
                if (seen.Add(other))
                    queue.Enqueue(other);
                Put(at.ContainsKey(other) ? other : t, wire);
            }
        foreach (var wire in left)
            Put(at.ContainsKey(wire.To) ? wire.To : wire.From, wire);

        void Put(Terminal t, Wire wire)
        {
            if (!at.TryGetValue(t, out var port))
                return;
            if (!Labels.TryGetValue((port.Unit, port.Port), out var list))
                Labels[(port.Unit, port.Port)] = list = [];
            list.Add(wire);
        }
    }
}

/// <summary>Gathers the wires of a sheet into bars.</summary>
public static class DrawnNets
{
    public static IReadOnlyList<DrawnNet> Of(Circuit circuit, Units units)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(units);
        var parent = new Dictionary<Terminal, Terminal>();
        var point = new Dictionary<Terminal, Part>();
        Terminal Root(Terminal t)
        {
            if (!parent.TryGetValue(t, out var up))
            {
                parent[t] = t;
                if (circuit.FindPart(t.Tag) is { Model.IsPoint: true } own)
                    point[t] = own;
                return t;
            }
            return up == t ? t : parent[t] = Root(up);
        }

        var bare = new List<(Wire? Wire, Terminal A, Terminal B)>();
        var own = new List<(Wire Wire, Terminal At)>();
        // Wires first: metal to metal may then join two bars as a piece of its own.
        foreach (
            var (wire, a, b) in circuit
                .Wires.Select(w => ((Wire?)w, w.From, w.To))
                .Concat(circuit.Bonds.Select(b => ((Wire?)null, b.A, b.B)))
        )
        {
            var (x, y) = (Root(a), Root(b));
            if (x != y && point.ContainsKey(x) && point.ContainsKey(y))
            {
                bare.Add((wire, a, b));
                continue;
            }
            if (x != y)
            {
                // The point stays the root, so that it is found again.
                var (keep, lose) = point.ContainsKey(y) ? (y, x) : (x, y);
                parent[lose] = keep;
            }
            if (wire is not null)
                own.Add((wire, a));
        }
        var nets = new Dictionary<Terminal, DrawnNet>();
        DrawnNet Net(Terminal t)
        {
            var root = Root(t);
            if (!nets.TryGetValue(root, out var net))
                nets[root] = net = new DrawnNet(nets.Count) { Point = point.GetValueOrDefault(root) };
            return net;
        }

        foreach (var (wire, at) in own)
            Net(at).Wires.Add(wire);
        foreach (var (wire, a, b) in bare)
            units.AddBare(circuit.FindPart(a.Tag)!, wire, a, b);
        foreach (var unit in units.All)
        {
            var slots = new Dictionary<Side, int> { [Side.Top] = 0, [Side.Bottom] = 0 };
            foreach (var port in unit.Ports)
            {
                var slot = slots[port.Side]++;
                if (unit.Shape == UnitShape.Bare || parent.ContainsKey(port.Terminal))
                    Net(port.Terminal).Ports.Add(new NetPort(unit, port, slot));
            }
        }
        foreach (var net in nets.Values)
            net.PlaceLabels();
        return [.. nets.Values];
    }
}
