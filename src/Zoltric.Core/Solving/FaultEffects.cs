using System.Collections.Concurrent;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>A fault that the circuit cannot take; the message says which words it can.</summary>
public sealed class FaultException(string message) : Exception(message);

/// <summary>What becomes of one branch under a fault.</summary>
internal enum BranchChange
{
    Open,
    Series,
    SetOhms,
    SetMicrofarads,
    Awake,
    Closed,
    Emf,
    Limit,
    Scale,
}

internal readonly record struct ChangedBranch(int Branch, BranchChange Change, double Value);

/// <summary>Faults as changes to branches of a layout, joined points that were apart, and loads that no longer move.</summary>
internal sealed class FaultSet
{
    public static readonly FaultSet None = new();

    public List<ChangedBranch> Changes { get; } = [];

    /// <summary>True for a branch that a fault has opened: a winding that has its volts and no pull.</summary>
    public bool IsOpen(int branch)
    {
        foreach (var change in Changes)
            if (change.Branch == branch && change.Change == BranchChange.Open)
                return true;
        return false;
    }

    /// <summary>Amps that a source gives at most, where a fault has changed that.</summary>
    public double? LimitOf(int branch)
    {
        foreach (var change in Changes)
            if (change.Branch == branch && change.Change == BranchChange.Limit)
                return change.Value;
        return null;
    }

    /// <summary>New paths between two points (point -1 is the reference), ohms.</summary>
    public IReadOnlyList<(int P, int Q, double Ohms)> Joins => _joins ?? [];

    /// <summary>True for the part, by index, that draws current and does nothing.</summary>
    public bool IsStuck(int part) => _stuck?.Contains(part) == true;

    private List<(int P, int Q, double Ohms)>? _joins;
    private List<int>? _stuck;

    /// <summary>True for the part, by index, whose plunger does not move: nothing is heard.</summary>
    public bool IsMute(int part) => _mute?.Contains(part) == true;

    private List<int>? _mute;

    /// <summary>True for a fuse or breaker, by branch, that has not opened yet.</summary>
    public bool Holds(int branch) => _holds?.Contains(branch) == true;

    private List<int>? _holds;

    /// <summary>True for an overload relay, by part, that has not tripped yet.</summary>
    public bool HoldsTrip(int part) => _tripHolds?.Contains(part) == true;

    private List<int>? _tripHolds;

    /// <summary>Parts, by index, that draw current and do nothing, or whose plunger does not move.</summary>
    public IEnumerable<int> Unmoved => (_stuck ?? []).Concat(_mute ?? []);

    public void HoldTrip(int part) => (_tripHolds ??= []).Add(part);

    public void Hold(int branch) => (_holds ??= []).Add(branch);

    public void Mute(int part) => (_mute ??= []).Add(part);

    /// <summary>The same without what is wrong with some branches: a battery that another one holds up.</summary>
    public FaultSet Without(IEnumerable<int> branches)
    {
        var left = new FaultSet
        {
            _joins = _joins,
            _stuck = _stuck,
            _mute = _mute,
            _holds = _holds,
            _tripHolds = _tripHolds,
        };
        left.Changes.AddRange(Changes.Where(c => !branches.Contains(c.Branch)));
        return left;
    }

    public void Join(int p, int q, double ohms) => (_joins ??= []).Add((p, q, ohms));

    public void Stick(int part) => (_stuck ??= []).Add(part);
}

/// <summary>Turns fault words into changes of a circuit's branches.</summary>
internal sealed class FaultEffects(Layout layout)
{
    private readonly Circuit _circuit = layout.Circuit;

    public FaultSet Apply(IEnumerable<Fault> faults)
    {
        var set = new FaultSet();
        foreach (var f in faults)
            Add(set, f);
        return set;
    }

    private void Add(FaultSet set, Fault fault)
    {
        var wireIndex = layout.WireIndex(fault.Target);
        if (wireIndex >= 0)
        {
            var w = _circuit.Wires[wireIndex];
            if (fault.Kind == FaultKind.Crossed)
            {
                Cross(set, fault, wireIndex);
                return;
            }
            AddConductor(set, fault, [layout.WireBranches[wireIndex]], layout.WirePoint(w, true), w.From);
            return;
        }
        var slash = fault.Target.IndexOf('/', StringComparison.Ordinal);
        if (slash > 0)
        {
            var wire = fault.Target[(slash + 1)..];
            var lugs = layout.Lugs(fault.Target[..slash]).Where(l => l.Wire == wire).ToList();
            if (lugs.Count == 0)
                throw new FaultException($"{fault.Target[..slash]} has no lug for wire {wire}.");
            AddConductor(set, fault, lugs.Select(l => l.Branch).ToArray(), lugs[0].Point, new Terminal(fault.Target[..slash], ""));
            return;
        }
        var colon = fault.Target.IndexOf(':', StringComparison.Ordinal);
        var part = _circuit.FindPart(colon < 0 ? fault.Target : fault.Target[..colon])
            ?? throw new FaultException($"There is no part, pin or wire {fault.Target} on this sheet.");
        var index = layout.PartIndex(part.Tag);
        if (colon >= 0)
        {
            var link = part.Model.LinkIndex(fault.Target[(colon + 1)..]);
            if (link < 0)
                throw new FaultException($"{part.Tag} has no pin {fault.Target[(colon + 1)..]}.");
            var a = new Terminal(part.Tag, part.Model.Links[link].A, true);
            AddConductor(set, fault, [layout.LinkBranches[index][link]], layout.LoomPoint(a), a);
            return;
        }
        if (part.Model.IsPoint)
        {
            if (SourceSideLug(part.Tag) is not { } lug)
                throw new FaultException($"{part.Tag} has no wire that could come loose.");
            AddConductor(set, fault, [lug], layout.PartPoint(new Terminal(part.Tag, "")), new Terminal(part.Tag, ""));
            return;
        }
        AddPartFault(set, fault, part, index);
    }

    /// <summary>Each of two wires ends where the other should.</summary>
    private void Cross(FaultSet set, Fault fault, int first)
    {
        var second = fault.Toward is { } toward ? layout.WireIndex(toward) : -1;
        if (second < 0 || second == first)
            throw new FaultException($"“{fault}”: crossed needs the other wire.");
        var (w, v) = (_circuit.Wires[first], _circuit.Wires[second]);
        var along = w.From.Tag == v.From.Tag || w.To.Tag == v.To.Tag;
        set.Changes.Add(new ChangedBranch(layout.WireBranches[first], BranchChange.Open, 0));
        set.Changes.Add(new ChangedBranch(layout.WireBranches[second], BranchChange.Open, 0));
        set.Join(layout.WirePoint(w, true), layout.WirePoint(v, !along), w.Ohms);
        set.Join(layout.WirePoint(v, along), layout.WirePoint(w, false), v.Ohms);
    }

    private void AddConductor(FaultSet set, Fault fault, int[] branches, int point, Terminal at)
    {
        switch (fault.Words)
        {
            case "open" or "intermittent":
                foreach (var b in branches)
                    set.Changes.Add(new ChangedBranch(b, BranchChange.Open, 0));
                break;
            case "resists":
                foreach (var b in branches)
                    set.Changes.Add(new ChangedBranch(b, BranchChange.Series, Ohms(fault)));
                break;
            case "grounded":
                set.Join(point, layout.LoomPoint(_circuit.FrameFor(at)), Ohms(fault, 0.5));
                break;
            case "to-supply":
                set.Join(point, layout.LoomPoint(SupplyPositive(_circuit, at)), Ohms(fault, 0.5));
                break;
            case "shorts" when fault.Toward is { } other:
                set.Join(point, layout.LoomPoint(ParseTerminal(other)), Ohms(fault, 0.1));
                break;
            case "shorts":
                throw new FaultException($"“{fault}”: shorts needs the other point.");
            default:
                throw new FaultException(
                    $"“{fault}”: a wire or pin takes open, resists 4ohm, grounded 0.5ohm, to-supply 0.5ohm, shorts X3:5 "
                        + $"0.1ohm or intermittent."
                );
        }
    }

    private void AddPartFault(FaultSet set, Fault fault, Part part, int index)
    {
        if (fault.Kind == FaultKind.Leaks && LeakEnds(part, fault.Toward) is var (from, to))
        {
            set.Join(
                layout.PartPoint(from),
                to is { } end ? layout.PartPoint(end) : layout.LoomPoint(_circuit.FrameFor(from)),
                Ohms(fault)
            );
            return;
        }
        if (fault.Words == Fault.Holds && part.Model.Links.Any(l => l is Link.Fuse))
        {
            for (var l = 0; l < part.Model.Links.Count; l++)
                if (part.Model.Links[l] is Link.Fuse)
                    set.Hold(layout.LinkBranches[index][l]);
            return;
        }
        if (fault.Words == Fault.Holds && part.Model.Coil is { IsTrip: true })
        {
            set.HoldTrip(index);
            return;
        }
        if (fault is { Kind: FaultKind.Intermittent, Toward: null } && !part.Model.Faults.Any(m => Fault.Opening(m.Words) == ""))
        {
            // Said of a part with several contacts and windings, and not of which: all of it comes and goes.
            var parts = part.Model.Faults.Where(m => Fault.Opening(m.Words) is not null).Select(m => m.Effect).OfType<FaultEffect.Open>();
            var open = parts.SelectMany(e => e.Links).Distinct().ToList();
            foreach (var l in open)
                set.Changes.Add(new ChangedBranch(layout.LinkBranches[index][l], BranchChange.Open, 0));
            if (open.Count > 0)
                return;
        }
        var mode = part.Model.Faults.FirstOrDefault(m =>
            fault.Kind == FaultKind.Intermittent ? Fault.Opening(m.Words) == (fault.Toward ?? "") : m.Words == fault.Words
        )
            ?? throw new FaultException(
                $"“{fault}”: {part.Tag} is a {part.Kind.Word} and takes "
                    + string.Join(", ", part.Model.Faults.Where(m => m.Odds > 0).Select(m => m.Words))
                    + "."
            );
        // A module that stays awake may be said by the amps it takes.
        if (mode.Effect is FaultEffect.Awake && fault is { Dimension: Dimension.Ampere, Value: > 0 and var amps })
            fault = fault with { Value = part.NominalVolts / amps, Dimension = Dimension.Ohm };
        var value = 0.0;
        if (mode.Value is { } dimension)
        {
            value = fault.Value ?? mode.DefaultValue ?? throw new FaultException($"“{fault}” needs a value in {Units.Sign(dimension)}.");
            if (fault.Value is not null && fault.Dimension != dimension && fault.Dimension != Dimension.None)
                throw new FaultException($"“{fault}” needs a value in {Units.Sign(dimension)}.");
            if (value < 0 || (dimension == Dimension.Ohm && value <= 0))
                throw new FaultException($"“{fault}” needs a value above zero.");
        }
        int Branch(int link) => layout.LinkBranches[index][link];
        void Change(int[] links, BranchChange change, double to = 0)
        {
            foreach (var l in links)
                set.Changes.Add(new ChangedBranch(Branch(l), change, to));
        }

        switch (mode.Effect)
        {
            case FaultEffect.Open e:
                Change(e.Links, BranchChange.Open);
                break;
            case FaultEffect.Series e:
                Change(e.Links, BranchChange.Series, value);
                break;
            case FaultEffect.Holder e:
                Change([e.Link], mode.Value is null ? BranchChange.Open : BranchChange.Series, value);
                break;
            case FaultEffect.SetOhms e:
                Change(e.Links, BranchChange.SetOhms, value);
                break;
            case FaultEffect.SetMicrofarads e:
                Change([e.Link], BranchChange.SetMicrofarads, value);
                break;
            case FaultEffect.Limit e:
                Change([e.Link], BranchChange.Limit, value);
                break;
            case FaultEffect.Stalled:
                set.Stick(index);
                break;
            case FaultEffect.Awake e:
                Change(e.Links, BranchChange.Awake, value);
                break;
            case FaultEffect.Closed e:
                Change(e.Links, BranchChange.Closed);
                break;
            case FaultEffect.Tripped e:
                Change(e.Opened, BranchChange.Open);
                Change(e.Made, BranchChange.Closed);
                break;
            case FaultEffect.Sticks e:
                Change(e.Links, BranchChange.Open);
                set.Mute(index);
                break;
            case FaultEffect.Emf e:
                set.Changes.Add(new ChangedBranch(Branch(e.Link), BranchChange.Emf, value));
                break;
            case FaultEffect.EmfScale e:
                for (var l = 0; l < part.Model.Links.Count; l++)
                    if (part.Model.Links[l] is Link.Source)
                        set.Changes.Add(new ChangedBranch(Branch(l), BranchChange.Scale, value / e.NominalVolts));
                break;
            case FaultEffect.Short e:
                set.Join(layout.Branches[Branch(e.First)].P, layout.Branches[Branch(e.Last)].Q, value);
                break;
            case FaultEffect.Seized e:
                foreach (var l in e.Links)
                    set.Changes.Add(new ChangedBranch(Branch(l), BranchChange.SetOhms, part.Model.Links[l].Ohms * e.OhmsFactor));
                set.Stick(index);
                break;
            case FaultEffect.Across e:
                set.Join(layout.PartPoint(new Terminal(part.Tag, e.From)), layout.PartPoint(new Terminal(part.Tag, e.To)), value);
                break;
            case FaultEffect.Grounded e:
                var a = new Terminal(part.Tag, part.Model.Links[e.Link].A);
                set.Join(layout.PartPoint(a), layout.LoomPoint(_circuit.FrameFor(a)), value);
                break;
        }
    }

    /// <summary>
    /// Ends of a leak in a part: the part's two terminals where nothing is said, else those of <c>86-30</c> or <c>30-frame</c>; a
    /// second end of null is the frame. Null where the part has no such terminals.
    /// </summary>
    private static (Terminal From, Terminal? To)? LeakEnds(Part part, string? path)
    {
        if (part.Kind is Circuits.Kinds.PinRow)
            throw new FaultException($"“{part.Tag} leaks”: say it of a pin, as in {part.Tag}:1 shorts {part.Tag}:2a 100ohm or grounded.");
        Terminal At(string name) => new(part.Tag, name);
        if (path is null)
            return part.Model.Through is { } through ? (At(through.First), At(through.Second)) : null;
        // A terminal may itself be called - or +.
        for (var dash = path.IndexOf('-', 1); dash > 0; dash = dash + 1 < path.Length ? path.IndexOf('-', dash + 1) : -1)
            if (part.Model.Terminals.Contains(path[..dash]))
            {
                var second = path[(dash + 1)..];
                if (second == Fault.Frame)
                    return (At(path[..dash]), null);
                if (second != path[..dash] && part.Model.Terminals.Contains(second))
                    return (At(path[..dash]), At(second));
            }
        throw new FaultException(
            $"“{part.Tag} leaks {path}”: a leak lies between two of {string.Join(", ", part.Model.Terminals)}, or from one of them to the "
                + "frame, as in 1-frame."
        );
    }

    private static double Ohms(Fault fault, double? otherwise = null)
    {
        var value = fault.Value ?? otherwise ?? throw new FaultException($"“{fault}” needs a value in Ω.");
        if (value <= 0 || fault.Dimension is not (Dimension.Ohm or Dimension.None))
            throw new FaultException($"“{fault}” needs a value in Ω above zero.");
        return value;
    }

    /// <summary>Positive of the supply of a point's own section; of the first source where there is none or no point is given.</summary>
    public static Terminal SupplyPositive(Circuit circuit, Terminal? at = null)
    {
        var own = at is { } t ? Nets.Of(circuit).SourcesAt(t).Select(circuit.FindPart).FirstOrDefault() : null;
        var source = own ?? circuit.Sources.First();
        return new Terminal(source.Tag, source.Model.Terminals[0]);
    }

    /// <summary>The terminal that fault words name as its other point.</summary>
    public static Terminal ParseTerminal(string text)
    {
        var at = text.IndexOfAny(['.', ':']);
        return at < 0 ? new Terminal(text, "") : new Terminal(text[..at], text[(at + 1)..], text[at] == ':');
    }

    private readonly ConcurrentDictionary<string, int?> _sourceSide = new();

    /// <summary>
    /// The lug through which a stud reaches a source by the least resistance without passing through the stud: the one that parts from the
    /// others when the stud is said to be open.
    /// </summary>
    public int? SourceSideLug(string stud)
    {
        if (_sourceSide.TryGetValue(stud, out var known))
            return known;
        var nodes = layout.Nodes(_ => false, out var count);
        int Node(int point) => nodes[point] + 1;
        var lugs = layout.Lugs(stud).ToList();
        var own = lugs.Select(l => l.Branch).ToHashSet();
        var edges = new List<(int To, double Ohms)>[count + 1];
        for (var i = 0; i <= count; i++)
            edges[i] = [];
        var goals = new HashSet<int>();
        for (var i = 0; i < layout.Branches.Count; i++)
        {
            var b = layout.Branches[i];
            if (own.Contains(i))
                continue;
            var ohms = b.Owner switch
            {
                BranchOwner.Wire => _circuit.Wires[b.Index].Ohms,
                BranchOwner.Lug => Defaults.StudOhms,
                _ => _circuit.Parts[b.Part].Model.Links[b.Index].Ohms,
            };
            // A transformer's winding feeds what hangs on it, as a source does.
            if (
                b.Owner == BranchOwner.Link
                && (_circuit.Parts[b.Part].Model.Links[b.Index] is Link.Source || _circuit.Parts[b.Part].Model.Coupling is not null)
            )
            {
                goals.Add(Node(b.P));
                goals.Add(Node(b.Q));
                continue;
            }
            edges[Node(b.P)].Add((Node(b.Q), ohms));
            edges[Node(b.Q)].Add((Node(b.P), ohms));
        }
        int? best = null;
        var least = double.PositiveInfinity;
        foreach (var lug in lugs)
        {
            var d = Shortest(edges, Node(lug.Point), goals);
            if (d < least)
                (least, best) = (d, lug.Branch);
        }
        return _sourceSide[stud] = best;
    }

    private static double Shortest(List<(int To, double Ohms)>[] edges, int from, HashSet<int> goals)
    {
        var done = new HashSet<int>();
        var queue = new PriorityQueue<int, double>();
        queue.Enqueue(from, 0);
        while (queue.TryDequeue(out var node, out var distance))
        {
            if (!done.Add(node))
                continue;
            if (goals.Contains(node))
                return distance;
            foreach (var (to, ohms) in edges[node])
                if (!done.Contains(to))
                    queue.Enqueue(to, distance + ohms);
        }
        return double.PositiveInfinity;
    }
}
