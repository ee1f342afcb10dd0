namespace Zoltric.Core.Circuits;

/// <summary>
/// How the machine is prepared for a probe, as what differs from rest: interventions first, then controls in steps; the controls of
/// one step move together and the machine settles before the next.
/// </summary>
public sealed record Setup(IReadOnlyList<Intervention> Interventions, IReadOnlyList<IReadOnlyList<ControlMove>> Steps)
{
    public static Setup Rest { get; } = new([], []);

    /// <summary>For <c>with</c>: the text of the one copied, which is kept, is not that of the copy.</summary>
    private Setup(Setup from)
    {
        (Interventions, Steps, AfterSeconds, Moved) = (from.Interventions, from.Steps, from.AfterSeconds, from.Moved);
    }

    /// <summary>Seconds waited after the last step, from <c>after 10min</c>.</summary>
    public double AfterSeconds { get; init; }

    /// <summary>Places moved by hand, from <c>move "place"</c>.</summary>
    public IReadOnlyList<string> Moved { get; init; } = [];

    /// <summary>
    /// The same without what is as it is at rest anyway, since people say more than they moved: <c>mast=UP</c> where it stands up.
    /// </summary>
    public Setup AsFewest(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        if (Steps.Count == 0)
            return this;
        var moved = Steps[0].Where(m => circuit.FindControl(m.Control) is not { } c || m.Position != c.Positions[c.Rest]).ToList();
        return moved.Count == Steps[0].Count ? this
            : moved.Count == 0 ? this with { Steps = [.. Steps.Skip(1)] }
            : this with { Steps = [moved, .. Steps.Skip(1)] };
    }

    /// <summary>The same with no place moved by hand.</summary>
    public Setup Unmoved => Moved.Count == 0 ? this : this with { Moved = [] };

    public bool IsRest => Interventions.Count == 0 && Steps.Count == 0 && AfterSeconds == 0 && Moved.Count == 0;

    /// <summary>
    /// By value: the same interventions, steps, wait and places in the same order. The controls of one step move together, so their order
    /// is none.
    /// </summary>
    public bool Equals(Setup? o) =>
        ReferenceEquals(this, o)
        || o is not null
            && GetHashCode() == o.GetHashCode()
            && AfterSeconds == o.AfterSeconds
            && Same(Interventions, o.Interventions)
            && Same(Moved, o.Moved)
            && AlikeStepByStep(Steps, o.Steps);

    // A setup is looked up for every test and fault: compared without an enumerator.
    private static bool Same<T>(IReadOnlyList<T> a, IReadOnlyList<T> b)
    {
        if (ReferenceEquals(a, b))
            return true;
        if (a.Count != b.Count)
            return false;
        for (var i = 0; i < a.Count; i++)
            if (!EqualityComparer<T>.Default.Equals(a[i], b[i]))
                return false;
        return true;
    }

    private static bool AlikeStepByStep(IReadOnlyList<IReadOnlyList<ControlMove>> a, IReadOnlyList<IReadOnlyList<ControlMove>> b)
    {
        if (a.Count != b.Count)
            return false;
        for (var i = 0; i < a.Count; i++)
            if (!Same(a[i], b[i]) && !(a[i].Count == b[i].Count && a[i].All(b[i].Contains) && b[i].All(a[i].Contains)))
                return false;
        return true;
    }

    public override int GetHashCode()
    {
        if (_hash == 0)
            _hash = Hash();
        return _hash;
    }

    private int Hash()
    {
        var hash = new HashCode();
        hash.Add(AfterSeconds);
        foreach (var i in Interventions)
            hash.Add(i);
        foreach (var step in Steps)
        {
            var together = step.Count;
            foreach (var move in step)
                together ^= move.GetHashCode();
            hash.Add(together);
        }
        foreach (var m in Moved)
            hash.Add(m, StringComparer.Ordinal);
        return hash.ToHashCode();
    }

    // Written in one go, since two requests may ask at once; 0 is not yet known.
    private int _hash;
    private string? _text;
    private string? _interventions;

    /// <summary>The interventions alone, as written.</summary>
    public string InterventionsText => _interventions ??= string.Join(", ", Interventions);

    /// <summary>As written in a reading line before the colon.</summary>
    public override string ToString() => _text ??= string.Join(", ", Words());

    private IEnumerable<string> Words()
    {
        foreach (var i in Interventions)
            yield return i.ToString()!;
        foreach (var step in Steps)
            yield return string.Join(' ', step);
        if (AfterSeconds > 0)
            yield return AfterSeconds % 60 == 0 ? $"after {AfterSeconds / 60}min" : $"after {AfterSeconds}s";
        foreach (var m in Moved)
            yield return $"move \"{m}\"";
    }
}

/// <summary>A control put to a position; <c>press b</c> is <c>b=PRESSED</c>, <c>release b</c> its rest position.</summary>
public sealed record ControlMove(string Control, string Position)
{
    public override string ToString() => $"{Control}={Position}";
}

/// <summary>Something done to the circuit before probing.</summary>
public abstract record Intervention
{
    public sealed record Off(string Tag) : Intervention
    {
        public override string ToString() => $"off {Tag}";
    }

    public sealed record Unplug(string Tag) : Intervention
    {
        public override string ToString() => $"unplug {Tag}";
    }

    public sealed record Pull(string Tag) : Intervention
    {
        public override string ToString() => $"pull {Tag}";
    }

    public sealed record Jumper(Terminal P, Terminal Q) : Intervention
    {
        public override string ToString() => $"jumper {P} {Q}";
    }

    public sealed record Feed(Terminal P) : Intervention
    {
        public override string ToString() => $"feed {P}";
    }

    /// <summary>A charger or another battery put on this one, holding it at that many volts.</summary>
    public sealed record Support(string Tag, double Volts) : Intervention
    {
        public override string ToString() => FormattableString.Invariant($"support {Tag} {Volts:0.###}V");
    }

    public sealed record Lift(Terminal P) : Intervention
    {
        public override string ToString() => $"lift {P}";
    }

    public sealed record Swap(string Tag, string With) : Intervention
    {
        public override string ToString() => $"swap {Tag} {With}";
    }
}
