using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Exchange;

/// <summary>The wires of a circuit as a table, in the columns that <see cref="WireListImport"/> reads back.</summary>
public static class WireList
{
    public static IReadOnlyList<string> Columns { get; } = ["wire", "from", "to", "colour", "size", "length", "temperature", "ohms"];

    /// <summary>
    /// One row a wire: number, ends, colour, size as written, length in m, temperature in °C, resistance in Ω. Metal-to-metal joints have a
    /// row without a number and 0 Ω.
    /// </summary>
    public static IEnumerable<IReadOnlyList<string>> Rows(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        static string N(double? v) => v?.ToString("R", CultureInfo.InvariantCulture) ?? "";
        foreach (var w in circuit.Wires)
            yield return
            [
                w.Numbered ? w.Id : "",
                w.From.ToString(),
                w.To.ToString(),
                w.Colour ?? "",
                SheetWriter.Size(w) ?? "",
                w.LengthMetres is { } m ? N(m) + "m" : "",
                w.Celsius is { } t ? N(t) + "C" : "",
                w.Ohms.ToString("0.######", CultureInfo.InvariantCulture),
            ];
        foreach (var b in circuit.Bonds)
            yield return ["", b.A.ToString(), b.B.ToString(), "", "", "", "", "0"];
    }
}
