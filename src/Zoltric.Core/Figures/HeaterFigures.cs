using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>Heating elements on mains: watts, ohms and amps, and what one lost element, leg or neutral makes of them.</summary>
public sealed class HeaterFigures : FigureSheet
{
    private const string Single = "one element",
        Star = "three in star, neutral not joined",
        Delta = "three in delta";

    public override string Name => "heater";
    public override string Title => "Heating elements";
    public override string For => "Watts to ohms and amps at the volts there are, and what a lost element or phase shows";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("joined", "How they are joined", Dimension.None, Single) { Choices = [Single, Star, Delta] },
        new("rated", "Rated volts, line to line where there are three", Dimension.Volt, "230V") { Most = 1000 },
        new("watts", "Watts at those volts, all together", Dimension.Watt, "2kW") { Most = 500e3 },
        new("volts", "Volts there really are", Dimension.Volt, "230V") { Most = 1000 },
        new(Read, "Ohms read, isolated and leads off; U to V where there are three", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e9,
        },
        new("insulation", "Insulation read, element to case", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e12,
        },
    ];

    public override string RestsOn =>
        "At least 1 MΩ to the case, cold (IEC 60335-1, from memory). P = V²/R and the star and delta circuits by the solver; any "
        + "textbook of electrical engineering. The element is taken to have the "
        + "same ohms hot and cold, which holds within some per cent for resistance wire and not at all for a lamp.";

    private const double LeastInsulation = 1e6;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var share = v["volts"] / v["rated"] * (v["volts"] / v["rated"]);
        var three = v.Word("joined") != Single;
        var (circuit, columns, rows) = three ? Three(v) : One(v);
        var says = new List<string>
        {
            $"{Say(share * v["watts"], Dimension.Watt)} at {Say(v["volts"], Dimension.Volt)}, {share:P0} of the rated; "
                + $"{rows[0].Shows[0]} a line.",
            "Ohms are read isolated, proved dead and with its leads off; the clamp goes round one conductor.",
        };
        if (v.Find("insulation") is { } insulation)
            says.Add(
                double.IsInfinity(insulation) ? "Over limit to the case: good, if the tester was set to MΩ."
                : insulation < LeastInsulation
                    ? $"{Say(insulation, Dimension.Ohm)} to the case is under {Say(LeastInsulation, Dimension.Ohm)}: "
                        + $"{Say(v["volts"] / Math.Max(insulation, 1), Dimension.Ampere)} would leak. "
                        + "Damp dries out at low heat, a burnt sheath does not."
                : $"{Say(insulation, Dimension.Ohm)} to the case is good: {Say(v["volts"] / insulation, Dimension.Ampere)} would leak."
            );
        return Fitted(new FigureResult(says, columns, rows) { Sheet = circuit.Sheet }, v.Find(Read), 0.3);
    }

    /// <summary>One element behind its thermostat and cut-out.</summary>
    private static (FigureCircuit Circuit, string[] Columns, List<FigureRow> Rows) One(FigureValues v)
    {
        var circuit = new FigureCircuit(
            $"""
            sheet "heater"
            nominal {N(v["volts"])}V ac
            control oven: COLD*, HOT
            part T0 mains {N(v["volts"])}V internal=1mohm
            part B1 thermostat
              closed 1-2 when oven=COLD
            part B2 cutout
              closed 1-2 when oven=COLD
            part E1 heater {N(v["rated"])}V {N(v["watts"])}W
            path T0.L -[w1]- B1 -[w2]- B2 -[w3]- E1 -[w4]- T0.N
            """
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var ohms = circuit.Read("off T0, unplug E1 : ohm E1", faults);
            return new FigureRow(
                state,
                [
                    circuit.Read(" : clamp w1", faults).Text,
                    ohms.Text,
                    circuit.Read("off T0, unplug E1 : ohm B1", faults).Text,
                    circuit.Read("off T0, unplug E1 : ohm B2", faults).Text,
                    circuit.Read("off T0, unplug E1 : ohm E1.1 T0.PE", faults).Text,
                    circuit.Read(" : residual w1 w4", faults).Text,
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = FigureCircuit.Ohms(ohms),
            };
        }
        List<FigureRow> rows =
        [
            Row("as rated", "The element is whole."),
            Row("element open", "No current and over limit across it.", "E1 open"),
            Row("thermostat open", "Cold and over limit: renew it. Is it only warm still?", "B1 open"),
            Row("cut-out open", "Find why before it is renewed: no air, a welded contactor, a thermostat stuck closed.", "B2 open"),
            Row(
                "half of it shorted",
                "Too few ohms, too many amps: it blows the fuse or burns through soon.",
                $"E1 shorted {N(v["rated"] * v["rated"] / v["watts"] / 2)}ohm"
            ),
            Row(
                "element leaks to its case",
                "Ohms from end to end look right. It heats with its control off where that breaks the other line, or trips the "
                    + "residual-current "
                    + "device: renew it.",
                $"E1 grounded {N(5 * v["rated"] * v["rated"] / v["watts"])}ohm"
            ),
        ];
        return (circuit, ["amps", "element", "thermostat", "cut-out", "element to case", "both lines in one clamp"], rows);
    }

    private static (FigureCircuit Circuit, string[] Columns, List<FigureRow> Rows) Three(FigureValues v)
    {
        var star = v.Word("joined") == Star;
        var circuit = new FigureCircuit(
            $"""
            sheet "heater"
            nominal {N(v["volts"])}V ac
            part T0 mains {N(v["volts"])}V 3ph internal=1mohm
            part E1 heater3 {N(v["rated"])}V {N(v["watts"])}W {(star ? "star" : "delta")}
            path T0.L1 -[w1]- E1.U
            path T0.L2 -[w2]- E1.V
            path T0.L3 -[w3]- E1.W
            """
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var ohms = new[] { "E1.U E1.V", "E1.V E1.W", "E1.W E1.U" }
                .Select(p => circuit.Read($"off T0, unplug E1 : ohm {p}", faults))
                .ToList();
            return new FigureRow(
                state,
                [.. new[] { "w1", "w2", "w3" }.Select(w => circuit.Read($" : clamp {w}", faults).Text), .. ohms.Select(o => o.Text)],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = FigureCircuit.Ohms(ohms[0]),
            };
        }
        List<FigureRow> rows =
        [
            Row("as rated", "All three are whole and alike."),
            .. star
                ? new[] { "U", "V", "W" }.Select(e =>
                    Row($"element {e} open", $"Two in series on two phases: half the heat, no current in {e}.", $"E1 open {e}")
                )
                : new[] { ("U–V", "U-V"), ("V–W", "V-W"), ("W–U", "W-U") }.Select(e =>
                    Row(
                        $"element {e.Item1} open",
                        "Two thirds of the heat; the phase between the two whole ones carries most.",
                        $"E1 open {e.Item2}"
                    )
                ),
            Row("phase L1 lost before it", "The elements read sound: the phase is lost in fuse, contactor or supply.", "w1 open"),
        ];
        return (circuit, ["L1", "L2", "L3", "U–V", "V–W", "W–U"], rows);
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is not (Heater or Heater3))
            return null;
        var volts = Load.RatedVolts(part);
        var ohms = part.Model.Links[0].Ohms;
        var watts = part.Kind is Heater3 ? (part.Has("star") ? 1 : 3) * volts * volts / ohms : volts * volts / ohms;
        return new Dictionary<string, string>
        {
            ["joined"] =
                part.Kind is Heater ? Single
                : part.Has("star") ? Star
                : Delta,
            ["rated"] = string.Create(CultureInfo.InvariantCulture, $"{volts:0.##}V"),
            ["watts"] = string.Create(CultureInfo.InvariantCulture, $"{watts:0}W"),
            ["volts"] = string.Create(CultureInfo.InvariantCulture, $"{volts:0.##}V"),
        };
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        var across = part.Kind is Heater3 ? $"{part.Tag}.U {part.Tag}.V" : part.Tag;
        return $"{FigureCircuit.Dead(circuit, $"unplug {part.Tag}")} : ohm {across}";
    }
}
