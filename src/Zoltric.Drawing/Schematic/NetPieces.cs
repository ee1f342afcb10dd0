namespace Zoltric.Drawing.Schematic;

/// <summary>
/// Turns the bars and risers of one net into straight pieces, and finds for each which ports lie on its first end's side.
/// </summary>
internal sealed class NetPieces
{
    private readonly DrawnNet _net;
    private readonly List<(double X, double Y)> _nodes = [];
    private readonly Dictionary<(double X, double Y), int> _index = [];
    private readonly List<List<(int Other, int Edge)>> _edgesAt = [];
    private readonly List<(int A, int B, NetPort? Port)> _edges = [];
    private readonly List<NetPort?> _portAt = [];

    public NetPieces(DrawnNet net, Channels channels, Func<Column, double> axis, Func<NetPort, double> portY)
    {
        _net = net;
        foreach (var r in channels.Risers.Where(r => r.Net == net))
        {
            var x = axis(r.Column);
            var upper = r.Upper is { } u ? Node(x, u.Y) : PortNode(x, portY(r.Port!), r.Port!);
            var lower = r.Lower is { } l ? Node(x, l.Y) : PortNode(x, portY(r.Port!), r.Port!);
            Join(upper, lower, r.Port);
        }
        foreach (var bar in channels.Bars.Where(b => b.Net == net))
        {
            var xs = bar.Ends.Select(e => axis(e.Column)).Distinct().Order().ToList();
            for (var i = 1; i < xs.Count; i++)
                Join(Node(xs[i - 1], bar.Y), Node(xs[i], bar.Y), null);
        }
    }

    private int Node(double x, double y)
    {
        if (_index.TryGetValue((x, y), out var i))
            return i;
        _index[(x, y)] = _nodes.Count;
        _nodes.Add((x, y));
        _edgesAt.Add([]);
        _portAt.Add(null);
        return _nodes.Count - 1;
    }

    private int PortNode(double x, double y, NetPort port)
    {
        var n = Node(x, y);
        _portAt[n] = port;
        return n;
    }

    private void Join(int a, int b, NetPort? port)
    {
        if (a == b)
            return;
        _edgesAt[a].Add((b, _edges.Count));
        _edgesAt[b].Add((a, _edges.Count));
        _edges.Add((a, b, port));
    }

    public void Draw(List<Piece> pieces, List<Dot> dots)
    {
        if (_nodes.Count == 0)
            return;
        // The pieces of a net make a tree: what lies beyond a piece is what hangs below it, seen from the first node.
        var (order, parentEdge) = (new List<int> { 0 }, new int[_nodes.Count]);
        Array.Fill(parentEdge, -1);
        var seen = new bool[_nodes.Count];
        seen[0] = true;
        for (var i = 0; i < order.Count; i++)
            foreach (var (other, edge) in _edgesAt[order[i]])
                if (!seen[other])
                {
                    seen[other] = true;
                    parentEdge[other] = edge;
                    order.Add(other);
                }
        var below = new List<NetPort>[_nodes.Count];
        for (var i = order.Count - 1; i >= 0; i--)
        {
            var n = order[i];
            below[n] = [];
            if (_portAt[n] is { } own)
                below[n].Add(own);
            foreach (var (other, edge) in _edgesAt[n])
                if (parentEdge[other] == edge && other != 0)
                    below[n].AddRange(below[other]);
        }
        foreach (var n in order.Skip(1))
        {
            var (a, b, port) = _edges[parentEdge[n]];
            var up = a == n ? b : a;
            var labels =
                port is not null && _net.Labels.TryGetValue((port.Unit, port.Port), out var own) ? own
                : _net.Wires.Count == 1 ? _net.Wires
                : [];
            pieces.Add(new Piece(_net, _nodes[n].X, _nodes[n].Y, _nodes[up].X, _nodes[up].Y, below[n], labels));
        }
        for (var n = 0; n < _nodes.Count; n++)
            if (_edgesAt[n].Count > 2 || _net.Point is not null && _portAt[n] is null && _edgesAt[n].Count > 1 && IsOnTrunk(n))
                dots.Add(new Dot(_net, _nodes[n].X, _nodes[n].Y));
    }

    private bool IsOnTrunk(int n) => _edgesAt[n].Exists(e => _nodes[e.Other].Y == _nodes[n].Y);
}
