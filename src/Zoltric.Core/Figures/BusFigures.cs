using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>A two-wire bus: what its ohms say of its ends, and its volts of what it touches.</summary>
public sealed class BusFigures : FigureSheet
{
    private const int MostModules = 40;

    private const string OfTheirOwn = "plugs of their own",
        InModules = "in the first and the last module";

    public override string Name => "bus";
    public override string Title => "Two-wire bus";
    public override string For => "How many ends are seen from a plug, and what each line stands at when one of them touches something";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [
        new("volts", "Supply", Dimension.Volt, "24V") { Least = 6, Most = 60 },
        new("modules", "Modules on it", Dimension.None, "3") { Least = 1, Most = MostModules },
        new("end", "Each of the two ends", Dimension.Ohm, "120ohm") { Least = 10, Most = 1000 },
        new("where", "The ends are", Dimension.None, OfTheirOwn) { Choices = [OfTheirOwn, InModules] },
        new(Read, "Ohms from line to line, supply off", Dimension.Ohm, "")
        {
            Optional = true,
            Least = 0,
            Most = 1e9,
        },
    ];

    public override string RestsOn =>
        "Two ends of 120 Ω make 60 Ω; rest level 2.5 V, high line up to 3.5 V and low line down to 1.5 V while it is driven (ISO 11898-2). "
        + "A meter shows the mean of a busy line: traffic of 5 % is taken, and anything from 2.5 to 2.8 V on the high and 2.2 to 2.5 "
        + "V on the "
        + "low line is healthy. What modules add in ohms is wide; the circuit is read by the solver.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var modules = (int)v["modules"];
        var circuit = new FigureCircuit(Sheet(v["volts"], modules, v["end"]));
        FigureRow Row(string state, string follows, params string[] faults)
        {
            var ohms = circuit.Read("off G1 : ohm X1:1a X1:2a", faults);
            return new FigureRow(
                state,
                [ohms.Text, circuit.Read(" : V X1:1a", faults).Text, circuit.Read(" : V X1:2a", faults).Text],
                follows
            )
            {
                Sound = faults.Length == 0,
                Reads = FigureCircuit.Ohms(ohms),
            };
        }
        List<FigureRow> rows =
        [
            Row("both ends there", "The ends and the lines to them are whole. It says nothing of the modules' supplies."),
            Row(
                "one end lost, or a line to it",
                "Unplug the end that is easiest: if the ohms do not change, that one is the lost one or its line is open.",
                "R2 open"
            ),
            Row("both ends lost", "No end is seen from here: a stub is cut off, or the wrong pins are read.", "R1 open", "R2 open"),
            Row(
                "one end too many",
                "Often inside a module of another version: unplug one module after another until it reads right.",
                string.Create(CultureInfo.InvariantCulture, $"R1 leaks {v["end"]:R}ohm")
            ),
            Row(
                "the two lines touch",
                "Nobody can talk. Halve it: unplug at a joint in the middle, read both ways.",
                "wh shorts R1.L 0.5ohm"
            ),
            Row("high line touches ground", "Ohms are as they should be; read each line to ground.", "wh grounded 0.5ohm"),
            Row("low line touches ground", "It may go on talking at the edge; read each line to ground.", "wl grounded 0.5ohm"),
            Row("high line touches the supply", "Both lines stand at the supply.", "wh to-supply 0.5ohm"),
            Row("low line touches the supply", "Both lines stand high.", "wl to-supply 0.5ohm"),
            Row(
                "a module without its supply or ground",
                "The bus is as it was, and that module is missing on it: read supply and ground at its own plug before the bus.",
                "ws open"
            ),
        ];
        return Fitted(
            new FigureResult(
                [
                    $"{rows[0].Shows[0]} with the supply off is right here; {rows[1].Shows[0]} is one end.",
                    "On a socket of 16 pins the lines are 6 and 14 (ISO 15031-3), on one of nine pins C and D (SAE J1939-13).",
                    "Supply off and a minute of rest first: a module that talks while it is measured spoils the ohms.",
                ],
                ["ohms, supply off", "high line", "low line"],
                rows
            )
            {
                Sheet = circuit.Sheet,
                More = [ToGroundAndSupply(circuit), Ladder(circuit, modules, v.Word("where") == InModules)],
            },
            v.Find(Read),
            2
        );
    }

    /// <summary>A backbone with an end at each side; the modules hang on it between, the plug to read at hangs at the first.</summary>
    private static string Sheet(double volts, int modules, double end)
    {
        var sheet = new StringBuilder();
        sheet.Append(
            $"""
            sheet "two-wire bus"
            nominal {N(volts)}V dc
            part G1 battery emf={N(volts)}V internal=10mohm
            part R1 terminator {N(end)}ohm "first end"
            part R2 terminator {N(end)}ohm "last end"
            part X1 connector 2 "plug to read at"

            """
        );
        for (var i = 1; i <= modules; i++)
            sheet.Append($"part SH{i} splice\npart SL{i} splice\n");
        for (var i = 1; i <= modules; i++)
            sheet.Append($"part A{i} module\n  supply 1 ground 2\n  bus 3,4 traffic={5.0 / modules:0.##}%\n");
        // Two chains from end to end.
        sheet.Append($"path R1.H -[wh]- {string.Join(" - ", Enumerable.Range(1, modules).Select(i => $"SH{i}"))} -[wj]- R2.H\n");
        sheet.Append($"path R1.L -[wl]- {string.Join(" - ", Enumerable.Range(1, modules).Select(i => $"SL{i}"))} -[wk]- R2.L\n");
        sheet.Append("path SH1 -[wx]- X1:1\npath SL1 -[wy]- X1:2\n");
        for (var i = 1; i <= modules; i++)
            sheet.Append(
                $"path G1.+ {(i == modules ? "-[ws]-" : "-")} A{i}.1\npath A{i}.2 - G1.-\npath A{i}.3 - SH{i}\npath A{i}.4 - SL{i}\n"
            );
        return sheet.ToString();
    }

    /// <summary>Each line to ground and to the supply's lead, everything off, when it touches something.</summary>
    private static FigureTable ToGroundAndSupply(FigureCircuit circuit)
    {
        FigureRow Row(string state, string follows, params string[] faults) =>
            new(
                state,
                [
                    .. new[] { "X1:1a G1.-", "X1:2a G1.-", "X1:1a G1.+", "X1:2a G1.+" }.Select(at =>
                        circuit.Read($"off G1 : ohm {at}", faults).Text
                    ),
                ],
                follows
            )
            {
                Sound = faults.Length == 0,
            };
        return new FigureTable(
            "Each line to ground and to the supply, everything off",
            "State",
            ["high to ground", "low to ground", "high to supply", "low to supply"],
            [
                Row("sound", "Kilo-ohms of the modules; much differs by maker."),
                Row("high line touches ground", "The line that touches reads the lower by what one end is.", "wh grounded 0.5ohm"),
                Row("low line touches ground", "The line that touches reads the lower by what one end is.", "wl grounded 0.5ohm"),
                Row("high line touches the supply", "Nearly nothing to the supply's lead: halve it at the joints.", "wh to-supply 0.5ohm"),
                Row("low line touches the supply", "Nearly nothing to the supply's lead: halve it at the joints.", "wl to-supply 0.5ohm"),
            ]
        );
    }

    private static FigureTable Ladder(FigureCircuit circuit, int modules, bool inModules)
    {
        List<BusStep> steps = inModules
            ?
            [
                .. Enumerable
                    .Range(1, modules)
                    .Select(i => new BusStep(
                        $"module {i}{(i == 1 || i == modules ? " with its end" : "")}",
                        [$"A{i}", .. i == 1 ? new[] { "R1" } : [], .. i == modules ? new[] { "R2" } : []]
                    )),
            ]
            :
            [
                new("the first end", ["R1"]),
                new("the last end", ["R2"]),
                .. Enumerable.Range(1, modules).Select(i => new BusStep($"module {i}", [$"A{i}"])),
            ];
        return BusLadder.Of(
            circuit.Machine,
            "X1:1a X1:2a",
            "the plug",
            steps,
            [("sound", []), ("first end lost", ["R1 open"]), ("last end lost", ["R2 open"]), ("lines touch", ["wh shorts R1.L 0.5ohm"])]
        );
    }

    public override IReadOnlyList<FigureTable> OnMachine(Machine machine, Part part, IReadOnlyList<Reading> read)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(part);
        return BusLadder.OnMachine(machine, part) is { } ladder ? [ladder] : [];
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (BusLadder.LinesOf(part) is null)
            return null;
        var ends = circuit.Parts.Where(p => p.Kind is Terminator).Select(p => p.Model.Links[0].Ohms).ToList();
        return new Dictionary<string, string>
        {
            ["volts"] = string.Create(CultureInfo.InvariantCulture, $"{circuit.NominalVolts:0.##}V"),
            ["modules"] = $"{Math.Clamp(circuit.Parts.Count(p => p.Model.Bus is not null), 1, MostModules)}",
            ["end"] = string.Create(CultureInfo.InvariantCulture, $"{(ends.Count > 0 ? ends[0] : 120):0.##}ohm"),
        };
    }

    public override string? Line(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (BusLadder.LinesOf(part) is not var (high, low))
            return null;
        return $"{FigureCircuit.Dead(circuit)} : ohm {part.Tag}.{high} {part.Tag}.{low}";
    }
}
