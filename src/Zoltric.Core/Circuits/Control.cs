namespace Zoltric.Core.Circuits;

/// <summary>A knob, or with <paramref name="Given"/> a condition of the machine that nobody turns.</summary>
/// <param name="Positions">At least one.</param>
/// <param name="Rest">Index into <paramref name="Positions"/> of the position at rest.</param>
/// <param name="Held">Positions that spring back: someone must hold them.</param>
public sealed record Control(string Name, IReadOnlyList<string> Positions, int Rest, IReadOnlySet<string> Held, bool Given)
{
    /// <summary>Index of a position, or -1.</summary>
    public int IndexOf(string position)
    {
        for (var i = 0; i < Positions.Count; i++)
            if (Positions[i].Equals(position, StringComparison.OrdinalIgnoreCase))
                return i;
        return -1;
    }
}
