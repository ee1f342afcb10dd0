using System.Globalization;

namespace Zoltric.Core.Circuits;

/// <summary>One fault in fault words: where it sits, the words of its mode, and its value where it has one.</summary>
/// <param name="Target">Tag, wire id, pin <c>X3:4</c>, or lug <c>GND1/w10</c>.</param>
/// <param name="Words">Mode words without the value, <c>contact 30-87 resists</c>.</param>
/// <param name="Value">Value in base units, or null.</param>
/// <param name="Toward">The other point of a <c>shorts</c>.</param>
public sealed record Fault(string Target, string Words, double? Value = null, Dimension Dimension = Dimension.None, string? Toward = null)
{
    public override string ToString()
    {
        var value = Value is { } v ? $" {Number(v)}{Units.Short(Dimension)}" : "";
        // The contact of a switch stands after the value: S1 resists 2.9ohm B-S.
        if (Words.StartsWith("resists ", StringComparison.Ordinal)) return $"{Target} resists{value}{Words[7..]}";
        return $"{Target} {Words}{(Toward is null ? "" : " " + Toward)}{value}";
    }

    private static string Number(double v) => v switch
    {
        >= 1e6 => (v / 1e6).ToString("0.###", CultureInfo.InvariantCulture) + "M",
        >= 1e3 => (v / 1e3).ToString("0.###", CultureInfo.InvariantCulture) + "k",
        _ => v.ToString("0.#####", CultureInfo.InvariantCulture),
    };
}
