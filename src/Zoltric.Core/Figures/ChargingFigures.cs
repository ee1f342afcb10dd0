using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>A charging circuit at work: what each side loses, and what field, fuse, diodes and charger show when they are bad.</summary>
public sealed class ChargingFigures : FigureSheet
{
    public override string Name => "charging";
    public override string Title => "Charging";
    public override string For => "What reaches the battery of what the charger gives, side by side, and whether field or diodes are bad";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("rest", "Battery at rest", Dimension.Volt, "12.5V") { Least = 4, Most = 60 },
        new("output", "At the charger's own posts, engine at working speed", Dimension.Volt, "14.2V") { Least = 1, Most = 70 },
        new(Read, "At the battery's posts, engine at working speed", Dimension.Volt, "13.9V") { Least = 1, Most = 70 },
        new("ground", "Of what is lost, on the ground side", Dimension.Volt, "0.1V") { Least = 0, Most = 40 },
        new("amps", "Amps that flow from it, by clamp", Dimension.Ampere, "40A") { Least = 1, Most = 500 },
        new("ripple", "Alternating volts at the battery's posts", Dimension.Volt, "0.05V") { Least = 0, Most = 20 },
        new("leak", "Amps into the charger at rest, engine off", Dimension.Ampere, "5mA") { Least = 0, Most = 50 },
    ];

    public override string RestsOn =>
        "13.8 to 14.6 V at the battery on a 12 V system, twice that on 24 V, at most 0.2 V lost a side, alternating volts under 0.5 V and "
        + "leakage under 30 mA (common practice, no source). The circuit of battery, charger, field, fuse and loads is run by the solver. "
        + "Never lift a battery lead while the engine runs: what the charger gives then goes through every module.";

    /// <summary>On a 12 V system; common practice, no source.</summary>
    private const double Low = 13.8,
        High = 14.6,
        MostSide = 0.2,
        MostRipple = 0.5,
        MostLeak = 0.03,
        NotCharging = 0.3;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var system = v["rest"] > 18 ? 2 : 1;
        var (output, posts) = (v["output"], v[Read]);
        var lost = output - posts;
        if (lost < -0.05 * system)
            throw new FigureException("The battery cannot stand above the charger that fills it: read both again, black on the same post.");
        if (v["ground"] > Math.Max(lost, 0) + 0.05 * system)
            throw new FigureException("More is lost on the ground side than on both together: read it again at the same speed.");
        var circuit = new FigureCircuit(
            $"""
            sheet "charging"
            nominal {12 * system}V dc
            control key: OFF*, ON
            part G1 battery emf={N(v["rest"])}V internal=10mohm
            part G2 charger {N(14.2 * system)}V internal=2mohm field 15 "alternator"
            part F1 fuse 100A "output fuse"
            part S1 switch "key switch"
              closed 1-2 when key=ON
            part R1 resistor {N(Math.Max(13.8 * system / v["amps"], 0.02))}ohm "everything that is on"
            path G2.+ -[wp 25mm2 1m]- F1 -[wb 25mm2 1m]- G1.+
            path G1.- -[wg 25mm2 1m]- G2.-
            path G1.+ -[wk 2.5mm2 1m]- S1 -[wf 2.5mm2 1m]- G2.15
            path G1.+ - R1 -[wr 16mm2 1m]- G1.-
            """
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var battery = circuit.Read("key=ON : V G1.+ G1.-", faults);
            return new FigureRow(
                state,
                [
                    circuit.Read("key=ON : V G2.+ G2.-", faults).Text,
                    battery.Text,
                    circuit.Read("key=ON : V G2.+ G1.+", faults).Text,
                    circuit.Read("key=ON : V G1.- G2.-", faults).Text,
                    circuit.Read("key=ON : V G2.15 G2.-", faults).Text,
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = battery.Value,
            };
        }
        // A joint that costs about a volt at the amps there are.
        var joint = N(Math.Max(system * 1.0 / v["amps"], 0.005));
        List<FigureRow> rows =
        [
            Row("charging", "What it gives arrives: load it and read again."),
            Row("no volts on the field", "It gives nothing however good it is: key, warning lamp, their wire.", "wf open"),
            Row("field winding open", "Volts stand on the field lead and it gives nothing.", "G2 open field"),
            Row("output fuse or lead open", "High at the charger, rest volts at the battery.", "F1 open"),
            Row("bad joint on the plus side", "Volts between the two plus posts: fuse, lugs, cable.", $"wb resists {joint}ohm"),
            Row("bad joint on the ground side", "Volts between the two minus posts: strap, bracket, stud.", $"wg resists {joint}ohm"),
            Row(
                "charger itself weak",
                "Nothing lost on either side and yet low: belt and field first, then the charger.",
                $"G2 flat {N(12.8 * system)}V"
            ),
        ];
        var (plus, ground) = (Math.Max(lost - v["ground"], 0), v["ground"]);
        var says = new List<string>
        {
            posts - v["rest"] < NotCharging * system ? $"{Say(posts, Dimension.Volt)} is no more than at rest: it does not charge."
            : posts < Low * system ? $"{Say(posts, Dimension.Volt)} at the battery is under {Say(Low * system, Dimension.Volt)}."
            : posts > High * system
                ? $"{Say(posts, Dimension.Volt)} is over {Say(High * system, Dimension.Volt)}: regulator, or its sense lead lost. It "
                    + $"boils the battery."
            : $"{Say(posts, Dimension.Volt)} at the battery is right.",
        };
        void Side(string side, double volts) =>
            says.Add(
                $"{side} side: {Say(volts, Dimension.Volt)} lost, {Say(volts / v["amps"], Dimension.Ohm)}"
                    + (volts > MostSide * system ? $": more than {Say(MostSide * system, Dimension.Volt)}, halve it under load." : ".")
            );
        Side("Plus", plus);
        Side("Ground", ground);
        if (v["ripple"] > MostRipple * system)
            says.Add($"{Say(v["ripple"], Dimension.Volt)} of alternating volts: a rectifier diode is open or shorted.");
        if (v["leak"] > MostLeak)
            says.Add(
                $"{Say(v["leak"], Dimension.Ampere)} flow back at rest: a diode or the regulator leaks, "
                    + $"{24 * v["leak"]:0.#} amp-hours a day."
            );
        // Several of these stand near each other at the battery: what is lost on each side decides between them.
        var fits = Nearest(rows, posts, plus, ground, output, system);
        return new FigureResult(says, ["at the charger", "at the battery", "plus side", "ground side", "field lead"], rows)
        {
            Sheet = circuit.Sheet,
            Fits = fits,
            FitsNone = fits is null,
        };
    }

    /// <summary>The state that is nearest in all that was read; null where none is near.</summary>
    private static FigureRow? Nearest(List<FigureRow> rows, double posts, double plus, double ground, double output, int system)
    {
        var best = rows.Select(r => (Row: r, Off: Off(r))).MinBy(x => x.Off);
        return best.Off < system ? best.Row : null;

        double Off(FigureRow r) =>
            Math.Abs(r.Reads!.Value - posts)
            + Math.Abs(Volts(r, 2) - plus)
            + Math.Abs(Volts(r, 3) - ground)
            + Math.Abs(Volts(r, 0) - output);

        static double Volts(FigureRow r, int column) =>
            Notation.QuantityText.TryParse(r.Shows[column].Replace(" ", "", StringComparison.Ordinal), out var q) ? Math.Abs(q.Value) : 0;
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is not Charger)
            return null;
        var system = circuit.NominalVolts / 12;
        return new Dictionary<string, string>
        {
            ["rest"] = $"{12.5 * system:0.#}V",
            ["output"] = $"{14.2 * system:0.#}V",
            [Read] = $"{13.9 * system:0.#}V",
        };
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        var battery = circuit.Sources.FirstOrDefault(s => s.Kind is Battery);
        var running = circuit.Controls.FirstOrDefault(c => c.Positions.Contains("RUNNING"));
        return battery is null ? null : $"{(running is null ? "" : $"{running.Name}=RUNNING")} : V {battery.Tag}.+ {battery.Tag}.-";
    }
}
