using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Routes;

/// <summary>
/// Finds the lanes of a function: the healthy current of its load, followed to the source and back, and the same for every coil whose
/// contact that current passes, until no new coil turns up. Of a function judged by ohms between two points, the roads of a meter's current
/// from one to the other; of one judged by volts at a battery, the road of the current that charges it.
/// </summary>
public static class LaneFinder
{
    /// <summary>Current below this is leakage, A.</summary>
    private const double LeastAmps = 1e-6;

    /// <summary>Lanes in the order they act: control lanes first, the load's own last. Empty when nothing flows.</summary>
    public static IReadOnlyList<Lane> Find(Machine machine, MachineFunction function)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(function);
        if (FunctionSetups.SetupFor(machine.Circuit, function) is not { } setup)
            return [];
        if (function.Test is FunctionTest.Measured measured)
            return OfMeasured(machine, setup, measured);
        if (function.Test is not FunctionTest.LoadWorks load)
            return [];
        var walk = new Walk(machine.Run(setup));
        var lanes = new List<Lane>();
        var part = machine.Circuit.IndexOf(load.Tag);
        var model = machine.Circuit.Parts[part].Model;
        var links = new Queue<(int Part, int Link)>();
        links.Enqueue((part, model.Load?.Link ?? model.Coil!.Link));
        if (model.Load is not null && model.Coil is { } own)
            links.Enqueue((part, own.Link));
        var seen = new HashSet<(int, int)>();
        while (links.TryDequeue(out var next))
        {
            if (!seen.Add(next) || walk.Lane(next.Part, next.Link) is not { } lane)
                continue;
            lanes.Add(lane);
            foreach (var coil in lane.Stations.Select(s => s.Via?.CoilTag).OfType<string>().Distinct())
            {
                var index = machine.Circuit.IndexOf(coil);
                links.Enqueue((index, machine.Circuit.Parts[index].Model.Coil!.Link));
            }
        }
        lanes.Reverse();
        return lanes;
    }

    /// <summary>Share of what a meter's current loses between two points from which on a resistance has a lane of its own.</summary>
    private const double OwnLane = 0.1;

    private static IReadOnlyList<Lane> OfMeasured(Machine machine, Setup setup, FunctionTest.Measured measured)
    {
        var circuit = machine.Circuit;
        if (measured.Probe is Probe.Volts { P: var at } && circuit.FindPart(at.Tag) is { Kind.IsSource: true })
            return new Walk(machine.Run(setup)).Lane(circuit.IndexOf(at.Tag), 0) is { } charging
                ? [charging with { Title = $"load: what charges {at.Tag}" }]
                : [];
        if (measured.Probe is not Probe.Ohms { X: var x })
            return [];
        var op = machine.Run(setup with { Interventions = circuit.SourcesOff });
        var walk = new Walk(op, Meter.TipNode(op, x.P, false), Meter.TipNode(op, x.Q, false));
        return
        [
            .. circuit
                .Parts.SelectMany((p, i) => p.Model.Links.Select((l, k) => (Part: i, Link: k, l)))
                .Where(c => c.l is Link.Resistance && walk.Lost(c.Part, c.Link) >= OwnLane)
                .Select(c => walk.Lane(c.Part, c.Link))
                .OfType<Lane>()
                .Select(l => l with { Title = $"from tip to tip, by {l.Part}", Amps = 0, IsMeter = true }),
        ];
    }

    /// <summary>Follows currents: those of a machine at work, or one ampere of a meter from one node to another on a dead one.</summary>
    private sealed class Walk(OperatingPoint op, int from = -2, int to = -2)
    {
        private readonly double[]? _meter = from == -2 ? null : op.Response(from, to);

        private double Across(int branch) =>
            (_network.A(branch) is >= 0 and var a ? _meter![a] : 0) - (_network.B(branch) is >= 0 and var b ? _meter![b] : 0);

        /// <summary>Share of all that a meter's current loses which is lost in one link.</summary>
        public double Lost(int part, int link)
        {
            var branch = _network.Layout.LinkBranches[part][link];
            var all = (from >= 0 ? _meter![from] : 0) - (to >= 0 ? _meter![to] : 0);
            return all > 0 ? op.Conductance(branch) * Across(branch) * Across(branch) / all : 0;
        }

        private readonly Circuit _circuit = op.Circuit;
        private readonly Network _network = op.Network;

        private readonly record struct Edge(int Branch, Terminal? A, Terminal? B, LaneStep Step, bool Source);

        public Lane? Lane(int part, int link)
        {
            var branch = _network.Layout.LinkBranches[part][link];
            var phase = _meter is null ? op.BranchAcAmps(branch) : Complex.Zero;
            _along = phase.Magnitude > LeastAmps ? Complex.Conjugate(phase / phase.Magnitude) : Complex.Zero;
            var amps = Flow(branch);
            if (Math.Abs(amps) < LeastAmps)
                return null;
            var (high, low) = amps > 0 ? (_network.A(branch), _network.B(branch)) : (_network.B(branch), _network.A(branch));
            var up = Follow(high, branch, upstream: true);
            var down = Follow(low, branch, upstream: false);
            if (up is null || down is null)
                return null;
            var load = Describe(branch);
            var (enter, leave) = amps > 0 ? (load.A, load.B) : (load.B, load.A);
            var road = new Road();
            up.Reverse();
            foreach (var (edge, reversed) in up)
                road.Pass(edge.Step, reversed ? edge.B : edge.A, reversed ? edge.A : edge.B);
            road.Pass(load.Step with { IsLoad = true }, enter, leave);
            var ends = road.Stations.Count - 1;
            foreach (var (edge, reversed) in down)
                road.Pass(edge.Step, reversed ? edge.B : edge.A, reversed ? edge.A : edge.B);
            if (road.Stations.Count < 2)
                return null;
            var p = _circuit.Parts[part];
            var coil = p.Model.Coil?.Link == link;
            var title = coil
                ? p.Model.Load is null
                    ? $"control: what pulls {p.Tag} in"
                    : $"control: what pulls the {p.Model.Links[link].Name} of {p.Tag} in"
                : p.Model.Load is { Links.Count: > 1 }
                    ? $"load: what feeds {p.Model.Links[link].Name} of {p.Tag}"
                    : p.Model.Links.Count > 1
                        ? $"load: what turns the {p.Model.Links[link].Name} of {p.Tag}"
                        : $"load: what feeds {p.Tag}";
            return new Lane(p.Tag, p.Model.Links[link].Name, title, Math.Abs(amps), coil, road.Stations) { LoadEnds = ends };
        }

        private Complex _along;

        /// <summary>Amps from a branch's first point to its second; of alternating current the part in phase with the load's.</summary>
        private double Flow(int branch) =>
            _meter is not null ? op.Conductance(branch) * Across(branch)
            : _along == Complex.Zero ? op.BranchAmps(branch)
            : (op.BranchAcAmps(branch) * _along).Real;

        /// <summary>Steps from a node to a source along the largest current, nearest first; null when no source is met.</summary>
        private List<(Edge Edge, bool Reversed)>? Follow(int node, int first, bool upstream)
        {
            var path = new List<(Edge, bool)>();
            var seen = new HashSet<int> { node };
            var last = first;
            while (true)
            {
                if (_meter is not null && node == (upstream ? from : to))
                    return path;
                var (best, most, other, reversed) = (-1, LeastAmps, 0, false);
                for (var b = 0; b < _network.Branches.Count; b++)
                {
                    if (b == last || _network.Branches[b].Owner == BranchOwner.Lead)
                        continue;
                    var (a, c) = (_network.A(b), _network.B(b));
                    if (a == c || (a != node && c != node))
                        continue;
                    var toB = Flow(b);
                    // Amps that come into this node when looking upstream, that leave it when looking downstream.
                    var flow = (c == node) == upstream ? toB : -toB;
                    if (flow <= most)
                        continue;
                    (best, most, other, reversed) = (b, flow, a == node ? c : a, toB < 0);
                }
                if (best < 0)
                    return null;
                var edge = Describe(best);
                if (edge.Source)
                    return path;
                path.Add((edge, reversed));
                if (!seen.Add(other))
                    return null;
                (node, last) = (other, best);
            }
        }

        private Edge Describe(int branch)
        {
            var spec = _network.Branches[branch];
            switch (spec.Owner)
            {
                case BranchOwner.Wire:
                    var w = _circuit.Wires[spec.Index];
                    return new Edge(branch, w.From, w.To, new LaneStep(w.Id, null, null), false);
                case BranchOwner.Lug:
                    return new Edge(branch, null, null, LaneStep.Metal, false);
            }
            var part = _circuit.Parts[spec.Part];
            var link = part.Model.Links[spec.Index];
            Terminal? At(string name) =>
                part.Model.Terminals.Contains(name) ? new Terminal(part.Tag, name, part.Kind is Circuits.Kinds.PinRow) : null;
            var step = new LaneStep(
                null,
                part.Tag,
                link.Name,
                link is Link.Contact or Link.Fuse,
                link is Link.Contact { Rule: ClosedRule.ByCoil { PulledIn: true } } ? part.Tag : null
            );
            // A lane begins at its own side of a transformer.
            return new Edge(branch, At(link.A), At(link.B), step, link is Link.Source || part.Model.Coupling is not null);
        }
    }

    /// <summary>Stations in the making. A point inside a part has no station; the two steps that meet there become one.</summary>
    private sealed class Road
    {
        private LaneStep? _inside;

        public List<Station> Stations { get; } = [];

        public void Pass(LaneStep step, Terminal? from, Terminal? to)
        {
            // A lug belongs to its wire's end: no station and no step of its own.
            if (step.IsMetal && from is null && to is null)
                return;
            if (from is { } f)
            {
                if (Stations.Count == 0)
                    Stations.Add(new Station(f, null));
                else if (Stations[^1].Terminal != f)
                    Stations.Add(new Station(f, LaneStep.Metal));
            }
            if (to is { } t)
                Stations.Add(new Station(t, _inside is { } before ? Joined(before, step) : step));
            _inside = to is null ? step : null;
        }

        private static LaneStep Joined(LaneStep a, LaneStep b) =>
            a with
            {
                IsLoad = a.IsLoad || b.IsLoad,
                IsContact = a.IsContact || b.IsContact,
                CoilTag = a.CoilTag ?? b.CoilTag,
            };
    }
}
