using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Safety;

/// <summary>Sources that conductors join, with what isolates them.</summary>
/// <param name="Devices">Isolators, breakers or switches to open and lock; empty where the source itself is disconnected.</param>
/// <param name="Behind">One point on every conductor behind them, the return among them, last.</param>
/// <param name="Earth">A point of the earth or frame that the points are read against, or null where the return is the frame.</param>
public sealed record IsolatedSupply(
    IReadOnlyList<Part> Sources,
    IReadOnlyList<Part> Devices,
    IReadOnlyList<Terminal> Behind,
    Terminal? Earth
)
{
    /// <summary>Stable name under which its lock is kept: the tags of its sources.</summary>
    public string Key => string.Join(' ', Sources.Select(s => s.Tag));

    /// <summary>What to do, as an order.</summary>
    public string Say
    {
        get
        {
            var feeds = string.Join(" and ", Sources.Select(s => s.Spoken));
            if (Devices.Count > 0)
                return $"{string.Join(", ", Devices.Select(d => $"{d.Spoken}{At(d)}"))}: off and locked, for {feeds}.";
            if (Sources.Any(s => s.Kind is Battery))
                return $"{feeds}{At(Sources[0])}: take the ground lead off first, then keep it from being put back.";
            return $"{feeds}{At(Sources[0])}: pull its plug or open the device that feeds it, and lock that.";
        }
    }

    private static string At(Part p) => p.Place is { } place ? $", {place}" : "";
}

/// <summary>Volts to be read between two points that must be dead.</summary>
/// <param name="Function">Low impedance where alternating volts can be, direct where direct volts can be.</param>
/// <param name="Why">What could stand there, in a few words.</param>
public sealed record DeadCheck(Terminal P, Terminal Q, VoltsFunction Function, string Why)
{
    /// <summary>Stable name under which a reading of it is kept.</summary>
    public string Key => $"{P} {Q} {(Function == VoltsFunction.Dc ? "DC" : "AC")}";

    /// <summary>True for a reading between the same two nets, either way round.</summary>
    public bool IsBetween(Nets nets, Terminal p, Terminal q) =>
        nets.SameNet(P, p) && nets.SameNet(Q, q) || nets.SameNet(P, q) && nets.SameNet(Q, p);
}

/// <summary>
/// How a machine is isolated and proved dead: what is opened, which pairs are read once for the whole machine, and which points stay live.
/// Order live–dead–live after 29 CFR 1910.147 and 1910.333 and EN 50110-1; pairs after the rule that every conductor is read to every other
/// and to earth (EN 50110-1, 6.2.3, from memory).
/// </summary>
public sealed partial class IsolationPlan
{
    private static readonly ConditionalWeakTable<Circuit, IsolationPlan> Made = [];

    public static IsolationPlan Of(Circuit circuit) => Made.GetValue(circuit, c => new IsolationPlan(c));

    private readonly Nets _nets;

    public Circuit Circuit { get; }
    public IReadOnlyList<IsolatedSupply> Supplies { get; }

    /// <summary>Terminals that stay live with the devices open: between the source and the device.</summary>
    public IReadOnlySet<Terminal> StaysLive { get; }

    /// <summary>The pairs to be read, all of them once for each isolation.</summary>
    public IReadOnlyList<DeadCheck> Sweep { get; }

    /// <summary>Parts that hold energy with every source off, with the kind of energy.</summary>
    public IReadOnlyList<(Part Part, string Energy)> Stored { get; }

    /// <summary>Parts whose volts can exceed the tester: never measured; the maker's discharge procedure and licensed practice.</summary>
    public IReadOnlyList<Part> NeverMeasured { get; }

    /// <summary>
    /// True for the short form, source off and one check: extra-low voltage, one supply, no energy stored in capacitor, spring, pressure or
    /// height.
    /// </summary>
    public bool IsShort { get; }

    /// <summary>Words after <c>hazard</c> for stored energy.</summary>
    private static readonly string[] StoredWords = ["capacitor", "hydraulic", "pneumatic", "spring", "gravity", "raised"];

    /// <summary>Words after <c>hazard</c> for volts that no service tester is made for.</summary>
    private static readonly string[] BeyondWords = ["microwave", "ignition-secondary", "traction", "high-voltage"];

    private IsolationPlan(Circuit circuit)
    {
        (Circuit, _nets) = (circuit, Nets.Of(circuit));
        var (supplies, live, sweep) = (new List<IsolatedSupply>(), new HashSet<Terminal>(), new List<DeadCheck>());
        foreach (var cluster in Clusters())
        {
            var supply = Isolate(cluster, live);
            supplies.Add(supply);
            AddPairs(sweep, supply);
        }
        // A source that leads nowhere still has two ends.
        if (sweep.Count == 0 && circuit.Sources.FirstOrDefault() is { } only)
            Add(sweep, new(only.Tag, only.Model.Terminals[0]), circuit.ReferencePoint, "the source");
        foreach (var winding in circuit.Parts.Where(p => p.Model.Coupling is not null))
            AddDerived(sweep, new(winding.Tag, "S1"), new(winding.Tag, "S2"), "behind the transformer");
        foreach (var psu in circuit.Parts.Where(p => p.Kind is Psu && HasInput(p)))
            AddDerived(sweep, new(psu.Tag, "+"), new(psu.Tag, "-"), "capacitors behind the supply");
        (Supplies, StaysLive) = (supplies, live);
        NeverMeasured =
        [
            .. circuit.Parts.Where(p =>
                p.Hazards.Any(h => BeyondWords.Contains(h, StringComparer.OrdinalIgnoreCase))
                || p.Model.Terminals.Any(t => SafetyLimits.IsBeyondTester(OwnSide(p, t)))
            ),
        ];
        var never = NeverMeasured.SelectMany(p => p.Model.Terminals.Select(t => Connectivity.At(p, t))).Where(IsNeverMeasured).ToHashSet();
        Sweep = [.. sweep.Where(c => !never.Any(t => _nets.SameNet(t, c.P) || _nets.SameNet(t, c.Q)))];
        Stored =
        [
            .. circuit.Parts.SelectMany(p =>
                p.Hazards.Where(h => StoredWords.Contains(h, StringComparer.OrdinalIgnoreCase))
                    .Union(p.Kind.StoredEnergy, StringComparer.OrdinalIgnoreCase)
                    .Select(h => (p, h))
            ),
        ];
        IsShort =
            supplies.Count <= 1
            && Stored.Count == 0
            && NeverMeasured.Count == 0
            && !IsRaised(circuit)
            && !_nets.Sections.Any(s => SafetyLimits.IsDangerous(s.Exposure));
    }

    /// <summary>A lift, platform or hoist can come down by itself.</summary>
    private static bool IsRaised(Circuit circuit) => MachineFamily.IsLift(circuit.Family);

    private Exposure OwnSide(Part part, string terminal) => _nets.FindSection(Connectivity.At(part, terminal))?.Own ?? Exposure.None;

    /// <summary>True for a point that is never measured, dead or live.</summary>
    public bool IsNeverMeasured(Terminal t) =>
        SafetyLimits.IsBeyondTester(_nets.FindSection(t)?.Own ?? Exposure.None)
        || Circuit.FindPart(t.Tag) is { } part && part.Hazards.Any(h => BeyondWords.Contains(h, StringComparer.OrdinalIgnoreCase));

    /// <summary>Whether every source that matters is off in a setup.</summary>
    public bool IsOff(Setup setup)
    {
        ArgumentNullException.ThrowIfNull(setup);
        return Circuit.Sources.All(s => setup.Interventions.Any(i => i is Intervention.Off off && off.Tag == s.Tag))
            && !setup.Interventions.Any(i => i is Intervention.Feed or Intervention.Support);
    }

    /// <summary>Sources that conductors join, chargers that only an engine drives left out.</summary>
    private IEnumerable<List<Part>> Clusters()
    {
        var left = Circuit.Sources.Where(s => !(s.Kind is Charger && s.When is not null) && !(s.Kind is Psu && HasInput(s))).ToList();
        while (left.Count > 0)
        {
            var cluster = new List<Part> { left[0] };
            left.RemoveAt(0);
            for (var i = 0; i < cluster.Count; i++)
                foreach (var other in left.Where(o => Share(cluster[i], o)).ToList())
                {
                    cluster.Add(other);
                    left.Remove(other);
                }
            yield return cluster;
        }
    }

    private bool Share(Part a, Part b) => SourceTerminals(a).Any(x => SourceTerminals(b).Any(y => _nets.SameNet(x, y)));

    private static IEnumerable<Terminal> SourceTerminals(Part source) =>
        source.Model.Terminals.Where(t => t is not "PE").Select(t => new Terminal(source.Tag, t));

    /// <summary>A supply that the sheet's mains feed, seen or not: it is dead when they are.</summary>
    private bool HasInput(Part psu) => psu.Model.Terminals.Contains("L") || Circuit.Parts.Any(p => p.Kind is Mains);

    private IsolatedSupply Isolate(List<Part> cluster, HashSet<Terminal> live)
    {
        var terminals = cluster.SelectMany(SourceTerminals).ToList();
        var back = ReturnOf(cluster, terminals);
        // What conductors join to other parts: the mid point of two batteries in series leads nowhere else.
        var hot = terminals.Where(t => !_nets.SameNet(t, back) && LeadsOn(t, cluster)).GroupBy(_nets.NetOf).Select(g => g.First()).ToList();
        var devices = new List<(Terminal From, Part Device, Terminal Behind)>();
        foreach (var t in hot)
            devices.AddRange(DevicesFrom(t));
        var chosen = devices.Select(d => d.Device).Distinct().ToList();
        var reached = new HashSet<Terminal>();
        foreach (var t in hot)
            reached.UnionWith(_nets.Connectivity.Reach(t, e => e.PassesSupply && !(e.Part is { } p && chosen.Contains(p))));
        var parted =
            chosen.Count > 0
            && hot.TrueForAll(t => devices.Exists(d => d.From == t))
            && !reached.Any(IsUsed)
            && chosen.TrueForAll(d =>
                d.Model.Through is { } x
                && reached.Contains(new Terminal(d.Tag, x.First)) != reached.Contains(new Terminal(d.Tag, x.Second))
            );
        var points = new List<Terminal>();
        if (parted)
        {
            live.UnionWith(reached);
            points.AddRange(devices.Select(d => d.Behind).DistinctBy(_nets.NetOf).Select(t => Accessible(t, cluster)));
        }
        else
            points.AddRange(hot.Select(t => Accessible(t, cluster)));
        points.Add(parted && cluster.TrueForAll(s => s.Kind is not Mains) ? back : Accessible(back, cluster));
        return new IsolatedSupply(cluster, parted ? chosen : [], points, EarthOf(cluster, points[^1]));

        // A load or module that hangs before the device keeps what it hangs on alive.
        bool IsUsed(Terminal t) =>
            Circuit.FindPart(t.Tag) is { Kind.IsSource: false } p
            && (p.Model.Load is not null || p.Model.Coil is not null || p.Model.Coupling is not null);
    }

    private Terminal ReturnOf(List<Part> cluster, List<Terminal> terminals)
    {
        var reference = Circuit.ReferencePoint;
        if (terminals.Exists(t => _nets.SameNet(t, reference)))
            return terminals.First(t => _nets.SameNet(t, reference));
        return terminals.First(t => t.Name == (cluster[0].Model.Terminals.Contains("N") ? "N" : "-"));
    }

    private bool LeadsOn(Terminal t, List<Part> cluster) =>
        _nets.OnNet(_nets.NetOf(t)).Any(x => !cluster.Exists(s => s.Tag == x.Tag) && Circuit.FindPart(x.Tag) is { Kind.IsSource: false });

    /// <summary>
    /// What can be opened and locked from a source terminal on: isolators before breakers before main switches. Every way on from the
    /// terminal has to lead through one.
    /// </summary>
    private List<(Terminal From, Part Device, Terminal Behind)> DevicesFrom(Terminal from)
    {
        foreach (
            var rank in new Func<Part, bool>[]
            {
                p => p.Kind is Isolator,
                p => p.Kind is Isolator or Breaker,
                p => p.Kind is Isolator or Breaker || IsMainSwitch(p),
            }
        )
        {
            // Up to the first of them on every way, over conductors, fuses and what stands before.
            var (found, seen, queue) = (
                new List<(Terminal, Part, Terminal)>(),
                new HashSet<Terminal> { from },
                new Queue<Terminal>([from])
            );
            var open = false;
            while (queue.TryDequeue(out var t))
                foreach (var e in _nets.Connectivity.From(t))
                {
                    if (e.Part is { } p && rank(p) && e.PassesSupply && !e.IsConductor)
                    {
                        if (!found.Exists(f => f.Item2 == p))
                            found.Add((from, p, e.To));
                        continue;
                    }
                    if (e.IsConductor || e.Link is Link.Fuse)
                    {
                        if (seen.Add(e.To))
                            queue.Enqueue(e.To);
                    }
                    else if (e.Part is { Kind.IsSource: false })
                        open = true;
                }
            if (found.Count > 0 && !open)
                return found;
        }
        return [];
    }

    private static bool IsMainSwitch(Part p) =>
        p.Kind is Switch or Limit or Breaker
        && (
            p.Label is { } label && MainSwitch().IsMatch(label)
            || SafetyParts
                .ControlsOf(p)
                .Any(c => c.Equals("plug", StringComparison.OrdinalIgnoreCase) || c.Equals("isolator", StringComparison.OrdinalIgnoreCase))
        );

    [GeneratedRegex(
        @"\b(main switch|mains switch|isolator|isolating|disconnect\w*|master switch|battery switch|plug)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex MainSwitch();

    /// <summary>
    /// The point of a net where a tip is best put: a terminal strip or plug of the machine, then a stud, never a source or what is sealed.
    /// </summary>
    private Terminal Accessible(Terminal t, List<Part> cluster)
    {
        var points = _nets.OnNet(_nets.NetOf(t)).Where(x => Circuit.FindPart(x.Tag) is { Sealed: false, Kind.IsSource: false }).ToList();
        var wired = points.Where(x => x.Name.Length == 0 || _nets.Connectivity.From(x).Any(e => e.Part is null)).ToList();
        var strip = wired.Where(x => x.IsPin).OrderBy(x => x.Name.EndsWith('a') ? 0 : 1).FirstOrDefault();
        if (strip.Tag is not null)
            return strip;
        if (wired.Contains(t))
            return t;
        var stud = wired.Where(x => x.Name.Length == 0).FirstOrDefault();
        return stud.Tag is not null ? stud
            : wired.Count > 0 ? wired.OrderBy(x => Circuit.FindPart(x.Tag)!.ReachMinutes).First()
            : t;
    }

    /// <summary>Earth for alternating supplies; for direct ones where the return is not on the frame there is none on the sheet.</summary>
    private Terminal? EarthOf(List<Part> cluster, Terminal back)
    {
        if (cluster.FirstOrDefault(s => s.Model.Terminals.Contains("PE")) is not { } mains)
            return null;
        var earth = new Terminal(mains.Tag, "PE");
        var point = _nets
            .OnNet(_nets.NetOf(earth))
            .Where(x => x.Tag != mains.Tag && Circuit.FindPart(x.Tag) is { Sealed: false })
            .Cast<Terminal?>()
            .FirstOrDefault();
        return _nets.SameNet(earth, back) ? null : point ?? earth;
    }

    private void AddPairs(List<DeadCheck> sweep, IsolatedSupply supply)
    {
        var points = supply.Behind;
        for (var i = 0; i < points.Count; i++)
        {
            for (var j = i + 1; j < points.Count; j++)
                Add(sweep, points[i], points[j], "conductor to conductor");
            if (supply.Earth is { } earth)
                Add(sweep, points[i], earth, "to earth");
        }
    }

    private void AddDerived(List<DeadCheck> sweep, Terminal p, Terminal q, string why)
    {
        if (_nets.Connectivity.From(p).Any(e => e.Part is null))
            Add(sweep, p, q, why);
    }

    private void Add(List<DeadCheck> sweep, Terminal p, Terminal q, string why)
    {
        if (_nets.SameNet(p, q) || sweep.Exists(c => c.IsBetween(_nets, p, q)))
            return;
        var volts = _nets.FindSection(p)?.Own ?? Exposure.None;
        if (_nets.SectionOf(q) != _nets.SectionOf(p))
            volts += _nets.FindSection(q)?.Own ?? Exposure.None;
        if (volts.AcVolts > 0)
            sweep.Add(new DeadCheck(p, q, VoltsFunction.LowImpedance, why));
        if (volts.DcVolts > 0 || volts.AcVolts <= 0)
            sweep.Add(new DeadCheck(p, q, VoltsFunction.Dc, why));
    }
}
