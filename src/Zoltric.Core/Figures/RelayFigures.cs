using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>A relay or contactor: its coil's ohms and amps, from which volts it pulls, what its contact may lose.</summary>
public sealed class RelayFigures : FigureSheet
{
    public override string Name => "relay";
    public override string Title => "Relay and contactor";
    public override string For => "Ohms and amps of the coil, whether the volts at hand pull it in, and what its contact loses";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("rated", "Coil volts, direct current", Dimension.Volt, "12V") { Most = 250 },
        new("ohms", "Ohms of a sound coil", Dimension.Ohm, "85ohm") { Most = 1e6 },
        new("volts", "Volts across the coil when it should pull", Dimension.Volt, "12V") { Least = 0, Most = 400 },
        new("amps", "Amps through its contact", Dimension.Ampere, "20A") { Least = 0.01, Most = 2000 },
        new("lost", "Volts lost across the closed contact", Dimension.Volt, "0.05V") { Least = 0, Most = 400 },
        new(Read, "Ohms read across the coil, unplugged", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e9,
        },
    ];

    public override string RestsOn =>
        "It pulls in from 65 % of its rated volts and lets go at 20 %, the defaults of the sheet where the maker says nothing (common "
        + "practice; IEC 61810-1 asks for pulling in by 80 %, from memory). A closed contact that loses more than 0.1 V under load is "
        + "worn, "
        + "more than 0.2 V is renewed (common practice, no source). An alternating coil takes more amps than its ohms say.";

    private const double WornVolts = 0.1,
        BadVolts = 0.2;

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var circuit = new FigureCircuit(
            string.Create(
                CultureInfo.InvariantCulture,
                $"""
                sheet "relay"
                nominal {v["rated"]:R}V dc
                part G1 battery emf={Math.Max(v["volts"], 0.001):R}V internal=1mohm
                part K1 relay {v["rated"]:R}V {v["ohms"]:R}ohm
                path G1.+ -[w1]- K1.86>85 - G1.-
                """
            )
        );
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var ohms = circuit.Read("off G1, unplug K1 : ohm K1.86 K1.85", faults);
            return new FigureRow(
                state,
                [ohms.Text, circuit.Read(" : clamp w1", faults).Text, circuit.Read(" : hears K1", faults).Text],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = FigureCircuit.Ohms(ohms),
            };
        }
        string Less(double share) => string.Create(CultureInfo.InvariantCulture, $"K1 coil {share * v["ohms"]:0.######}ohm");
        List<FigureRow> rows =
        [
            Row("sound coil", "Ohms prove the coil, not its contact: that is read under load."),
            Row("coil open", "It never pulls in.", "K1 coil-open"),
            Row("turns shorted, a third left", "It pulls in hot and takes three times its amps: look at what drives it too.", Less(0.33)),
            Row("coil shorted, or its diode through", "The fuse or the driver goes.", Less(0.03)),
        ];
        var pullIn = Defaults.PullInShare * v["rated"];
        var (amps, ohms) = (v["volts"] / v["ohms"], v["lost"] / v["amps"]);
        var says = new List<string>
        {
            rows[0].Shows[2] == Answer.Clicks.Text()
                ? $"{Say(v["volts"], Dimension.Volt)} pull it in: it needs {Say(pullIn, Dimension.Volt)}."
                : $"{Say(v["volts"], Dimension.Volt)} do not pull it in: it needs "
                    + "{Say(pullIn, Dimension.Volt)}. Find where the volts are lost, "
                    + "on the feed and on the way home.",
            $"The coil takes {Say(amps, Dimension.Ampere)}, {Say(v["volts"] * amps, Dimension.Watt)}.",
            v["lost"] > BadVolts
                ? $"The contact loses {Say(v["lost"], Dimension.Volt)} at {Say(v["amps"], Dimension.Ampere)}: {Say(ohms, Dimension.Ohm)}, "
                    + $"{Say(v["lost"] * v["amps"], Dimension.Watt)} of heat. Renew it."
            : v["lost"] > WornVolts
                ? $"The contact loses {Say(v["lost"], Dimension.Volt)}: worn, {Say(ohms, Dimension.Ohm)}. Renew it at the next chance."
            : $"The contact loses {Say(v["lost"], Dimension.Volt)}: good.",
            "A diode across the coil makes its plus and minus matter: turned round it shorts the feed.",
        };
        return Fitted(new FigureResult(says, ["coil, ohms", "amps at those volts", "heard"], rows), v.Find(Read), 0.3);
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is not (Relay or Contactor) || part.Model.Coil is not { } coil)
            return null;
        var link = part.Model.Links[coil.Link];
        if (Nets.Of(circuit).FunctionAt(new Terminal(part.Tag, link.A)) == VoltsFunction.Ac)
            return null;
        var volts = string.Create(CultureInfo.InvariantCulture, $"{coil.RatedVolts:0.##}V");
        return new Dictionary<string, string>
        {
            ["rated"] = volts,
            ["ohms"] = string.Create(CultureInfo.InvariantCulture, $"{link.Ohms:0.##}ohm"),
            ["volts"] = volts,
        };
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        var link = part.Model.Links[part.Model.Coil!.Link];
        return $"{string.Join(", ", circuit.Sources.Select(s => $"off {s.Tag}"))}, unplug {part.Tag} : ohm {part.Tag}.{link.A} "
            + $"{part.Tag}.{link.B}";
    }
}
