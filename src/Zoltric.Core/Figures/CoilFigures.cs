using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>Amps of a coil cold and hot, at the least and the most volts there are, against what the switch before it may carry.</summary>
public sealed class CoilFigures : FigureSheet
{
    private const string Coiled = "coil or clutch",
        Filament = "filament lamp",
        Motored = "motor",
        Heated = "heater";

    public override string Name => "coil";
    public override string Title => "Load and its switch";
    public override string For => "Amps cold and hot at the least and the most volts, and why the switch before it burnt";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("sort", "Load", Dimension.None, Coiled) { Choices = [Coiled, Filament, Motored, Heated] },
        new("ohms", "Ohms at 20 °C; of a lamp or motor, volts over amps at work", Dimension.Ohm, "3.5ohm") { Most = 1e6 },
        new("low", "Least volts there are", Dimension.Volt, "11V") { Most = 1000 },
        new("high", "Most volts there are", Dimension.Volt, "14.4V") { Most = 1000 },
        new("hot", "How hot it gets, °C", Dimension.Celsius, "100C") { Least = -40, Most = 400 },
        new("rated", "The switch or contact may carry", Dimension.Ampere, "5A") { Least = 0.01, Most = 5000 },
        new(Read, "Ohms read across it, cold, leads taken off", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e9,
        },
        new("leads", "Ohms of the leads touched together", Dimension.Ohm, "0.2ohm") { Least = 0, Most = 5 },
    ];

    public override string RestsOn =>
        "Copper rises by 0.393 % a kelvin (IEC 60028); a heater of resistance wire by next to nothing. For a moment at switching on a cold "
        + "filament draws about ten times, a standing motor about six times its amps; a coil draws no more, and arcs when it is "
        + "switched off. A "
        + "contact's rating for direct current and coils is often a third of that for resistances: take the figure for coils, or fit "
        + "a diode "
        + "(all common practice, no source).";

    /// <summary>First moment's amps over those at work; common practice, no source.</summary>
    private const double LampRush = 10,
        MotorRush = 6;

    private const double TurnsLost = 0.67;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var (low, high) = (v["low"], v["high"]);
        if (low > high)
            throw new FigureException("The least volts are more than the most: change them round.");
        var sort = v.Word("sort");
        var copper = sort is Coiled or Motored;
        double Ohms(double celsius) =>
            v["ohms"] * (copper ? 1 + Conductor.CopperTemperatureCoefficient * (celsius - Conductor.ReferenceCelsius) : 1);
        var rush =
            sort == Filament ? LampRush
            : sort == Motored ? MotorRush
            : 1;
        FigureRow Row(string state, double ohms, double? reads = null, bool sound = false)
        {
            var amps = high / ohms;
            return new FigureRow(
                state,
                [
                    Say(ohms, Dimension.Ohm),
                    Say(low / ohms, Dimension.Ampere),
                    Say(amps, Dimension.Ampere),
                    Say(amps * high, Dimension.Watt),
                    Say(rush * amps, Dimension.Ampere),
                ],
                amps > v["rated"] ? "More than the switch may carry."
                    : rush * amps > v["rated"] * 2 ? "At work within it; the first moment welds small contacts."
                    : "Within what the switch may carry."
            )
            {
                Sound = sound,
                Reads = reads,
            };
        }
        var hot = Math.Max(Ohms(v["hot"]), 1e-3);
        List<FigureRow> rows =
        [
            Row("cold, 20 °C", v["ohms"], v["ohms"], true),
            Row($"hot, {v["hot"]:0} °C", hot, hot, true),
            Row("a third of its turns shorted", TurnsLost * v["ohms"], TurnsLost * v["ohms"]),
            Row("nearly all shorted", 0.1 * v["ohms"], 0.1 * v["ohms"]),
        ];
        var most = high / v["ohms"];
        var says = new List<string>
        {
            $"{Say(most, Dimension.Ampere)} cold at {Say(high, Dimension.Volt)}, {Say(low / hot, Dimension.Ampere)} hot at "
                + $"{Say(low, Dimension.Volt)}.",
            most > v["rated"]
                ? $"The switch may carry {Say(v["rated"], Dimension.Ampere)}: it burns by the load itself. Let it work a relay's coil only."
            : sort == Coiled ? "The switch may carry it. If it burnt all the same: no diode across the coil, or turns shorted since."
            : rush > 1 ? $"At work the switch may carry it; the first {Say(rush * most, Dimension.Ampere)} burn or weld it in time."
            : "The switch may carry it. If it burnt all the same, its own joint got hot: read across it under load.",
        };
        // What the leads read is no part of the load.
        double? read = v.Find(Read) is { } r ? Math.Max(r - v["leads"], 0) : null;
        if (read is { } x)
            says.Add(
                double.IsInfinity(x)
                    ? "Over limit: it is open."
                    : $"{Say(x, Dimension.Ohm)} without the leads would take {Say(high / Math.Max(x, 0.001), Dimension.Ampere)} at "
                        + $"{Say(high, Dimension.Volt)}."
            );
        if (sort == Filament)
            says.Add("A cold filament reads about a tenth of its ohms at work: its ohms prove that it is whole and no more.");
        return Fitted(
            new FigureResult(says, ["ohms", "amps at least volts", "amps at most volts", "heat", "first moment"], rows),
            sort is Filament or Motored ? null : read,
            0.1
        );
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is not (Coil or Injector or Lamp or Motor or Horn or Heater) || part.Model.Load is not { } load)
            return null;
        var volts = Load.RatedVolts(part);
        return new Dictionary<string, string>
        {
            ["sort"] = part.Kind switch
            {
                Lamp => Filament,
                Motor => Motored,
                Heater => Heated,
                _ => Coiled,
            },
            ["ohms"] = $"{N(part.Model.Links[load.Link].Ohms)}ohm",
            ["low"] = $"{0.9 * volts:0.##}V",
            ["high"] = $"{1.2 * volts:0.##}V",
        };
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        return $"{FigureCircuit.Dead(circuit, $"unplug {part.Tag}")} : ohm {part.Tag}";
    }
}
