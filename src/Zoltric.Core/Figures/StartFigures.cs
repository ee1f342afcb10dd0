using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>
/// A starter while it cranks: what cable, contact and ground take, whether the solenoid gets what it needs, and what each repair would
/// give.
/// </summary>
public sealed class StartFigures : FigureSheet
{
    public override string Name => "start";
    public override string Title => "Starting";
    public override string For => "Where the volts go while it cranks, what the solenoid is left, and what each repair would give";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("rest", "Battery at rest", Dimension.Volt, "12.6V") { Least = 4, Most = 60 },
        new("posts", "At the battery's posts while it cranks", Dimension.Volt, "10.4V") { Least = 1, Most = 60 },
        new("amps", "Amps while it cranks, by clamp", Dimension.Ampere, "180A") { Least = 5, Most = 3000 },
        new("plus", "Lost from the plus post to the starter", Dimension.Volt, "0.2V") { Least = 0, Most = 40 },
        new("contact", "Lost across the solenoid's contact", Dimension.Volt, "0.05V") { Least = 0, Most = 40 },
        new("ground", "Lost from the starter's body to the minus post", Dimension.Volt, "0.1V") { Least = 0, Most = 40 },
        new("control", "Lost from the plus post to the solenoid's terminal", Dimension.Volt, "1.5V") { Least = 0, Most = 40 },
        new("coil", "Ohms of the solenoid", Dimension.Ohm, "0.6ohm") { Least = 0.05, Most = 500 },
        new("pullin", "Volts it needs to pull in", Dimension.Volt, "7.8V") { Least = 0.5, Most = 60 },
        new("safety", "Safety part in its string: guard, stop, lock", Dimension.None, Unguarded) { Choices = [Unguarded, Guarded] },
    ];

    public override string RestsOn =>
        "Each loss over the amps is a resistance; with another one in its place the solver runs the circuit again, motor and battery "
        + "taken as "
        + "resistances. Limits while it cranks: 0.2 V a cable or ground on 12 V, 0.3 V a solenoid's contact, twice that on 24 V; 9.6 "
        + "V at the "
        + "posts of a 12 V battery at 20 °C (common practice, no source). The safety string stays in charge: a relay near the starter "
        + "is no "
        + "repair of a string with safety contacts in it, and one whose contact welds cranks whatever they say.";

    /// <summary>What a cable or ground, a contact and a control string of their best lose, V on 12 V; common practice, no source.</summary>
    private const double GoodCable = 0.1,
        GoodContact = 0.03,
        MostCable = 0.2,
        MostContact = 0.3,
        MostString = 0.8,
        LeastPosts = 9.6;

    private const string Unguarded = "none",
        Guarded = "one or more";

    /// <summary>What joins the resistances has next to none of its own.</summary>
    private const string Bar = "500mm2 1mm";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var (amps, posts) = (v["amps"], v["posts"]);
        var left = posts - v["plus"] - v["contact"] - v["ground"];
        var coilVolts = posts - v["control"] - v["ground"];
        if (posts >= v["rest"])
            throw new FigureException("A battery that cranks has fewer volts than at rest: read it again, or is it on charge?");
        if (left <= 0 || coilVolts <= 0)
            throw new FigureException("More is lost than there is: one of the losses was read at another point.");
        var system = v["rest"] > 18 ? 2 : 1;
        var coilAmps = coilVolts / v["coil"];
        double Of(string field, double through) => Math.Max(v[field], 0.001) / through;

        FigureRow Row(string state, string follows, double plus, double contact, double ground, double control, bool relay = false)
        {
            var circuit = new FigureCircuit(
                $"""
                sheet "start"
                nominal {N(v["rest"])}V dc
                part G1 battery emf={N(v["rest"])}V internal={N((v["rest"] - posts) / (amps + coilAmps))}ohm
                part R1 resistor {N(plus)}ohm
                part R2 resistor {N(contact)}ohm
                part R3 resistor {N(ground)}ohm
                part R4 resistor {N(control)}ohm
                part M1 resistor {N(left / amps)}ohm
                part Y1 resistor {N(v["coil"])}ohm
                path G1.+ -[j1 {Bar}]- R1 -[j2 {Bar}]- R2 -[j3 {Bar}]- M1 -[j4 {Bar}]- R3 -[j5 {Bar}]- G1.-
                path {(relay ? "R1.2" : "G1.+")} -[j6 {Bar}]- R4 -[j7 {Bar}]- Y1 -[j8 {Bar}]- M1.2
                """
            );
            var (motor, solenoid) = (circuit.Read(" : V M1.1 M1.2"), circuit.Read(" : V Y1.1 Y1.2"));
            var pulls = solenoid.Value >= v["pullin"];
            return new FigureRow(
                state,
                [motor.Text, circuit.Read(" : V G1.+ G1.-").Text, solenoid.Text, pulls ? "pulls in" : "may not pull in"],
                follows
            )
            {
                Sound = pulls && motor.Value >= 0.75 * v["rest"],
            };
        }
        var (p, c, g, k) = (Of("plus", amps), Of("contact", amps), Of("ground", amps + coilAmps), Of("control", coilAmps));
        var (best, contactBest) = (system * GoodCable / amps, system * GoodContact / amps);
        var worst = new[] { ("plus cable", v["plus"]), ("contact", v["contact"]), ("ground", v["ground"]) }.MaxBy(x => x.Item2).Item1;
        List<FigureRow> rows =
        [
            Row("as read", "What the readings say.", p, c, g, k),
            Row(
                $"{worst} renewed, the worst of the heavy circuit",
                "What that one repair would give.",
                worst == "plus cable" ? Math.Min(p, best) : p,
                worst == "contact" ? Math.Min(c, contactBest) : c,
                worst == "ground" ? Math.Min(g, best) : g,
                k
            ),
            Row(
                "all of the heavy circuit renewed",
                "Cables, contact and ground as new.",
                Math.Min(p, best),
                Math.Min(c, contactBest),
                Math.Min(g, best),
                k
            ),
            Row(
                "the control string renewed",
                "Switches, joints and wire to the solenoid as new.",
                p,
                c,
                g,
                Math.Min(k, system * GoodCable / coilAmps)
            ),
            Row(
                "its wire at twice the size, joints as they are",
                "Half of what is lost is taken for copper: thicker wire mends no joint.",
                p,
                c,
                g,
                0.75 * k
            ),
        ];
        // Its contact, welded, would take a safety part out of charge: there it is not offered at all.
        if (v.Word("safety") == Unguarded)
            rows.Add(
                Row(
                    "a relay near the starter, worked by the string",
                    "Only where no safety part is in the string. Interlocks stay in charge of its coil; welded, its contact cranks "
                        + "whatever they say.",
                    p,
                    c,
                    g,
                    Math.Min(k, system * GoodCable / coilAmps),
                    relay: true
                )
            );
        var says = new List<string>
        {
            coilVolts >= v["pullin"]
                ? $"The solenoid has {Say(coilVolts, Dimension.Volt)} and needs {Say(v["pullin"], Dimension.Volt)}."
                : $"The solenoid has {Say(coilVolts, Dimension.Volt)} and needs {Say(v["pullin"], Dimension.Volt)}: read each joint of its "
                    + "string while it should crank before the starter is condemned.",
            $"The motor has {Say(left, Dimension.Volt)} of {Say(v["rest"], Dimension.Volt)}.",
        };
        void Judge(string what, double lost, double most)
        {
            if (lost > system * most)
                says.Add(
                    $"{what} loses {Say(lost, Dimension.Volt)}, more than {Say(system * most, Dimension.Volt)}: "
                        + $"{Say(lost * amps, Dimension.Watt)} of heat."
                );
        }
        Judge("The plus cable", v["plus"], MostCable);
        Judge("The contact", v["contact"], MostContact);
        Judge("The ground", v["ground"], MostCable);
        if (posts < system * LeastPosts)
            says.Add($"{Say(posts, Dimension.Volt)} at the posts is low: charge and test the battery first.");
        return new FigureResult(says, ["motor", "battery posts", "solenoid", "solenoid then"], rows) { More = [Shares(v, system)] };
    }

    /// <summary>What each stretch takes of the volts at rest, the largest first.</summary>
    private static FigureTable Shares(FigureValues v, int system)
    {
        var (amps, coil) = (v["amps"], (v["posts"] - v["control"] - v["ground"]) / v["coil"]);
        (string What, double Lost, double Most, double Through)[] stretches =
        [
            ("inside the battery", v["rest"] - v["posts"], v["rest"] - system * LeastPosts, amps),
            ("plus cable and its joints", v["plus"], system * MostCable, amps),
            ("contact of the solenoid", v["contact"], system * MostContact, amps),
            ("ground", v["ground"], system * MostCable, amps),
            ("string to the solenoid", v["control"], system * MostString, coil),
        ];
        return new FigureTable(
            "Where the volts go",
            "Stretch",
            ["lost", "at most", "its ohms", "heat"],
            [
                .. stretches
                    .OrderByDescending(s => s.Lost - s.Most)
                    .Select(s => new FigureRow(
                        s.What,
                        [
                            Say(s.Lost, Dimension.Volt),
                            Say(s.Most, Dimension.Volt),
                            Say(s.Lost / s.Through, Dimension.Ohm),
                            Say(s.Lost * s.Through, Dimension.Watt),
                        ],
                        s.Lost > s.Most ? "Too much: halve it with the probe while it cranks." : "Within its limit."
                    )
                    {
                        Sound = s.Lost <= s.Most,
                    }),
            ]
        );
    }

    /// <summary>
    /// The staircase of the machine's own cranking circuit and of the strings that work it: what each step loses when all is well, and the
    /// limit that the trade sets.
    /// </summary>
    public override IReadOnlyList<FigureTable> OnMachine(Machine machine, Part part, IReadOnlyList<Reading> read)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(part);
        var circuit = machine.Circuit;
        var function = circuit.Functions.FirstOrDefault(f => f.Test is FunctionTest.LoadWorks l && l.Tag == part.Tag);
        if (function is null || FunctionSetups.SetupFor(circuit, function) is not { } setup)
            return [];
        return
        [
            .. LaneFinder
                .Find(machine, function)
                .Where(l => !l.IsMeter && l.Stations.Count > 2)
                .Select(l => Steps(machine, l, setup, read)),
        ];
    }

    private static FigureTable Steps(Machine machine, Lane lane, Setup setup, IReadOnlyList<Reading> read)
    {
        var circuit = machine.Circuit;
        var system = circuit.NominalVolts > 18 ? 2 : 1;
        List<FigureRow> rows = [];
        double sum = 0;
        for (var i = 1; i < lane.Stations.Count; i++)
        {
            var (from, to) = (lane.Stations[i - 1].Terminal, lane.Stations[i].Terminal);
            if (lane.Stations[i].Via is not { IsMetal: false, IsLoad: false } via)
                continue;
            var lost = FigureCircuit.Read(machine, $"{setup} : V {from} {to}");
            sum += Math.Abs(lost.Value ?? 0);
            var most = system * MostOf(via, lane);
            var shown = ReadAcross(circuit, read, setup, from, to);
            var what = via.WireId is { } w ? $"wire {w}" : circuit.FindPart(via.Tag!)!.Spoken;
            rows.Add(
                new FigureRow(
                    $"{what}, {PointNames.Point(circuit, from)} to {PointNames.Point(circuit, to)}",
                    [lost.Text, Say(most, Dimension.Volt), shown is { } v ? Say(v, Dimension.Volt) : "not read"],
                    shown > most ? "Over its limit: volts are lost here." : ""
                )
            );
        }
        return new FigureTable(
            $"{lane.Title}: {Say(lane.Amps, Dimension.Ampere)}",
            "From, to",
            ["lost when well", "at most", "read in this job"],
            rows
        )
        {
            Says = $"{Say(sum, Dimension.Volt)} are lost on the way when all is well. Read each step while it should crank.",
        };
    }

    /// <summary>What the job read across a step in this setup, V; the last where it was read twice, null where it was not.</summary>
    private static double? ReadAcross(Circuit circuit, IReadOnlyList<Reading> read, Setup setup, Terminal from, Terminal to) =>
        read.Where(r => !r.Doubtful && r.Test.Setup.Equals(setup))
            .Where(r =>
                r.Test.Probe.VoltsOn(circuit) is { Q: { } q } tips
                && (tips.P.Terminal == from && q.Terminal == to || tips.P.Terminal == to && q.Terminal == from)
            )
            .Select(r => r.Result)
            .OfType<ReadingResult.Number>()
            .Select(n => (double?)Math.Abs(n.Value))
            .LastOrDefault();

    /// <summary>Limit of one step at its working current, V on 12 V; common practice, no source.</summary>
    private static double MostOf(LaneStep via, Lane lane) =>
        via.WireId is not null ? (lane.IsControl ? 0.1 : MostCable)
        : via.CoilTag is not null && !lane.IsControl ? MostContact
        : via.IsContact ? 0.2
        : 0.1;

    public override FigureDraft? Drawn(Circuit circuit, Part part, string sheet)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        return NearRelay.Draw(circuit, part, sheet);
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is not Starter || part.Model.Coil is not { } coil)
            return null;
        return new Dictionary<string, string>
        {
            ["coil"] = string.Create(CultureInfo.InvariantCulture, $"{part.Model.Links[0].Ohms:0.###}ohm"),
            ["pullin"] = string.Create(CultureInfo.InvariantCulture, $"{coil.PullInVolts:0.##}V"),
            ["amps"] = string.Create(CultureInfo.InvariantCulture, $"{part.Value(Dimension.Ampere) ?? 150:0}A"),
            ["safety"] = NearRelay.GuardOf(circuit, part) is null ? Unguarded : Guarded,
            ["rest"] = string.Create(CultureInfo.InvariantCulture, $"{1.05 * circuit.NominalVolts:0.#}V"),
            ["posts"] = string.Create(CultureInfo.InvariantCulture, $"{0.87 * circuit.NominalVolts:0.#}V"),
        };
    }
}
