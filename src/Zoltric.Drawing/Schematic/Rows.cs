using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Drawing.Schematic;

/// <summary>
/// Puts every unit in a row so that current runs down the page: what feeds a bar stands above it, what the bar feeds below. All pins of a
/// connector share a row. Wishes that would run in a circle are dropped, the paths' own order last.
/// </summary>
internal sealed class Rows
{
    private readonly IReadOnlyList<Unit> _units;
    private readonly Dictionary<string, int> _connectors = [];
    private readonly int[] _block;
    private readonly List<int>[] _below;
    private readonly List<int>[] _above;

    /// <summary>Row of each unit, from 0 at the top.</summary>
    public int[] OfUnit { get; }

    public int Count { get; }

    public Rows(Circuit circuit, Units units, IReadOnlyList<DrawnNet> nets)
    {
        _units = units.All;
        _block = new int[_units.Count];
        var blocks = 0;
        foreach (var u in _units)
        {
            if (u.Part.Kind is not Connector || u.Shape != UnitShape.Pin)
            {
                _block[u.Index] = blocks++;
                continue;
            }
            if (!_connectors.TryGetValue(u.Part.Tag, out var b))
                _connectors[u.Part.Tag] = b = blocks++;
            _block[u.Index] = b;
        }
        var nodes = blocks + nets.Count;
        (_below, _above) = (new List<int>[nodes], new List<int>[nodes]);
        for (var i = 0; i < nodes; i++)
            (_below[i], _above[i]) = ([], []);

        var netAt = new Dictionary<(Unit, Port), int>();
        foreach (var n in nets)
        foreach (var p in n.Ports)
            netAt[(p.Unit, p.Port)] = n.Index;
        // Paths first, as the sheet's author reads the circuit.
        foreach (var path in circuit.Paths)
            for (var i = 0; i < path.Hops.Count; i++)
            {
                if (units.At(path.Hops[i].Leave) is { } from && from.Port.Side == Side.Bottom && netAt.TryGetValue(from, out var out_))
                    Below(_block[from.Unit.Index], blocks + out_);
                if (units.At(path.Hops[i].Enter) is { } to && to.Port.Side == Side.Top && netAt.TryGetValue(to, out var in_))
                    Below(blocks + in_, _block[to.Unit.Index]);
            }
        foreach (var n in nets)
        foreach (var p in n.Ports)
            if (p.Port.Side == Side.Bottom)
                Below(_block[p.Unit.Index], blocks + n.Index);
            else
                Below(blocks + n.Index, _block[p.Unit.Index]);
        KeepReturnsAbove(circuit, units);

        var row = new int[nodes];
        var order = Order();
        foreach (var x in order)
        foreach (var y in _below[x])
            row[y] = Math.Max(row[y], x < blocks ? row[x] + 1 : row[x]);
        LowerWhatHangsFree(order, row, blocks, netAt);
        OfUnit = [.. _units.Select(u => row[_block[u.Index]])];
        Count = OfUnit.DefaultIfEmpty(0).Max() + 1;
    }

    /// <summary>Parts reached back through a connector belong above it, on its near side.</summary>
    private void KeepReturnsAbove(Circuit circuit, Units units)
    {
        foreach (var path in circuit.Paths)
        {
            Unit? back = null;
            foreach (var hop in path.Hops)
            {
                var at = units.At(hop.Enter);
                if (at is { Unit: { Shape: UnitShape.Pin, Part.Kind: Connector } pin })
                    back = at.Value.Port.Side == Side.Bottom ? pin : null;
                else if (at is { } here && back is not null)
                    Below(_block[here.Unit.Index], _block[back.Index]);
            }
        }
    }

    /// <summary>Asks for <paramref name="low"/> below <paramref name="high"/>, unless it already stands above.</summary>
    private void Below(int high, int low)
    {
        if (high == low || _below[high].Contains(low) || Leads(low, high))
            return;
        _below[high].Add(low);
        _above[low].Add(high);
    }

    private bool Leads(int from, int to)
    {
        var (seen, stack) = (new HashSet<int> { from }, new Stack<int>([from]));
        while (stack.TryPop(out var x))
        {
            if (x == to)
                return true;
            foreach (var y in _below[x])
                if (seen.Add(y))
                    stack.Push(y);
        }
        return false;
    }

    private List<int> Order()
    {
        var waiting = _above.Select(a => a.Count).ToArray();
        var order = new List<int>();
        var ready = new Queue<int>(Enumerable.Range(0, waiting.Length).Where(i => waiting[i] == 0));
        while (ready.TryDequeue(out var x))
        {
            order.Add(x);
            foreach (var y in _below[x])
                if (--waiting[y] == 0)
                    ready.Enqueue(y);
        }
        return order;
    }

    /// <summary>What nothing feeds from above is let down next to what it leads to.</summary>
    private void LowerWhatHangsFree(List<int> order, int[] row, int blocks, Dictionary<(Unit, Port), int> netAt)
    {
        var fed = new bool[row.Length];
        foreach (var u in _units.Where(u => u.Part.Kind.IsSource))
        {
            fed[_block[u.Index]] = true;
            foreach (var p in u.On(Side.Top))
                if (netAt.TryGetValue((u, p), out var n))
                    fed[blocks + n] = true;
        }
        foreach (var x in order)
            if (fed[x])
                foreach (var y in _below[x])
                    fed[y] = true;
        for (var i = order.Count - 1; i >= 0; i--)
        {
            var x = order[i];
            if (fed[x] || _below[x].Count == 0)
                continue;
            var lowest = _below[x].Min(y => x < blocks ? row[y] - 1 : row[y]);
            if (lowest > row[x])
                row[x] = lowest;
        }
    }
}
