using System.Diagnostics;
using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Exchange;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>
/// Microseconds per single fault, all nodes, machines settled: this solver, the same runs with every solution factored
/// anew, and ngspice with <c>alter</c> and <c>op</c> in one process on the exported netlist with the same switching model.
/// </summary>
internal static class SolverSpeed
{
    /// <summary>Faults put to ngspice: fewer for large circuits, where it takes seconds for each.</summary>
    private static int SpiceFaults(int parts) => parts > 600 ? 8 : 60;

    public static void Run(int[] sizes)
    {
        if (sizes.Length == 0)
            sizes = [60, 300, 1200];
        var seen = new List<(int Parts, double Own)>();
        foreach (var size in sizes)
        {
            var circuit = SheetReader.Read(LargeCircuits.Sheet(size)).Value!;
            var machine = new Machine(circuit);
            var setup = ReadingReader.ReadSetup(circuit, "a=ON").Value!;
            var faults = LargeCircuits.WireFaults(circuit);
            // Compiled and warm; standing states of a first pass are kept, as they are in use.
            for (var i = 0; i < 3; i++)
                foreach (var f in faults.Take(400))
                    machine.Run(setup, [f]);
            GC.Collect();
            var before = GC.GetTotalMemory(true);
            var watch = Stopwatch.StartNew();
            var (sum, switched) = (0.0, 0);
            var healthy = machine.Run(setup);
            foreach (var f in faults)
            {
                var op = machine.Run(setup, [f]);
                sum += op.Volts(op.Nodes - 1);
                if (op.StateKey != healthy.StateKey)
                    switched++;
            }
            var own = watch.Elapsed.TotalMicroseconds / faults.Count;
            var memory = (GC.GetTotalMemory(false) - before) / 1e6;
            var fresh = Fresh(circuit, setup, faults);
            var (spice, worst, compared, asked) = Spice(machine, setup, faults);
            seen.Add((circuit.Parts.Count, own));
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{circuit.Parts.Count} parts, {healthy.Nodes} nodes, {faults.Count} faults, {switched} of them change a "
                        + $"relay: {own:0.0} µs a fault; a fresh factor each time {fresh:0} µs ({fresh / own:0.0}×); ngspice "
                        + $"{spice:0} µs ({spice / own:0}×); {memory:0.0} MB kept; worst difference {worst:0.0e0} V over {compared} "
                        + $"of {asked} faults"
                )
            );
        }
        for (var i = 1; i < seen.Count; i++)
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"growth from {seen[i - 1].Parts} to {seen[i].Parts} parts: exponent "
                        + $"{Math.Log(seen[i].Own / seen[i - 1].Own) / Math.Log((double)seen[i].Parts / seen[i - 1].Parts):0.00}"
                )
            );
    }

    /// <summary>The same runs with every solution factored anew.</summary>
    private static double Fresh(Circuit circuit, Setup setup, List<Fault> faults)
    {
        var machine = new Machine(circuit) { FactorsEachTime = true };
        var some = faults.Where((_, i) => i % Math.Max(1, faults.Count / 300) == 0).ToList();
        machine.Run(setup, [some[0]]);
        var watch = Stopwatch.StartNew();
        foreach (var f in some)
            machine.Run(setup, [f]);
        return watch.Elapsed.TotalMicroseconds / some.Count;
    }

    /// <summary>Time a fault beyond a run that only loads and solves once, and the largest difference in volts from this solver.</summary>
    private static (double Microseconds, double Worst, int Compared, int Asked) Spice(Machine machine, Setup setup, List<Fault> faults)
    {
        var elements = new Dictionary<string, string>();
        var deck = SpiceNetlist.Write(machine, setup, elements, plain: true);
        var most = SpiceFaults(machine.Circuit.Parts.Count);
        var step = Math.Max(1, faults.Count / most);
        var chosen = faults.Where((_, i) => i % step == 0).Take(most).ToList();
        var probe = machine.Circuit.Parts.Where(p => p.Kind.Word == "lamp").Select(p => new Terminal(p.Tag, "1")).ToList();
        var nodes = probe.Select(t => SpiceNetlist.NodeOf(machine, setup, t)).ToList();
        string Commands(bool print, int count)
        {
            var s = new StringBuilder(".control\nop\n");
            foreach (var f in chosen.Take(count))
            {
                if (print)
                    s.Append("echo fault-\n");
                var ohms = machine.Circuit.FindWire(f.Target)!.Ohms;
                s.Append(
                    CultureInfo.InvariantCulture,
                    $"alter {elements[f.Target]} = {(f.Kind == FaultKind.Open ? 1e9 : ohms + f.Value!.Value):R}\nop\n"
                );
                if (print)
                    foreach (var n in nodes)
                        s.Append(CultureInfo.InvariantCulture, $"print v({n})\n");
                s.Append(CultureInfo.InvariantCulture, $"alter {elements[f.Target]} = {ohms:R}\n");
            }
            return s.Append("quit 0\n.endc\n.end\n").ToString();
        }

        var body = deck[..deck.LastIndexOf(".op", StringComparison.Ordinal)];
        Ask(body + Commands(false, 0));
        var watch = Stopwatch.StartNew();
        Ask(body + Commands(false, 0));
        var empty = watch.Elapsed;
        watch.Restart();
        Ask(body + Commands(false, chosen.Count));
        var full = watch.Elapsed;
        // Each fault's prints stand behind its own marker. Where "op" finds no solution ngspice prints nothing new, and where the state
        // depends on what went before (a sagging feed that lets some relays in and not others) a run without history may rest elsewhere:
        // both are counted.
        var blocks = Ask(body + Commands(true, chosen.Count)).Split("fault-").Skip(1).ToList();
        var (worst, compared) = (0.0, 0);
        for (var i = 0; i < chosen.Count; i++)
        {
            if (machine.DependsOnHistory(setup, [chosen[i]]).Count > 0)
                continue;
            var printed = blocks[i]
                .Split('\n')
                .Select(l => l.Split(" = "))
                .Where(p => p.Length == 2 && p[0].StartsWith("v(", StringComparison.Ordinal))
                .Select(p => double.Parse(p[1], CultureInfo.InvariantCulture))
                .ToList();
            if (printed.Count != nodes.Count || blocks[i].Contains("failed", StringComparison.Ordinal))
                continue;
            compared++;
            var op = machine.Run(setup, [chosen[i]]);
            for (var k = 0; k < probe.Count; k++)
                worst = Math.Max(worst, Math.Abs(op.Volts(probe[k]) - printed[k]));
        }
        return ((full - empty).TotalMicroseconds / chosen.Count, worst, compared, chosen.Count);
    }

    private static string Ask(string deck)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, deck);
            using var process = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
            ) ?? throw new InvalidOperationException("ngspice did not start");
            var error = process.StandardError.ReadToEndAsync();
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            return output.Contains("v(", StringComparison.Ordinal) || output.Length > 0 ? output : output + error.Result;
        }
        finally
        {
            File.Delete(file);
        }
    }
}
