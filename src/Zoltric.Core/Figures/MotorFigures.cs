using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>Windings of a motor by their ohms, insulation, and what unbalanced volts cost it.</summary>
public sealed class MotorFigures : FigureSheet
{
    private const string Star = "three phases, joined in star",
        Delta = "three phases, joined in delta",
        Single = "one phase, run and start winding";

    public override string Name => "motor";
    public override string Title => "Motor windings";
    public override string For => "Which winding is open, shorted or grounded by three ohms readings; unbalance, derating, watts";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("joined", "Motor", Dimension.None, Star) { Choices = [Star, Delta, Single] },
        new("winding", "Ohms of one sound winding; of the run winding", Dimension.Ohm, "4ohm") { Least = 0.02, Most = 10e3 },
        new("start", "Ohms of a sound start winding (one phase)", Dimension.Ohm, "12ohm") { Least = 0.02, Most = 10e3 },
        Ohms(Read, "Read U to V; common to run"),
        Ohms("second", "Read V to W; common to start"),
        Ohms("third", "Read W to U; run to start"),
        Ohms("earth", "Insulation read, windings to frame"),
        new("l12", "Volts L1 to L2 at the motor", Dimension.Volt, "400V") { Least = 1, Most = 1000 },
        new("l23", "Volts L2 to L3", Dimension.Volt, "400V") { Least = 1, Most = 1000 },
        new("l31", "Volts L3 to L1", Dimension.Volt, "400V") { Least = 1, Most = 1000 },
        new("amps", "Amps of a line, by clamp", Dimension.Ampere, "5A") { Least = 0.01, Most = 2000 },
        new("factor", "Power factor on its plate, %", Dimension.Percent, "80%") { Least = 10, Most = 100 },
    ];

    private static FigureField Ohms(string name, string label) =>
        new(name, label, Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e12,
        };

    public override string RestsOn =>
        "Star: two windings in series between terminals; delta: one beside two; worked by the solver. Windings of a motor agree "
        + "within a few "
        + "per cent (common practice). Unbalance is the largest departure from the mean over the mean, derating 1.00, 0.95, 0.88, "
        + "0.82, 0.75 at "
        + "1 to 5 % (NEMA MG 1, from memory); not to be run above 5 %. Insulation at least 5 MΩ (IEEE 43, windings up to 1 kV, from "
        + "memory). "
        + "Watts are √3 · V · A · power factor, on one phase V · A · power factor.";

    private const double AlikeWithin = 0.05,
        LeastInsulation = 5e6;

    /// <summary>What a motor may be loaded with at an unbalance of 0 to 5 %. Source: NEMA MG 1, from memory.</summary>
    private static readonly double[] Derating = [1.00, 1.00, 0.95, 0.88, 0.82, 0.75];

    /// <summary>Unbalance of three volts, per cent of their mean. Source: NEMA MG 1.</summary>
    public static double Unbalance(double a, double b, double c)
    {
        var mean = (a + b + c) / 3;
        return 100 * new[] { a, b, c }.Max(x => Math.Abs(x - mean)) / mean;
    }

    /// <summary>Share of its rated load at an unbalance in per cent; null where it is not to be run.</summary>
    public static double? DeratedTo(double percent)
    {
        if (percent > 5)
            return null;
        var i = Math.Min((int)percent, 4);
        return Derating[i] + (Derating[i + 1] - Derating[i]) * (percent - i);
    }

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var single = v.Word("joined") == Single;
        var circuit = new FigureCircuit(single ? SingleSheet(v) : ThreeSheet(v));
        string[] across = single ? ["M1.2 R1.2", "M1.2 R2.2", "R1.2 R2.2"] : ["SP1 SP2", "SP2 SP3", "SP3 SP1"];
        List<(FigureRow Row, double[] Ohms)> rows = [];
        void Add(string state, string follows, params string[] faults)
        {
            var read = across.Select(a => circuit.Read($"off G1 : ohm {a}", faults)).ToList();
            rows.Add(
                (
                    new FigureRow(state, [.. read.Select(r => r.Text)], follows)
                    {
                        Sound = faults.Length == 0,
                        Reads = FigureCircuit.Ohms(read[0]),
                    },
                    [.. read.Select(FigureCircuit.Ohms)]
                )
            );
        }
        string Of(double share, string field = "winding") => N(share * v[field]);
        if (single)
        {
            Add("both windings whole", "Common to each, and both in series from run to start.");
            Add("run winding open", "It does not start and does not hum, or hums on the start winding alone.", "R1 open");
            Add("start winding open", "It hums and stands; turned by hand it runs. First the capacitor and the start switch.", "R2 open");
            Add("common lead open", "Only run to start reads: the protector inside, or that lead. Let it cool and read again.", "M1 open");
            Add("turns of the run winding shorted", "Hot, many amps: renew it.", $"R1 shorted {Of(0.5)}ohm");
        }
        else
        {
            Add("all three whole", "Alike within some per cent: the windings are sound, the insulation is another test.");
            foreach (var (r, name) in new[] { ("R1", "U"), ("R2", "V"), ("R3", "W") })
                Add(
                    $"winding {name} open",
                    v.Word("joined") == Star ? "Two readings over limit, the third is right." : "One reading is both others in series.",
                    $"{r} open"
                );
            foreach (var (r, name) in new[] { ("R1", "U"), ("R2", "V"), ("R3", "W") })
                Add(
                    $"turns of winding {name} shorted",
                    "Fewer ohms where it takes part: hot, trips its overload. Renew it.",
                    $"{r} shorted {Of(0.5)}ohm"
                );
        }
        double?[] asRead = [v.Find(Read), v.Find("second"), v.Find("third")];
        var fits = asRead.Any(r => r is not null) ? Nearest(rows, asRead) : null;
        return new FigureResult(
            [.. Windings(asRead, single), .. Supply(v, single), .. Insulation(v)],
            single ? ["common–run", "common–start", "run–start"] : ["U–V", "V–W", "W–U"],
            [.. rows.Select(r => r.Row)]
        )
        {
            Fits = fits,
            FitsNone = fits is null && asRead.Any(r => r is not null),
            Sheet = circuit.Sheet,
        };
    }

    private static string ThreeSheet(FigureValues v)
    {
        var r = N(v["winding"]);
        var star = v.Word("joined") == Star;
        return $"""
            sheet "windings"
            nominal 24V dc
            part G1 battery 24V
            part SP1 splice "U"
            part SP2 splice "V"
            part SP3 splice "W"
            part SP4 splice "star point"
            part R1 resistor {r}ohm "winding U"
            part R2 resistor {r}ohm "winding V"
            part R3 resistor {r}ohm "winding W"
            part R4 resistor 1Mohm "nothing"
            path G1.+ - R4 - SP1
            path G1.- -[w0]- SP4
            path SP1 -[w1 500mm2 1mm]- R1 -[w4 500mm2 1mm]- {(star ? "SP4" : "SP2")}
            path SP2 -[w2 500mm2 1mm]- R2 -[w5 500mm2 1mm]- {(star ? "SP4" : "SP3")}
            path SP3 -[w3 500mm2 1mm]- R3 -[w6 500mm2 1mm]- {(star ? "SP4" : "SP1")}
            """;
    }

    private static string SingleSheet(FigureValues v) =>
        $"""
            sheet "windings of one phase"
            nominal 24V dc
            part G1 battery 24V
            part M1 resistor 0.001ohm "common lead"
            part R1 resistor {N(v["winding"])}ohm "run winding"
            part R2 resistor {N(v["start"])}ohm "start winding"
            part R4 resistor 1Mohm "nothing"
            path G1.+ - R4 - M1.1
            path M1.1 -[w1 500mm2 1mm]- R1.1
            path M1.1 -[w2 500mm2 1mm]- R2.1
            path G1.- - R2.2
            """;

    /// <summary>The state whose readings all lie near; a reading not taken says nothing.</summary>
    private static FigureRow? Nearest(List<(FigureRow Row, double[] Ohms)> rows, double?[] read)
    {
        const double Within = 0.1,
            Digit = 0.3;
        var near = rows.Select(r => (r.Row, Off: r.Ohms.Zip(read, Off).Max())).MinBy(x => x.Off);
        return near.Off <= 1 ? near.Row : null;

        // In units of what may lie between a state and what is read in it.
        static double Off(double state, double? read) =>
            read is not { } r ? 0
            : double.IsInfinity(state) || double.IsInfinity(r) ? (double.IsInfinity(state) == double.IsInfinity(r) ? 0 : double.MaxValue)
            : Math.Abs(r - state) / (Digit + Within * state);
    }

    private static IEnumerable<string> Windings(double?[] read, bool single)
    {
        if (read.Any(r => r is not { } x || double.IsInfinity(x)))
            yield break;
        var (a, b, c) = (read[0]!.Value, read[1]!.Value, read[2]!.Value);
        if (single)
        {
            // Unmarked leads: the two that read most are run and start.
            yield return Math.Abs(a + b - c) < 0.3 + 0.05 * c
                ? "The third is the sum of the first two: the leads are named right."
                : "The largest is not the sum of the other two: the two leads it was read across are run and start, the third is "
                    + "common; of "
                    + "the other two readings the smaller is to run.";
            yield break;
        }
        var off = Unbalance(a, b, c);
        yield return off > 100 * AlikeWithin
            ? $"The three differ by {off:0.#} % of their mean, more than {100 * AlikeWithin:0} %."
            : $"The three agree within {off:0.#} % of their mean.";
    }

    private static IEnumerable<string> Supply(FigureValues v, bool single)
    {
        var factor = v["factor"] / 100;
        if (single)
        {
            yield return $"At {Say(v["l12"], Dimension.Volt)} and {Say(v["amps"], Dimension.Ampere)} it takes "
                + $"{Say(v["l12"] * v["amps"] * factor, Dimension.Watt)}.";
            yield break;
        }
        var mean = (v["l12"] + v["l23"] + v["l31"]) / 3;
        var unbalance = Unbalance(v["l12"], v["l23"], v["l31"]);
        yield return $"At {Say(mean, Dimension.Volt)} and {Say(v["amps"], Dimension.Ampere)} it takes "
            + $"{Say(Math.Sqrt(3) * mean * v["amps"] * factor, Dimension.Watt)}.";
        yield return DeratedTo(unbalance) is not { } share
            ? $"The volts are {unbalance:0.#} % out of balance: do not run it so. Look for a "
                + "weak phase, a bad joint, a large load on one phase."
        : unbalance > 1 ? $"The volts are {unbalance:0.#} % out of balance: load it with {100 * share:0} % at most."
        : $"The volts are {unbalance:0.#} % out of balance: no matter.";
    }

    private static IEnumerable<string> Insulation(FigureValues v)
    {
        if (v.Find("earth") is { } ohms)
            yield return double.IsInfinity(ohms) ? "Over limit to the frame: good, if the tester was set to MΩ."
            : ohms < LeastInsulation
                ? $"{Say(ohms, Dimension.Ohm)} to the frame is under {Say(LeastInsulation, Dimension.Ohm)}: damp or burnt. Dry it, "
                    + $"read again."
            : $"{Say(ohms, Dimension.Ohm)} to the frame is good.";
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind switch
        {
            Motor3 => new Dictionary<string, string>
            {
                ["joined"] = part.Has("delta") ? Delta : Star,
                ["l12"] = $"{Load.RatedVolts(part):0.#}V",
                ["l23"] = $"{Load.RatedVolts(part):0.#}V",
                ["l31"] = $"{Load.RatedVolts(part):0.#}V",
            },
            Motor1 => new Dictionary<string, string>
            {
                ["joined"] = Single,
                ["winding"] = $"{N(Winding(part, "R"))}ohm",
                ["start"] = $"{N(Winding(part, "S"))}ohm",
                ["l12"] = $"{Load.RatedVolts(part):0.#}V",
            },
            _ => null,
        };
    }

    /// <summary>As stated, else as the kind takes it.</summary>
    private static double Winding(Part part, string name) => part.Model.Links.First(l => l.A == name).Ohms;

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        var (a, b) = part.Kind is Motor3 ? ("U", "V") : ("C", "R");
        return $"{FigureCircuit.Dead(circuit, $"unplug {part.Tag}")} : ohm {part.Tag}.{a} {part.Tag}.{b}";
    }
}
