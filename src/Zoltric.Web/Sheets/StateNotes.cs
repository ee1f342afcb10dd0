using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Web.Sheets;

/// <summary>What a number alone would not tell about a machine in a setup.</summary>
public static class StateNotes
{
    /// <summary>
    /// Fuses that opened and at how many amps, races, chatter, what depends on what went before; null when there is nothing to say.
    /// </summary>
    public static string? Note(Machine machine, OperatingPoint op, Setup setup, IReadOnlyList<Fault> faults)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(op);
        var notes = new List<string>();
        foreach (var (tag, amps) in op.Blown)
            notes.Add(string.Create(CultureInfo.InvariantCulture, $"{tag} opened at {amps:0.##} A"));
        if (op.Racing.Count > 0)
            notes.Add($"race between {string.Join(" and ", op.Racing)}: either may be first");
        if (op.Chattering.Count > 0)
            notes.Add($"{string.Join(", ", op.Chattering)} {(op.Chattering.Count == 1 ? "chatters" : "chatter")}");
        else if (machine.DependsOnHistory(setup, faults) is { Count: > 0 } held)
            notes.Add($"depends on what went before: {string.Join(", ", held)}");
        return notes.Count == 0 ? null : string.Join("; ", notes);
    }
}
