using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Faults;
using Zoltric.Core.Keeping;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>
/// Every single fault of a circuit with the values it may have, and what each test would show under each. Runs and predictions are
/// kept, bounded; a space serves several requests at a time.
/// </summary>
public sealed class FaultSpace : IGivesBack
{
    /// <summary>Points laid between two neighbouring grid values when a reading is weighed.</summary>
    internal const int Fine = 16;
    private const int MostTests = 400;

    private readonly FaultRuns _runs;
    private readonly ConcurrentDictionary<Test, ResponseCurve[]> _curves = new();

    /// <param name="learnt">What closed jobs have taught of the odds; the base odds without.</param>
    /// <param name="shelf">Where what is computed is kept; one of its own without.</param>
    public FaultSpace(Machine machine, LearntOdds? learnt = null, Shelf? shelf = null)
        : this(machine ?? throw new ArgumentNullException(nameof(machine)), Weighed(machine, learnt), null, shelf ?? Shelf.Alone(), "space")
    { }

    private static IReadOnlyList<Suspect> Weighed(Machine machine, LearntOdds? learnt)
    {
        var amps = new FaultCatalogue.WorkingCurrents(machine);
        IReadOnlyList<Suspect> all = [.. FaultCatalogue.Suspects(machine, amps), .. AgedStrings.Suspects(machine, amps)];
        var circuit = machine.Circuit;
        return learnt is null || learnt == LearntOdds.None
            ? all
            : [.. all.Select(s => s with { Odds = s.Odds * learnt.Factor(circuit.Family, LearntOdds.KindOf(circuit, s.RepairUnit)) })];
    }

    private FaultSpace(Machine machine, IReadOnlyList<Suspect> suspects, FaultSpace? within, Shelf shelf, string name)
    {
        (_shelf, _name) = (shelf, name);
        Machine = machine;
        Within = within;
        Nets = Nets.Of(machine.Circuit);
        Suspects = suspects;
        var known = within?.Suspects.Count ?? 0;
        _sites = within?._sites ?? new RepairSites(machine);
        _sites.Prepare(suspects.Skip(known));
        lock (_sites)
            Sites = [.. within?.Sites ?? [], .. suspects.Skip(known).Select(_sites.Site)];
        Total = within?.Total ?? Suspects.Sum(s => s.Odds);
        _values = new double[Suspects.Count][];
        _runs = new FaultRuns(this, within?._runs);
        var open = Enumerable
            .Range(0, known)
            .Where(i => Suspects[i] is { Also: null } s && Fault.Opening(s.Template.Words) is not null)
            .DistinctBy(i => (Suspects[i].Template.Target, Fault.Opening(Suspects[i].Template.Words)))
            .ToDictionary(i => (Suspects[i].Template.Target, Fault.Opening(Suspects[i].Template.Words)));
        for (var i = known; i < Suspects.Count; i++)
            if (Suspects[i].Template is { Kind: FaultKind.Intermittent } t)
                _openTwins[i] = open[(t.Target, t.Toward ?? "")];
        FindTouches(known);
    }

    /// <summary>The space of single faults that this one adds to, or null.</summary>
    internal FaultSpace? Within { get; }

    private readonly Shelf _shelf;

    /// <summary>Under which the space stands on its shelf.</summary>
    private readonly string _name;

    private long _curveBytes;

    /// <summary>Bytes that runs and predictions of this space hold; those of spaces opened within it are counted by themselves.</summary>
    public long HeldBytes => _runs.HeldBytes + Interlocked.Read(ref _curveBytes);

    /// <inheritdoc/>
    public long? OldestUse => _runs.OldestUse;

    /// <inheritdoc/>
    public long PartBytes => _runs.HeldBytes;

    /// <inheritdoc/>
    public long DropOldest() => _runs.DropOldest();

    /// <summary>What was kept of this space under that key; null where nothing is, or no longer.</summary>
    internal T? Find<T>(string key)
        where T : class => _shelf.Find<T>(_name + '\n' + key);

    /// <summary>Keeps what was worked out on this space.</summary>
    internal void Keep<T>(string key, T value, Func<long> bytes)
        where T : class => _shelf.Keep(_name + '\n' + key, value, bytes);

    /// <summary>
    /// This space with more suspects, opened for the readings of one job; it is kept, so that the next reading finds its runs.
    /// </summary>
    internal FaultSpace With(IReadOnlyList<Suspect> more)
    {
        if (more.Count == 0)
            return this;
        var name = $"{_name} with {string.Join('\n', more.Select(NameOf))}";
        if (_shelf.Find<FaultSpace>(name) is { } known)
            return known;
        var space = new FaultSpace(Machine, [.. Suspects, .. more], this, _shelf, name);
        return _shelf.Keep(name, space, () => space.HeldBytes);
    }

    private static string NameOf(Suspect s) =>
        FormattableString.Invariant($"{s.Template} + {s.Also} {s.Odds:R} {string.Join(' ', s.Values)}{string.Concat(s.Held)}");

    /// <summary>What is left of two faults of which one was mended: a suspect by itself.</summary>
    /// <param name="Fine">The fine point of it where it stood at one value; null where its values are the pair's own.</param>
    /// <param name="Nearest">By fine point of a pair that has only some of its values: the nearest of its own; null where they are the
    /// same.</param>
    internal readonly record struct LeftAlone(int Suspect, int? Fine, int[]? Nearest = null)
    {
        /// <summary>Its fine point where the pair stands at one of its own.</summary>
        public int At(int fine) => Fine ?? Nearest?[fine] ?? fine;
    }

    /// <summary>
    /// Of two faults of which one was mended, what is left. A fuse that a fault has blown counts as mended when it is renewed. Null where
    /// neither or both were mended.
    /// </summary>
    internal LeftAlone? Left(int suspect, IReadOnlySet<string> renewed)
    {
        var s = Suspects[suspect];
        if (TouchOf(suspect) is { Gone: not null } touch)
            return renewed.Contains(s.Also!.Target) && !renewed.Contains(s.RepairUnit) ? new(touch.Alone, null) : null;
        if (s is { AlsoUnit: null, Also: { Kind: FaultKind.Blown, Target: var fuse }, Together.Count: 0 })
            return renewed.Contains(fuse) && !renewed.Contains(s.RepairUnit) && Singles.TryGetValue(KeyOf(s.Template), out var cause)
                ? new(cause, null, Nearest(suspect, cause))
                : null;
        if (s.AlsoUnit is not { } also || renewed.Contains(also) == renewed.Contains(s.RepairUnit))
            return null;
        return renewed.Contains(also) ? (Singles.TryGetValue(KeyOf(s.Template), out var own) ? new(own, null) : null) : LeftOf(s.Also!);

        LeftAlone? LeftOf(Fault fault)
        {
            if (!Singles.TryGetValue(KeyOf(fault), out var left))
                return null;
            return new(left, fault.Value is { } value && FineCount(left) > 1 ? NearestTo(left, value) : 0);
        }
    }

    private int NearestTo(int suspect, double value) =>
        Enumerable.Range(0, FineCount(suspect)).MinBy(k => Math.Abs(Math.Log(ValueAt(suspect, k) / value)));

    private int[]? Nearest(int some, int all) =>
        Suspects[some].Values.Count == 0 || Suspects[some].Values.SequenceEqual(Suspects[all].Values)
            ? null
            : _nearest.GetOrAdd(some, _ => [.. Enumerable.Range(0, FineCount(some)).Select(k => NearestTo(all, ValueAt(some, k)))]);

    private readonly System.Collections.Concurrent.ConcurrentDictionary<int, int[]> _nearest = new();

    private static (string, string, string) KeyOf(Fault f) => (f.Target, f.Words, f.Toward ?? "");

    /// <summary>Single faults by where they lie and how they fail.</summary>
    private Dictionary<(string, string, string), int> Singles =>
        Within is not null
            ? Within.Singles
            : _singles ??= Enumerable
                .Range(0, Suspects.Count)
                .Where(i => Suspects[i] is { Also: null, Together.Count: 0, String: null })
                .DistinctBy(i => KeyOf(Suspects[i].Template))
                .ToDictionary(i => KeyOf(Suspects[i].Template));

    private Dictionary<(string, string, string), int>? _singles;

    public Machine Machine { get; }
    internal Nets Nets { get; }
    public Circuit Circuit => Machine.Circuit;
    public IReadOnlyList<Suspect> Suspects { get; }

    /// <summary>What is mended and how it failed, by suspect: faults of one site are told apart by no repair.</summary>
    public IReadOnlyList<RepairSite> Sites { get; }
    private readonly RepairSites _sites;
    internal double Total { get; }

    private IReadOnlyList<Routes.Lane>? _lanes;

    /// <summary>Lanes of all functions.</summary>
    internal IReadOnlyList<Routes.Lane> Lanes =>
        Within?.Lanes
        ?? (
            _lanes ??= [
                .. Circuit
                    .Functions.SelectMany(f => Routes.LaneFinder.Find(Machine, f))
                    .DistinctBy(l => (l.Part, l.Link, l.Stations[0].Terminal, l.Stations.Count)),
            ]
        );

    internal int Points(int suspect) => Math.Max(1, Suspects[suspect].Values.Count);

    /// <summary>True where a suspect is at its worst at its least value: a path to where none should be.</summary>
    internal bool IsWorstAtLeast(int suspect) =>
        Suspects[suspect].Template.Kind
            is FaultKind.Grounded
                or FaultKind.ToSupply
                or FaultKind.Shorts
                or FaultKind.Shorted
                or FaultKind.Lessened;

    /// <summary>Grid point of a suspect's worst value: added resistance at its most, a path to ground at its least ohms.</summary>
    internal int WorstPoint(int suspect) => IsWorstAtLeast(suspect) ? 0 : Points(suspect) - 1;

    internal bool Curved(int suspect) => Suspects[suspect].Continuous && Points(suspect) > 1;

    /// <summary>Values that are weighed of a suspect.</summary>
    internal int FineCount(int suspect) => Curved(suspect) ? (Points(suspect) - 1) * Fine : Points(suspect);

    internal IReadOnlyList<Fault> FaultsAt(int suspect, int point) =>
        Suspects[suspect].All(Suspects[suspect].Values.Count == 0 ? 0 : Suspects[suspect].Values[point]);

    /// <summary>Value at a fine point, V or Ω.</summary>
    internal double ValueAt(int suspect, int fine)
    {
        var values = Suspects[suspect].Values;
        if (values.Count == 0)
            return double.NaN;
        if (!Curved(suspect))
            return values[fine];
        return Between(suspect, fine / Fine, (fine % Fine + 0.5) / Fine);
    }

    /// <summary>Value at a place along the grid, 0 at its first value and 1 at its second.</summary>
    internal double ValueOf(int suspect, double at)
    {
        var cell = Math.Min((int)at, Math.Max(0, Points(suspect) - 2));
        return Points(suspect) == 1 ? Suspects[suspect].Values[0] : Between(suspect, cell, at - cell);
    }

    /// <summary>Value a part of the way through a grid cell: even in the logarithm for ohms, even in volts.</summary>
    private double Between(int suspect, int cell, double t)
    {
        var values = Suspects[suspect].Values;
        var (a, b) = (values[cell], values[cell + 1]);
        return Suspects[suspect].Template.Dimension == Dimension.Ohm ? a * Math.Pow(b / a, t) : a + (b - a) * t;
    }

    internal int NearestPoint(int suspect, int fine) => Curved(suspect) ? fine / Fine + (fine % Fine >= Fine / 2 ? 1 : 0) : fine;

    /// <summary>The points of the grid on either side of a fine point; twice the same where there is but one.</summary>
    internal (int One, int Other) PointsAbout(int suspect, int fine) => Curved(suspect) ? (fine / Fine, fine / Fine + 1) : (fine, fine);

    /// <summary>One fine point for each stretch of a suspect's values.</summary>
    internal int[] Sizes(int suspect) => [.. Enumerable.Range(0, FineCount(suspect)).Where(k => !Curved(suspect) || k % Fine == Fine / 2)];

    private readonly double[]?[] _values;

    /// <summary>Values at all fine points of a suspect, kept.</summary>
    internal double[] Values(int suspect)
    {
        if (Within is not null && suspect < Within.Suspects.Count)
            return Within.Values(suspect);
        if (_values[suspect] is { } known)
            return known;
        var all = new double[FineCount(suspect)];
        for (var i = 0; i < all.Length; i++)
            all[i] = ValueAt(suspect, i);
        return _values[suspect] = all;
    }

    /// <summary>
    /// True where a suspect lies where nothing flows and nothing stands, neither at rest nor in this setup, so that what works there works
    /// with it as well. False where that is not plain to see.
    /// </summary>
    /// <param name="changed">What the suspect changes.</param>
    internal bool MakesNoDifference(Setup setup, FaultSet changed) =>
        setup is { Steps.Count: <= 1, Interventions.Count: 0, AfterSeconds: 0 }
        && Healthy(setup).IsUntouchedBy(changed)
        && Healthy(Setup.Rest).IsUntouchedBy(changed);

    internal OperatingPoint Run(Setup setup, int suspect, int point) => _runs.Run(setup, suspect, point);

    private readonly ConcurrentDictionary<Setup, IReadOnlyList<string>[]?[]> _blown = new();

    /// <summary>
    /// Fuses that open in a setup, at each point of a suspect's grid; empty where none does at any. Kept: what blew a fuse is asked after
    /// every reading.
    /// </summary>
    internal IReadOnlyList<string>[] BlownAlong(Setup setup, int suspect)
    {
        if (_blown.Count > MostTests)
            _blown.Clear();
        return _blown.GetOrAdd(setup, _ => new IReadOnlyList<string>[]?[Suspects.Count])[suspect] ??= MakeBlownAlong(setup, suspect);
    }

    /// <summary>The suspect that this fuse has blown by itself; null where it is none.</summary>
    internal int? BlownAlone(string fuse) =>
        Enumerable
            .Range(0, Suspects.Count)
            .Where(s =>
                Suspects[s] is { Also: null, Template: { Kind: FaultKind.Blown, Target: var tag } }
                && tag.Equals(fuse, StringComparison.OrdinalIgnoreCase)
            )
            .Select(s => (int?)s)
            .FirstOrDefault();

    private IReadOnlyList<string>[] MakeBlownAlong(Setup setup, int suspect)
    {
        static List<string> Blown(OperatingPoint run) => [.. run.Blown.Select(b => b.Tag)];
        static bool Alike(List<string> a, List<string> b) => a.SequenceEqual(b);
        if (Healthy(setup).Blown.Count == 0 && MakesNoDifference(setup, Machine.Changed(FaultsAt(suspect, WorstPoint(suspect)))))
            return [];
        var along = _runs.Along(setup, suspect, Blown, Alike, Alike, Blown(Healthy(setup)), narrow: 1);
        if (Array.TrueForAll(along, a => a.Read.Count == 0))
            return [];
        // Between two anchors of one state nothing blows that does not blow at both.
        return [.. Enumerable.Range(0, Points(suspect)).Select(p => along.MinBy(x => Math.Abs(x.At.At - p)).Read)];
    }

    /// <summary>
    /// Fuses and breakers that a suspect has carry too much in a setup, but so little that they do it for a while; empty where nothing
    /// opens, or where it opens at once.
    /// </summary>
    internal IReadOnlyList<string> CarriesTooMuch(Setup setup, int suspect)
    {
        var tags = new HashSet<string>();
        foreach (var point in new[] { 0, Points(suspect) / 2, Points(suspect) - 1 }.Distinct())
        {
            var run = _runs.Run(setup, suspect, point);
            // An overload relay takes seconds, whatever its amps; with it a breaker before it holds, that would be next.
            var trips = Circuit.Parts.Where((p, i) => p.Model.Coil is { IsTrip: true } && run.PulledIn(i)).Select(p => p.Tag).ToList();
            tags.UnionWith(trips);
            if (trips.Count > 0)
                tags.UnionWith(
                    Circuit.Parts.Where(p => p.Kind is Circuits.Kinds.Breaker).Select(p => p.Tag).Except(run.Blown.Select(b => b.Tag))
                );
            tags.UnionWith(run.Blown.Where(b => HoldsForAWhile(b.Tag, b.Amps)).Select(b => b.Tag));
        }
        return [.. tags.Order(StringComparer.Ordinal)];
    }

    private bool HoldsForAWhile(string tag, double amps)
    {
        var part = Circuit.FindPart(tag)!;
        return amps < part.Model.Links.OfType<Link.Fuse>().Select(f => f.RatedAmps).DefaultIfEmpty(0).Min() * HoldsTimes(part);
    }

    /// <summary>
    /// Times its rating that a device carries for seconds: ISO 8820-3 lets a blade fuse hold twice its amps for up to 5 s, IEC 60269-1 one
    /// of type gG and 16 A twice for 10 s and four times for 5 s, IEC 60898-1 a breaker of type C five to ten times before it opens at
    /// once;
    /// from memory.
    /// </summary>
    private const double BladeHolds = 2.2,
        MainsFuseHolds = 4,
        BreakerHolds = 6;

    private double HoldsTimes(Part device) =>
        device.Kind is Circuits.Kinds.Breaker ? BreakerHolds
        : device.Has("blade") || Nets.Of(Circuit).FunctionAt(new Terminal(device.Tag, device.Model.Terminals[0])) == VoltsFunction.Dc
            ? BladeHolds
        : MainsFuseHolds;

    internal OperatingPoint Run(Setup setup, Representative r) =>
        r.FinePoint is { } fine ? _runs.Fine(setup, r.Suspect, fine) : _runs.Run(setup, r.Suspect, r.Point);

    /// <summary>The healthy machine in a setup.</summary>
    internal OperatingPoint Healthy(Setup setup) => _runs.Healthy(setup);

    internal Predicted PredictHealthy(Test test) =>
        test.Probe.Loads ? Prediction.Predict(Meter.Read(Machine, test), 0, 0) : Prediction.Predict(test, Healthy(test.Setup));

    /// <summary>For a joint that comes and goes: the suspect that has it open for good.</summary>
    internal int? OpenTwin(int suspect) => _openTwins.TryGetValue(suspect, out var twin) ? twin : null;

    private readonly Dictionary<int, int> _openTwins = [];

    /// <summary>
    /// For a touch that comes and goes: the suspects that the machine is as while it touches, and while it does not.
    /// </summary>
    /// <param name="There">The same touch for good; with the fuse that it has blown, where it has.</param>
    /// <param name="Gone">That fuse blown and nothing else; null where none is: then the machine is sound.</param>
    /// <param name="Renewed">The same touch for good with whole fuses.</param>
    /// <param name="Alone">The same by turns with whole fuses.</param>
    internal readonly record struct Touch(int There, int? Gone, int Renewed, int Alone);

    internal Touch? TouchOf(int suspect) => _touches.TryGetValue(suspect, out var touch) ? touch : null;

    /// <summary>The suspect that the machine is as while this one, which comes and goes, is there; null for what is always there.</summary>
    internal int? ForGood(int suspect) => OpenTwin(suspect) ?? TouchOf(suspect)?.There;

    private readonly Dictionary<int, Touch> _touches = [];

    private void FindTouches(int first)
    {
        var touches = Enumerable.Range(first, Suspects.Count - first).Where(i => Suspects[i].Template.TouchesByTurns).ToList();
        if (touches.Count == 0)
            return;
        var like = new Dictionary<((string, string, string), bool ByTurns, Fault? Also), int>();
        for (var i = 0; i < Suspects.Count; i++)
            if (Suspects[i] is { AlsoUnit: null, Held.Count: 0, Together.Count: 0 } s)
                like.TryAdd((KeyOf(s.Template), s.Template.TouchesByTurns, s.Also), i);
        foreach (var i in touches)
        {
            var (key, also) = (KeyOf(Suspects[i].Template), Suspects[i].Also);
            _touches[i] = new Touch(
                like[(key, false, also)],
                also is null ? null : like[(KeyOf(also), false, null)],
                like[(key, false, null)],
                like[(key, true, null)]
            );
        }
    }

    private readonly ConcurrentDictionary<string, IReadOnlyList<string>> _places = new();

    /// <summary>Places of what is mended: of a wire, those of its ends.</summary>
    internal IReadOnlyList<string> PlacesOf(string unit) => _places.GetOrAdd(unit, u =>
        {
            IEnumerable<string> tags = Circuit.FindWire(u) is { } w ? [w.From.Tag, w.To.Tag] : [u.Split(':', '/')[0]];
            return tags.Select(Circuit.FindPart).OfType<Part>().Select(p => p.PlaceOrTag).Distinct().ToList();
        });

    private ILookup<Terminal, Terminal>? _beside;

    /// <summary>Terminals that a wire, a bond or a pin joins to this one.</summary>
    internal IEnumerable<Terminal> Beside(Terminal t) => Within is not null ? Within.Beside(t) : (_beside ??= Joined(Circuit))[t];

    /// <summary>True when the setup moves the suspect's place.</summary>
    internal bool IsMoved(int suspect, Setup setup) =>
        setup.Moved.Count > 0 && PlacesOf(Suspects[suspect].RepairUnit).Any(p => setup.Moved.Contains(p, StringComparer.OrdinalIgnoreCase));

    internal Predicted Predict(Test test, int suspect, int point)
    {
        if (test.Probe.Loads)
            return Prediction.Predict(Meter.Read(Machine, test, FaultsAt(suspect, point)), 0, 0);
        return Prediction.Predict(test, Run(test.Setup, suspect, point));
    }

    /// <summary>
    /// The same without spread, and for volts without the meter's load: a point tied to the reference is not loaded by 10 MΩ, and a
    /// floating one shows next to nothing that could be relied on.
    /// </summary>
    internal Predicted Quick(Test test, Representative r) =>
        test.Probe.Loads ? Predict(test, r.Suspect, r.Point) : Prediction.Quick(test, Run(test.Setup, r))!.Value;

    internal Predicted Predict(Test test, Representative r) =>
        test.Probe.Loads ? Predict(test, r.Suspect, r.Point) : Prediction.Predict(test, Run(test.Setup, r));

    /// <summary>What the test shows along every suspect's values.</summary>
    internal ResponseCurve[] Curves(Test test)
    {
        if (_curves.TryGetValue(test, out var known))
            return known;
        if (_curves.Count > MostTests)
        {
            _curves.Clear();
            Interlocked.Exchange(ref _curveBytes, 0);
        }
        var all = new ResponseCurve[Suspects.Count];
        var apart = test.Probe.Loads;
        Within?.Curves(test).CopyTo(all, 0);
        var (p, q) = apart ? (-1, -1) : Prediction.TipsOf(Healthy(test.Setup), test.Probe);
        var spreads = new ConcurrentDictionary<BaseState, double>();
        var dimension = test.Probe.Dimension;
        var sound = apart ? default : Shown(Healthy(test.Setup));
        WorkBudget.For(Within?.Suspects.Count ?? 0, Suspects.Count, s =>
        {
            var along = apart
                ? null
                : _runs.Along(
                    test.Setup,
                    s,
                    Shown,
                    (a, b) => Prediction.Alike(a, b, dimension, Circuit.NominalVolts),
                    (a, b) => Prediction.Same(a, b, dimension, Circuit.NominalVolts),
                    sound
                );
            if (along is [var only] && Curved(s))
            {
                all[s] = new ResponseCurve([only.Read]);
                return;
            }
            var at = apart ? Enumerable.Range(0, Points(s)).Select(p => (double)p).ToArray() : Array.ConvertAll(along!, a => a.At.At);
            var shown = apart ? Array.ConvertAll(at, x => Predict(test, s, (int)x)) : Array.ConvertAll(along!, a => a.Read);
            if (Suspects[s].Together.Count > 0 && !apart)
                for (var i = 0; i < shown.Length; i++)
                    shown[i] = shown[i] with { Joints = Prediction.JointsOf(test.Probe, along![i].At.Run) };
            all[s] = Curved(s)
                ? new ResponseCurve(
                    at,
                    Array.ConvertAll(at, x => ValueOf(s, x)),
                    shown,
                    Values(s),
                    along is null ? null : Prediction.Phasors(test.Probe, Array.ConvertAll(along, a => a.At.Run), shown)
                )
                : new ResponseCurve(shown);
        });
        if (_curves.TryAdd(test, all))
            Interlocked.Add(ref _curveBytes, all.Skip(Within?.Suspects.Count ?? 0).Sum(c => c.HeldBytes));
        return all;

        // Most faults move most readings a little at most: those are spread as the base state's.
        Predicted Shown(OperatingPoint op)
        {
            if (p == q || test.Probe.Statistic != Statistic.None || op.OtherEnd is not null || !op.SpreadsAsStanding(p, q))
                return Prediction.Predict(test, op);
            if (!spreads.TryGetValue(op.BaseState, out var spread))
                spreads[op.BaseState] = spread = Prediction.Predict(test, op.Unfaulted()).Spread;
            return new Predicted(Meter.VoltsOnly(op, p, q), spread, true, null, double.NaN, op.StateKey, !op.Tied(p, q))
            {
                EitherWay = test.Probe.IsEitherWay,
            };
        }
    }

    /// <summary>By terminal, those that a wire, a bond or a pin joins to it.</summary>
    private static ILookup<Terminal, Terminal> Joined(Circuit circuit)
    {
        var pairs = circuit
            .Wires.Select(w => (w.From, w.To))
            .Concat(circuit.Bonds.Select(b => (From: b.A, To: b.B)))
            .Concat(
                circuit
                    .Parts.Where(p => p.Kind is PinRow)
                    .SelectMany(p => p.Model.Links.Select(l => (From: new Terminal(p.Tag, l.A, true), To: new Terminal(p.Tag, l.B, true))))
            )
            .ToList();
        return pairs.Concat(pairs.Select(p => (From: p.To, To: p.From))).ToLookup(p => p.From, p => p.To);
    }
}
