using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>Says of each suspect where it is mended: which faults are one to the repair, and to every meter.</summary>
internal sealed class RepairSites(Machine machine)
{
    /// <summary>Strings that share more than this part of their joints are one to the repair.</summary>
    private const double MostInCommon = 0.5;

    private readonly Circuit _circuit = machine.Circuit;

    /// <summary>Aged strings met so far, with the load that each is named by.</summary>
    private readonly List<(HashSet<string> Joints, string Name)> _strings = [];

    private Dictionary<string, string>? _nets;
    private Dictionary<string, string>? _wireAt;
    private HashSet<string>? _supplyNet,
        _referenceNet;

    /// <summary>
    /// Makes the runs that sites hang on, so that <see cref="Site(Suspect)"/> makes none: whoever runs a machine may have to stand back.
    /// </summary>
    public void Prepare(IEnumerable<Suspect> suspects)
    {
        if (!suspects.Any(s => s.Template.Kind == FaultKind.Shorts || s.Also?.Kind == FaultKind.Shorts))
            return;
        _supplyNet ??= FaultCatalogue.SupplyNet(machine);
        _referenceNet ??= FaultCatalogue.ReferenceNet(machine);
    }

    /// <summary>Where a suspect is mended. Strings are named in the order in which they are met.</summary>
    public RepairSite Site(Suspect s)
    {
        if (s.String is not null)
            return new RepairSite(StringAlike(s), SiteKind.Aged);
        if (s.Also is null)
            return OfOne(s);
        var first = OfOne(s);
        // The repair of what blew a fuse takes the new fuse in.
        return s.AlsoUnit is null ? first : RepairSite.Of(first, OfOne(new Suspect(s.Also, [], false, 0, s.AlsoUnit)));
    }

    private RepairSite OfOne(Suspect s)
    {
        if (s.Template is not { Kind: FaultKind.Shorts, Toward: { } toward })
            return Site(s.Template, s.RepairUnit);
        // A pin joined to a neighbour that hangs on a rail is, to every meter, its net joined to that rail.
        var (a, b) = (WireAt(s.Template.Target + "a"), WireAt(toward));
        foreach (var (one, other) in new[] { (a, b), (b, a) })
        {
            if (one is null || other is null)
                continue;
            if (_supplyNet!.Contains(other))
                return new RepairSite(NetOf(one), SiteKind.NetToSupply);
            if (_referenceNet!.Contains(other))
                return new RepairSite(NetOf(one), SiteKind.NetGrounded);
        }
        return Site(s.Template, s.RepairUnit);
    }

    private RepairSite Site(Fault fault, string unit)
    {
        if (fault.Kind is FaultKind.Grounded or FaultKind.ToSupply && _circuit.FindWire(fault.Target) is not null)
            return new RepairSite(NetOf(fault.Target), fault.Kind == FaultKind.Grounded ? SiteKind.NetGrounded : SiteKind.NetToSupply);
        // Where along it the two wires of a bus touch, no meter tells.
        if (fault.Kind == FaultKind.Shorts && _circuit.FindWire(fault.Target) is not null)
            return new RepairSite(NetOf(fault.Target), SiteKind.Other, fault.Words);
        if (_circuit.FindPart(fault.Target) is not { } part || part.Model.IsPoint)
            return fault.Kind is FaultKind.Open or FaultKind.Resists
                ? new RepairSite(unit, SiteKind.Series)
                : new RepairSite(unit, SiteKind.Other, fault.Words);
        if (fault.Kind == FaultKind.Leaks)
            return new RepairSite(unit, SiteKind.Leaks, fault.Toward ?? "");
        if (fault.Kind == FaultKind.Intermittent)
            return new RepairSite(unit, SiteKind.Intermittent, fault.Toward ?? "");
        if (part.Kind.IsSource)
            return new RepairSite(unit, SiteKind.Source);
        RepairSite On(SiteKind kind, params int[] links) => new(unit, kind) { Links = links };
        return part.Model.Faults.First(m => m.Words == fault.Words).Effect switch
        {
            FaultEffect.Open o => On(SiteKind.Series, Stretch(part.Model, o.Links)),
            FaultEffect.Series e => On(SiteKind.Series, Stretch(part.Model, e.Links)),
            // Until it is pulled, a fuse and its clips are one to every probe; who mends the one sees to the other.
            FaultEffect.Holder e => On(SiteKind.Series, Stretch(part.Model, e.Link)),
            FaultEffect.SetOhms e => On(SiteKind.Low, e.Links),
            FaultEffect.Tripped e => On(SiteKind.Series, Stretch(part.Model, e.Opened)),
            FaultEffect.Awake => On(SiteKind.Awake),
            FaultEffect.Closed e => On(SiteKind.Closed, e.Links),
            // A motor that is stuck draws what one with shorted turns draws: it comes out and is turned by hand either way.
            FaultEffect.Seized e => On(SiteKind.Low, e.Links),
            FaultEffect.Grounded => On(SiteKind.Grounded),
            FaultEffect.Across => On(SiteKind.Low),
            FaultEffect.Short e => On(SiteKind.Low, e.First, e.Last),
            _ => On(SiteKind.Other),
        };
    }

    /// <summary>Links that meet at a point inside the part are one stretch to every probe.</summary>
    private static int[] Stretch(PartModel model, params int[] links)
    {
        bool IsInside(string name) => !model.Terminals.Contains(name);
        var all = links.ToHashSet();
        foreach (var l in links)
            for (var k = 0; k < model.Links.Count; k++)
                foreach (var end in new[] { model.Links[k].A, model.Links[k].B })
                    if (IsInside(end) && (model.Links[l].A == end || model.Links[l].B == end))
                        all.Add(k);
        return [.. all.Order()];
    }

    private string StringAlike(Suspect aged)
    {
        var joints = aged.Together.Prepend(aged.Template).Select(f => $"{f.Target} {f.Words}").ToHashSet();
        foreach (var (theirs, name) in _strings)
        {
            var common = joints.Intersect(theirs).Count();
            if (common > MostInCommon * (joints.Count + theirs.Count - common))
                return name;
        }
        _strings.Add((joints, aged.String!));
        return aged.String!;
    }

    /// <summary>
    /// Wires that share a terminal are one net to every meter: a wire of it rubbed through to ground is found by eye along the net,
    /// whichever it is. By wire, the first name in its net.
    /// </summary>
    private string NetOf(string wire) => (_nets ??= NetsOf(_circuit))[wire];

    private static Dictionary<string, string> NetsOf(Circuit circuit)
    {
        var at = circuit
            .Wires.SelectMany(w => new[] { (At: w.From, Wire: w), (At: w.To, Wire: w) })
            .Where(x => x.At.Name.Length > 0)
            .ToLookup(x => x.At, x => x.Wire);
        var nets = new Dictionary<string, string>();
        foreach (var first in circuit.Wires)
        {
            if (nets.ContainsKey(first.Id))
                continue;
            var (net, queue) = (new List<string> { first.Id }, new Queue<Wire>([first]));
            nets[first.Id] = "";
            while (queue.TryDequeue(out var w))
                foreach (var other in at[w.From].Concat(at[w.To]))
                    if (nets.TryAdd(other.Id, ""))
                    {
                        net.Add(other.Id);
                        queue.Enqueue(other);
                    }
            var name = net.Min(StringComparer.Ordinal)!;
            foreach (var id in net)
                nets[id] = name;
        }
        return nets;
    }

    private string? WireAt(string pin)
    {
        if (_wireAt is null)
        {
            _wireAt = [];
            foreach (var w in _circuit.Wires)
            {
                _wireAt.TryAdd(w.From.ToString(), w.Id);
                _wireAt.TryAdd(w.To.ToString(), w.Id);
            }
        }
        return _wireAt.GetValueOrDefault(pin);
    }
}
