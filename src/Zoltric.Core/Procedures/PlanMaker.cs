using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;
using Zoltric.Core.Practice;

namespace Zoltric.Core.Procedures;

/// <summary>How large a plan may become.</summary>
/// <param name="Steps">Most steps; what is left then goes to the trace, the rarest first.</param>
/// <param name="Sure">Share at which the leader is named; its proof stands with it.</param>
public sealed record PlanLimits(int Steps = 400, double Sure = 0.95);

/// <summary>A plan, and what it settles.</summary>
/// <param name="Settles">Share of jobs with the complaint, by the odds of what may be broken, that end in a finding.</param>
/// <param name="Minutes">Expected, by the same odds.</param>
public sealed record MadePlan(Procedure Procedure, double Settles, double Minutes);

/// <summary>
/// The whole plan for a complaint as a procedure to be printed: at each step the test that the diagnosis would order, a branch for each
/// answer it foresees, first those to which most of the single faults come that are walked along it meanwhile, until the trouble is settled
/// or the plan is long enough. Ways that leave the same suspects run together, and are parted where that leads astray. For somebody
/// without a screen.
/// </summary>
public sealed class PlanMaker
{
    /// <summary>A place in the plan: what is known there, and where its end or its step is to be written.</summary>
    /// <param name="Share">Of all jobs with this complaint, those that come here.</param>
    private sealed record Place(IReadOnlyList<Reading> Known, double Share, PlanStep From, int Answer)
    {
        /// <summary>The unit of a leader whose proof is made a step of, with what room is left.</summary>
        public string? Proving { get; init; }

        /// <summary>Share of those jobs that its end so far does not serve.</summary>
        public double Doubt { get; init; } = 1;

        /// <summary>True where it has steps of its own, because those of another place led astray.</summary>
        public bool Alone { get; init; }

        public (PlanStep, int) At => (From, Answer);
    }

    private readonly FaultSpace _space;
    private readonly Circuit _circuit;
    private readonly PlanLimits _limits;
    private readonly DiagnosisOptions _options;
    private readonly PriorityQueue<Place, double> _places = new();

    /// <summary>Those that still wait; a place is queued again where it has become worth more.</summary>
    private readonly Dictionary<(PlanStep, int), Place> _waiting = [];

    /// <summary>Answers that lead to a step which was made for another place.</summary>
    private readonly Dictionary<(PlanStep, int), Place> _joined = [];

    private PlanTrial? _trial;
    private int _steps;
    private double _settled,
        _minutes;

    private PlanMaker(FaultSpace space, PlanLimits limits, DiagnosisOptions options)
    {
        (_space, _circuit, _limits) = (space, space.Circuit, limits);
        _options = options with { Alternatives = 1, Verdicts = false, Parted = true };
    }

    /// <param name="complaint">What is known at the start: lines with their results.</param>
    /// <exception cref="OperationCanceledException">When nobody waits for it any more.</exception>
    public static MadePlan Make(
        FaultSpace space,
        string title,
        IReadOnlyList<Reading> complaint,
        PlanLimits? limits = null,
        DiagnosisOptions? options = null,
        CancellationToken stop = default
    )
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(complaint);
        var maker = new PlanMaker(space, limits ?? new PlanLimits(), options ?? new DiagnosisOptions());
        var steps = maker.Steps(complaint, stop);
        // What holds for many steps is said once, above them.
        var common = steps.SelectMany(s => s.Cautions).GroupBy(c => c).Where(c => c.Count() >= SaidAbove).Select(c => c.Key).ToList();
        steps = [.. steps.Select(s => s with { Cautions = [.. s.Cautions.Except(common)] })];
        return new MadePlan(
            new Procedure(title, steps)
            {
                AppliesTo = space.Circuit.Machine ?? space.Circuit.Title,
                MadeBy = "computed from the sheet",
                Cautions = [.. Safety.Cautions.For(space.Circuit).Concat(common).Distinct()],
                Notes =
                [
                    $"It starts from: {string.Join("; ", complaint.Select(Told))}.",
                    $"It settles {100 * maker._settled:0} of 100 jobs with this complaint as the sheet has them, in about "
                        + $"{maker._minutes:0} minutes.",
                    "Where nothing fits: read the odd one again, leads touched together first; then look for what is not on the drawing.",
                ],
            },
            maker._settled,
            maker._minutes
        );
    }

    /// <summary>A caution of so many steps stands at the head.</summary>
    private const int SaidAbove = 3;

    /// <summary>A line of the complaint as it is said.</summary>
    private static string Told(Reading reading) =>
        reading.Test.Probe is Probe.Sees sees && reading.Result is ReadingResult.Word { Answer: var word }
            ? $"“{sees.What}” is {word.Text()}{(reading.Test.Setup.IsRest ? "" : $" with {reading.Test.Setup}")}"
            : $"{reading}";

    private List<ProcedureStep> Steps(IReadOnlyList<Reading> complaint, CancellationToken stop)
    {
        var root = new PlanStep(new ProcedureStep("0", "the complaint"), [AnswerRule.Of("so")]);
        if (complaint is [{ Result: ReadingResult.Word { Answer: Answer.Dead } } only])
            _trial = new PlanTrial(_space, only.Test, root, stop);
        Wait(new Place(complaint, 1, root, 0));
        foreach (var part in Parts)
        {
            while ((_steps < part * _limits.Steps || part == 1) && _places.TryDequeue(out var place, out _))
            {
                stop.ThrowIfCancellationRequested();
                if (_waiting.Remove(place.At, out var waiting) && waiting == place)
                    Work(place);
                else if (waiting is not null)
                    _waiting[place.At] = waiting;
            }
            if (part < 1)
                PartAstray();
        }
        if (_trial is { Total: > 0 })
        {
            _settled = _trial.Walkers.Where(w => w.IsRight).Sum(w => w.Odds) / _trial.Total;
            _minutes = _trial.Walkers.Sum(w => w.Odds * w.Minutes) / _trial.Total;
        }
        var ordered = new List<PlanStep>();
        InOrder(root.Next[0], ordered);
        if (ordered.Count == 0)
            return [new ProcedureStep("1", "Nothing is left to test") { Answers = [new StepAnswer(AnswerRule.Of("so"), root.Ends[0]!)] }];
        return [.. ordered.Select(m => m.Printed)];
    }

    /// <summary>Numbers the steps in the order of a reader who follows the first answer first.</summary>
    private static void InOrder(PlanStep? step, List<PlanStep> ordered)
    {
        if (step is null || step.Number > 0)
            return;
        ordered.Add(step);
        step.Number = ordered.Count;
        foreach (var next in step.Next)
            InOrder(next, ordered);
    }

    /// <summary>Parts of the steps after which it is looked where the trial went astray.</summary>
    private static readonly double[] Parts = [0.4, 0.55, 0.7, 0.8, 0.9, 1];

    /// <summary>Weight of the trial in what a place is worth; the rest is what the diagnosis foresees, slips and pairs with it.</summary>
    private const double ByTrial = 0.9;

    /// <summary>What is worth less than this gets no step of its own: paper is not spent on what hardly anybody meets.</summary>
    private const double LeastWorth = 0.0003;

    private void Wait(Place place)
    {
        _waiting[place.At] = place;
        _places.Enqueue(place, -Worth(place));
    }

    private double Worth(Place place)
    {
        var foreseen = place.Share * place.Doubt;
        return _trial is not { Total: > 0 }
            ? foreseen
            : (1 - ByTrial) * foreseen
                + ByTrial * _trial.At(place.From, place.Answer).Where(w => w.Unit != place.Proving).Sum(w => w.Odds) / _trial.Total;
    }

    private bool IsFull(Place place) => _steps >= _limits.Steps || Worth(place) < LeastWorth;

    /// <summary>Takes the trial on from an answer that leads somewhere now; what waits where it comes to is worth more.</summary>
    private void GoOn(Place place)
    {
        if (_trial is null)
            return;
        foreach (var at in _trial.Go(place.From, place.Answer))
            if (_waiting.TryGetValue(at, out var waiting))
                Wait(waiting);
    }

    /// <summary>Where a step that was made for other suspects leads astray, what was joined to it gets steps of its own.</summary>
    private void PartAstray()
    {
        if (_trial is null)
            return;
        var gone = new Dictionary<(PlanStep, int), Place>();
        foreach (var walker in _trial.Walkers.Where(w => w.Ended && !w.IsRight))
            if (walker.Way.SkipLast(1).LastOrDefault(_joined.ContainsKey) is { Step: not null } last)
                gone[last] = _joined[last];
        foreach (var at in gone.Keys)
        {
            at.Item1.Next[at.Item2] = null;
            _joined.Remove(at);
        }
        foreach (var at in _trial.Again(gone.Keys.ToHashSet()))
            if (_waiting.TryGetValue(at, out var waiting))
                Wait(waiting);
        foreach (var place in gone.Values)
            Wait(place with { Alone = true });
    }

    private void Work(Place place)
    {
        var findings = Diagnostician.Diagnose(_space, place.Known, _options);
        // One part is renewed whichever way it failed.
        var leader = findings.Suspects.Count > 0 ? findings.Suspects[0] : null;
        var same = findings.Suspects.Where(s => UnitOf(s) == UnitOf(leader!) && s.Also.Count == leader!.Also.Count).ToList();
        var share = same.Sum(s => s.Share);
        var sure = leader is not null && share >= _limits.Sure;
        // What would overturn a leader is asked as a step of its own where there is room; else it stands beside the finding.
        var unproved = sure && !findings.Solved;
        if (unproved && place.Proving is null && CanProve(findings))
            Wait(place with { Proving = UnitOf(leader!), Doubt = 1 - share });
        else if (findings.Solved)
        {
            _settled += place.Share;
            End(place, Found(findings, same));
        }
        else if (unproved && (IsFull(place) || !CanProve(findings)))
            Left(place, findings, sure, same);
        else if (findings.NotAsDrawn)
            End(place, new StepLead.Ask("The machine is not as drawn: look for what is not on the drawing, read the odd ones again."));
        else if (Telling(findings) is not { } next)
            Left(place, findings, sure, same);
        else if (Known(findings, place) is { } known)
        {
            // What is left to do from there is done there.
            place.From.Next[place.Answer] = known;
            _joined[place.At] = place;
            _settled += place.Share;
            GoOn(place);
        }
        else if (IsFull(place))
            Left(place, findings, sure, same);
        else if (next.Kind == AdviceKind.ProveDead)
            Dead(place, next);
        else
            Asked(place, findings, next);
    }

    /// <summary>Share at which a leader is named where no step is left, its proof beside it.</summary>
    private const double AsGoodAsSure = 0.9;

    /// <summary>Ends a place where nothing more is asked: in what is as good as sure, or in what is left.</summary>
    private void Left(Place place, Findings findings, bool sure, List<FaultGroup> same)
    {
        if (sure || same.Sum(s => s.Share) >= AsGoodAsSure)
        {
            // A fuse is as good as sure, and what may have blown it is not out of the way: the new one tells.
            if (BlownWithCauseLeft(findings) is { } alone && CanRenew(place, alone))
            {
                Renew(place, alone);
                return;
            }
            End(place, Found(findings, same));
        }
        else if (BlownInAll(findings) is var (fuse, _) && CanRenew(place, fuse))
        {
            Renew(place, fuse);
            return;
        }
        else if (BlownInAll(findings) is var (_, blown))
            End(place, blown);
        else if (
            Telling(findings) is null
            && findings.OffSheet < MostOffSheet
            && same.Sum(s => s.Share) >= AsGoodAsSure * (1 - findings.OffSheet)
        )
            End(place, Alone(same));
        else
        {
            End(place, Open(findings));
            return;
        }
        _settled += place.Share;
    }

    /// <summary>Share of what is not on the drawing up to which the only drawn part that is left is named.</summary>
    private const double MostOffSheet = 0.25;

    /// <summary>The only part of the sheet that is left, where no test can tell more.</summary>
    private StepLead.Repair Alone(List<FaultGroup> same) =>
        new(
            $"{Said([.. same])}. It is all that the drawing leaves; where mending it does not help, look for what is not on the drawing",
            UnitOf(same[0])
        );

    /// <summary>Share of what may have blown a fuse from which the new one is watched; estimate.</summary>
    private const double CauseCounts = 0.01;

    /// <summary>The fuse that leads by itself while causes of it are left; null for none.</summary>
    private static string? BlownWithCauseLeft(Findings findings) =>
        findings.Suspects[0] is { Also.Count: 0 } leader
        && leader.Faults.FirstOrDefault(f => f.Kind == FaultKind.Blown) is { Target: var fuse }
        && Diagnostician.CauseLeft(findings.Suspects) >= CauseCounts
            ? fuse
            : null;

    /// <summary>A fuse that is blown whatever else is: it is renewed first, and what may have blown it is said.</summary>
    private (string Fuse, StepLead.Repair Said)? BlownInAll(Findings findings)
    {
        var fuse = findings
            .Suspects.SelectMany(s => Blown(s).Select(f => (f, s)))
            .GroupBy(x => x.f, x => x.s)
            .MaxBy(g => g.Sum(s => s.Share));
        if (fuse is null || fuse.Sum(s => s.Share) < _limits.Sure)
            return null;
        var causes = fuse.Where(s => s.Unit != fuse.Key).Take(3).Select(s => $"{Said(s)} ({100 * s.Share:0} %)").ToList();
        return (
            fuse.Key,
            new StepLead.Repair(
                $"{_circuit.FindPart(fuse.Key)!.Spoken}: blown. Before a new one is lost: what may have blown it is "
                    + $"{string.Join("; ", causes)}; where the new one goes too, it is that",
                UnitOf(findings.Suspects[0])
            )
        );
    }

    /// <summary>True where there is room to put one in and to see whether it holds, and none was put in before.</summary>
    private bool CanRenew(Place place, string fuse) =>
        _steps + 2 < _limits.Steps
        && Worth(place) >= LeastWorth
        && _circuit.FindPart(fuse) is { Kind: Circuits.Kinds.Fuse }
        && !place.Known.Any(r => r.Test.Probe is Probe.Replaced p && p.Tag == fuse);

    /// <summary>
    /// No test is left that tells what blew the fuse: a new one of the same rating is put in once, and the machine is run as it was
    /// complained of. One that holds was the trouble; one that goes has its cause in what is left.
    /// </summary>
    private void Renew(Place place, string fuse)
    {
        var part = _circuit.FindPart(fuse)!;
        var (put, tried) = (new Test(Setup.Rest, new Probe.Replaced(fuse)), new Test(place.Known[0].Test.Setup, new Probe.Looks(fuse)));
        var complaint = place.Known[0].Test;
        IReadOnlyList<Reading> known = [.. place.Known, new Reading(put, null)];
        var first = Put(
            place,
            new ProcedureStep("", $"Put one new {part.Spoken} in, of the same rating and kind, never a larger one")
            {
                Set = "every source off",
                Where = ProbeOrder.Of(_circuit, tried).Where,
                Reading = $"{put}".Trim(),
                Minutes = MinutesOf(place.Known, tried with { Setup = Setup.Rest }),
            },
            [AnswerRule.Of("done")]
        );
        var runs = Put(
            new Place(known, place.Share, first, 0),
            Asked(known, complaint, ProbeOrder.Of(_circuit, complaint).Do + " " + ProbeOrder.Of(_circuit, complaint).On),
            [AnswerRule.Of(Answer.Works.Text()), AnswerRule.Of(Answer.Dead.Text())]
        );
        End(new Place(known, 0, runs, 0), new StepLead.Repair($"{part.Spoken}: blown, and the new one holds", fuse));
        known = [.. known, new Reading(complaint, new ReadingResult.Word(Answer.Dead))];
        var holds = Put(
            new Place(known, place.Share, runs, 1),
            Asked(known, tried, $"Look at the new {part.Spoken}"),
            [AnswerRule.Of(Answer.Bad.Text()), AnswerRule.Of(Answer.Good.Text())]
        );
        Wait(new Place([.. known, new Reading(tried, new ReadingResult.Word(Answer.Bad))], place.Share, holds, 0));
        Wait(new Place([.. known, new Reading(tried, new ReadingResult.Word(Answer.Good))], place.Share * LeastChance, holds, 1));
    }

    private ProcedureStep Asked(IReadOnlyList<Reading> known, Test test, string question) =>
        new("", question)
        {
            Set = string.Join(", ", ProbeOrder.Of(_circuit, test).Needs),
            Where = ProbeOrder.Of(_circuit, test).Where,
            Reading = $"{test}".Trim(),
            Minutes = MinutesOf(known, test),
        };

    private double MinutesOf(IReadOnlyList<Reading> known, Test test) => Math.Round(new JobMinutes(_circuit, known).Minutes(test), 1);

    private static IEnumerable<string> Blown(FaultGroup group) =>
        group.Faults.Concat(group.Also).Where(f => f.Kind == FaultKind.Blown).Select(f => f.Target).Distinct();

    /// <summary>The first test whose answers part what is suspected; null where none does.</summary>
    private static Advice? Telling(Findings findings) =>
        findings.Next.FirstOrDefault(a => a.Kind == AdviceKind.ProveDead || a.Answers.Count(x => x.Chance >= LeastChance) > 1);

    private StepLead.Repair Found(Findings findings, List<FaultGroup> same) =>
        new(Said([.. same]) + (findings.Solved ? "" : Proof(findings)), UnitOf(same[0]));

    /// <summary>What is to be found and mended: of a fuse and what has blown it the cause.</summary>
    private string UnitOf(FaultGroup g) =>
        g.Site.Each.FirstOrDefault(e => _circuit.FindPart(e.Unit)?.Kind is not Circuits.Kinds.Fuse)?.Unit ?? g.Site.Unit;

    /// <summary>The suspects that still count, with their shares, and whether the machine is proved dead.</summary>
    private sealed record Standing(Dictionary<(RepairSite, string), double> Shares, bool Dead)
    {
        public static Standing Of(Findings f)
        {
            var shares = new Dictionary<(RepairSite, string), double>();
            foreach (var s in f.Suspects.Where(s => s.Share >= LeastShare))
            {
                // A part whose fuse has blown with it is found in another way than while the fuse is whole.
                var key = (s.Site, string.Join(' ', Blown(s)));
                shares[key] = shares.GetValueOrDefault(key) + s.Share;
            }
            return new Standing(shares, f.Isolation.IsProvedDead);
        }

        /// <summary>True where who stands here may go on as the plan does there: nothing is much likelier than it was there.</summary>
        public bool GoesOnAs(Standing there) =>
            Dead == there.Dead
            && Shares.All(s => s.Value <= MuchLikelier * there.Shares.GetValueOrDefault(s.Key) + LeastShare)
            && there.Shares.Where(s => Shares.ContainsKey(s.Key)).Sum(s => s.Value) >= StillOpen;
    }

    private const double LeastShare = 0.01,
        MuchLikelier = 1.5,
        StillOpen = 0.7;

    private readonly List<(Standing At, PlanStep Step)> _known = [];
    private Standing _standing = null!;

    /// <summary>A step from which on the same is left to do, that does not lead back here.</summary>
    private PlanStep? Known(Findings findings, Place place)
    {
        _standing = Standing.Of(findings);
        return place.Alone ? null : _known.Find(k => _standing.GoesOnAs(k.At) && !k.Step.Reaches(place.From)).Step;
    }

    private static void End(Place place, StepLead lead) => place.From.Ends[place.Answer] = lead;

    private void Asked(Place place, Findings findings, Advice next)
    {
        var rules = Rules(next).Concat(Unforeseen(place, next)).ToList();
        var sum = rules.Sum(r => r.Chance);
        if (rules.Count == 0)
        {
            End(place, Open(findings));
            return;
        }
        var order = ProbeOrder.Of(_circuit, next.Test, next.Expected.GoodSoFar?.High ?? next.Expected.Healthy.High);
        _minutes += place.Share * next.Minutes;
        var made = Put(place, next, order, [.. rules.Select(r => r.Rule)]);
        for (var i = 0; i < rules.Count; i++)
            Wait(new Place([.. place.Known, new Reading(next.Test, rules[i].Result)], place.Share * rules[i].Chance / sum, made, i));
    }

    /// <summary>Words that the diagnosis holds for too rare to be foreseen, but that somebody on trial here sees.</summary>
    private IEnumerable<(AnswerRule Rule, ReadingResult Result, double Chance)> Unforeseen(Place place, Advice next)
    {
        var foreseen = next.Answers.Where(a => a.Chance >= LeastChance).Select(a => a.Word).ToHashSet();
        return (_trial?.At(place.From, place.Answer) ?? [])
            .Select(w => (Shown: w.Read(next.Test), w.Odds))
            .Where(x =>
                x.Shown is { Value: null, Answer: not (null or Answer.OverLimit), Refused: false } && !foreseen.Contains(x.Shown.Answer)
            )
            .GroupBy(x => x.Shown.Answer!.Value, x => x.Odds)
            .Select(g => (AnswerRule.Of(g.Key.Text()), (ReadingResult)new ReadingResult.Word(g.Key), LeastChance));
    }

    /// <summary>Isolate and prove dead, all pairs that are asked for one after another as one step.</summary>
    private void Dead(Place place, Advice next)
    {
        var (pairs, known) = (new List<string>(), place.Known.ToList());
        var advice = next;
        while (advice is { Kind: AdviceKind.ProveDead } && pairs.Count < MostPairs)
        {
            var pair = ProbeOrder.Of(_circuit, advice.Test);
            pairs.Add(pair.On + (pair.Black is { } b ? $" to {b}" : ""));
            known.Add(new Reading(advice.Test, new ReadingResult.Number(0, Dimension.Volt)));
            var after = Diagnostician.Diagnose(_space, known, _options);
            advice = after.Solved || after.Next.Count == 0 ? null : after.Next[0];
        }
        var made = Put(
            place,
            next,
            ProbeOrder.Of(_circuit, next.Test),
            [AnswerRule.Of("dead"), AnswerRule.Of("live")],
            $"Prove dead: {string.Join("; ", pairs)}. Under 1 V each, the tester tried on a known source before and after."
        );
        made.Ends[1] = new StepLead.Ask("Stop. Something still feeds it: find the supply before anything is touched.");
        Wait(new Place(known, place.Share, made, 0));
    }

    private const int MostPairs = 40;

    private static string Asks(Test test, ProbeOrder order) =>
        $"{order.Do} {order.On}"
        + (test.Probe is Probe.Volts && order.Tips.Count > 0 ? $" ({order.Tips[0].Name})" : "")
        + (
            order.Black is not { } other ? ""
            : test.Probe is Probe.Volts ? $", black on {other}"
            : $": {other}"
        );

    private PlanStep Put(Place place, Advice next, ProbeOrder order, IReadOnlyList<AnswerRule> rules, string? question = null)
    {
        var made = Put(
            place,
            new ProcedureStep("", question ?? Asks(next.Test, order))
            {
                Set = string.Join(", ", order.Needs),
                Meter = order.Meter.Dial + (order.Meter.Range is { } range ? $", range {range}" : ""),
                Where = order.Where + (order.Wire is { } wire ? $", wire {wire}" : ""),
                Reading = question is null ? next.Test.ToString().Trim() : "",
                Minutes = Math.Round(next.Minutes, 1),
                Cautions = next.Cautions,
            },
            rules
        );
        _known.Add((_standing, made));
        return made;
    }

    private PlanStep Put(Place place, ProcedureStep step, IReadOnlyList<AnswerRule> rules)
    {
        var made = new PlanStep(step, rules);
        place.From.Next[place.Answer] = made;
        GoOn(place);
        _steps++;
        return made;
    }

    private static bool CanProve(Findings findings) => findings.Next.Count > 0 && findings.Next[0].Kind != AdviceKind.ProveDead;

    /// <summary>The proof that the diagnosis would still ask for before a part is bought; empty for none.</summary>
    private string Proof(Findings findings)
    {
        if (!CanProve(findings))
            return "";
        var next = findings.Next[0];
        var order = ProbeOrder.Of(_circuit, next.Test, next.Expected.Healthy.High);
        return $". First make sure: {Asks(next.Test, order)} ({next.Test.ToString().Trim()}), sound shows {next.Expected.Healthy.Text}";
    }

    /// <summary>
    /// The answers foreseen, values parted half way between what is foreseen on either side, so that every reading has one that takes it.
    /// </summary>
    private IEnumerable<(AnswerRule Rule, ReadingResult Result, double Chance)> Rules(Advice next)
    {
        var dimension = next.Test.Probe.Dimension;
        var likely = next.Answers.Where(a => a.Chance >= LeastChance).ToList();
        var values = likely
            .Where(a => a.Word is null or Answer.OverLimit)
            .Select(a => a.Word is null ? a : a with { Low = double.PositiveInfinity, High = double.PositiveInfinity })
            .SelectMany(a => BySign(a, dimension))
            .OrderBy(a => a.Low)
            .ToList();
        double? from = null;
        for (var i = 0; i < values.Count; i++)
        {
            double? below = i + 1 < values.Count ? Between(values[i].High, values[i + 1].Low, dimension) : null;
            var rule = new AnswerRule
            {
                From = from,
                Below = below,
                Dimension = dimension,
            };
            yield return (rule, Known(values[i], dimension), values[i].Chance);
            from = below;
        }
        foreach (var word in likely.Where(a => a.Word is not (null or Answer.OverLimit)))
            yield return (AnswerRule.Of(word.Word!.Value.Text()), new ReadingResult.Word(word.Word.Value), word.Chance);
    }

    private const double LeastChance = 0.004;

    /// <summary>
    /// Volts below the reference are an answer of their own: a rule without a minus takes the size of what is shown, whichever way the tips
    /// lie.
    /// </summary>
    private IEnumerable<PartedAnswer> BySign(PartedAnswer a, Dimension dimension) =>
        dimension == Dimension.Volt && a.Low < -ApartOfNominal * _circuit.NominalVolts && a.High > a.Low / 2
            ? [Part(a, a.Low, a.Low / 2), Part(a, a.Low / 2, a.High)]
            : [a];

    private static PartedAnswer Part(PartedAnswer a, double low, double high) => new(null, low, (low + high) / 2, high, a.Chance / 2);

    /// <summary>An answer that takes in values far apart says that it was one of them, and no more.</summary>
    private ReadingResult Known(PartedAnswer answer, Dimension dimension) =>
        answer.Word is not null ? new ReadingResult.OverLimit()
        : answer.High - answer.Low
        > (dimension == Dimension.Volt ? ApartOfNominal * _circuit.NominalVolts : Apart * Math.Abs(answer.Middle))
            ? new ReadingResult.Range(answer.Low, answer.High, dimension)
        : new ReadingResult.Number(answer.Middle, dimension);

    /// <summary>Share, of the value or of nominal volts, within which values are one value.</summary>
    private const double Apart = 0.1,
        ApartOfNominal = 0.03;

    /// <summary>
    /// Half way, for ohms by their ratio, and never across nothing; as it is written, so that the paper and the plan have the same figure.
    /// </summary>
    private static double Between(double low, double high, Dimension dimension)
    {
        var middle =
            double.IsInfinity(high) ? Math.Max(10 * low, LeastOpenOhms)
            : dimension == Dimension.Ohm && low > 0 ? Math.Sqrt(low * high)
            : low < 0 ? Math.Min((low + high) / 2, low / 2)
            : (low + high) / 2;
        return AsWritten(middle, dimension);
    }

    private static double AsWritten(double value, Dimension dimension) =>
        ProcedureText.Rule($"under {MeterReading.Format(value, dimension)}")?.Below ?? value;

    /// <summary>More than this is open to a meter that was set to ohms for a sound joint.</summary>
    private const double LeastOpenOhms = 100;

    private StepLead.Ask Open(Findings findings) =>
        new(
            "Not settled here. Likeliest: "
                + string.Join("; ", findings.Suspects.Take(3).Select(s => $"{Said(s)} ({100 * s.Share:0} %)"))
                + ". Go on with the trace."
        );

    private string Said(params FaultGroup[] groups)
    {
        var g = groups[0];
        var named = _circuit.FindPart(g.Unit)?.Spoken
            ?? (_circuit.FindWire(g.Unit) is { } w ? $"wire {w.Id}{(w.Colour is null ? "" : " " + w.Colour)}" : g.Unit);
        var words = string.Join(" or ", groups.SelectMany(x => x.Faults).Select(f => f.Words).Distinct().Take(groups.Length > 1 ? 3 : 2));
        return $"{named}: {words}{string.Concat(g.Also.Select(a => $", and {a}"))}";
    }
}
