using System.Globalization;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Figures;

/// <summary>Two resistances in series on a supply, and what a meter, a low-impedance meter and a lamp make of the middle.</summary>
public sealed class DividerFigures : FigureSheet
{
    public override string Name => "divider";
    public override string Title => "Two in series";
    public override string For => "What stands between two resistances, and what is left of it when something draws there";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("volts", "Supply", Dimension.Volt, "12V") { Most = 1000 },
        new("upper", "From the supply to the middle", Dimension.Ohm, "100ohm") { Most = 1e8 },
        new("above", "Or the volts lost there, read; counts before its ohms", Dimension.Volt, "")
        {
            Optional = true,
            Least = 0,
            Most = 1000,
        },
        new("lower", "From the middle to ground", Dimension.Ohm, "50ohm") { Most = 1e8 },
        new("load", "A lamp or motor at the middle, its watts at the supply", Dimension.Watt, "21W") { Most = 5000 },
        new(Read, "Read at the middle", Dimension.Volt, "")
        {
            Optional = true,
            Least = -1000,
            Most = 1000,
        },
    ];

    public override string RestsOn =>
        "Ohm's law by the solver: the volts divide as the ohms do. The meter has 10 MΩ, in its low-impedance setting 3 kΩ (common "
        + "practice); the lamp is taken at its hot resistance.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        if (v.Find("above") >= v["volts"])
            throw new FigureException("All of the supply is lost above the middle: nothing is left to divide.");
        // Two drops divide as two resistances do.
        var upper = v.Find("above") is { } drop ? Math.Max(v["lower"] * drop / (v["volts"] - drop), 0.001) : v["upper"];
        var circuit = new FigureCircuit(
            string.Create(
                CultureInfo.InvariantCulture,
                $"""
                sheet "divider"
                nominal {v["volts"]:R}V dc
                control load: OFF*, ON
                part G1 battery emf={v["volts"]:R}V internal=1mohm
                part R1 resistor {N(upper)}ohm
                part R2 resistor {v["lower"]:R}ohm
                part S1 switch
                  closed 1-2 when load=ON
                part H1 lamp {v["volts"]:R}V {v["load"]:R}W
                path G1.+ - R1 - R2 - G1.-
                path R1.2 - S1 - H1 - G1.-
                """
            )
        );
        FigureRow Row(string state, string follows, bool sound, params string[] faults)
        {
            var plain = circuit.Read(" : V R1.2", faults);
            return new FigureRow(
                state,
                [plain.Text, circuit.Read(" : loz R1.2", faults).Text, circuit.Read("load=ON : V R1.2", faults).Text],
                follows
            )
            {
                Sound = sound,
                Reads = plain.Value,
            };
        }
        var more = string.Create(CultureInfo.InvariantCulture, $"{N(3 * upper)}");
        var rows = new List<FigureRow>
        {
            Row("as stated", "Both are what they should be.", true),
            Row("nothing below: open to ground", "All of the supply with no current: look for the lost way to ground.", false, "R2 open"),
            Row("nothing above: open to the supply", "Dead from above: look towards the supply.", false, "R1 open"),
            Row("four times the ohms above: a bad joint there", "Volts are lost before the middle.", false, $"R1 resists {more}ohm"),
            Row(
                "a bad joint below, three times more",
                "Volts are lost after the middle.",
                false,
                string.Create(CultureInfo.InvariantCulture, $"R2 resists {3 * v["lower"]:R}ohm")
            ),
        };
        var amps = v["volts"] / (upper + v["lower"]);
        return Fitted(
            new FigureResult(
                [
                    $"{rows[0].Shows[0]} at the middle; {Say(amps, Dimension.Ampere)} flow.",
                    $"With the lamp there {rows[0].Shows[2]} are left of it: volts without load prove a wire, not that it can carry.",
                ],
                ["meter", "low impedance", "with the lamp"],
                rows
            )
            {
                Sheet = circuit.Sheet,
            },
            v.Find(Read),
            0.02 * v["volts"]
        );
    }
}
