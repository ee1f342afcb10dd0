using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Outside;

/// <summary>Every voltage of the demo sheets against ngspice, healthy and under every single fault: 0.1 % or 1 mV.</summary>
public class NgspiceTests(ITestOutputHelper output)
{
    public static TheoryData<string> Sheets => [.. DemoSheets.Direct];

    private const int FirstSeed = 4200;

    /// <summary>200 random circuits in three states each: 0.1 % or 1 mV, 30 mV where a diode carries.</summary>
    [Fact]
    public void Every_voltage_of_random_circuits_agrees_with_ngspice()
    {
        var (circuits, states, voltages, chatters) = (0, 0, 0, 0);
        var wrong = new List<string>();
        var gate = new Lock();
        Parallel.For(FirstSeed, FirstSeed + 200, seed =>
        {
            var circuit = DemoSheets.Read(RandomCircuits.Sheet(seed));
            var machine = new Machine(circuit);
            foreach (var text in new[] { "", "a=ON", "a=ON, b=ON" })
            {
                var setup = Core.Notation.ReadingReader.ReadSetup(circuit, text).Value!;
                var op = machine.Run(setup);
                if (op.Chattering.Count > 0)
                {
                    Interlocked.Increment(ref chatters);
                    continue;
                }
                var limit = circuit.Parts.Any(p => p.Kind is Core.Circuits.Kinds.Diode) ? 0.030 : 1e-3;
                foreach (var (terminal, (volts, moved)) in NgspiceDeck.Volts(circuit, setup.Steps, null))
                {
                    var at = terminal.IndexOfAny(['.', ':']);
                    var t = at < 0 ? new Terminal(terminal, "") : new Terminal(terminal[..at], terminal[(at + 1)..], terminal[at] == ':');
                    lock (gate)
                    {
                        voltages++;
                        if (
                            Math.Abs(op.Volts(t) - volts) > Math.Max(limit, 1e-3 * Math.Abs(volts))
                            && !wrong.Exists(w => w.StartsWith($"seed {seed} ", StringComparison.Ordinal))
                        )
                            wrong.Add(
                                string.Create(
                                    CultureInfo.InvariantCulture,
                                    $"seed {seed} [{text}] V {terminal}: {op.Volts(t):R} here, {volts:R} in ngspice (moved {moved:0.###})"
                                )
                            );
                    }
                }
                Interlocked.Increment(ref states);
            }
            Interlocked.Increment(ref circuits);
        });
        output.WriteLine(
            $"{circuits} circuits from seed {FirstSeed}, {states} states, {voltages} voltages, {chatters} states that chatter"
        );
        wrong.ShouldBeEmpty();
        states.ShouldBeGreaterThan(500);
    }

    [Theory, MemberData(nameof(Sheets))]
    public void Every_voltage_agrees_with_ngspice_healthy_and_under_every_single_fault(string sheet)
    {
        var circuit = DemoSheets.Circuit(sheet);
        var machine = new Machine(circuit);
        var setups = circuit.Functions.Select(f => FunctionSetups.SetupFor(circuit, f)!).Append(Setup.Rest).Distinct().ToList();
        var faults = FaultCatalogue
            .Suspects(machine)
            .Select(s => s.Values.Count == 0 ? s.Template : s.With(s.Values[s.Values.Count / 2]))
            .Prepend(null)
            .ToList();
        var (worst, what, count) = (0.0, "", 0);
        var chatter = 0;
        var quiet = new List<string>();
        var gate = new Lock();
        Parallel.ForEach(
            DemoSheets.Compared(faults, setups),
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount },
            x =>
            {
                var (fault, setup) = x;
                var op = machine.Run(setup, fault is null ? [] : [fault]);
                var spice = NgspiceDeck.Volts(circuit, setup.Steps, fault);
                // A fuse that goes by the strokes of a chatter here may outlast the run there, where it averages over a tenth of a second.
                if (op.Chattering.Count > 0 || op.BlewWhileChattering && spice.Values.Any(v => v.Moved > 0.5))
                {
                    // Nothing settles here, and so it must be there.
                    lock (gate)
                        if (!spice.Values.Any(v => v.Moved > 0.5))
                            quiet.Add($"{setup} with {fault}");
                    Interlocked.Increment(ref chatter);
                    return;
                }
                foreach (var (terminal, (volts, _)) in spice)
                {
                    var at = terminal.IndexOfAny(['.', ':']);
                    var t = at < 0 ? new Terminal(terminal, "") : new Terminal(terminal[..at], terminal[(at + 1)..], terminal[at] == ':');
                    var excess = Math.Abs(op.Volts(t) - volts) / Math.Max(1e-3, 1e-3 * Math.Abs(volts));
                    lock (gate)
                    {
                        count++;
                        if (excess > worst)
                            (worst, what) = (
                                excess,
                                string.Create(
                                    CultureInfo.InvariantCulture,
                                    $"{setup} : V {terminal} with {fault?.ToString() ?? "nothing wrong"}: {op.Volts(t):R} here, "
                                        + $"{volts:R} in ngspice"
                                )
                            );
                    }
                }
            }
        );
        output.WriteLine(
            $"{sheet}: {faults.Count - 1} faults, {setups.Count} states, {count} voltages, {chatter} machines that chatter, "
                + $"worst {worst:0.000} of the tolerance: {what}"
        );
        worst.ShouldBeLessThan(1, what);
        count.ShouldBeGreaterThan(DemoSheets.Whole ? 10_000 : 2_500);
        quiet.ShouldBeEmpty("said to chatter here, at rest in ngspice");
    }
}
