using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Procedures;

/// <summary>What is wrong with a procedure by itself and on the sheet of the machine it is used on.</summary>
public static partial class ProcedureCheck
{
    /// <param name="circuit">The machine's sheet; null where none is kept.</param>
    /// <returns>One sentence each, the steps in their order.</returns>
    public static IReadOnlyList<string> Of(Procedure procedure, Circuit? circuit = null)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        List<string> found = [];
        var reached = Reached(procedure);
        foreach (var step in procedure.Steps)
        {
            if (!reached.Contains(step.Number))
                found.Add($"Step {step.Number} is never reached.");
            if (step.Answers.Count == 0)
                found.Add($"Step {step.Number} has no answer: it leads nowhere.");
            foreach (var a in step.Answers)
                if (a.Leads is StepLead.ToStep to && procedure.Find(to.Number) is null)
                    found.Add($"Step {step.Number}, {a.When}: there is no step {to.Number}.");
            found.AddRange(Values(step));
            found.AddRange(OfPins(step));
            if (circuit is not null)
                found.AddRange(OnSheet(step, circuit));
        }
        if (Circle(procedure) is { } circle)
            found.Add($"It goes in a circle: {string.Join(" → ", circle)}.");
        return found;
    }

    private static HashSet<string> Reached(Procedure p)
    {
        var reached = new HashSet<string>();
        var queue = new Queue<ProcedureStep>(p.Steps.Take(1));
        while (queue.TryDequeue(out var step))
            if (reached.Add(step.Number))
                foreach (var a in step.Answers)
                    if (a.Leads is StepLead.ToStep to && p.Find(to.Number) is { } next)
                        queue.Enqueue(next);
        return reached;
    }

    /// <summary>Values that two rules of a step take, and those that none takes.</summary>
    private static IEnumerable<string> Values(ProcedureStep step)
    {
        var rules = step.Answers.Select(a => a.When).Where(r => r.Word is null).OrderBy(r => r.From ?? double.MinValue).ToList();
        for (var i = 1; i < rules.Count; i++)
        {
            var (low, high) = (rules[i - 1], rules[i]);
            if (low.Below is not { } below || high.From is not { } from || from < below)
                yield return $"Step {step.Number}: “{low}” and “{high}” take the same values.";
            else if (from > below)
                yield return $"Step {step.Number}: nothing is said of values between “{low}” and “{high}”.";
        }
        if (rules.Count == 1 && step.Answers.Count == 1)
            yield return $"Step {step.Number}: nothing is said of values other than “{rules[0]}”.";
    }

    /// <summary>What all, some or none of the pins would lead to and is not said.</summary>
    private static IEnumerable<string> OfPins(ProcedureStep step)
    {
        if (step.Pins.Count == 0)
            yield break;
        string[] words = step.Pins.Count == 1 ? [StepPins.All, StepPins.None] : [StepPins.All, StepPins.Some, StepPins.None];
        foreach (var word in words.Where(w => !step.Answers.Any(a => a.When.Takes(w))))
            yield return $"Step {step.Number}: nothing is said of {word} of its pins being good.";
        foreach (var twice in step.Pins.GroupBy(p => p.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return $"Step {step.Number}: pin {twice.Key} stands twice.";
    }

    private static List<string>? Circle(Procedure p)
    {
        var (state, way) = (new Dictionary<string, int>(), new List<string>());
        return p.Steps.Count > 0 ? Walk(p.Steps[0]) : null;

        List<string>? Walk(ProcedureStep step)
        {
            state[step.Number] = 1;
            way.Add(step.Number);
            foreach (var a in step.Answers)
            {
                if (a.Leads is not StepLead.ToStep to || p.Find(to.Number) is not { } next)
                    continue;
                if (state.GetValueOrDefault(next.Number) == 1)
                    return [.. way.SkipWhile(n => n != next.Number), next.Number];
                if (state.GetValueOrDefault(next.Number) == 0 && Walk(next) is { } circle)
                    return circle;
            }
            state[step.Number] = 2;
            way.RemoveAt(way.Count - 1);
            return null;
        }
    }

    private static IEnumerable<string> OnSheet(ProcedureStep step, Circuit circuit)
    {
        if (step.Reading.Length > 0 && ReadingReader.Read(circuit, step.Reading) is { Value: null } wrong)
            yield return $"Step {step.Number}: its reading is none of this sheet. {wrong.Problems[0].Message}";
        foreach (var pin in step.Pins)
            if (pin.Reading.Length > 0 && ReadingReader.Read(circuit, pin.Reading) is { Value: null } not)
                yield return $"Step {step.Number}, {pin.Name}: its reading is none of this sheet. {not.Problems[0].Message}";
        foreach (var a in step.Answers)
            if (a.Leads is StepLead.Repair r)
                foreach (
                    var tag in TagsIn($"{r.Text} {r.Of}").Where(t => circuit.FindPart(t) is null && circuit.FindWire(t) is null).Distinct()
                )
                    yield return $"Step {step.Number}, {a.When}: {tag} is not on this sheet.";
        foreach (var tag in TagsIn(step.Question).Where(t => circuit.FindPart(t) is null && circuit.FindWire(t) is null).Distinct())
            yield return $"Step {step.Number}: {tag} is not on this sheet.";
    }

    /// <summary>Words that look like tags of parts: capitals and a number, F1, GND2, X5.</summary>
    internal static IEnumerable<string> TagsIn(string text) => Tag().Matches(text).Select(m => m.Value);

    [GeneratedRegex(@"(?<![\w.\-])(?:[A-Z]{1,3}\d{1,3}|w\d{1,4})(?![\w])")]
    private static partial Regex Tag();
}
