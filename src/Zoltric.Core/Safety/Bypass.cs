using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>
/// What a lead between two points goes past. A part is passed when some way from one point to the other leads through it without using a
/// net twice. Who goes past a contact that a coil works goes past all that the coil hangs on as well, and so for the inputs of a module.
/// </summary>
/// <remarks>
/// A way through a link exists when two paths without a common net join its two ends to the two points: a flow of two through nets that
/// carry one each (Menger's theorem). Nets and links are few, so the flow is found by two breadth-first searches for each link.
/// </remarks>
internal sealed class Bypass
{
    private readonly Nets _nets;
    private readonly List<(Part Part, Link Link, int A, int B)> _links = [];
    private readonly Dictionary<int, List<int>> _at = [];

    public Bypass(Circuit circuit)
    {
        _nets = Nets.Of(circuit);
        foreach (var part in circuit.Parts.Where(p => p.Kind is not Circuits.Kinds.PinRow))
        foreach (var link in part.Model.Links.Where(l => l is Link.Contact or Link.Fuse))
        {
            var (a, b) = (_nets.NetOf(new Terminal(part.Tag, link.A)), _nets.NetOf(new Terminal(part.Tag, link.B)));
            if (a < 0 || b < 0 || a == b)
                continue;
            foreach (var n in new[] { a, b })
            {
                if (!_at.TryGetValue(n, out var list))
                    _at[n] = list = [];
                list.Add(_links.Count);
            }
            _links.Add((part, link, a, b));
        }
    }

    /// <summary>Parts that a lead from one point to the other goes past.</summary>
    public IReadOnlyCollection<Part> Between(Terminal p, Terminal q)
    {
        var passed = new HashSet<Part>();
        var asked = new HashSet<(int, int)>();
        var queue = new Queue<(int From, int To)>([(_nets.NetOf(p), _nets.NetOf(q))]);
        while (queue.TryDequeue(out var ends))
        {
            if (ends.From < 0 || ends.To < 0 || ends.From == ends.To || !asked.Add(ends))
                continue;
            for (var i = 0; i < _links.Count; i++)
            {
                var (part, link, a, b) = _links[i];
                if (!LiesBetween(i, a, b, ends.From, ends.To))
                    continue;
                passed.Add(part);
                foreach (var (from, to) in HangsOn(part, link))
                    queue.Enqueue((from, to));
            }
        }
        return passed;
    }

    /// <summary>What a worked contact hangs on: the ways from the sources to the ends of its coil or inputs.</summary>
    private IEnumerable<(int From, int To)> HangsOn(Part part, Link link)
    {
        var worked = new List<(Part Part, int Link)>();
        if (link is Link.Contact { Rule: ClosedRule.ByCoil } && part.Model.Coil is { } coil)
            worked.Add((part, coil.Link));
        if (link is Link.Contact { Rule: ClosedRule.ByControls rule })
        {
            foreach (var active in rule.Closed.OfType<Condition>().Concat(rule.Open).SelectMany(c => c.Leaves()).OfType<Condition.Active>())
            {
                var name = active.Tag.Split('.')[0];
                if (_nets.Circuit.FindPart(name) is not { } by)
                    continue;
                var input = by.Model.Inputs.FirstOrDefault(i => $"{by.Tag}.in{i.Pin}" == active.Tag);
                if (input is not null)
                    worked.Add((by, input.Link));
                else if (by.Model.Coil is { } c && by.Tag != part.Tag)
                    worked.Add((by, c.Link));
            }
        }
        foreach (var (by, at) in worked)
        {
            var l = by.Model.Links[at];
            foreach (var end in new[] { l.A, l.B })
            foreach (var source in _nets.Circuit.Parts.Where(p => p.Kind.IsSource || p.Model.Coupling is not null))
            foreach (var t in source.Model.Terminals.Where(t => t is not "PE"))
                yield return (_nets.NetOf(new Terminal(source.Tag, t)), _nets.NetOf(new Terminal(by.Tag, end)));
        }
    }

    private IEnumerable<int> Next(int net, int without)
    {
        if (!_at.TryGetValue(net, out var list))
            yield break;
        foreach (var i in list)
            if (i != without)
                yield return _links[i].A == net ? _links[i].B : _links[i].A;
    }

    /// <summary>
    /// Whether a way from one net to another that uses no net twice leads through the link from a to b: a flow of two from {a, b} to {from,
    /// to} with room for one in every net, the link itself left out.
    /// </summary>
    private bool LiesBetween(int link, int a, int b, int from, int to)
    {
        // Nodes 2n (in) and 2n + 1 (out); flow on an arc is kept as the set of arcs that carry one.
        var carried = new HashSet<(int, int)>();
        var flow = 0;
        for (var round = 0; round < 2; round++)
        {
            var came = new Dictionary<int, int>();
            var queue = new Queue<int>();
            foreach (var s in new[] { a, b })
                if (!carried.Contains((-1, 2 * s)) && came.TryAdd(2 * s, -1))
                    queue.Enqueue(2 * s);
            var end = -1;
            while (end < 0 && queue.TryDequeue(out var node))
            {
                var net = node / 2;
                if (node % 2 == 1 && (net == from || net == to) && !carried.Contains((node, -2)))
                {
                    end = node;
                    break;
                }
                foreach (var next in Residual(node, link, carried))
                    if (came.TryAdd(next, node))
                        queue.Enqueue(next);
            }
            if (end < 0)
                break;
            carried.Add((end, -2));
            for (var x = end; x >= 0; x = came[x])
            {
                var before = came[x];
                if (before < 0)
                {
                    carried.Add((-1, x));
                    break;
                }
                if (!carried.Remove((x, before)))
                    carried.Add((before, x));
            }
            flow++;
        }
        return flow == 2;
    }

    private IEnumerable<int> Residual(int node, int link, HashSet<(int, int)> carried)
    {
        var net = node / 2;
        if (node % 2 == 0)
        {
            if (!carried.Contains((node, node + 1)))
                yield return node + 1;
            foreach (var other in Next(net, link))
                if (carried.Contains((2 * other + 1, node)))
                    yield return 2 * other + 1;
        }
        else
        {
            foreach (var other in Next(net, link))
                if (!carried.Contains((node, 2 * other)))
                    yield return 2 * other;
            if (carried.Contains((node - 1, node)))
                yield return node - 1;
        }
    }
}
