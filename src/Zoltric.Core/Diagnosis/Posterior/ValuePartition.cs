using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// How the values of each suspect are weighed: together, by one entry, as long as no reading tells them apart, else fine point by fine
/// point. Most faults move nothing that was read. Immutable; entries of all suspects lie one after the other.
/// </summary>
internal sealed class ValuePartition
{
    private readonly FaultSpace _space;
    private readonly int[] _start;

    private ValuePartition(FaultSpace space, int[] start) => (_space, _start) = (space, start);

    /// <summary>Every suspect's values together.</summary>
    public static ValuePartition Together(FaultSpace space) => new(space, [.. Enumerable.Range(0, space.Suspects.Count + 1)]);

    /// <summary>Entries of all suspects.</summary>
    public int Count => _start[^1];

    /// <summary>First entry of a suspect.</summary>
    public int From(int suspect) => _start[suspect];

    /// <summary>One past its last entry.</summary>
    public int To(int suspect) => _start[suspect + 1];

    /// <summary>Fine points that one entry of a suspect stands for.</summary>
    public int Times(int suspect) => IsOne(suspect) ? _space.FineCount(suspect) : 1;

    /// <summary>Entry of a suspect's fine point.</summary>
    public int At(int suspect, int fine) => _start[suspect] + (IsOne(suspect) ? 0 : fine);

    /// <summary>A fine point that an entry stands for, as an offset from the suspect's first.</summary>
    public int FineOf(int suspect, int entry) => entry - _start[suspect];

    private bool IsOne(int suspect) => _start[suspect + 1] == _start[suspect] + 1;

    /// <summary>With those suspects point by point whose values one more test tells apart, in this space or one opened within it.</summary>
    public ValuePartition Apart(FaultSpace space, Func<int, bool> tellsApart)
    {
        var start = new int[space.Suspects.Count + 1];
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            var known = s + 1 < _start.Length;
            start[s + 1] = start[s] + (known && !IsOne(s) || tellsApart(s) ? space.FineCount(s) : 1);
        }
        return start[^1] == Count && space == _space ? this : new ValuePartition(space, start);
    }

    /// <summary>
    /// Writes what is held so, entry by entry, as a finer holding has it; entries of suspects that are not known here are left.
    /// </summary>
    public void Spread<T>(ReadOnlySpan<T> from, ValuePartition into, Span<T> to)
    {
        if (into == this)
        {
            from[..Count].CopyTo(to);
            return;
        }
        for (var s = 0; s + 1 < _start.Length; s++)
        {
            if (IsOne(s))
                to[into.From(s)..into.To(s)].Fill(from[_start[s]]);
            else
                from[_start[s].._start[s + 1]].CopyTo(to[into.From(s)..]);
        }
    }
}
