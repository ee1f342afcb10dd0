using System.Globalization;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Figures;

/// <summary>Split-phase mains with loads on both legs: what a lost leg or a lost neutral does to each.</summary>
public sealed class SplitFigures : FigureSheet
{
    public override string Name => "split";
    public override string Title => "Two legs and a neutral";
    public override string For => "What each load gets when a leg or the neutral of split-phase mains is lost";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("leg", "Volts of one leg", Dimension.Volt, "120V") { Least = 50, Most = 300 },
        new("first", "Watts from leg 1 to neutral", Dimension.Watt, "600W") { Least = 1, Most = 50e3 },
        new("second", "Watts from leg 2 to neutral", Dimension.Watt, "150W") { Least = 1, Most = 50e3 },
        new("both", "Watts from leg to leg", Dimension.Watt, "2kW") { Least = 1, Most = 50e3 },
        new(Read, "Volts read across the load on leg 1", Dimension.Volt, "")
        {
            Optional = true,
            Least = 0,
            Most = 600,
        },
    ];

    public override string RestsOn =>
        "Legs in opposition, loads as resistances, by the solver; any textbook. Without its neutral the two sides are in series "
        + "across both "
        + "legs: the lighter load gets the more volts and burns out first. The neutral is opened last and closed first, and never alone: "
        + "local codes and licensed practice decide who may work on it.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var leg = v["leg"];
        var circuit = new FigureCircuit(
            string.Create(
                CultureInfo.InvariantCulture,
                $"""
                sheet "split"
                nominal {leg:R}V ac
                part T0 mains {leg:R}/{2 * leg:R}V split internal=10mohm
                part E1 heater {leg:R}V {v["first"]:R}W
                part E2 heater {leg:R}V {v["second"]:R}W
                part E3 heater {2 * leg:R}V {v["both"]:R}W
                part SP1 splice
                part SP2 splice
                part SPN splice
                path T0.L1 -[w1]- SP1 -[wa]- E1 -[wb]- SPN
                path T0.L2 -[w2]- SP2 -[wc]- E2 -[wd]- SPN
                path SP1 -[we]- E3 -[wf]- SP2
                path SPN -[wn]- T0.N
                """
            )
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var first = circuit.Read(" : drop E1", faults);
            return new FigureRow(
                state,
                [
                    first.Text,
                    circuit.Read(" : drop E2", faults).Text,
                    circuit.Read(" : drop E3", faults).Text,
                    circuit.Read(" : clamp wn", faults).Text,
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = first.Value,
            };
        }
        List<FigureRow> rows =
        [
            Row("all there", "The neutral carries the difference of the two sides."),
            Row("neutral lost", "One side too bright, the other too dim: switch off at once, things burn out.", "wn open"),
            Row("leg 1 lost", "Leg 1 is fed backwards through the load from leg to leg: weak there, nothing proper.", "w1 open"),
            Row("leg 2 lost", "Leg 2 is fed backwards through the load from leg to leg: weak there, nothing proper.", "w2 open"),
        ];
        return Fitted(
            new FigureResult(
                [
                    $"With the neutral lost the load on leg 1 gets {rows[1].Shows[0]}, that on leg 2 {rows[1].Shows[1]}.",
                    $"The neutral carries {rows[0].Shows[3]} when all is there.",
                ],
                ["on leg 1", "on leg 2", "leg to leg", "amps in the neutral"],
                rows
            )
            {
                Sheet = circuit.Sheet,
            },
            v.Find(Read),
            3
        );
    }
}
