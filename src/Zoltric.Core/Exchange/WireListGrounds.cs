using System.Text;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Exchange;

/// <summary>
/// A list of a vehicle's wires ends at its ground studs and takes the frame for granted. Where no row reaches the minus of its battery, the
/// studs are joined to it.
/// </summary>
internal static class WireListGrounds
{
    /// <summary>Writes the ways that are added to the sheet and says them.</summary>
    public static IReadOnlyList<string> Add(StringBuilder sheet, IReadOnlyList<WireListPart> parts, IReadOnlyList<WireEnd> ends)
    {
        var batteries = parts.Where(p => p.Kind is Battery).Select(p => p.Tag).ToList();
        if (batteries is not [var battery] || ends.Any(e => e.Tag == battery && e.Terminal == "-"))
            return [];
        var studs = parts.Where(p => p.Kind is Stud).Select(p => p.Tag).ToList();
        foreach (var stud in studs)
            sheet.Append("path ").Append(stud).Append(" - ").Append(battery).Append(".-\n");
        return [.. studs.Select(s => $"{s} to {battery}.-")];
    }
}
