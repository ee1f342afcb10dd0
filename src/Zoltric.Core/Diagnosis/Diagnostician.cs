using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Routes;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// From readings to findings: weighs every fault, judges every reading, says what to measure next and when it is enough. Work is counted
/// by tests and faults, never by time, so the same readings give the same advice.
/// </summary>
public static class Diagnostician
{
    /// <summary>What the leader must keep when any one reading is left out.</summary>
    private const double EnoughWithoutOne = 0.5,
        EnoughOfSource = 0.85;

    /// <summary>Readings before a joint that comes and goes may be believed.</summary>
    private const int FewestIntermittent = 5;

    /// <summary>Below this a test tells nothing worth walking for, bits.</summary>
    private const double LeastBits = 0.02;

    /// <summary>From this share on, the stretch is named in which the machine behaves as no drawn part could.</summary>
    public const double OffSheetSaid = 0.3;

    /// <summary>A test whose every answer has one name gives way to one that tells so many times as much; estimate.</summary>
    private const double MuchMore = 3;

    /// <summary>Tests that are looked at closely after the first ranking.</summary>
    private const int Shortlist = 40;

    /// <summary>What a test that nobody has made yet would tell: its likely answers, and what each would leave.</summary>
    public static IReadOnlyList<Outcome> WouldTell(
        FaultSpace space,
        IReadOnlyList<Reading> readings,
        Test test,
        DiagnosisOptions? options = null
    )
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(readings);
        ArgumentNullException.ThrowIfNull(test);
        readings = AsFewest(space, readings);
        (space, var belief, var weights) = Weighed(space, readings, options ?? new DiagnosisOptions());
        using var gain = new Gain(space, weights, readings);
        return Outcomes.Foresee(belief, weights, gain, test, new Judge(belief).Expect(test, weights));
    }

    /// <summary>One setting has one name, so that nothing is asked twice.</summary>
    private static List<Reading> AsFewest(FaultSpace space, IReadOnlyList<Reading> readings) =>
        [
            .. readings.Select(r =>
                r.Test.Setup.AsFewest(space.Circuit) is var fewest && ReferenceEquals(fewest, r.Test.Setup)
                    ? r
                    : r with
                    {
                        Test = r.Test with { Setup = fewest },
                    }
            ),
        ];

    /// <summary>The readings weighed, with the faults that they open to the space.</summary>
    private static (FaultSpace Space, Belief Belief, Weights Weights) Weighed(
        FaultSpace space,
        IReadOnlyList<Reading> readings,
        DiagnosisOptions options
    )
    {
        var belief = Belief.Of(space, options.Meter, readings, options.Circumstances);
        var weights = belief.Weigh();
        var opened = space.With(OpenedFaults.Find(space, belief, weights));
        if (opened == space)
            return (space, belief, weights);
        belief = belief.Within(opened);
        return (opened, belief, belief.Weigh());
    }

    /// <summary>By itself, so that it holds nothing of what it would make.</summary>
    private static Func<Belief> Anew(FaultSpace space, IReadOnlyList<Reading> readings, DiagnosisOptions options) =>
        () => Weighed(space, readings, options).Belief;

    public static Findings Diagnose(FaultSpace space, IReadOnlyList<Reading> readings, DiagnosisOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(readings);
        options ??= new DiagnosisOptions();
        var circuit = space.Circuit;
        readings = AsFewest(space, readings);
        var asked = space;
        (space, var belief, var weights) = Weighed(asked, readings, options);
        var groups = Groups.Form(weights);
        var function = Complaint.FunctionOf(circuit, readings);
        var lanes = function is null ? [] : LaneFinder.Find(space.Machine, function);
        var judge = new Judge(belief);
        var (solved, doubt) = Settled(belief, weights, groups);
        var isolation = options.Isolation ?? IsolationState.Of(circuit, readings);
        IReadOnlyList<Advice> next = [];
        IReadOnlyDictionary<Strategy, double>? forecast = null;
        // A blown fuse is no end while a test is left that could show what blew it.
        if (solved && CauseLeft(groups) > MostCauseLeft)
        {
            next = Next(space, belief, weights, groups, readings, lanes, options, isolation, judge, false, null, out forecast);
            solved = next.Count == 0;
        }
        // What is said to come and go must have been seen to, and not only by what was live here and dead there.
        if (
            solved
            && groups[0].Faults[0].ComesAndGoes
            && !OpenToo(groups)
            && (
                Unseen(belief, groups[0])
                || new Candidates(space, readings, options.Limits).AcrossLiveAndDead(JointsOf(space, groups[0])).Any()
            )
        )
        {
            next = Next(space, belief, weights, groups, readings, lanes, options, isolation, judge, true, null, out forecast);
            solved = next.Count == 0;
        }
        if (next.Count == 0)
            next = Next(space, belief, weights, groups, readings, lanes, options, isolation, judge, solved, doubt, out forecast);
        // With a fuse gone that nobody feeds again, volts behind it tell nothing; one more new fuse with a load left off does.
        if (!solved && next is [{ Tells: < TellsLittle }, ..] && NewFuse.WentAgain(space.Machine, groups, readings) is not null)
            next = [];
        // A new fuse is in: it is tried, whatever else could be read.
        if (!solved && NewFuse.Try(circuit, groups, readings) is { } tried && !(isolation.IsLockedOut && isolation.Energises(tried.Test)))
            next =
            [
                Order(
                    space,
                    tried.Test,
                    AdviceKind.Find,
                    tried.Why,
                    tried.Outcomes,
                    judge.Expect(tried.Test, weights),
                    new TestCosts(circuit, readings),
                    options,
                    isolation
                ),
            ];
        // Volts where there should be none come before everything else.
        if (isolation.Live is not null)
            next = [];
        // Open for good or by turns: where nothing tells that apart any more, the mending is the same.
        if (
            !solved
            && next.Count == 0
            && groups.Count > 0
            && weights.OffSheet < 1 - Certainty.Enough
            && SameJoint(groups).Sum(g => g.Share) >= Certainty.Enough
        )
            solved = true;
        if (solved)
            groups = AsOne(groups);
        var verdicts = options.Verdicts ? Enumerable.Range(0, belief.Evidence.Count).Select(judge.On).ToList() : [];
        var cautions = Cautions.For(circuit).ToList();
        // With what blew it or without: the fuse is open in each of these groups.
        if (
            groups
                .SelectMany(g =>
                    g.Faults.Concat(g.Also).Where(f => f.Kind == FaultKind.Blown).DistinctBy(f => f.Target).Select(f => (f.Target, g.Share))
                )
                .GroupBy(x => x.Target, x => x.Share)
                .FirstOrDefault(x => x.Sum() > 0.5)
                ?.Key is
            { } fuse
        )
            cautions.Insert(
                0,
                $"Find what blew {fuse} before a new one goes in, of the same rating: with it pulled, read ohms from "
                    + $"its load side to ground."
            );
        var stuck = next.Count == 0 && !solved && isolation.Live is null;
        var lockedOut =
            stuck && isolation.IsLockedOut
                ? $"Locked by {string.Join(", ", isolation.Locks.Select(l => $"{l.Who} ({l.Number})"))}: no live test until "
                    + $"{(isolation.Locks.All(l => l.Who == isolation.Who) ? "you take" : "each has taken")} the lock off."
                : null;
        var newFuse = stuck && lockedOut is null ? NewFuse.Trial(space.Machine, groups, readings) : null;
        return new Findings(
            verdicts,
            groups,
            weights.OffSheet,
            StretchFinder.Find(circuit, lanes, groups),
            next,
            cautions,
            solved,
            lanes,
            function,
            lockedOut
                ?? (stuck ? newFuse?.Said ?? "Nothing more to gain by measuring: what is left can only be told apart by swapping." : null)
        )
        {
            RestOn = (belief, Anew(asked, readings, options)),
            Isolation = isolation,
            LockedOut = lockedOut,
            PutIn = newFuse?.PutIn,
            Stop = isolation.Live is { } live ? StopFor(circuit, live) : null,
            Forecast = forecast,
            OffStretch = weights.OffSheet >= OffSheetSaid ? StretchFinder.Unexplained(circuit, lanes, verdicts) : null,
        };
    }

    /// <summary>The job reduced to its likeliest sites and tests, after these readings.</summary>
    internal static RolloutPlanner BoardOf(FaultSpace space, IReadOnlyList<Reading> readings, int mostSites, int mostTests)
    {
        var weights = Belief.Of(space, MeterClass.Service, readings).Weigh();
        var (gain, costs) = (new Gain(space, weights, readings), new TestCosts(space.Circuit, readings));
        var tests = new Candidates(space, readings, Limits.None).All(weights).ToList();
        gain.Prepare(tests);
        return new RolloutPlanner(
            space,
            gain,
            costs,
            tests.Select(t => (t, gain.Bits(t), costs.Minutes(t))).Where(t => t.Item2 >= LeastBits),
            [],
            mostSites,
            mostTests
        );
    }

    private static string StopFor(Circuit circuit, FoundLive live)
    {
        var nets = Nets.Of(circuit);
        var feeders = nets.Feeders(live.Check.P)
            .Concat(nets.Feeders(live.Check.Q))
            .Distinct()
            .Select(t => circuit.FindPart(t)!.Spoken)
            .ToList();
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{live.Volts:0.#} V between {live.Check.P} and {live.Check.Q} with every source off. Touch nothing. Find what feeds it: "
                + $"{(feeders.Count > 0 ? string.Join(", ", feeders) + ", " : "")}a second supply, a back-feed, a charged "
                + $"capacitor. Then read it again."
        );
    }

    private const double MostCauseLeft = 0.008;

    /// <summary>Bits below which no test is asked of a machine whose new fuse went as well.</summary>
    private const double TellsLittle = 0.15;

    /// <summary>True for a joint said to come and go that has not been seen to.</summary>
    private static bool Unseen(Belief belief, FaultGroup leader) =>
        leader.Faults[0].ComesAndGoes
        && !Enumerable.Range(0, belief.Space.Suspects.Count).Any(s => belief.Space.Sites[s] == leader.Site && belief.SeenToComeAndGo(s));

    /// <summary>
    /// The leader, and where it is a joint open for good or by turns also the same joint the other way: the mending is the same.
    /// </summary>
    private static IReadOnlyList<FaultGroup> SameJoint(IReadOnlyList<FaultGroup> groups)
    {
        var leader = groups[0];
        static bool Opens(FaultGroup g) => g.Also.Count + g.Together.Count == 0 && g.Faults.Any(f => Fault.Opening(f.Words) is not null);
        static bool Comes(FaultGroup g) => g.Also.Count + g.Together.Count == 0 && g.Faults.Any(f => f.Kind == FaultKind.Intermittent);
        return [.. groups.Where(g => g == leader || g.Unit == leader.Unit && (Opens(leader) && Comes(g) || Comes(leader) && Opens(g)))];
    }

    /// <summary>
    /// The leader, and the pairs it is one of: it is mended first, and a second trouble shows then. A blown fuse is not mended while what
    /// blew it is there.
    /// </summary>
    private static IReadOnlyList<FaultGroup> Holding(IReadOnlyList<FaultGroup> groups)
    {
        var (leader, joint) = (groups[0], SameJoint(groups));
        if (leader.Also.Count + leader.Together.Count > 0 || leader.Faults.Any(f => f.Kind == FaultKind.Blown))
            return joint;
        return
        [
            .. joint,
            .. groups.Except(joint).Where(g => g.Also.Count > 0 && (g.Unit == leader.Unit || g.Also.Any(a => a.Target == leader.Unit))),
        ];
    }

    /// <summary>Share of a joint that is open for good, of all that it holds, from which it need not be seen to come and go.</summary>
    private const double OpenEnough = 0.25;

    private static bool OpenToo(IReadOnlyList<FaultGroup> groups) =>
        SameJoint(groups) is var joint
        && joint.Where(g => !g.Faults[0].ComesAndGoes).Sum(g => g.Share) > OpenEnough * joint.Sum(g => g.Share);

    private static IReadOnlyList<FaultGroup> AsOne(IReadOnlyList<FaultGroup> groups)
    {
        var joint = SameJoint(groups);
        return [groups[0] with { Faults = [.. joint.SelectMany(g => g.Faults)], Share = joint.Sum(g => g.Share) }, .. groups.Except(joint)];
    }

    private static IEnumerable<int> JointsOf(FaultSpace space, FaultGroup group) =>
        Enumerable.Range(0, space.Suspects.Count).Where(s => space.Sites[s] == group.Site && space.OpenTwin(s) is not null);

    /// <summary>Share of what may have blown the fuse that leads; 0 when the leader is no blown fuse.</summary>
    internal static double CauseLeft(IReadOnlyList<FaultGroup> groups) =>
        groups[0].Faults.FirstOrDefault(f => f.Kind == FaultKind.Blown) is { } fuse
            ? groups.Skip(1).Where(g => g.Also.Any(a => a.Target == fuse.Target)).Sum(g => g.Share)
            : 0;

    /// <summary>Whether the leader may be believed; when it may not though it leads, the weights without the reading it leans on.</summary>
    private static (bool Solved, Weights? Doubt) Settled(Belief belief, Weights weights, IReadOnlyList<FaultGroup> groups)
    {
        if (groups.Count == 0 || weights.OffSheet >= 1 - Certainty.Enough)
            return (false, null);
        var joint = Holding(groups);
        if (joint.Sum(g => g.Share) < Certainty.Enough)
            return (false, null);
        // What comes and goes shows itself in few readings, and no single one need carry it; but it must have been seen to.
        if (groups[0].Faults[0].ComesAndGoes && !OpenToo(groups))
            return (belief.Counted.Count() >= FewestIntermittent, null);
        var sites = joint.Select(g => g.Site).ToHashSet();
        var (least, without) = (1.0, (Weights?)null);
        for (var i = 0; i < belief.Evidence.Count; i++)
        {
            // Without what the job is about there is nothing to find: a valve that sticks has no other sign.
            if (i == 0 && IsComplaint(belief.Evidence[i].Reading))
                continue;
            var w = belief.Weigh(i);
            var share = Enumerable.Range(0, w.Space.Suspects.Count).Where(s => sites.Contains(w.Space.Sites[s])).Sum(w.Weight);
            if (share < least)
                (least, without) = (share, w);
        }
        // A supply is not called dead by one tip that may have touched nothing.
        var enough = weights.Space.Circuit.FindPart(groups[0].Faults[0].Target)?.Kind.IsSource == true ? EnoughOfSource : EnoughWithoutOne;
        return belief.Counted.Count() >= 2 && least >= enough ? (true, null) : (false, without);
    }

    private static bool IsComplaint(Reading reading) =>
        reading is { Doubtful: false, Test.Probe: Probe.Sees, Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak } };

    /// <summary>Tests that may be made now: with a lock on, none that needs energy.</summary>
    private static List<Test> Allowed(IsolationState isolation, IEnumerable<Test> tests) =>
        [.. tests.Where(t => !isolation.IsLockedOut || !isolation.Energises(t))];

    private static IReadOnlyList<Advice> Next(
        FaultSpace space,
        Belief belief,
        Weights weights,
        IReadOnlyList<FaultGroup> groups,
        IReadOnlyList<Reading> readings,
        IReadOnlyList<Lane> lanes,
        DiagnosisOptions options,
        IsolationState isolation,
        Judge judge,
        bool solved,
        Weights? doubt,
        out IReadOnlyDictionary<Strategy, double>? forecast
    )
    {
        forecast = null;
        var circuit = space.Circuit;
        var costs = new TestCosts(circuit, readings);
        var candidates = new Candidates(space, readings, options.Limits);
        // A leader that leans on one reading is tested where leaving that reading out would let the others back in.
        var basis = doubt ?? weights;
        using var gain = new Gain(space, basis, readings, doubt is null ? null : Holding(groups).Select(g => g.Site).ToHashSet());
        if (solved)
            return Proof(space, belief, weights, groups, options, isolation, judge, gain, costs, candidates);
        var tests = Allowed(isolation, candidates.All(basis));
        // Every test's runs once, side by side; after that each is a look-up.
        gain.Prepare(tests);
        var kind = doubt is null ? AdviceKind.Find : AdviceKind.Confirm;
        var told = new double[tests.Count];
        WorkBudget.For(0, told.Length, i => told[i] = gain.Bits(tests[i]));
        var telling = tests
            .Zip(told)
            .Where(t => t.Second >= LeastBits)
            .Select(t => (Test: t.First, Bits: t.Second, Minutes: costs.Minutes(t.First)))
            .ToList();
        telling = WithoutNeedlessLive(circuit, telling, options.Facts.Wet);
        var order = Ranking.Order(telling, options.Strategy, lanes, costs.Penalty).ToList();
        var board =
            order.Count > 1 && (options.Strategy == Strategy.BestValue || options.Verdicts)
                ? new RolloutPlanner(space, gain, costs, telling, lanes)
                : null;
        // A second proof is told by whether it could overturn the first, not by the way to the end.
        if (options.Strategy == Strategy.BestValue && board is not null && doubt is null)
            LookAhead(order, board);
        if (options.Verdicts && board is { Coverage: >= BoardHolds })
            forecast = Enum.GetValues<Strategy>().ToDictionary(s => s, s => board.Minutes(s));
        var advice = new List<Advice>();
        var places = new HashSet<string>();
        Advice? same = null;
        var most = order.Take(Shortlist).Select(o => o.Bits).DefaultIfEmpty().Max();
        foreach (var (test, bits, minutes) in order.Take(Shortlist))
        {
            if (advice.Count > options.Alternatives)
                break;
            var (what, how) = ToProveDead(circuit, isolation, test) is { } check ? (check, AdviceKind.ProveDead) : (test, kind);
            // An alternative is another place, not the next terminal of the same part.
            var key = string.Join(";", costs.Places(test).Select(p => p.Place)) + test.Setup;
            if (advice.Count > 0 && places.Contains(key) || advice.Exists(a => a.Test == what))
                continue;
            var made = Make(what, how, how == AdviceKind.ProveDead ? 0 : bits, how == AdviceKind.ProveDead ? 0 : minutes) with
            {
                Tells = bits,
            };
            // Whatever it showed would have one name and leave the same: it is ordered where nothing tells much more.
            if (how == AdviceKind.Find && made.Outcomes.Count < 2 && most > MuchMore * bits)
            {
                same ??= made;
                continue;
            }
            places.Add(key);
            advice.Add(made);
        }
        if (advice.Count == 0 && same is not null)
            advice.Add(same);
        return advice;

        Advice Make(Test test, AdviceKind how, double bits, double minutes)
        {
            var outcomes = OutcomesOf(belief, basis, gain, judge, test, how, weights);
            var why = Reasons.Why(how, circuit, groups, outcomes, bits, minutes, options.Strategy);
            var made = Order(space, test, how, why, outcomes, judge.Expect(test, weights), costs, options, isolation);
            return made with
            {
                Gain = bits,
                Minutes = minutes,
                Answers = options.Parted ? PartedAnswers.Of(gain, test, space.Sites, circuit.NominalVolts) : [],
            };
        }
    }

    private static IReadOnlyList<Outcome> OutcomesOf(
        Belief belief,
        Weights basis,
        Gain gain,
        Judge judge,
        Test test,
        AdviceKind kind,
        Weights weights
    ) =>
        kind == AdviceKind.ProveDead
            ? [new Outcome("good", "0V", 1, "lets ohms be measured here")]
            : Outcomes.Foresee(belief, basis, gain, test, judge.Expect(test, weights));

    /// <summary>A test as it is ordered, with its place, minutes and cautions.</summary>
    private static Advice Order(
        FaultSpace space,
        Test test,
        AdviceKind kind,
        string why,
        IReadOnlyList<Outcome> outcomes,
        Expected expected,
        TestCosts costs,
        DiagnosisOptions options,
        IsolationState isolation
    ) =>
        new(
            test,
            kind,
            0,
            kind == AdviceKind.ProveDead ? 0 : costs.Minutes(test),
            why,
            outcomes,
            expected,
            costs.Places(test).Select(p => p.Place).Distinct().ToList(),
            Cautions.For(space.Circuit, test, space.Healthy(test.Setup), options.Facts.Wet, isolation.IsProvedDead)
        );

    /// <summary>A dead test will do when it tells at least this share of what the best live one would.</summary>
    private const double DeadWillDo = 0.4;

    /// <summary>Above extra-low voltage no live test is left where a dead one will do.</summary>
    private static List<(Test Test, double Bits, double Minutes)> WithoutNeedlessLive(
        Circuit circuit,
        List<(Test Test, double Bits, double Minutes)> tests,
        bool wet
    )
    {
        var harmless = tests.Where(t => !TestRules.IsDangerouslyLive(circuit, t.Test, wet)).ToList();
        if (harmless.Count == tests.Count)
            return tests;
        var live = tests.Where(t => TestRules.IsDangerouslyLive(circuit, t.Test, wet)).Max(t => t.Bits);
        return harmless.Count > 0 && harmless.Max(t => t.Bits) >= DeadWillDo * live ? harmless : tests;
    }

    /// <summary>
    /// The check of the sweep that comes before ohms; null where the machine is proved dead, or where the test sends no current of its own.
    /// </summary>
    private static Test? ToProveDead(Circuit circuit, IsolationState isolation, Test test) =>
        test.Probe.SendsCurrent && !isolation.IsProvedDead
            ? isolation
                .Pending.Concat(isolation.Plan.Sweep)
                .Select(c => new Test(new Setup(circuit.SourcesOff, []), new Probe.Volts(c.P, c.Q, c.Function)))
                .FirstOrDefault()
            : null;

    /// <summary>Tests that are played to the end, of the best by value and of the most telling; and the least share of all suspicion that a
    /// board must hold to be believed.</summary>
    private const int Played = 6;
    private const double BoardHolds = 0.8;

    /// <summary>A first test that is better over the whole job by less than this share is not put before a better next step.</summary>
    private const double WorthTheDetour = 0.98;

    /// <summary>
    /// Puts first the test with which the whole job takes the fewest minutes, where the likeliest sites are few enough to be played
    /// through.
    /// </summary>
    private static void LookAhead(List<(Test Test, double Bits, double Minutes)> order, RolloutPlanner board)
    {
        if (board.Coverage < BoardHolds)
            return;
        var tests = board.Tests.ToList();
        var (best, least, usual) = (0, double.PositiveInfinity, double.PositiveInfinity);
        foreach (
            var i in Enumerable
                .Range(0, Math.Min(Played, order.Count))
                .Concat(Enumerable.Range(0, order.Count).OrderByDescending(i => order[i].Bits).Take(Played))
                .Distinct()
        )
        {
            var test = tests.IndexOf(order[i].Test);
            if (test < 0)
                continue;
            var minutes = board.Minutes(Strategy.BestValue, test);
            if (i == 0)
                usual = minutes;
            if (minutes < least)
                (best, least) = (i, minutes);
        }
        if (best == 0 || least > WorthTheDetour * usual)
            return;
        var chosen = order[best];
        order.RemoveAt(best);
        order.Insert(0, chosen);
    }

    /// <summary>How much more a test right across the suspect proves than one that takes in more.</summary>
    private const double RightAcross = 3;

    /// <summary>How much more a test proves of a joint that comes and goes while its place is moved.</summary>
    private const double WhileMoved = 5;

    /// <summary>
    /// The test that would settle the leader: the cheapest on the part itself whose reading differs most from a sound one.
    /// </summary>
    private static IReadOnlyList<Advice> Proof(
        FaultSpace space,
        Belief belief,
        Weights weights,
        IReadOnlyList<FaultGroup> groups,
        DiagnosisOptions options,
        IsolationState isolation,
        Judge judge,
        Gain gain,
        TestCosts costs,
        Candidates candidates
    )
    {
        var circuit = space.Circuit;
        var leader = weights.Representatives.Where(p => space.Sites[p.Counts] == groups[0].Site).MaxBy(p => p.Weight);
        var comesAndGoes = groups[0].Faults[0].ComesAndGoes;
        // Before a joint is said to come and go, what was read live and dead in turn is read across at once.
        if (comesAndGoes && candidates.AcrossLiveAndDead(JointsOf(space, groups[0])).FirstOrDefault() is { Probe: Probe.Volts both } once)
            return
            [
                Advise(
                    once,
                    AdviceKind.Confirm,
                    $"{both.P} was read live and {both.Q} dead, one after the other. Read across both at once: a joint before "
                        + $"them that comes and goes shows nothing there, "
                        + "something open between them shows all of it."
                ),
            ];
        var tags = groups[0].Unit.Split(':', '/')[0];
        var on = circuit.FindWire(groups[0].Unit) is { } w ? new HashSet<string> { w.From.Tag, w.To.Tag } : [tags];
        var best = Allowed(isolation, candidates.All(weights))
            .Where(t => t.Probe.Tips.Any(tip => on.Contains(tip.Tag)) || t.Probe is Probe.Hears h && on.Contains(h.Tag))
            .Select(t => (Test: t, Apart: Apart(t), Minutes: costs.Minutes(t)))
            .Where(x => x.Apart > 4)
            .OrderByDescending(x =>
                Math.Min(x.Apart, 20)
                / (x.Minutes + 1)
                * (x.Test.Probe is Probe.Drop or Probe.Ohms ? 2 : 1)
                * (Across(x.Test) ? RightAcross : 1)
                * (comesAndGoes && x.Test.Setup.Moved.Count > 0 ? WhileMoved : 1)
            )
            .FirstOrDefault();
        if (best.Test is null)
            return [];
        var (test, kind) = ToProveDead(circuit, isolation, best.Test) is { } check
            ? (check, AdviceKind.ProveDead)
            : (best.Test, Unseen(belief, groups[0]) ? AdviceKind.Confirm : AdviceKind.Proof);
        return [Advise(test, kind, null)];

        Advice Advise(Test test, AdviceKind kind, string? reason)
        {
            var outcomes = OutcomesOf(belief, weights, gain, judge, test, kind, weights);
            var why = reason ?? Reasons.Why(kind, circuit, groups, outcomes, 0, 0, Strategy.BestValue);
            return Order(space, test, kind, why, outcomes, judge.Expect(test, weights), costs, options, isolation) with
            {
                Answers = options.Parted ? PartedAnswers.Of(gain, test, space.Sites, circuit.NominalVolts) : [],
            };
        }

        // With both tips on it nothing else can make the reading, drawn or not.
        bool Across(Test t) => t.Probe.Tips is [var p, var q] && on.Contains(p.Tag) && on.Contains(q.Tag);

        // How far the leader's reading lies from a sound machine's, in standard deviations; a different word is as far as can be.
        double Apart(Test t)
        {
            var healthy = Metering.Meter.Read(space.Healthy(t.Setup), t);
            var faulty = space.Predict(t, leader);
            if (healthy.Refused || faulty.Word == Answer.Refused)
                return 0;
            if (healthy.Value is not { } h || faulty.Word is not null)
                return healthy.Answer == faulty.Word ? 0 : 20;
            return Math.Abs(h - faulty.Mean)
                / (belief.Likelihood.MeterSigma(h, healthy.Dimension) + healthy.Spread + 0.02 * Math.Abs(h) + 0.02);
        }
    }
}
