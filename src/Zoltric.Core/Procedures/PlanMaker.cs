using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
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
/// answer it foresees, the likeliest branches first, until the trouble is settled or the plan is long enough. Ways that leave the same
/// suspects run together. For somebody without a screen.
/// </summary>
public sealed class PlanMaker
{
    /// <summary>A place in the plan: what is known there, and where its end or its step is to be written.</summary>
    /// <param name="Share">Of all jobs with this complaint, those that come here.</param>
    /// <param name="Proving">True for a leader whose proof is made a step of, with what room is left.</param>
    private sealed record Place(IReadOnlyList<Reading> Known, double Share, Made? From, int Answer, bool Proving = false);

    /// <summary>A step whose answers are filled in as they are worked out; numbered at the end.</summary>
    private sealed class Made(ProcedureStep step, int answers)
    {
        public ProcedureStep Step { get; } = step;
        public AnswerRule[] Rules { get; } = new AnswerRule[answers];
        public StepLead?[] Ends { get; } = new StepLead?[answers];
        public Made?[] Next { get; } = new Made?[answers];
        public int Number { get; set; }
    }

    private readonly FaultSpace _space;
    private readonly Circuit _circuit;
    private readonly PlanLimits _limits;
    private readonly DiagnosisOptions _options;
    private readonly PriorityQueue<Place, double> _places = new();
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
        var root = new Made(new ProcedureStep("0", "the complaint"), 1);
        Later(complaint, 1, root, 0);
        while (_places.TryDequeue(out var place, out _))
        {
            stop.ThrowIfCancellationRequested();
            Work(place);
        }
        var ordered = new List<Made>();
        InOrder(root.Next[0], ordered);
        if (ordered.Count == 0)
            return [new ProcedureStep("1", "Nothing is left to test") { Answers = [new StepAnswer(AnswerRule.Of("so"), root.Ends[0]!)] }];
        return
        [
            .. ordered.Select(m =>
                m.Step with
                {
                    Number = $"{m.Number}",
                    Answers =
                    [
                        .. m.Rules.Select(
                            (r, i) => new StepAnswer(r, m.Next[i] is { } next ? new StepLead.ToStep($"{next.Number}") : m.Ends[i]!)
                        ),
                    ],
                }
            ),
        ];
    }

    /// <summary>Numbers the steps in the order of a reader who follows the first answer first.</summary>
    private static void InOrder(Made? step, List<Made> ordered)
    {
        if (step is null || step.Number > 0)
            return;
        ordered.Add(step);
        step.Number = ordered.Count;
        foreach (var next in step.Next)
            InOrder(next, ordered);
    }

    private void Later(IReadOnlyList<Reading> known, double share, Made from, int answer) =>
        _places.Enqueue(new Place(known, share, from, answer), -share);

    private void Work(Place place)
    {
        var findings = Diagnostician.Diagnose(_space, place.Known, _options);
        // One part is renewed whichever way it failed.
        var leader = findings.Suspects.Count > 0 ? findings.Suspects[0] : null;
        var same = findings.Suspects.Where(s => s.Site.Unit == leader!.Site.Unit && s.Also.Count == leader.Also.Count).ToList();
        var share = same.Sum(s => s.Share);
        var sure = leader is not null && share >= _limits.Sure;
        // What would overturn a leader is asked as a step of its own where there is room; else it stands beside the finding.
        var unproved = sure && !findings.Solved;
        if (unproved && !place.Proving && CanProve(findings))
            _places.Enqueue(place with { Proving = true }, -place.Share * (1 - share));
        else if (findings.Solved || unproved && (_steps >= _limits.Steps || !CanProve(findings)))
        {
            _settled += place.Share;
            End(place, Found(findings, same));
        }
        else if (findings.NotAsDrawn)
            End(place, new StepLead.Ask("The machine is not as drawn: look for what is not on the drawing, read the odd ones again."));
        else if (Telling(findings) is not { } next || _steps >= _limits.Steps)
        {
            _settled += sure ? place.Share : 0;
            End(place, sure ? Found(findings, same) : Open(findings));
        }
        else if (Known(findings, place.From!) is { } known)
        {
            // What is left to do from there is done there.
            place.From!.Next[place.Answer] = known;
            _settled += place.Share;
        }
        else if (next.Kind == AdviceKind.ProveDead)
            Dead(place, next);
        else
            Asked(place, findings, next);
    }

    /// <summary>The first test whose answers part what is suspected; null where none does.</summary>
    private static Advice? Telling(Findings findings) =>
        findings.Next.FirstOrDefault(a => a.Kind == AdviceKind.ProveDead || a.Answers.Count(x => x.Chance >= LeastChance) > 1);

    private StepLead.Repair Found(Findings findings, List<FaultGroup> same) =>
        new(Said([.. same]) + (findings.Solved ? "" : Proof(findings)), same[0].Site.Unit);

    /// <summary>The suspects that still count, with their shares, and whether the machine is proved dead.</summary>
    private sealed record Standing(Dictionary<RepairSite, double> Shares, bool Dead)
    {
        public static Standing Of(Findings f)
        {
            var shares = new Dictionary<RepairSite, double>();
            foreach (var s in f.Suspects.Where(s => s.Share >= LeastShare))
                shares[s.Site] = shares.GetValueOrDefault(s.Site) + s.Share;
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

    private readonly List<(Standing At, Made Step)> _known = [];
    private Standing _standing = null!;

    /// <summary>A step from which on the same is left to do, that does not lead back here.</summary>
    private Made? Known(Findings findings, Made from)
    {
        _standing = Standing.Of(findings);
        return _known.Find(k => _standing.GoesOnAs(k.At) && !Reaches(k.Step, from)).Step;
    }

    /// <summary>Each step is looked at once, however many ways lead to it.</summary>
    private static bool Reaches(Made from, Made to)
    {
        var seen = new HashSet<Made>();
        return From(from);

        bool From(Made step) => step == to || seen.Add(step) && step.Next.Any(n => n is not null && From(n));
    }

    private static void End(Place place, StepLead lead) => place.From!.Ends[place.Answer] = lead;

    private void Asked(Place place, Findings findings, Advice next)
    {
        var rules = Rules(next).ToList();
        var sum = rules.Sum(r => r.Chance);
        if (rules.Count == 0)
        {
            End(place, Open(findings));
            return;
        }
        var order = ProbeOrder.Of(_circuit, next.Test, next.Expected.GoodSoFar?.High ?? next.Expected.Healthy.High);
        var made = Put(place, next, order, rules.Count);
        _minutes += place.Share * next.Minutes;
        for (var i = 0; i < rules.Count; i++)
        {
            made.Rules[i] = rules[i].Rule;
            Later([.. place.Known, new Reading(next.Test, rules[i].Result)], place.Share * rules[i].Chance / sum, made, i);
        }
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
            2,
            $"Prove dead: {string.Join("; ", pairs)}. Under 1 V each, the tester tried on a known source before and after."
        );
        (made.Rules[0], made.Rules[1]) = (AnswerRule.Of("dead"), AnswerRule.Of("live"));
        made.Ends[1] = new StepLead.Ask("Stop. Something still feeds it: find the supply before anything is touched.");
        Later(known, place.Share, made, 0);
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

    private Made Put(Place place, Advice next, ProbeOrder order, int answers, string? question = null)
    {
        var made = new Made(
            new ProcedureStep("", question ?? Asks(next.Test, order))
            {
                Set = string.Join(", ", order.Needs),
                Meter = order.Meter.Dial + (order.Meter.Range is { } range ? $", range {range}" : ""),
                Where = order.Where + (order.Wire is { } wire ? $", wire {wire}" : ""),
                Reading = question is null ? next.Test.ToString().Trim() : "",
                Minutes = Math.Round(next.Minutes, 1),
                Cautions = next.Cautions,
            },
            answers
        );
        place.From!.Next[place.Answer] = made;
        _known.Add((_standing, made));
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

    /// <summary>Half way, for ohms by their ratio; as it is written, so that the paper and the plan have the same figure.</summary>
    private static double Between(double low, double high, Dimension dimension)
    {
        var middle =
            double.IsInfinity(high) ? Math.Max(10 * low, LeastOpenOhms)
            : dimension == Dimension.Ohm && low > 0 ? Math.Sqrt(low * high)
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
