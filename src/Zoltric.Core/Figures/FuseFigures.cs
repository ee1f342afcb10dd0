using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>Millivolts across a blade fuse as amps, and days until the battery is flat.</summary>
public sealed class FuseFigures : FigureSheet
{
    public override string Name => "fuse";
    public override string Title => "Fuse as a shunt, and drain";
    public override string For => "Millivolts across each fuse to amps without pulling it, and how long the battery lasts";

    private static readonly double[] Ratings = [5, 7.5, 10, 15, 20, 30];

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("rating", "Rating of the blade fuse", Dimension.Ampere, "10A") { Least = 1, Most = 60 },
        new("read", "Volts across it, machine asleep", Dimension.Volt, "1mV") { Least = 0, Most = 1 },
        new("capacity", "Battery, amp-hours", Dimension.None, "100") { Least = 1, Most = 5000 },
        new("batteries", "Batteries side by side", Dimension.None, "1") { Least = 1, Most = 12 },
        new("allowed", "Drain that is allowed, for each battery", Dimension.Ampere, "50mA") { Least = 0.001, Most = 5 },
        new("left", "Share of the charge until it will not start, %", Dimension.Percent, "50%") { Least = 5, Most = 100 },
    ];

    public override string RestsOn =>
        "Cold resistance of blade fuses by rating, typical data-sheet values from memory (5 A 17 mΩ, 10 A 7.5, 20 A 3.2, 30 A 2.0), ± "
        + "20 %: it "
        + "finds the circuit, a clamp or a meter in series gives the figure. 50 mA a battery is common practice where the maker says "
        + "nothing. "
        + "Days are charge over amps; an old or a cold battery has less of both.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var read = v[Read];
        double Amps(double rating) => read / Defaults.FuseElementOhms(rating);
        var amps = Amps(v["rating"]);
        var allowed = v["allowed"] * v["batteries"];
        var charge = v["capacity"] * v["batteries"] * v["left"] / 100;
        var rows = Ratings
            .Select(r => new FigureRow(
                string.Create(CultureInfo.InvariantCulture, $"{r:0.#} A"),
                [
                    Say(Defaults.FuseElementOhms(r), Dimension.Ohm),
                    Say(Amps(r), Dimension.Ampere),
                    Say(allowed * Defaults.FuseElementOhms(r), Dimension.Volt),
                ],
                ""
            )
            {
                Sound = r == v["rating"],
            })
            .ToList();
        return new FigureResult(
            [
                $"{Say(amps, Dimension.Ampere)} flow through it"
                    + (
                        amps > allowed
                            ? $": more than the {Say(allowed, Dimension.Ampere)} allowed."
                            : $", within the {Say(allowed, Dimension.Ampere)} allowed."
                    ),
                amps > 1e-4
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"{24 * amps:0.0} amp-hours a day: {charge / amps / 24:0.#} days until {v["left"]:0} % of the charge is gone."
                    )
                    : "As good as nothing flows through it.",
            ],
            ["element, cold", "amps at those volts", "volts at the allowed drain"],
            rows
        );
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind is Fuse && part.Value(Dimension.Ampere) is >= 1 and <= 60 and var amps
            ? new Dictionary<string, string> { ["rating"] = string.Create(CultureInfo.InvariantCulture, $"{amps:0.##}A") }
            : null;
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return $" : drop {part.Tag}";
    }
}
