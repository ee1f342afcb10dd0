using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

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

    /// <summary>Amps of the lamp that is the load of the test in the hand: 21 W at 12 V.</summary>
    private const double TestWatts = 21;

    /// <summary>
    /// A relay in the hand, its coil on a supply and a lamp behind its contact. Only where the supply is too low to hurt.
    /// </summary>
    private static FigureTable InTheHand(double volts, double ohms)
    {
        var circuit = new FigureCircuit(
            $"""
            sheet "relay in the hand"
            nominal {N(volts)}V dc
            control coil: OFF*, ON
            part G1 battery emf={N(volts)}V internal=10mohm
            part S1 switch "clip on the coil"
              closed 1-2 when coil=ON
            part K1 relay {N(volts)}V {N(ohms)}ohm
            part H1 lamp {N(volts)}V {N(TestWatts)}W "lamp on 87"
            part H2 lamp {N(volts)}V {N(TestWatts)}W "lamp on 87a"
            path G1.+ - S1 - K1.86>85 - G1.-
            path G1.+ - K1.30>87 - H1 - G1.-
            path K1.87a - H2 - G1.-
            """
        );
        FigureRow Row(string state, string follows, params string[] faults) =>
            new(
                state,
                [
                    circuit.Read("coil=ON : hears K1", faults).Text,
                    circuit.Read(" : drop H1", faults).Text,
                    circuit.Read("coil=ON : drop H1", faults).Text,
                    circuit.Read("coil=ON : drop K1.30 K1.87", faults).Text,
                    circuit.Read(" : drop K1.30 K1.87a", faults).Text,
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
            };
        return new FigureTable(
            "In the hand: supply on the coil, a lamp on the contact",
            "State",
            ["heard, coil on", "lamp on 87, coil off", "lamp on 87, coil on", "across 30–87, coil on", "across 30–87a, coil off"],
            [
                Row("sound", "It may go back in."),
                Row("clicks, contact open", "A click proves the coil and nothing else: renew it.", "K1 contact 30-87 open"),
                Row("clicks, contact burnt to 1 Ω", "It looks right without a load: the lamp shows it.", "K1 contact 30-87 resists 1ohm"),
                Row("contact welded", "The lamp burns with the coil off. What drew too much?", "K1 welded 30-87"),
                Row("break contact burnt", "Only the side that rests is bad: matters where 87a is used.", "K1 contact 30-87a open"),
                Row("coil open", "No click.", "K1 coil-open"),
            ]
        )
        {
            Says = "Lead fused no larger than 10 A, for a moment. With a diode inside, plus goes on 86.",
        };
    }

    public override IReadOnlyList<FigureTable> OnMachine(Machine machine, Part part, IReadOnlyList<Reading> read)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(part);
        return [.. Legs(machine, part) is { } legs ? new[] { legs } : [], Partners(machine.Circuit, part)];
    }

    /// <summary>Volts of each leg of the socket with the relay pulled, by position of the control that works it.</summary>
    private static FigureTable? Legs(Machine machine, Part part)
    {
        var circuit = machine.Circuit;
        var nets = Nets.Of(circuit);
        var legs = part.Model.Terminals.Where(t => circuit.Wires.Any(w => w.From == At(t) || w.To == At(t))).ToList();
        if (circuit.Controls.Count == 0 || legs.Count == 0 || !part.Kind.Unplugs)
            return null;
        var works = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
            .FirstOrDefault(s => s is not null && FigureCircuit.Read(machine, $"{s} : hears {part.Tag}").Answer == Answer.Clicks);
        var key = circuit.Controls.First(c => !c.Given);
        var states = key
            .Positions.Select(p =>
                (
                    Name: $"{key.Name} {p}",
                    Setup: string.Join(
                        ", ",
                        (works?.Steps ?? [])
                            .SelectMany(m => m)
                            .Where(c => c.Control != key.Name)
                            .Select(c => $"{c}")
                            .Append($"{key.Name}={p}")
                    )
                )
            )
            .ToList();
        var half = circuit.NominalVolts / 2;
        var read = legs.ToDictionary(
            t => t,
            t => states.Select(s => FigureCircuit.Read(machine, $"unplug {part.Tag}, {s.Setup} : {Volts(t)}")).ToList()
        );
        var rows = legs.Select(t => new FigureRow(
                t,
                [.. read[t].Select(r => Math.Abs(r.Value ?? 0) < Nothing * circuit.NominalVolts ? "none" : r.Text)],
                ""
            ))
            .ToList();
        rows.Add(
            new FigureRow(
                "live of these",
                [.. states.Select((_, i) => $"{legs.Count(t => Math.Abs(read[t][i].Value ?? 0) > half)} of {legs.Count}")],
                "Fewer: find the feed that is missing. One too many: something feeds back, or a contact is welded."
            )
        );
        var others = works?.Steps.SelectMany(m => m).Where(c => c.Control != key.Name).Select(c => $"{c.Control} {c.Position}").ToList()
            ?? [];
        return new FigureTable($"Socket of {part.Spoken}, relay pulled out", "Leg", [.. states.Select(s => s.Name)], rows)
        {
            Says = others.Count == 0 ? "" : $"With {string.Join(", ", others)}.",
        };

        Terminal At(string t) => new(part.Tag, t);

        string Volts(string t)
        {
            var common = nets.CommonOf(At(t));
            var word = nets.FunctionAt(At(t)) == VoltsFunction.Ac ? "VAC" : "V";
            return $"{word} {part.Tag}.{t}@loom{(common is { } c ? $" {c}" : "")}";
        }
    }

    /// <summary>Relays of the same coil and contacts, those of the same box first. A safety part has none.</summary>
    private static FigureTable Partners(Circuit circuit, Part part)
    {
        var box = Box(part);
        var guards = SafetyParts.IsSafety(circuit, part);
        var like = guards
            ? []
            : circuit
                .Parts.Where(p => p.Tag != part.Tag && !SafetyParts.IsSafety(circuit, p) && p.Kind == part.Kind && p.Kind.Unplugs)
                .Where(p =>
                    p.Model.Coil!.RatedVolts == part.Model.Coil!.RatedVolts && p.Model.Terminals.SequenceEqual(part.Model.Terminals)
                )
                .Where(p => Alike(p, part))
                .OrderBy(p => Box(p) == box ? 0 : 1)
                .ThenBy(p => p.ReachMinutes)
                .Select(p => new FigureRow(p.Spoken, [p.Place ?? "no place said"], Box(p) == box ? "Same box." : "Another place."))
                .ToList();
        return new FigureTable($"May be swapped with {part.Spoken}", "Relay", ["where"], like)
        {
            Says =
                guards ? "None: a safety relay is never swapped to find a fault."
                : like.Count == 0 ? "None of this sheet has its coil and its contacts."
                : "Put both back as they were. A swap that cures proves the relay or its socket, not which.",
        };

        static string Box(Part p) => p.Place?.Split(',')[0].Trim() ?? p.Tag;
    }

    /// <summary>Under this share of the nominal volts a leg is as good as dead.</summary>
    private const double Nothing = 0.05;

    /// <summary>Share by which coils of one type differ.</summary>
    private const double AlikeWithin = 0.1;

    private static bool Alike(Part a, Part b)
    {
        var (x, y) = (a.Model.Links[a.Model.Coil!.Link].Ohms, b.Model.Links[b.Model.Coil!.Link].Ohms);
        return Math.Abs(x - y) <= AlikeWithin * y;
    }

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
                    + $"{Say(pullIn, Dimension.Volt)}. Find where the volts are lost, "
                    + "on the feed and on the way home.",
            $"The coil takes {Say(amps, Dimension.Ampere)}, {Say(v["volts"] * amps, Dimension.Watt)}.",
            v["lost"] > BadVolts
                ? $"The contact loses {Say(v["lost"], Dimension.Volt)} at {Say(v["amps"], Dimension.Ampere)}: {Say(ohms, Dimension.Ohm)}, "
                    + $"{Say(v["lost"] * v["amps"], Dimension.Watt)} of heat. Renew it."
            : v["lost"] > WornVolts
                ? $"The contact loses {Say(v["lost"], Dimension.Volt)}: worn, {Say(ohms, Dimension.Ohm)}. Renew it at the next chance."
            : $"The contact loses {Say(v["lost"], Dimension.Volt)}: good.",
            "Coil 86–85, contact 30–87, at rest 30–87a (DIN 72552); industrial A1–A2, 11–14, at rest 11–12 (EN 50005).",
            "A diode across the coil makes its plus and minus matter: turned round it shorts the feed.",
        };
        says.Add(
            $"It lets go below {Say(Defaults.DropOutShare * v["rated"], Dimension.Volt)}. "
                + "A coil that holds on less than it needs to pull in "
                + "tells of a weak feed when it is switched again."
        );
        if (v["rated"] > SafetyLimits.DryDcVolts)
            says.Add("No test in the hand: its volts can hurt. Read ohms only, isolated and proved dead.");
        return Fitted(
            new FigureResult(says, ["coil, ohms", "amps at those volts", "heard"], rows)
            {
                Sheet = circuit.Sheet,
                More = v["rated"] > SafetyLimits.DryDcVolts ? [] : [InTheHand(v["rated"], v["ohms"])],
            },
            v.Find(Read),
            0.3
        );
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
        return $"{FigureCircuit.Dead(circuit, $"unplug {part.Tag}")} : ohm {part.Tag}.{link.A} " + $"{part.Tag}.{link.B}";
    }
}
