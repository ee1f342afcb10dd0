namespace Zoltric.Core.Procedures;

/// <summary>A step of a plan in the making, whose answers are filled in as they are worked out; numbered at the end.</summary>
internal sealed class PlanStep(ProcedureStep step, IReadOnlyList<AnswerRule> rules)
{
    /// <summary>What is asked, with its answers, which lead nowhere yet.</summary>
    public ProcedureStep Step { get; } = step with { Answers = [.. rules.Select(r => new StepAnswer(r, Nowhere))] };

    public StepLead?[] Ends { get; } = new StepLead?[rules.Count];
    public PlanStep?[] Next { get; } = new PlanStep?[rules.Count];
    public int Number { get; set; }

    private static readonly StepLead Nowhere = new StepLead.Ask("");

    /// <summary>As it is printed, once all are numbered.</summary>
    public ProcedureStep Printed =>
        Step with
        {
            Number = $"{Number}",
            Answers =
            [
                .. Step.Answers.Select((a, i) => a with { Leads = Next[i] is { } next ? new StepLead.ToStep($"{next.Number}") : Ends[i]! }),
            ],
        };

    /// <summary>True where a way leads from here to a step.</summary>
    public bool Reaches(PlanStep to)
    {
        var seen = new HashSet<PlanStep>();
        return From(this);

        // Each step is looked at once, however many ways lead to it.
        bool From(PlanStep step) => step == to || seen.Add(step) && step.Next.Any(n => n is not null && From(n));
    }
}
