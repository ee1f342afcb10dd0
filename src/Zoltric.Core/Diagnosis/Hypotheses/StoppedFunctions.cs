using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>
/// Which functions a fault stops or weakens, each in the setup in which it is due: where a suspect is at its mildest, in its middle and at
/// its worst. Of faults opened for a job it is what their parts do. Worked out once a sheet, where it is asked for.
/// </summary>
internal sealed class StoppedFunctions
{
    private readonly FaultSpace _space;
    private readonly List<(string Name, Setup Setup, MachineFunction Function)> _functions;
    private readonly Lazy<bool[][][]> _stopped;
    private readonly Lazy<Dictionary<(string, string, string?), int>> _byFault;

    private StoppedFunctions(FaultSpace space)
    {
        _space = space;
        _functions =
        [
            .. space
                .Circuit.Functions.Where(f => f.Test is FunctionTest.LoadWorks)
                .Select(f => (f.Name, Setup: FunctionSetups.SetupFor(space.Circuit, f)!, f))
                .Where(f => f.Setup is not null),
        ];
        // A run that is ended by its budget is begun anew by the next who asks.
        _stopped = new(Run, LazyThreadSafetyMode.PublicationOnly);
        _byFault = new(() =>
            Enumerable
                .Range(0, space.Suspects.Count)
                .DistinctBy(s => KeyOf(space.Suspects[s].Template))
                .ToDictionary(s => KeyOf(space.Suspects[s].Template))
        );
    }

    public static StoppedFunctions Of(FaultSpace space)
    {
        while (space.Within is { } within)
            space = within;
        const string key = "stopped functions";
        if (space.Find<StoppedFunctions>(key) is { } known)
            return known;
        var made = new StoppedFunctions(space);
        space.Keep(key, made, () => 3L * space.Suspects.Count * made._functions.Count);
        return made;
    }

    /// <summary>
    /// How many functions a suspect of this space, or of one opened within it, stops at its least value, in its middle and at its
    /// greatest; those named are not counted.
    /// </summary>
    public (int Least, int Middle, int Most) Others(FaultSpace of, int suspect, IReadOnlySet<string> named)
    {
        var known = Constituents(of, suspect);
        // What is opened for a job has one value for each of its parts, at its worst.
        var whole = known is [var only] && only == suspect;
        var (least, middle, most) = (0, 0, 0);
        for (var f = 0; f < _functions.Count; f++)
        {
            if (named.Contains(_functions[f].Name))
                continue;
            if (known.Exists(s => Stops(s, whole ? 0 : null, f)))
                least++;
            if (known.Exists(s => Stops(s, whole ? 1 : null, f)))
                middle++;
            if (known.Exists(s => Stops(s, whole ? 2 : null, f)))
                most++;
        }
        return (least, middle, most);
    }

    /// <summary>Single faults of the sheet that a suspect is made of.</summary>
    private List<int> Constituents(FaultSpace of, int suspect)
    {
        if (suspect < _space.Suspects.Count)
            return [suspect];
        if (of.OpenTwin(suspect) is { } twin)
            return [twin];
        var s = of.Suspects[suspect];
        var found = new List<int>();
        foreach (var fault in s.Also is { } also ? [s.Template, also] : new[] { s.Template })
            if (_byFault.Value.TryGetValue(KeyOf(fault), out var i))
                found.Add(i);
        return found;
    }

    private static (string, string, string?) KeyOf(Fault f) => (f.Target, f.Words, f.Toward);

    /// <param name="place">0 for the least value, 1 for the middle, 2 for the greatest; null for the worst.</param>
    private bool Stops(int suspect, int? place, int function) =>
        _stopped.Value[suspect] is { Length: 3 } at
        && at[
            place is not { } p ? 2
            : _space.IsWorstAtLeast(suspect) ? 2 - p
            : p
        ][function];

    /// <summary>By suspect, the functions from its mildest value to its worst; nothing where that stops none.</summary>
    private bool[][][] Run()
    {
        var all = new bool[_space.Suspects.Count][][];
        WorkBudget.For(0, all.Length, s =>
        {
            var last = _space.Points(s) - 1;
            var worst = At(s, _space.WorstPoint(s));
            all[s] =
                !Array.Exists(worst, x => x) ? []
                : last == 0 ? [worst, worst, worst]
                : _space.IsWorstAtLeast(s) ? [At(s, last), At(s, last / 2), worst]
                : [At(s, 0), At(s, last / 2), worst];
        });
        return all;
    }

    /// <summary>With more functions than this, not each is run with every fault that lies elsewhere.</summary>
    internal const int Many = 12;

    /// <summary>So many of those a fault is tried on where nothing of the function flows: what they share with it, a battery, a fuse, a
    /// ground, they share with one another. Estimate.</summary>
    private const int Elsewhere = 6;

    /// <summary>That many of functions in which nothing of what is looked at flows, spread evenly.</summary>
    internal static IEnumerable<T> SomeOf<T>(IReadOnlyList<T> elsewhere)
    {
        var step = StepAmong(elsewhere.Count);
        for (var i = 0; i < elsewhere.Count; i += step)
            yield return elsewhere[i];
    }

    private static int StepAmong(int elsewhere) => Math.Max(1, elsewhere / Elsewhere);

    private bool[] At(int suspect, int point)
    {
        var faults = _space.FaultsAt(suspect, point);
        var changed = _space.Machine.Changed(faults);
        var stops = new bool[_functions.Count];
        var elsewhere = new List<int>();
        for (var f = 0; f < stops.Length; f++)
            if (_space.MakesNoDifference(_functions[f].Setup, changed))
                continue;
            else if (stops.Length <= Many || faults.Any(x => _space.Healthy(_functions[f].Setup).Flows(x.Target)))
                Try(f);
            else
                elsewhere.Add(f);
        foreach (var f in SomeOf(elsewhere))
            Try(f);
        if (StepAmong(elsewhere.Count) > 1 && elsewhere.Exists(f => stops[f]))
            foreach (var f in elsewhere)
                Try(f);
        return stops;

        void Try(int f) =>
            stops[f] =
                FunctionState.Judge(_space.Run(_functions[f].Setup, suspect, point), _functions[f].Function) is Answer.Dead or Answer.Weak;
    }
}
