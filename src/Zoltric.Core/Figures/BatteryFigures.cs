using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>A 12 V lead-acid battery: its charge by rest volts, what it can give by how far it falls under a load, and its mate.</summary>
public sealed class BatteryFigures : FigureSheet
{
    public override string Name => "battery";
    public override string Title => "Battery";
    public override string For => "State of charge, what it can still give, whether a pair matches, what two strings do to each other";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new(Read, "Volts at rest, an hour after charge or load", Dimension.Volt, "12.5V") { Least = 0, Most = 16 },
        new("loaded", "Volts under a load", Dimension.Volt, "11.4V") { Least = 0, Most = 16 },
        new("amps", "Amps of that load", Dimension.Ampere, "150A") { Least = 1, Most = 2000 },
        new("temp", "Temperature of the battery, °C", Dimension.Celsius, "20C") { Least = -40, Most = 60 },
        new("rated", "Cold-cranking figure on its label, amps", Dimension.None, "700") { Least = 20, Most = 3000 },
        new("mate", "Volts at rest of its mate in the pair or beside it", Dimension.Volt, "")
        {
            Optional = true,
            Least = 0,
            Most = 16,
        },
    ];

    public override string RestsOn =>
        "Charge by rest volts of a flooded 12 V lead-acid battery, battery-trade table from memory: 12.6 V full, 12.4 three quarters, 12.2 "
        + "half, 12.0 a quarter, 11.9 flat, 10.5 with a dead cell. A cold-cranking figure is the amps that leave 7.2 V at −18 °C for 30 s "
        + "(SAE J537, from memory; EN 50342-1 asks for 7.5 V after 10 s): here it is what would leave 7.2 V at the temperature there "
        + "is, by the "
        + "volts it lost, an estimate. Least volts while cranking by temperature: battery-trade table, from memory.";

    /// <summary>Least volts while cranking by temperature, °C and V of a 12 V battery; battery-trade table, from memory.</summary>
    private static readonly (double Celsius, double Volts)[] Least =
    [
        (-18, 8.5),
        (-12, 8.7),
        (-7, 8.9),
        (-1, 9.1),
        (4, 9.3),
        (10, 9.4),
        (16, 9.5),
        (21, 9.6),
    ];

    private const double CrankingFloor = 7.2,
        DeadCell = 10.5,
        PairWithin = 0.2,
        FreshlyCharged = 12.9;

    /// <summary>Least volts while cranking at a temperature; along straight lines between the rows, its ends beyond them.</summary>
    public static double LeastCranking(double celsius)
    {
        if (celsius <= Least[0].Celsius)
            return Least[0].Volts;
        for (var i = 1; i < Least.Length; i++)
            if (celsius <= Least[i].Celsius)
            {
                var (a, b) = (Least[i - 1], Least[i]);
                return a.Volts + (b.Volts - a.Volts) * (celsius - a.Celsius) / (b.Celsius - a.Celsius);
            }
        return Least[^1].Volts;
    }

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var (rest, loaded, amps) = (v[Read], v["loaded"], v["amps"]);
        if (loaded >= rest)
            throw new FigureException("Under a load it has fewer volts than at rest: read it again, or is it on charge?");
        var ohms = (rest - loaded) / amps;
        FigureRow Row(string state, double volts, string follows) =>
            new(state, [Say(volts, Dimension.Volt), Say(2 * volts, Dimension.Volt)], follows) { Sound = volts > 12.5, Reads = volts };
        List<FigureRow> rows =
        [
            .. new[] { 100, 75, 50, 25, 0 }.Select(c =>
                Row(
                    c switch
                    {
                        100 => "full",
                        75 => "three quarters",
                        50 => "half",
                        25 => "a quarter",
                        _ => "flat",
                    },
                    Battery.OpenCircuitVolts(12, c),
                    c >= 75 ? "Go on; the load test says the rest."
                        : c > 0 ? "Charge it first: nothing read on the machine holds with it so."
                        : "Charge it and test it again: left so, it is lost in days."
                )
            ),
            Row("one cell dead", DeadCell, "Two volts missing and they stay so after charging: renew it, and its mate with it in a pair."),
        ];
        var fits = rows.MinBy(r => Math.Abs(r.Reads!.Value - rest))!;
        var gives = Math.Max(rest - CrankingFloor, 0) / ohms;
        var least = LeastCranking(v["temp"]);
        var says = new List<string>
        {
            rest > FreshlyCharged
                ? $"{Say(rest, Dimension.Volt)} stands on its surface: lamps on for a minute, wait, read again."
                : $"{Say(rest, Dimension.Volt)} at rest: {fits.State}.",
            $"It falls {Say(rest - loaded, Dimension.Volt)} at {Say(amps, Dimension.Ampere)}: {Say(ohms, Dimension.Ohm)} inside, posts and "
                + "clamps included if the tips were on the clamps.",
            $"About {gives:0} A would leave {Say(CrankingFloor, Dimension.Volt)} at {v["temp"]:0} °C; its label says "
                + $"{v["rated"]:0} A at −18 °C. "
                + (
                    v["temp"] > 0 && gives < v["rated"] ? "It gives less warm than it should cold: charge it, test it again, then renew it."
                    : gives < 0.7 * v["rated"] ? "Much less than its label: charge it and test again."
                    : "That is enough."
                ),
            loaded < least
                ? $"Under load it is below {Say(least, Dimension.Volt)}, the least while cranking at {v["temp"]:0} °C."
                : $"Under load it holds {Say(least, Dimension.Volt)}, the least while cranking at {v["temp"]:0} °C.",
        };
        return new FigureResult(says, ["one battery", "a pair, 24 V"], rows)
        {
            Fits = rest > FreshlyCharged || Math.Abs(fits.Reads!.Value - rest) > 0.4 ? null : fits,
            FitsNone = rest <= FreshlyCharged && Math.Abs(fits.Reads!.Value - rest) > 0.4,
            More = v.Find("mate") is { } mate ? [Mates(rest, mate, ohms)] : [],
        };
    }

    /// <summary>The battery and its mate: in series on charge, and side by side at rest.</summary>
    private static FigureTable Mates(double rest, double mate, double ohms)
    {
        var taking = Math.Max(ohms, 0.05);
        var series = new FigureCircuit(
            $"""
            sheet "pair on charge"
            nominal 24V dc
            part G1 battery emf={N(Math.Max(rest, 0.1))}V internal={N(taking)}ohm
            part G2 battery emf={N(Math.Max(mate, 0.1))}V internal={N(taking)}ohm
            part G3 charger 28.4V internal=20mohm
            path G1.- -[w1 25mm2 0.3m]- G2.+
            path G3.+ -[w2 25mm2 1m]- G1.+
            path G2.- -[w3 25mm2 1m]- G3.-
            """
        );
        var beside = new FigureCircuit(
            $"""
            sheet "two strings"
            nominal 12V dc
            part G1 battery emf={N(Math.Max(rest, 0.1))}V internal={N(ohms)}ohm
            part G2 battery emf={N(Math.Max(mate, 0.1))}V internal={N(ohms)}ohm
            path G1.+ -[w1 25mm2 0.5m]- G2.+
            path G1.- -[w2 25mm2 0.5m]- G2.-
            """
        );
        var apart = Math.Abs(rest - mate);
        return new FigureTable(
            "With its mate",
            "How they stand",
            ["this one", "its mate", "amps between them"],
            [
                new("at rest, apart", [Say(rest, Dimension.Volt), Say(mate, Dimension.Volt), Say(0, Dimension.Ampere)], ""),
                new(
                    "in series on a charger of 28.4 V",
                    [series.Read(" : V G1.+ G1.-").Text, series.Read(" : V G2.+ G2.-").Text, series.Read(" : clamp w2").Text],
                    "The fuller one is boiled and the other never filled."
                ),
                new(
                    "side by side, at first",
                    [beside.Read(" : V G1.+ G1.-").Text, beside.Read(" : V G2.+ G2.-").Text, beside.Read(" : clamp w1").Text],
                    "The better one empties itself into the other until they are alike."
                ),
            ]
        )
        {
            Says =
                apart > PairWithin
                    ? $"They differ by {Say(apart, Dimension.Volt)}, more than {Say(PairWithin, Dimension.Volt)}: charge each by "
                        + $"itself and "
                        + "read again after a night. Still apart: renew both."
                    : $"They match within {Say(PairWithin, Dimension.Volt)}.",
        };
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind is Battery && (part.Value(Dimension.Volt) ?? part.NominalVolts) is > 11 and < 13
            ? new Dictionary<string, string> { [Read] = "12.5V" }
            : null;
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return $" : V {part.Tag}.+ {part.Tag}.-";
    }
}
