using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Exchange;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Outside;

/// <summary>
/// The netlist as the application writes it, run by ngspice as it stands: every demo sheet in every function's state, healthy and under
/// every single fault. Relays and modules are switches that ngspice settles for itself from where they were settled here, so a state that
/// does not hold falls apart there; on alternating current each coil's volts are held against its pull-in and drop-out instead.
/// </summary>
public partial class ExportedNetlistTests(ITestOutputHelper output)
{
    public static TheoryData<string> Sheets => [.. DemoSheets.All];

    [GeneratedRegex("traffic=[0-9.]+%")]
    private static partial Regex TrafficWords();

    [Theory, MemberData(nameof(Sheets))]
    public void Every_node_of_the_exported_netlist_is_as_computed_here(string sheet) => Compare(sheet, DemoSheets.Text(sheet), 5_000);

    /// <summary>The small circuits of docs/conformance.md, with the kinds that the demo has not: what pulses stands still for it.</summary>
    [Theory]
    [InlineData("one")]
    [InlineData("four")]
    [InlineData("five")]
    [InlineData("six")]
    [InlineData("ten")]
    [InlineData("eleven")]
    [InlineData("seven")]
    [InlineData("twelve")]
    [InlineData("thirteen")]
    public void Every_node_of_the_conformance_circuits_is_as_computed_here(string name)
    {
        var page = File.ReadAllText(Path.Combine(DemoSheets.Root, "docs", "conformance.md"));
        var from = page.IndexOf($"sheet \"{name}\"", StringComparison.Ordinal);
        Compare(name, PulsedWords().Replace(page[from..page.IndexOf("```", from, StringComparison.Ordinal)], ""), 100);
    }

    [GeneratedRegex(" pulsed [0-9.]+%")]
    private static partial Regex PulsedWords();

    private void Compare(string sheet, string text, int fewest)
    {
        // Bus wires are compared at rest; their mean under traffic has a test of its own.
        var circuit = DemoSheets.Read(TrafficWords().Replace(text, "traffic=0%"));
        var machine = new Machine(circuit);
        var setups = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f)! with { AfterSeconds = 0 })
            .Append(Setup.Rest)
            .Distinct()
            .ToList();
        var faults = FaultCatalogue
            .Suspects(machine)
            .Select(s => s.Values.Count == 0 ? s.Template : s.With(s.Values[s.Values.Count / 2]))
            .Prepend(null)
            .ToList();
        // Of a machine with both, the alternating side is compared.
        var ac = circuit.Parts.Any(p => p.Kind.IsMains);
        var diodes = circuit.Parts.Any(p => p.Kind is Core.Circuits.Kinds.Diode);
        var (worst, what, count, chatter, moved) = (0.0, "", 0, 0, 0);
        var gate = new Lock();
        var runs = DemoSheets.Compared(faults, setups);
        Parallel.ForEach(runs, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, x =>
        {
            var (fault, setup) = x;
            var own = fault is null ? Array.Empty<Fault>() : [fault];
            var op = machine.Run(setup, own);
            // What never rests has no operating point to compare.
            if (op.Chattering.Count > 0)
            {
                Interlocked.Increment(ref chatter);
                return;
            }
            if (op.Blown.Count > 0)
                Interlocked.Increment(ref moved);
            var spice = Ngspice(SpiceNetlist.Write(machine, setup, null, own), ac);
            var names = SpiceNetlist.NodesOf(op);
            foreach (var part in circuit.Parts)
            foreach (var name in part.Model.Terminals)
            {
                var t = new Terminal(part.Tag, name, part.Kind is Core.Circuits.Kinds.PinRow);
                var node = op.Node(t);
                if (node < 0 || !spice.TryGetValue(names[node].ToLowerInvariant(), out var there))
                    continue;
                var here = ac ? op.AcVolts(node, -1) : op.Volts(node);
                var excess = (here - there).Magnitude / Math.Max(diodes ? 0.03 : 1e-3, 1e-3 * there.Magnitude);
                lock (gate)
                {
                    count++;
                    if (excess > worst)
                        (worst, what) = (
                            excess,
                            string.Create(
                                CultureInfo.InvariantCulture,
                                $"{setup} : V {t} with {fault?.ToString() ?? "nothing wrong"}: {here} here, {there} in ngspice"
                            )
                        );
                }
            }
            if (!ac)
                return;
            for (var p = 0; p < circuit.Parts.Count; p++)
            {
                if (circuit.Parts[p].Model.Coil is not { } coil || own.Any(f => f.Target == circuit.Parts[p].Tag))
                    continue;
                var link = circuit.Parts[p].Model.Links[coil.Link];
                if (Nets.Of(circuit).FunctionAt(new Terminal(circuit.Parts[p].Tag, link.A)) != VoltsFunction.Ac)
                    continue;
                // A point inside a motor is its common, but for a fault of that.
                Complex At(string name) =>
                    op.Node(new Terminal(circuit.Parts[p].Tag, circuit.Parts[p].Model.Terminals.Contains(name) ? name : "C"))
                        is >= 0
                            and var n
                        ? spice[names[n].ToLowerInvariant()]
                        : 0;
                var each = coil.Links.Select(l => circuit.Parts[p].Model.Links[l]).Select(l => (At(l.A) - At(l.B)).Magnitude);
                var volts = coil.Weakest ? each.Min() : each.Max();
                if (coil.PullLink is { } pull && !op.PulledIn(p))
                    volts = circuit.Parts[p].Model.Links[pull] is var w ? (At(w.A) - At(w.B)).Magnitude : 0;
                var order = coil.Links.Take(2).Select(l => circuit.Parts[p].Model.Links[l]).Select(l => At(l.A) - At(l.B)).ToList();
                if (coil.InOrder && !Phases.TurnRight(order[0], order[1]))
                    volts = 0;
                // Held above drop-out, at rest below pull-in.
                lock (gate)
                    if (op.PulledIn(p) ? volts < coil.DropOutVolts * 0.999 : volts > coil.PullInVolts * 1.001)
                        (worst, what) = (99, $"{setup} : {circuit.Parts[p].Tag} at {volts} V with {fault}");
            }
        });
        output.WriteLine(
            $"{sheet}: {faults.Count - 1} faults, {setups.Count} states, {count} voltages, {chatter} machines that chatter, "
                + $"{moved} with a fuse gone, worst {worst:0.000} of the tolerance: {what}"
        );
        worst.ShouldBeLessThan(1, what);
        count.ShouldBeGreaterThan(DemoSheets.Whole ? fewest : fewest / 5);
    }

    private const int FirstSeed = 7100;

    /// <summary>100 random alternating circuits, healthy and with one fault each: 0.1 % or 1 mV against an ngspice AC analysis.</summary>
    [Fact]
    public void Random_alternating_circuits_agree_with_an_ngspice_AC_analysis()
    {
        var (count, worst, what) = (0, 0.0, "");
        var gate = new Lock();
        Parallel.For(FirstSeed, FirstSeed + 100, seed =>
        {
            var circuit = DemoSheets.Read(RandomAlternatingCircuits.Sheet(seed));
            var machine = new Machine(circuit);
            var faults = FaultCatalogue.Suspects(machine);
            var one = faults[new Random(seed).Next(faults.Count)];
            foreach (var own in new Fault[][] { [], [one.Values.Count == 0 ? one.Template : one.With(one.Values[0])] })
            {
                var op = machine.Run(Setup.Rest, own);
                var names = SpiceNetlist.NodesOf(op);
                var spice = Ngspice(SpiceNetlist.Write(machine, Setup.Rest, null, own), true);
                for (var n = 0; n < names.Count; n++)
                {
                    if (!spice.TryGetValue(names[n].ToLowerInvariant(), out var there))
                        continue;
                    var excess = (op.AcVolts(n, -1) - there).Magnitude / Math.Max(1e-3, 1e-3 * there.Magnitude);
                    lock (gate)
                    {
                        count++;
                        if (excess > worst)
                            (worst, what) = (
                                excess,
                                $"seed {seed}, {string.Join(" + ", own.AsEnumerable())}: {names[n]} {op.AcVolts(n, -1)} here, "
                                    + $"{there} in ngspice"
                            );
                    }
                }
            }
        });
        output.WriteLine($"100 circuits from seed {FirstSeed}, {count} phasors, worst {worst:0.000} of the tolerance: {what}");
        worst.ShouldBeLessThan(1, what);
        count.ShouldBeGreaterThan(5_000);
    }

    private static Dictionary<string, Complex> Ngspice(string netlist, bool ac)
    {
        var dir = Directory.CreateTempSubdirectory("zoltric-net");
        try
        {
            var (file, data) = (Path.Combine(dir.FullName, "net.cir"), Path.Combine(dir.FullName, "out.txt"));
            File.WriteAllText(
                file,
                netlist.Replace(".end\n", $".control\nrun\nprint all > {data}\nquit 0\n.endc\n.end\n", StringComparison.Ordinal)
            );
            using var process = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
            ) ?? throw new InvalidOperationException("ngspice did not start");
            var error = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
            var said = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            var found = new Dictionary<string, Complex>();
            foreach (var line in File.Exists(data) ? File.ReadAllLines(data) : [])
            {
                var p = line.Split(" = ");
                if (p.Length != 2)
                    continue;
                var parts = p[1].Split(',');
                if (double.TryParse(parts[0], CultureInfo.InvariantCulture, out var re))
                    found[p[0].Trim().ToLowerInvariant()] = new Complex(
                        re,
                        ac && parts.Length > 1 ? double.Parse(parts[1], CultureInfo.InvariantCulture) : 0
                    );
            }
            return found.Count > 0
                ? found
                : throw new InvalidOperationException($"ngspice gave no data:\n{said}\n{error.Result}\n{netlist}");
        }
        finally
        {
            dir.Delete(true);
        }
    }
}
