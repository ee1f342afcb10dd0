using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Drawing.Schematic;

/// <summary>What a stretch of wire is doing, each with a line style of its own.</summary>
public enum InkState
{
    /// <summary>Not computed.</summary>
    Unknown,

    /// <summary>Current flows.</summary>
    Carrying,

    /// <summary>Volts, no current.</summary>
    Live,

    /// <summary>At the level of the return.</summary>
    Return,

    /// <summary>Joined to neither.</summary>
    Floating,
}

/// <summary>State, amps and volts of the pieces of a drawing in one settled state of the machine.</summary>
public sealed class Ink
{
    /// <summary>Less is leakage, A.</summary>
    private const double LeastAmps = 0.001;

    /// <summary>Share of nominal volts below which a wire counts as at the return; common practice, no source.</summary>
    private const double ReturnShare = 0.08;

    private readonly OperatingPoint _op;

    /// <summary>
    /// Levels that volts can be read against: the reference, then the return of every source and winding, for what is joined to that only.
    /// </summary>
    private readonly List<int> _returns = [-1];
    private readonly Dictionary<(Unit, Port), Flow> _out = [];
    private readonly Dictionary<DrawnNet, int> _node = [];

    public Ink(Page page, OperatingPoint op)
    {
        ArgumentNullException.ThrowIfNull(page);
        ArgumentNullException.ThrowIfNull(op);
        _op = op;
        foreach (var part in op.Circuit.Parts)
        foreach (
            var name in part.Kind.IsSource ? ["-", "N"]
            : part.Model.Coupling is null ? Array.Empty<string>()
            : ["S2", "P2"]
        )
            if (part.Model.Terminals.Contains(name))
                _returns.Add(op.Node(new Terminal(part.Tag, name)));
        var atTerminal = new Dictionary<(DrawnNet, Terminal), Flow>();
        var place = new Dictionary<string, int>();
        for (var i = 0; i < op.Circuit.Wires.Count; i++)
            place[op.Circuit.Wires[i].Id] = i;
        var parts = new Dictionary<string, int>();
        for (var i = 0; i < op.Circuit.Parts.Count; i++)
            parts[op.Circuit.Parts[i].Tag] = i;
        foreach (var net in page.Nets)
        {
            foreach (var wire in net.Wires)
            {
                var flow = op.WireFlow(place[wire.Id]);
                atTerminal[(net, wire.From)] = atTerminal.GetValueOrDefault((net, wire.From)) + flow;
                atTerminal[(net, wire.To)] = atTerminal.GetValueOrDefault((net, wire.To)) + -flow;
            }
            foreach (var p in net.Ports)
                _out[(p.Unit, p.Port)] =
                    p.Unit.Shape == UnitShape.Bare ? Bare(p)
                    : atTerminal.TryGetValue((net, p.Port.Terminal), out var own) ? own
                    : FromLinks(parts[p.Unit.Part.Tag], p.Port.Terminal.Name);
            if (net.Ports.Count > 0)
                _node[net] = op.Node(net.Point is { } point ? new Terminal(point.Tag, "") : net.Ports[0].Port.Terminal);
        }

        Flow Bare(NetPort p)
        {
            if (p.Unit.Wire is not { } wire)
                return default;
            // Out of the piece into the net: what the wire brings to that end.
            var flow = op.WireFlow(place[wire.Id]);
            return wire.From == p.Port.Terminal ? -flow : flow;
        }

        // Metal to metal has no wire of its own: what the part gives at that terminal.
        Flow FromLinks(int part, string name)
        {
            var sum = default(Flow);
            var links = op.Circuit.Parts[part].Model.Links;
            for (var i = 0; i < links.Count; i++)
            {
                if (links[i].A == name)
                    sum += -op.LinkFlow(part, i);
                if (links[i].B == name)
                    sum += op.LinkFlow(part, i);
            }
            return sum;
        }
    }

    /// <summary>Amps along a piece, from its first end to its second; the effective value where alternating current flows.</summary>
    public double Amps(Piece piece)
    {
        ArgumentNullException.ThrowIfNull(piece);
        var sum = default(Flow);
        foreach (var p in piece.Beyond)
            sum += _out.GetValueOrDefault((p.Unit, p.Port));
        return sum.Amps;
    }

    /// <summary>
    /// Volts of a net against the reference, or against the return of the source it is joined to; effective for alternating ones.
    /// </summary>
    public double Volts(DrawnNet net)
    {
        if (!_node.TryGetValue(net, out var node))
            return 0;
        var level = Level(node) ?? -1;
        var direct = _op.Volts(node) - _op.Volts(level);
        return _op.AcVolts(node, level).Magnitude is > 0 and var ac ? Math.Sqrt(ac * ac + direct * direct) : direct;
    }

    private int? Level(int node)
    {
        foreach (var r in _returns)
            if (_op.Tied(node, r))
                return r;
        return null;
    }

    public InkState State(Piece piece)
    {
        ArgumentNullException.ThrowIfNull(piece);
        if (Math.Abs(Amps(piece)) >= LeastAmps)
            return InkState.Carrying;
        if (!_node.TryGetValue(piece.Net, out var node) || Level(node) is null)
            return InkState.Floating;
        return Math.Abs(Volts(piece.Net)) < ReturnShare * _op.Circuit.NominalVolts ? InkState.Return : InkState.Live;
    }

    /// <summary>True when that link of a part conducts.</summary>
    public bool Closed(int part, int link) => !_op.LinkOpen(part, link);

    public OperatingPoint Machine => _op;
}
