using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>Ohms by temperature: platinum sensors, thermistors, copper windings.</summary>
public sealed class TemperatureFigures : FigureSheet
{
    private const string Platinum100 = "platinum, 100 Ω at 0 °C",
        Platinum1000 = "platinum, 1000 Ω at 0 °C",
        Nickel100 = "nickel, 100 Ω at 0 °C",
        Thermistor = "thermistor, falling",
        Copper = "copper winding";

    public override string Name => "temperature";
    public override string Title => "Ohms by temperature";
    public override string For => "What a sensor or a winding should read cold and hot, and how warm one is that reads so";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("sort", "Sort", Dimension.None, Thermistor) { Choices = [Thermistor, Platinum100, Platinum1000, Nickel100, Copper] },
        new("ohms", "Ohms stated: of a thermistor at 25 °C, of a winding at 20 °C", Dimension.Ohm, "10kohm") { Most = 1e8 },
        new("beta", "Beta of a thermistor, K", Dimension.None, "3950") { Least = 500, Most = 10000 },
        new("now", "Temperature it has, °C", Dimension.Celsius, "20C") { Least = -100, Most = 400 },
        new(Read, "Ohms read", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e9,
        },
        new("leads", "Ohms of the leads touched together", Dimension.Ohm, "0.2ohm") { Least = 0, Most = 5 },
    ];

    public override string RestsOn =>
        "Nickel: DIN 43760, from memory. Platinum: IEC 60751, A = 3.9083e-3, B = −5.775e-7, C = −4.183e-12. Thermistor: R = R25 · "
        + "exp(β · (1/T − 1/298.15 K)), by "
        + "which IEC "
        + "60539-1 defines β. Copper: 0.393 % a kelvin at 20 °C, IEC 60028. A thermistor's β strays by a few per cent, its ohms by 1 "
        + "to 10 %.";

    private const double Cold = -273.15,
        ReferenceKelvin = 298.15;

    /// <summary>Ohms of a platinum sensor over those at 0 °C. Source: IEC 60751.</summary>
    public static double PlatinumRatio(double celsius)
    {
        const double A = 3.9083e-3,
            B = -5.775e-7,
            C = -4.183e-12;
        var below = celsius < 0 ? C * (celsius - 100) * celsius * celsius * celsius : 0;
        return 1 + A * celsius + B * celsius * celsius + below;
    }

    /// <summary>Ohms of a nickel sensor over those at 0 °C. Source: DIN 43760, from memory; made for −60 to 250 °C.</summary>
    public static double NickelRatio(double celsius) =>
        1 + 5.485e-3 * celsius + 6.65e-6 * celsius * celsius + 2.805e-11 * Math.Pow(celsius, 4);

    private static double Ohms(string sort, double stated, double beta, double celsius) =>
        sort switch
        {
            Platinum100 => 100 * PlatinumRatio(celsius),
            Platinum1000 => 1000 * PlatinumRatio(celsius),
            Nickel100 => 100 * NickelRatio(celsius),
            Copper => stated * (1 + Conductor.CopperTemperatureCoefficient * (celsius - Conductor.ReferenceCelsius)),
            _ => stated * Math.Exp(beta * (1 / (celsius - Cold) - 1 / ReferenceKelvin)),
        };

    private static readonly double[] Degrees = [-40, -20, 0, 20, 25, 40, 60, 80, 100, 120, 150, 200];

    private const double Coldest = -100,
        Hottest = 400;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var sort = v.Word("sort");
        double At(double celsius) => Ohms(sort, v["ohms"], v["beta"], celsius);
        var rows = Degrees
            .Select(t => new FigureRow(string.Create(CultureInfo.InvariantCulture, $"{t:0} °C"), [Say(At(t), Dimension.Ohm)], "")
            {
                Sound = Math.Abs(t - v["now"]) < 1,
                Reads = At(t),
            })
            .ToList();
        var says = new List<string>
        {
            string.Create(CultureInfo.InvariantCulture, $"{Say(At(v["now"]), Dimension.Ohm)} at {v["now"]:0.#} °C."),
        };
        if (v.Find(Read) is { } shown && Math.Max(shown - v["leads"], 0) is var read)
            says.Insert(
                0,
                double.IsInfinity(read) ? "Over limit: it is open, or its plug is off."
                    : Celsius(At, read) is { } t
                        ? string.Create(CultureInfo.InvariantCulture, $"{Say(read, Dimension.Ohm)} is {t:0} °C. ")
                            + (
                                Math.Abs(t - v["now"]) < 8
                                    ? "That fits the temperature it has."
                                    : "Is it that warm? If not, it or its wires are off."
                            )
                    : $"{Say(read, Dimension.Ohm)} is outside what it can be: shorted, open, or another sort."
            );
        return new FigureResult(says, ["ohms"], rows);
    }

    /// <summary>Temperature at those ohms by halving; each of these curves rises or falls throughout.</summary>
    private static double? Celsius(Func<double, double> at, double ohms)
    {
        var (low, high) = (Coldest, Hottest);
        var rises = at(high) > at(low);
        if (rises ? ohms < at(low) || ohms > at(high) : ohms > at(low) || ohms < at(high))
            return null;
        for (var i = 0; i < 60; i++)
        {
            var middle = (low + high) / 2;
            if (at(middle) < ohms == rises)
                low = middle;
            else
                high = middle;
        }
        return (low + high) / 2;
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is Sensor && part.NamedValue("beta") is { } beta)
            return new Dictionary<string, string>
            {
                ["sort"] = Thermistor,
                ["ohms"] = string.Create(CultureInfo.InvariantCulture, $"{part.Value(Dimension.Ohm) ?? 1000:0.##}ohm"),
                ["beta"] = string.Create(CultureInfo.InvariantCulture, $"{beta:0}"),
                ["now"] = string.Create(CultureInfo.InvariantCulture, $"{part.NamedValue("temp") ?? 20:0}C"),
            };
        return part.Kind is Coil or Injector
            ? new Dictionary<string, string>
            {
                ["sort"] = Copper,
                ["ohms"] = string.Create(CultureInfo.InvariantCulture, $"{part.Model.Links[0].Ohms:0.###}ohm"),
            }
            : null;
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        return $"{FigureCircuit.Dead(circuit, $"unplug {part.Tag}")} : ohm {part.Tag}";
    }
}
