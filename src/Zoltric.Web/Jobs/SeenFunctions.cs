using Zoltric.Core.Circuits;
using Zoltric.Core.Routes;

namespace Zoltric.Web.Jobs;

/// <summary>What a job knows about the functions of its machine: which were seen dead, which working.</summary>
public static class SeenFunctions
{
    /// <summary>The last thing seen of each function, by name; functions that nobody looked at are left out.</summary>
    public static IReadOnlyDictionary<string, Answer> Last(JobView view)
    {
        ArgumentNullException.ThrowIfNull(view);
        var seen = new Dictionary<string, Answer>(StringComparer.Ordinal);
        foreach (var r in view.Readings)
            if (r is { Test.Probe: Probe.Sees { IsFunction: true } s, Result: ReadingResult.Word w, Doubtful: false })
                seen[s.What] = w.Answer;
        return seen;
    }

    public static SharedRoute? Shared(JobView view)
    {
        var seen = Last(view);
        List<MachineFunction> With(Func<Answer, bool> state) =>
            [.. view.Circuit.Functions.Where(f => seen.TryGetValue(f.Name, out var s) && state(s))];
        return Commonality.Find(view.Sheet.Machine, With(s => s is Answer.Dead or Answer.Weak), With(s => s == Answer.Works));
    }

    /// <summary>Functions not yet looked at, with the line that says what was seen.</summary>
    public static IEnumerable<(MachineFunction Function, Setup Setup)> Unseen(JobView view)
    {
        var seen = Last(view);
        foreach (var f in view.Circuit.Functions)
            if (!seen.ContainsKey(f.Name) && f.Test is FunctionTest.LoadWorks && FunctionSetups.SetupFor(view.Circuit, f) is { } setup)
                yield return (f, setup);
    }
}
