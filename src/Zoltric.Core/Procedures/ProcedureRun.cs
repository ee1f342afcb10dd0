namespace Zoltric.Core.Procedures;

/// <summary>An answer that was given at a step.</summary>
public sealed record GivenAnswer(string Step, string Answer);

/// <summary>Where a run of a procedure stands.</summary>
/// <param name="At">The step that is asked now; null at the end.</param>
/// <param name="End">What it ended in; null while it goes on.</param>
/// <param name="Trouble">Why it cannot go on: an answer without a rule, a circle, a step that is not there; null where it can.</param>
/// <param name="Taken">Each answer given with the rule that took it, in order.</param>
public sealed record RunState(ProcedureStep? At, StepLead? End, string? Trouble, IReadOnlyList<(GivenAnswer Given, StepAnswer Rule)> Taken);

/// <summary>Follows a procedure by the answers given; the answers alone are kept, so that going back is leaving out the last.</summary>
public static class ProcedureRun
{
    public static RunState Follow(Procedure procedure, IReadOnlyList<GivenAnswer> answers)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(answers);
        var taken = new List<(GivenAnswer, StepAnswer)>();
        var been = new HashSet<string>();
        var at = procedure.Steps.Count > 0 ? procedure.Steps[0] : null;
        if (at is null)
            return new RunState(null, null, "It has no step.", taken);
        foreach (var given in answers)
        {
            if (given.Step != at.Number)
                return new RunState(at, null, $"An answer for step {given.Step} was given, step {at.Number} is asked.", taken);
            if (at.Answers.FirstOrDefault(a => a.When.Takes(given.Answer)) is not { } rule)
                return new RunState(
                    at,
                    null,
                    $"“{given.Answer}” is none of its answers: {string.Join(", ", at.Answers.Select(a => a.When))}.",
                    taken
                );
            taken.Add((given, rule));
            been.Add(at.Number);
            if (rule.Leads is not StepLead.ToStep to)
                return new RunState(null, rule.Leads, null, taken);
            if (procedure.Find(to.Number) is not { } next)
                return new RunState(null, null, $"It leads to step {to.Number}, which is not there.", taken);
            if (been.Contains(next.Number))
                return new RunState(
                    next,
                    null,
                    $"It leads back to step {next.Number}: it goes in a circle. Find out on your own from here.",
                    taken
                );
            at = next;
        }
        return new RunState(at, null, null, taken);
    }
}
