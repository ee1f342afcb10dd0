namespace Zoltric.Core.Circuits;

/// <summary>Copper conductors: resistance from size and length.</summary>
public static class Conductor
{
    /// <summary>Resistivity of annealed copper at 20 °C, Ω·mm²/m. Source: IEC 60028 (1/58).</summary>
    public const double CopperResistivity = 1.0 / 58.0;

    /// <summary>Ohms of a copper conductor at 20 °C.</summary>
    public static double Ohms(double squareMillimetres, double metres) => CopperResistivity * metres / squareMillimetres;

    /// <summary>Cross section in mm² of a size given in mm² or as an AWG number (0, -1, -2 … for 1/0, 2/0, 3/0 …).</summary>
    public static double SquareMillimetres(Quantity size) =>
        size.Dimension == Dimension.WireGauge ? AwgSquareMillimetres(size.Value) : size.Value;

    /// <summary>Source: ASTM B258, d = 0.127 mm · 92^((36 − n) / 39).</summary>
    public static double AwgSquareMillimetres(double gauge)
    {
        var diameter = 0.127 * Math.Pow(92, (36 - gauge) / 39);
        return Math.PI / 4 * diameter * diameter;
    }
}
