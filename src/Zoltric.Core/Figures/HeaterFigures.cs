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
    ];

    public override string RestsOn =>
        "P = V²/R and the star and delta circuits by the solver; any textbook of electrical engineering. The element is taken to have the "
        + "same ohms hot and cold, which holds within some per cent for resistance wire and not at all for a lamp.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var three = v.Word("joined") != Single;
        var circuit = new FigureCircuit(
            // Numbers are written in the one culture there is.
            three
                ? $"""
                sheet "heater"
                nominal {v["volts"]:R}V ac
                part T0 mains {v["volts"]:R}V 3ph internal=1mohm
                part E1 heater3 {v["rated"]:R}V {v["watts"]:R}W {(v.Word("joined") == Star ? "star" : "delta")}
                path T0.L1 -[w1]- E1.U
                path T0.L2 -[w2]- E1.V
                path T0.L3 -[w3]- E1.W
                """
                : $"""
                sheet "heater"
                nominal {v["volts"]:R}V ac
                part T0 mains {v["volts"]:R}V internal=1mohm
                part E1 heater {v["rated"]:R}V {v["watts"]:R}W
                path T0.L -[w1]- E1 -[w2]- T0.N
                """
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var ohms = circuit.Read(three ? "off T0, unplug E1 : ohm E1.U E1.V" : "off T0, unplug E1 : ohm E1", faults);
            string[] amps = three ? ["w1", "w2", "w3"] : ["w1"];
            return new FigureRow(
                state,
                [
                    .. amps.Select(w => circuit.Read($" : clamp {w}", faults).Text),
                    ohms.Text,
                    .. three
                        ? new[] { "ohm E1.V E1.W", "ohm E1.W E1.U" }.Select(p => circuit.Read($"off T0, unplug E1 : {p}", faults).Text)
                        : [],
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = FigureCircuit.Ohms(ohms),
            };
        }
        List<FigureRow> rows = !three
            ?
            [
                Row("as rated", "The element is whole."),
                Row("open", "No current and over limit: the element, or the cut-out in its line.", "E1 open"),
                Row(
                    "half of it shorted",
                    "Too few ohms, too many amps: it blows the fuse or burns through soon.",
                    string.Create(CultureInfo.InvariantCulture, $"E1 shorted {v["rated"] * v["rated"] / v["watts"] / 2:0.######}ohm")
                ),
            ]
            :
            [
                Row("as rated", "All three are whole and alike."),
                .. v.Word("joined") == Star
                    ? new[]
                    {
                        Row("element U open", "Two in series on two phases: half the heat, no current in U.", "E1 open U"),
                        Row("element V open", "Two in series on two phases: half the heat, no current in V.", "E1 open V"),
                        Row("element W open", "Two in series on two phases: half the heat, no current in W.", "E1 open W"),
                    }
                    : new[]
                    {
                        Row(
                            "element U–V open",
                            "Two thirds of the heat; the phase between the two whole ones carries most.",
                            "E1 open U-V"
                        ),
                        Row(
                            "element V–W open",
                            "Two thirds of the heat; the phase between the two whole ones carries most.",
                            "E1 open V-W"
                        ),
                        Row(
                            "element W–U open",
                            "Two thirds of the heat; the phase between the two whole ones carries most.",
                            "E1 open W-U"
                        ),
                    },
                Row("phase L1 lost before it", "The elements read sound: the phase is lost in fuse, contactor or supply.", "w1 open"),
            ];
        var share = v["volts"] / v["rated"] * (v["volts"] / v["rated"]);
        return Fitted(
            new FigureResult(
                [
                    $"{Say(share * v["watts"], Dimension.Watt)} at {Say(v["volts"], Dimension.Volt)}, {share:P0} of the rated; "
                        + $"{rows[0].Shows[0]} a line.",
                    "Ohms are read isolated, proved dead and with its leads off; the clamp goes round one conductor.",
                ],
                three ? ["L1", "L2", "L3", "U–V", "V–W", "W–U"] : ["amps", "ohms"],
                rows
            ),
            v.Find(Read),
            0.3
        );
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
        return $"{string.Join(", ", circuit.Sources.Select(s => $"off {s.Tag}"))}, unplug {part.Tag} : ohm {across}";
    }
}
