using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Procedures;

/// <summary>
/// Machines with one fault each that are taken along a plan while it is made: which of them come to a place says what the next step there
/// is worth, and where they end says whether the plan is right.
/// </summary>
internal sealed class PlanTrial
{
    /// <summary>One machine on its way.</summary>
    public sealed class Walker(Fault fault, string unit, double odds, Machine machine, Test complaint, PlanStep root)
    {
        private BlownFuses _fuses = new(machine);
        private readonly List<(PlanStep Step, int Answer)> _way = [];

        /// <summary>What is to be mended.</summary>
        public string Unit { get; } = unit;
        public double Odds { get; } = odds;

        /// <summary>The answers given so far; the first is the complaint.</summary>
        public IReadOnlyList<(PlanStep Step, int Answer)> Way => _way;

        /// <summary>The last answer, which leads on, ends, or is not worked out yet; -1 for one that its step does not have.</summary>
        public (PlanStep Step, int Answer) At => _way[^1];

        /// <summary>What it ended in; null while it goes on, and where it got stuck.</summary>
        public StepLead? End => At.Answer < 0 ? null : At.Step.Ends[At.Answer];
        public bool Ended => At.Answer < 0 || At.Step.Ends[At.Answer] is not null;
        public bool IsRight => ProcedureTrial.Named(End, Unit);
        public double Minutes => _way.Skip(1).Sum(w => w.Step.Step.Minutes);

        /// <summary>Back to the complaint, with the fuses that it blew.</summary>
        public void Start()
        {
            _fuses = new BlownFuses(machine);
            _fuses.Run(complaint.Setup, [fault]);
            _way.Clear();
            _way.Add((root, 0));
        }

        /// <summary>On to where nothing is worked out yet.</summary>
        public void Go()
        {
            while (At is { Answer: >= 0 } at && at.Step.Next[at.Answer] is { } next)
            {
                var answer = ProcedureTrial.Answer(next.Step, machine.Circuit, Read);
                _way.Add((next, answer is null ? -1 : next.Step.Answers.ToList().FindIndex(a => a.When.Takes(answer))));
            }
        }

        /// <summary>What the meter shows there now.</summary>
        public MeterReading Read(Test test) => _fuses.Read(test, [fault]);
    }

    private readonly Dictionary<(PlanStep, int), List<Walker>> _at = [];

    /// <param name="root">The complaint, with one answer.</param>
    /// <exception cref="OperationCanceledException">When it was stopped.</exception>
    public PlanTrial(FaultSpace space, Test complaint, PlanStep root, CancellationToken stop)
    {
        Walkers =
        [
            .. ProcedureTrial
                .Singles(space, complaint, stop)
                .Select(s => new Walker(s.Fault, space.Sites[s.Suspect].Unit, s.Odds, space.Machine, complaint, root)),
        ];
        Total = Walkers.Sum(w => w.Odds);
        WorkBudget.ForEach(Walkers, w => w.Start());
        _at[(root, 0)] = [.. Walkers];
    }

    public IReadOnlyList<Walker> Walkers { get; }

    /// <summary>Their odds together.</summary>
    public double Total { get; }

    /// <summary>Those that stand at an answer.</summary>
    public IReadOnlyList<Walker> At(PlanStep step, int answer) => _at.GetValueOrDefault((step, answer)) ?? [];

    /// <summary>Takes those that stand at an answer on; the answers at which they stand then.</summary>
    public IReadOnlyCollection<(PlanStep Step, int Answer)> Go(PlanStep step, int answer)
    {
        if (!_at.Remove((step, answer), out var those))
            return [];
        return Sent(those);
    }

    /// <summary>Sends those from the start again that went a way which is no more; the answers at which they stand then.</summary>
    public IReadOnlyCollection<(PlanStep Step, int Answer)> Again(IReadOnlySet<(PlanStep, int)> gone)
    {
        var those = Walkers.Where(w => w.Way.SkipLast(1).Any(gone.Contains)).ToList();
        foreach (var w in those)
            _at[w.At].Remove(w);
        WorkBudget.ForEach(those, w => w.Start());
        return Sent(those);
    }

    private HashSet<(PlanStep, int)> Sent(IReadOnlyList<Walker> those)
    {
        WorkBudget.ForEach(those, w => w.Go());
        var to = new HashSet<(PlanStep, int)>();
        foreach (var w in those)
        {
            if (!_at.TryGetValue(w.At, out var there))
                _at[w.At] = there = [];
            there.Add(w);
            to.Add(w.At);
        }
        return to;
    }
}
