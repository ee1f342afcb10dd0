namespace Zoltric.Core.Circuits;

/// <summary>Copper conductors: resistance from size and length.</summary>
public static class Conductor
{
    /// <summary>Resistivity of annealed copper at 20 °C, Ω·mm²/m. Source: IEC 60028 (1/58).</summary>
    public const double CopperResistivity = 1.0 / 58.0;

    /// <summary>Rise of resistance per kelvin at 20 °C. Source: IEC 60028, 3.93e-3.</summary>
    public const double CopperTemperatureCoefficient = 3.93e-3;

    public const double ReferenceCelsius = 20;

    /// <summary>Ohms of a copper conductor of that cross section, length and temperature.</summary>
    public static double Ohms(double squareMillimetres, double metres, double celsius = ReferenceCelsius) =>
        CopperResistivity * metres / squareMillimetres * (1 + CopperTemperatureCoefficient * (celsius - ReferenceCelsius));

    /// <summary>Cross section in mm² of a size given in mm² or as an AWG number (0, -1, -2 … for 1/0, 2/0, 3/0 …).</summary>
    public static double SquareMillimetres(Quantity size) =>
        size.Dimension == Dimension.WireGauge ? AwgSquareMillimetres(size.Value) : size.Value;

    /// <summary>Source: ASTM B258, d = 0.127 mm · 92^((36 − n) / 39).</summary>
    public static double AwgSquareMillimetres(double gauge)
    {
        var diameter = 0.127 * Math.Pow(92, (36 - gauge) / 39);
        return Math.PI / 4 * diameter * diameter;
    }

    /// <summary>
    /// Largest fuse, A, that protects a single insulated copper conductor of the given mm² in a loom: common practice, close to the
    /// column for 105 °C insulation of ISO 10133 (small craft, direct current) annex A, which is written here from memory.
    /// </summary>
    public static double LargestFuse(double squareMillimetres)
    {
        ReadOnlySpan<(double Mm2, double Amps)> table =
        [
            (0.35, 5),
            (0.5, 7.5),
            (0.75, 10),
            (1, 15),
            (1.5, 20),
            (2.5, 30),
            (4, 40),
            (6, 60),
            (10, 80),
            (16, 125),
            (25, 150),
            (35, 200),
            (50, 250),
            (70, 350),
            (95, 400),
        ];
        var amps = 3.0;
        // AWG sizes fall a little short of the metric size they stand for.
        foreach (var (mm2, a) in table)
            if (squareMillimetres >= mm2 * 0.8)
                amps = a;
        return amps;
    }
}
