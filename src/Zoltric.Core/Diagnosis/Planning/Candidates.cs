using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>What the technician has said cannot be done on this job.</summary>
/// <param name="Places">Places that cannot be reached.</param>
/// <param name="Setups">Setups that cannot be run, as written in a reading line.</param>
public sealed record Limits(IReadOnlySet<string> Places, IReadOnlySet<string> Setups)
{
    public static Limits None { get; } = new(new HashSet<string>(), new HashSet<string>());
}

/// <summary>
/// Every test that could be ordered now: volts at each reachable point in each relevant setup, drops, ohms on dead parts, ears and eyes.
/// </summary>
internal sealed class Candidates(FaultSpace space, IReadOnlyList<Reading> readings, Limits limits)
{
    private const int MostSetups = 6;

    /// <summary>Least share of the suspicion that earns a part its own direct test.</summary>
    private const double LeastShare = 0.02;

    /// <summary>Parts that get tests of their own at a time, the likeliest.</summary>
    private const int MostUnits = 12;

    private readonly Circuit _circuit = space.Circuit;
    private readonly Nets _nets = space.Nets;
    private readonly IsolationPlan _plan = IsolationPlan.Of(space.Circuit);
    private readonly DrawTests _draw = new(space, readings);

    /// <summary>Setups worth measuring in: where something was seen to be wrong, the machine at rest, the other functions.</summary>
    public IReadOnlyList<Setup> Setups { get; } =
        SetupsOf(space, readings).Where(s => !limits.Setups.Contains(s.ToString())).Take(MostSetups).ToList();

    private bool IsDangerous(Terminal t) => SafetyLimits.IsDangerous(_nets.At(t));

    private static IEnumerable<Setup> SetupsOf(FaultSpace space, IReadOnlyList<Reading> readings)
    {
        var circuit = space.Circuit;
        var wrong = readings
            .Where(r =>
                r.Test.Probe is Probe.Sees
                && r.Result is ReadingResult.Word { Answer: not Answer.Works }
                && r.Test.Setup.Interventions.Count == 0
            )
            .Select(r => r.Test.Setup);
        var engineStands = EngineStands(circuit, readings);
        var functions = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
            .OfType<Setup>()
            .Where(s => !engineStands || !NeedsEngine(circuit, s));
        return wrong.Concat(wrong.Any() ? [Setup.Rest] : []).Concat(functions).Append(Setup.Rest).Distinct();
    }

    /// <summary>True while the last that was seen of a starter is that it does not crank.</summary>
    private static bool EngineStands(Circuit circuit, IReadOnlyList<Reading> readings) =>
        readings.LastOrDefault(r =>
            r is { Result: ReadingResult.Word, Test.Probe: Probe.Sees sees }
            && circuit.FindFunction(sees.What)?.Test is FunctionTest.LoadWorks { Tag: var load }
            && circuit.FindPart(load)?.Kind is Starter
        )
            is { Result: ReadingResult.Word { Answer: not Answer.Works } };

    /// <summary>True for a setting that nobody can bring about by a lever: the engine is to run.</summary>
    private static bool NeedsEngine(Circuit circuit, Setup setup) =>
        setup
            .Steps.SelectMany(s => s)
            .Any(m => m.Position.Equals(Running, StringComparison.OrdinalIgnoreCase) && circuit.FindControl(m.Control) is { Given: true });

    private const string Running = "RUNNING";

    public IEnumerable<Test> All(Weights weights)
    {
        var (done, open) = (Made(), BlownAgain.After(_circuit, readings));
        return Every(weights)
            .Where(t => open.Count == 0 || t.Probe is not Probe.Sees && !BlownAgain.OhmsFrom(t, open))
            .Select(t => open.Count == 0 ? t : BlownAgain.Pulled(t, open))
            .Where(t => CanBeDone(t) && !TestRules.IsNeverOrdered(_circuit, t) && Reachable(t) && done.Add(t));
    }

    /// <summary>
    /// One reading across two points read live and dead in turn, where a joint that comes and goes would leave both alike; none that was
    /// made or may not be, and none after a few: each says the same.
    /// </summary>
    /// <param name="joints">Suspects, joints that come and go.</param>
    public IEnumerable<Test> AcrossLiveAndDead(IEnumerable<int> joints)
    {
        var done = Made();
        if (
            readings.Count(r => r is { Result: not null, Test: { Probe: Probe.Volts { Q: not null }, Setup.Interventions.Count: 0 } })
            >= MostAcross
        )
            return [];
        return LiveAndDead
            .Across(space, readings, [.. joints.Select(space.OpenTwin).OfType<int>()])
            .Where(t => Reachable(t) && !done.Contains(t));
    }

    /// <summary>Tests that have a result, by their words.</summary>
    private HashSet<Test> Made() => BlownAgain.Open(_circuit, readings).Where(r => r.Result is not null).Select(r => r.Test).ToHashSet();

    /// <summary>False for what has no plug and would have to be unplugged: a strip, a stud.</summary>
    private bool CanBeDone(Test t) =>
        t.Setup.Interventions.OfType<Intervention.Unplug>().All(u => _circuit.FindPart(u.Tag) is { Kind.Unplugs: true });

    private bool Reachable(Test t) =>
        t.Probe.Tips.All(tip => _circuit.FindPart(tip.Tag) is { Sealed: false } p && !limits.Places.Contains(p.PlaceOrTag))
        && (t.Probe is not (Probe.Hears or Probe.Clamp) || !TestCosts.Places(_circuit, t).Any(p => limits.Places.Contains(p.Place)));

    private IEnumerable<Test> Every(Weights weights)
    {
        foreach (var f in _circuit.Functions)
            if (FunctionSetups.SetupFor(_circuit, f) is { } setup && Setups.Contains(setup))
                yield return new Test(setup, new Probe.Sees(f.Name, true));
        // What is no function of its own tells as much by being seen: the other lamp of a pair.
        foreach (var setup in Setups.Where(s => !s.IsRest && s.Interventions.Count == 0))
        foreach (
            var part in _circuit.Parts.Where(p =>
                p.Kind.ShowsItself && !_circuit.Functions.Any(f => f.Test is FunctionTest.LoadWorks load && load.Tag == p.Tag)
            )
        )
            yield return new Test(setup, new Probe.Sees(part.Tag, false));
        // Something that runs when it should not: whether the others rest at rest.
        if (readings.Any(r => r.Result is ReadingResult.Word { Answer: Answer.StuckOn }))
            foreach (var f in _circuit.Functions.Where(f => f.Test is FunctionTest.LoadWorks))
                yield return new Test(Setup.Rest, new Probe.Sees(f.Name, true));
        var points = Points().ToList();
        foreach (var setup in Setups)
        {
            foreach (var p in points)
                yield return new Test(setup, new Probe.Volts(p, _nets.CommonOf(p), _nets.FunctionAt(p)));
            foreach (var part in _circuit.Parts)
                if ((part.Model.Clicks || _nets.MayHum(part)) && !setup.IsRest)
                    yield return new Test(setup, new Probe.Hears(part.Tag));
        }
        foreach (var test in Direct(weights))
            yield return test;
        foreach (var test in DeadRoads())
            yield return test;
        foreach (var test in Moved(weights))
            yield return test;
        foreach (var test in LeftOff(weights))
            yield return test;
        foreach (var test in _draw.All(weights).Where(t => !limits.Setups.Contains((t.Setup with { Interventions = [] }).ToString())))
            yield return test;
    }

    /// <summary>Wired points that a tip can touch; the reference itself tells nothing.</summary>
    private IEnumerable<Terminal> Points() =>
        _circuit
            .Wires.SelectMany(w => new[] { w.From, w.To })
            .Concat(_circuit.Bonds.SelectMany(b => new[] { b.A, b.B }))
            .Concat(_circuit.Parts.Where(p => p.Model.IsPoint).Select(p => new Terminal(p.Tag, "")))
            .Distinct()
            .Where(t => t != _circuit.ReferencePoint);

    /// <summary>Tests on the very thing suspected: the drop across it while it should carry, its ohms when dead and taken out.</summary>
    private IEnumerable<Test> Direct(Weights weights)
    {
        var shares = new Dictionary<string, double>();
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var share = weights.Weight(s);
            if (share <= 0)
                continue;
            foreach (var unit in UnitsOf(space.Suspects[s]))
                shares[unit] = shares.GetValueOrDefault(unit) + share;
        }
        var off = _circuit.SourcesOff;
        foreach (var (unit, share) in shares.Where(x => x.Value >= LeastShare).OrderByDescending(x => x.Value).Take(MostUnits))
        {
            foreach (var test in AcrossUnit(unit, off))
                yield return test;
        }
        var joined = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s => Fault.MayTouch(space.Suspects[s].Template.Kind) && weights.Weight(s) >= LeastShare)
            .Select(s => space.Suspects[s].Template)
            .ToList();
        foreach (var f in joined.Where(f => f.Kind != FaultKind.Shorts))
            _grounded.UnionWith(_circuit.FindWire(f.Target) is { } w ? [w.From.Tag, w.To.Tag] : [f.Target]);
        foreach (var fault in joined)
        foreach (
            var test in fault.Kind == FaultKind.Shorts
                ? _circuit.FindWire(fault.Target) is { } pair
                    ? Beside(pair, fault) is { } beside
                        ? AcrossPair(pair, beside, off)
                        : ToRail(fault.Target, off, t => _nets.CommonOf(t) ?? _circuit.ReferencePoint)
                    : ToNeighbour(fault, off)
                : ToRail(
                    fault.Target,
                    off,
                    fault.Kind == FaultKind.Grounded ? _circuit.FrameFor : t => Solving.FaultEffects.SupplyPositive(_circuit, t)
                )
        )
        {
            yield return test;
            if (fault.TouchesByTurns)
                foreach (var place in space.PlacesOf(fault.Target))
                    yield return test with
                    {
                        Setup = test.Setup with { Moved = [place] },
                    };
        }
    }

    /// <summary>
    /// A load that draws too much is told from its neighbours by leaving it off: with its plug out, the fuse holds and the volts stand at
    /// its feed. Ohms do not tell a cold filament from a short.
    /// </summary>
    private IEnumerable<Test> LeftOff(Weights weights)
    {
        var loads = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s => space.Suspects[s].Template.Kind is FaultKind.Shorted or FaultKind.Grounded && weights.Weight(s) >= LeastShare)
            .Select(s => _circuit.FindPart(space.Suspects[s].Template.Target))
            .OfType<Part>()
            .Where(p =>
                p.Model.Load is not null
                && p.Kind.Unplugs
                && !p.Kind.IsSource
                && !p.Model.Terminals.Any(t => IsDangerous(new Terminal(p.Tag, t)))
            )
            .Distinct();
        foreach (var load in loads)
        {
            var at = new Terminal(load.Tag, load.Model.Links[load.Model.Load!.Link].A);
            if (!load.Model.Terminals.Contains(at.Name))
                continue;
            foreach (var setup in Setups.Where(s => !s.IsRest && s.Interventions.Count == 0))
                yield return new Test(
                    setup with
                    {
                        Interventions = [new Intervention.Unplug(load.Tag)],
                    },
                    new Probe.Volts(at, _nets.CommonOf(at), _nets.FunctionAt(at))
                );
        }
    }

    /// <summary>End of the other wire of a bus at one of this wire's two parts; null for a wire that touches the common.</summary>
    private static Terminal? Beside(Wire wire, Fault fault)
    {
        var other = Solving.FaultEffects.ParseTerminal(fault.Toward!);
        return other.Tag == wire.From.Tag || other.Tag == wire.To.Tag ? other : null;
    }

    /// <summary>Ohms from one wire of a bus to the other, whole, and with one thing after another off that hangs on both.</summary>
    private IEnumerable<Test> AcrossPair(Wire wire, Terminal q, IReadOnlyList<Intervention> off)
    {
        var p = wire.From.Tag == q.Tag ? wire.From : wire.To;
        var x = new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
        yield return new Test(new Setup(off, []), new Probe.Ohms(x));
        foreach (var part in _circuit.Parts.Where(t => (t.Model.Bus is not null || t.Kind is Terminator) && t.Tag != p.Tag))
            yield return new Test(new Setup([.. off, new Intervention.Unplug(part.Tag)], []), new Probe.Ohms(x));
    }

    /// <summary>Ohms from pin to pin, with the plug in and with it off.</summary>
    private static IEnumerable<Test> ToNeighbour(Fault fault, IReadOnlyList<Intervention> off)
    {
        var at = fault.Target.IndexOf(':', StringComparison.Ordinal);
        var (tag, pin, other) = (fault.Target[..at], fault.Target[(at + 1)..], fault.Toward![(at + 1)..^1]);
        foreach (var half in new[] { "a", "b" })
        {
            var (p, q) = (new Terminal(tag, pin + half, true), new Terminal(tag, other + half, true));
            var x = new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
            yield return new Test(new Setup([.. off, new Intervention.Unplug(tag)], []), new Probe.Ohms(x));
            if (half == "b")
                continue;
            yield return new Test(new Setup(off, []), new Probe.Ohms(x));
            // With the wires off the pin, what is left is the plug's own.
            yield return new Test(new Setup([.. off, new Intervention.Lift(p)], []), new Probe.Ohms(x));
        }
    }

    private static IEnumerable<string> UnitsOf(Suspect s)
    {
        if (s.Together.Count > 0)
            return s.Together.Prepend(s.Template).Select(f => f.Target);
        return s is { Also: not null, AlsoUnit: { } second } ? [s.RepairUnit, second]
            : s.Also is { } fuse ? [s.RepairUnit, fuse.Target]
            : [s.RepairUnit];
    }

    /// <summary>
    /// The function tried again while a place is moved by hand, for joints that may come and go, and the joint itself read meanwhile.
    /// </summary>
    private IEnumerable<Test> Moved(Weights weights)
    {
        var joints = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s => space.Suspects[s].Template.ComesAndGoes && weights.Weight(s) >= LeastShare)
            .OrderByDescending(weights.Weight)
            .ToList();
        var units = joints.ConvertAll(s => space.Suspects[s].RepairUnit);
        var places = units.SelectMany(u => space.PlacesOf(u)).Distinct().ToList();
        foreach (var test in AcrossLiveAndDead(joints.Take(MostMoved)))
            yield return test;
        foreach (var place in places)
        foreach (var f in _circuit.Functions)
            if (FunctionSetups.SetupFor(_circuit, f) is { } setup && Setups.Contains(setup))
                yield return new Test(setup with { Moved = [place] }, new Probe.Sees(f.Name, true));
        var off = _circuit.SourcesOff;
        foreach (var unit in units.Take(MostMoved))
        foreach (
            var test in AcrossUnit(unit, off).Where(t => t.Setup.Moved.Count == 0 && t.Setup.Interventions.All(i => i is Intervention.Off))
        )
        foreach (var place in space.PlacesOf(unit))
            yield return test with
            {
                Setup = test.Setup with { Moved = [place] },
            };
    }

    private const int MostAcross = 2;

    /// <summary>Joints that are read right across while they are moved.</summary>
    private const int MostMoved = 3;

    /// <summary>
    /// On mains: ohms along each lane with everything isolated, from its beginning to each station and from each station to the load, there
    /// and back. Every setting of the controls that a function wants is tried. No live test is needed where one of these will do.
    /// </summary>
    private IEnumerable<Test> DeadRoads()
    {
        var off = _circuit.SourcesOff;
        var pairs = new HashSet<(Terminal, Terminal)>();
        foreach (var lane in space.Lanes)
        {
            // What lies before the isolator stays live: the road begins behind it.
            var stations = lane.Stations.Select(s => s.Terminal).ToList();
            if (!stations.Exists(IsDangerous))
                continue;
            var live = stations.TakeWhile(_plan.StaysLive.Contains).Count();
            var points = stations.Skip(live).ToList();
            var load = Math.Max(1, lane.LoadEnds - live);
            if (load >= points.Count)
                continue;
            for (var i = 1; i < points.Count; i++)
            {
                var (from, to) = i < load ? (points[0], points[load - 1]) : (points[load], points[^1]);
                if (points[i] != from)
                    pairs.Add((from, points[i]));
                if (points[i] != to)
                    pairs.Add((points[i], to));
            }
            pairs.Add((points[load - 1], points[load]));
        }
        foreach (var steps in Setups.Select(s => s.Steps).DistinctBy(s => new Setup([], s)))
        foreach (var (p, q) in pairs)
            if (p != q)
                yield return new Test(new Setup(off, steps), new Probe.Ohms(new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q))));
    }

    /// <summary>
    /// From the far end of one wire at a stud or splice to that of each other: whether the point itself joins them, with no tip on it.
    /// </summary>
    private IEnumerable<Across> AcrossPoint(string tag)
    {
        var ends = _circuit
            .Wires.Where(w => w.From.Tag == tag != (w.To.Tag == tag))
            .Select(w => w.From.Tag == tag ? w.To : w.From)
            .Distinct()
            .Take(MostLugs)
            .ToList();
        foreach (var end in ends.Skip(1))
            yield return new Across($"{ends[0]} {end}", new ProbePoint(ends[0]), new ProbePoint(end));
    }

    /// <summary>More wires than this at one point are not read one by one.</summary>
    private const int MostLugs = 8;

    private IEnumerable<Test> AcrossUnit(string unit, IReadOnlyList<Intervention> off)
    {
        if (_circuit.FindWire(unit) is { } wire)
        {
            var across = new Across(wire.Id, new ProbePoint(wire.From, wire.Id, true), new ProbePoint(wire.To, wire.Id));
            foreach (var setup in Setups.Where(s => !s.IsRest))
                yield return new Test(setup, new Probe.Drop(across));
            yield return new Test(new Setup(off, []), new Probe.Ohms(across));
            // The same from terminal to terminal: fresh contact of both tips, so a second opinion on one reading.
            yield return new Test(
                new Setup(off, []),
                new Probe.Ohms(new Across($"{wire.From} {wire.To}", new ProbePoint(wire.From), new ProbePoint(wire.To)))
            );
            // With one end freed no other path is read along with it.
            foreach (var end in new[] { wire.From, wire.To })
                if (_circuit.FindPart(end.Tag) is { Kind: { Unplugs: true, IsSource: false } } at)
                    yield return new Test(new Setup([.. off, TakenOff(at)], []), new Probe.Ohms(across));
            yield break;
        }
        var tag = unit.Split(':')[0];
        var part = _circuit.FindPart(tag)!;
        if (part.Model.IsPoint)
            foreach (var x in AcrossPoint(tag))
                yield return new Test(new Setup(off, []), new Probe.Ohms(x));
        if (part.Model.IsPoint || part.Kind.IsSource)
            yield break;
        if (part.Kind is PinRow)
        {
            var pin = unit[(tag.Length + 1)..];
            var x = new Across(
                unit,
                new ProbePoint(new Terminal(tag, pin + "a", true)),
                new ProbePoint(new Terminal(tag, pin + "b", true))
            );
            foreach (var setup in Setups.Where(s => !s.IsRest))
                yield return new Test(setup, new Probe.Drop(x));
            yield return new Test(new Setup(off, []), new Probe.Ohms(x));
            yield break;
        }
        foreach (var link in part.Model.Links)
        {
            if (!part.Model.Terminals.Contains(link.A) || !part.Model.Terminals.Contains(link.B))
                continue;
            var (p, q) = (new Terminal(tag, link.A), new Terminal(tag, link.B));
            var text = part.Model.Through == (link.A, link.B) ? tag : $"{p} {q}";
            var x = new Across(text, new ProbePoint(p), new ProbePoint(q));
            foreach (var setup in Setups.Where(s => !s.IsRest))
                yield return new Test(setup, new Probe.Drop(x));
            if (!part.Kind.Unplugs)
                continue;
            // A coil's contact needs its coil fed: on a dead machine ohms tell only whether it has welded.
            if (link is Link.Contact { Rule: ClosedRule.ByCoil { PulledIn: true } })
                yield return new Test(new Setup([.. off, new Intervention.Unplug(tag)], []), new Probe.Ohms(x));
            if (link is Link.Contact { Rule: ClosedRule.ByCoil })
                continue;
            Intervention apart = part.Model.Links is [Link.Fuse] ? new Intervention.Pull(tag) : new Intervention.Unplug(tag);
            var moves =
                link is Link.Contact
                    ? Setups.Select(s => s.Steps).Append([])
                    :
                    [
                        [],
                    ];
            foreach (var steps in moves)
                yield return new Test(new Setup([.. off, apart], steps), new Probe.Ohms(x));
            // The same by its terminals: fresh contact of both tips, a second opinion on a reading that decides much.
            if (text == tag)
                yield return new Test(new Setup([.. off, apart], moves.First()), new Probe.Ohms(x with { Text = $"{p} {q}" }));
        }
        if (part.Kind is Capacitor)
            yield return new Test(new Setup([.. off, new Intervention.Unplug(tag)], []), new Probe.Capacitance(tag));
        foreach (var (a, b) in ThroughInside(part.Model))
        {
            var (p, q) = (new Terminal(tag, a), new Terminal(tag, b));
            var x = new Across($"{p} {q}", new ProbePoint(p), new ProbePoint(q));
            yield return new Test(new Setup(off, []), new Probe.Ohms(x));
            if (part.Kind.Unplugs)
                yield return new Test(new Setup([.. off, new Intervention.Unplug(tag)], []), new Probe.Ohms(x));
        }
    }

    /// <summary>Terminals that meet at a point inside the part, two at a time: the phases of a star.</summary>
    private static IEnumerable<(string A, string B)> ThroughInside(PartModel model)
    {
        var ends = model
            .Links.Where(l => model.Terminals.Contains(l.A) != model.Terminals.Contains(l.B))
            .Select(l => model.Terminals.Contains(l.A) ? (Inside: l.B, End: l.A) : (Inside: l.A, End: l.B));
        foreach (var star in ends.GroupBy(e => e.Inside, e => e.End))
        {
            var terminals = star.Distinct().ToList();
            for (var i = 0; i < terminals.Count; i++)
            for (var k = i + 1; k < terminals.Count; k++)
                yield return (terminals[i], terminals[k]);
        }
    }

    /// <summary>
    /// Ohms to the reference, or the supply, from both ends of what is suspected, whole and with one thing after another taken apart:
    /// plugs, fuses, switched contacts, and lugs where nothing unplugs.
    /// </summary>
    private IEnumerable<Test> ToRail(string target, IReadOnlyList<Intervention> off, Func<Terminal, Terminal> railOf)
    {
        IEnumerable<Terminal> ends =
            _circuit.FindWire(target) is { } w ? [w.From, w.To]
            : _circuit.FindPart(target) is { } load ? [new Terminal(load.Tag, load.Model.Links[0].A)]
            : [];
        foreach (var end in ends)
        {
            var rail = railOf(end);
            if (end == rail)
                continue;
            var x = new Across($"{end} {rail}", new ProbePoint(end), new ProbePoint(rail));
            foreach (var setup in TakenApart(off, end))
                yield return new Test(setup, new Probe.Ohms(x));
            if (_circuit.FindWire(target) is { } wire && BothEndsOff(wire, end, rail, off) is { } alone)
                yield return alone;
            // The load on its own: its terminal against the frame.
            if (_circuit.FindPart(target) is { } part)
                yield return new Test(new Setup([.. off, new Intervention.Unplug(part.Tag)], []), new Probe.Ohms(x));
        }
    }

    /// <summary>How a part is taken off its wires: a fuse is pulled, all else unplugged.</summary>
    private static Intervention TakenOff(Part part) =>
        part.Kind is Fuse ? new Intervention.Pull(part.Tag) : new Intervention.Unplug(part.Tag);

    /// <summary>
    /// A wire between two of one splice is told from them with both its ends off: its end in the plug against the rail. Null where an end
    /// cannot be taken off, and for a wire at no splice, which one plug tells.
    /// </summary>
    private Test? BothEndsOff(Wire wire, Terminal end, Terminal rail, IReadOnlyList<Intervention> off)
    {
        var other = wire.From == end ? wire.To : wire.From;
        if (other.Name.Length > 0 || other == rail || other == _circuit.ReferencePoint)
            return null;
        if (_circuit.FindPart(end.Tag) is not { Kind: { Unplugs: true, IsSource: false } } part)
            return null;
        var loom = part.Kind is PinRow ? end : end with { Side = TerminalSide.Loom };
        return new Test(
            new Setup([.. off, TakenOff(part), new Intervention.Lift(other)], []),
            new Probe.Ohms(new Across($"{loom} {rail}", new ProbePoint(loom), new ProbePoint(rail)))
        );
    }

    private IEnumerable<Setup> TakenApart(IReadOnlyList<Intervention> off, Terminal end)
    {
        yield return new Setup(off, []);
        foreach (var part in _circuit.Parts.Where(p => _grounded.Contains(p.Tag)))
        {
            // Unplugged, its own terminals would mean the part itself.
            if (part.Kind.Unplugs && !part.Kind.IsSource && (part.Tag != end.Tag || part.Kind is PinRow))
                yield return new Setup([.. off, TakenOff(part)], []);
            foreach (
                var control in part
                    .Contacts.SelectMany(c => c.When?.Leaves() ?? [])
                    .OfType<Condition.Position>()
                    .Select(c => c.Control)
                    .Distinct()
            )
                if (_circuit.FindControl(control) is { Given: false } c)
                    for (var p = 0; p < c.Positions.Count; p++)
                        if (p != c.Rest)
                            yield return new Setup(
                                off,
                                [
                                    [new ControlMove(c.Name, c.Positions[p])],
                                ]
                            );
        }
        foreach (var t in Points())
            if (
                t != end
                && _grounded.Contains(t.Tag)
                && _circuit.FindPart(t.Tag) is { } at
                && !at.Kind.Unplugs
                && (at.Model.IsPoint || at.Kind is PinRow)
            )
                yield return new Setup([.. off, new Intervention.Lift(t)], []);
    }

    /// <summary>Parts at the ends of what may be grounded.</summary>
    private readonly HashSet<string> _grounded = [];
}
