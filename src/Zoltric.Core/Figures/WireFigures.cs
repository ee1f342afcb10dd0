using System.Globalization;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Figures;

/// <summary>A copper wire: its ohms, what it loses, which size would do, what may protect it, what lost strands cost.</summary>
public sealed class WireFigures : FigureSheet
{
    public override string Name => "wire";
    public override string Title => "Wire, fuse, drop";
    public override string For => "What a wire loses at its amps, the smallest that would do, and the largest fuse for it";

    private static readonly double[] Sizes = [0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120];

    private const string OneWay = "one way",
        ThereAndBack = "there and back";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("size", "Size, mm² or awg", Dimension.SquareMillimetre, "2.5mm2") { Least = 0.05, Most = 500 },
        new("length", "Length", Dimension.Metre, "6m") { Most = 5000 },
        new("way", "Counted", Dimension.None, ThereAndBack) { Choices = [OneWay, ThereAndBack] },
        new("amps", "Amps", Dimension.Ampere, "10A") { Most = 5000 },
        new("volts", "Supply", Dimension.Volt, "12V") { Most = 1000 },
        new("most", "Share that may be lost, %", Dimension.Percent, "3%") { Least = 0.1, Most = 50 },
        new("temp", "Temperature of the wire, °C", Dimension.Celsius, "20C") { Least = -60, Most = 250 },
        new("strands", "Strands left of a hundred", Dimension.Percent, "100%") { Least = 1, Most = 100 },
        new(Read, "Volts lost in it, read at those amps", Dimension.Volt, "")
        {
            Optional = true,
            Least = 0,
            Most = 1000,
        },
    ];

    public override string RestsOn =>
        "Annealed copper, 1/58 Ω·mm²/m at 20 °C and 0.393 % a kelvin (IEC 60028); gauge numbers by ASTM B258. The largest fuse is common "
        + "practice for a single wire in a loom, from memory, close to ISO 10133; what the maker or the local code says goes before it. "
        + "Lost strands are taken over their last ten centimetres: a wire with lost strands is cut back and crimped anew, never counted.";

    /// <summary>Length over which strands are lost, m.</summary>
    private const double Frayed = 0.1;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var (amps, allowed) = (v["amps"], v["volts"] * v["most"] / 100);
        var metres = v["length"] * (v.Word("way") == ThereAndBack ? 2 : 1);
        double Ohms(double mm2) => Conductor.Ohms(mm2, metres, v["temp"]);
        var frayed = Math.Min(Frayed, metres);
        var extra = Conductor.Ohms(v["size"] * v["strands"] / 100, frayed, v["temp"]) - Conductor.Ohms(v["size"], frayed, v["temp"]);
        var lost = amps * (Ohms(v["size"]) + extra);
        string Size(double mm2) => string.Create(CultureInfo.InvariantCulture, $"{mm2:0.##} mm²");
        FigureRow Row(double mm2)
        {
            var drop = amps * Ohms(mm2);
            var fuse = Conductor.LargestFuse(mm2);
            return new FigureRow(
                Size(mm2),
                [
                    Say(Ohms(mm2), Dimension.Ohm),
                    Say(drop, Dimension.Volt),
                    string.Create(CultureInfo.InvariantCulture, $"{100 * drop / v["volts"]:0.0} %"),
                    string.Create(CultureInfo.InvariantCulture, $"{fuse:0.#} A"),
                ],
                drop <= allowed && fuse >= amps ? "does"
                    : drop > allowed ? "loses too much"
                    : "too small for its amps"
            )
            {
                Sound = drop <= allowed && fuse >= amps,
                Reads = drop,
            };
        }
        var rows = Sizes.Select(Row).ToList();
        var does = rows.FindIndex(r => r.Sound);
        var says = new List<string>
        {
            $"{Say(lost, Dimension.Volt)} lost in {Say(Ohms(v["size"]) + extra, Dimension.Ohm)}, "
                + string.Create(CultureInfo.InvariantCulture, $"{100 * lost / v["volts"]:0.0} % of the supply; ")
                + $"{Say(lost * amps, Dimension.Watt)} of heat in it.",
            does >= 0
                ? $"The smallest that loses no more than {Say(allowed, Dimension.Volt)} and may carry {Say(amps, Dimension.Ampere)}: "
                    + $"{Size(Sizes[does])}."
                : $"None of these sizes loses as little as {Say(allowed, Dimension.Volt)}: shorten it, or feed the load by a relay "
                    + $"near it.",
            string.Create(
                CultureInfo.InvariantCulture,
                $"The largest fuse for {v["size"]:0.##} mm² is {Conductor.LargestFuse(v["size"]):0.#} A."
            ),
        };
        if (v["strands"] < 100)
            says.Add(
                $"The lost strands cost {Say(amps * extra, Dimension.Volt)} and {Say(amps * amps * extra, Dimension.Watt)} of heat in one "
                    + "spot: cut it back and crimp it anew."
            );
        if (v.Find(Read) is { } read)
        {
            var (ohms, sound) = (read / amps, Ohms(v["size"]));
            says.Insert(
                0,
                read > 1.5 * lost + 0.02
                        ? $"Read {Say(read, Dimension.Volt)}: {Say(ohms, Dimension.Ohm)} where {Say(sound, Dimension.Ohm)} is copper. "
                            + $"{Say(ohms - sound, Dimension.Ohm)} are joints: read across each of them."
                    : read < 0.5 * lost - 0.02
                        ? $"Read {Say(read, Dimension.Volt)}: less than the copper alone loses. Less current flows, or it is thicker."
                    : $"Read {Say(read, Dimension.Volt)}: as much as the copper loses. The joints are good."
            );
        }
        return new FigureResult(says, ["ohms", "volts lost", "of the supply", "largest fuse"], rows) { More = [Windows(amps)] };
    }

    /// <summary>
    /// How long a blade fuse holds at a share of its rating, seconds from and to. Source: ISO 8820-3, from memory.
    /// </summary>
    private static readonly (double Share, string Least, string Most)[] BladeWindows =
    [
        (1.1, "100 h", "no limit"),
        (1.35, "0.75 s", "600 s"),
        (1.6, "0.25 s", "50 s"),
        (2, "0.15 s", "5 s"),
        (3.5, "0.04 s", "0.5 s"),
        (6, "0.02 s", "0.1 s"),
    ];

    private static readonly double[] Ratings = [3, 5, 7.5, 10, 15, 20, 25, 30, 40];

    /// <summary>When a blade fuse opens, with the amps that are at its rating; and what its element is, cold.</summary>
    private static FigureTable Windows(double amps)
    {
        var fuse = Ratings.FirstOrDefault(r => r >= amps / 0.8, Ratings[^1]);
        return new FigureTable(
            "Blade fuse: when it opens",
            "At",
            ["amps through it", "opens not before", "opens by"],
            [
                .. BladeWindows.Select(w => new FigureRow(
                    $"{100 * w.Share:0} % of its rating",
                    [Say(w.Share * fuse, Dimension.Ampere), w.Least, w.Most],
                    ""
                )),
            ]
        )
        {
            Says =
                $"A {fuse:0.#} A blade fuse carries {Say(amps, Dimension.Ampere)} at {100 * amps / fuse:0} % of its rating (80 % is "
                + $"the most for long). "
                + $"Its element is {Say(Defaults.FuseElementOhms(fuse), Dimension.Ohm)} cold: "
                + $"{Say(Defaults.FuseElementOhms(fuse), Dimension.Volt)} across it an amp. Windows by ISO 8820-3, from memory; "
                + $"cartridge and link "
                + "fuses have other ones.",
        };
    }
}
