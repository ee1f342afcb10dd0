using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>
/// Processor seconds of the work alone, compiled and warm, for <see cref="Compare"/>: a process that solves for a tenth of a second and
/// compiles for one and a half would measure the compiler.
/// </summary>
internal static class Pace
{
    private const int Passes = 60;

    /// <summary>What the last work took, seconds; null when nothing was measured.</summary>
    public static double? Seconds { get; private set; }

    /// <summary>Every single wire fault of a loom of so many parts, as in <see cref="SolverSpeed"/>, sixty times over.</summary>
    public static void Solver(int parts)
    {
        var circuit = SheetReader.Read(LargeCircuits.Sheet(parts)).Value!;
        var machine = new Machine(circuit);
        var setup = ReadingReader.ReadSetup(circuit, "a=ON").Value!;
        var faults = LargeCircuits.WireFaults(circuit);
        var sum = 0.0;
        void Pass()
        {
            foreach (var fault in faults)
            {
                var op = machine.Run(setup, [fault]);
                sum += op.Volts(op.Nodes - 1);
            }
        }
        Measure(Pass, Passes);
        Console.WriteLine(sum.ToString("R", CultureInfo.InvariantCulture));
    }

    /// <summary>The first advice on a sheet, nothing known of the circuit, fifteen times over.</summary>
    public static void Advice(string file)
    {
        var circuit = SheetReader.Read(File.ReadAllText(file)).Value!;
        var first = circuit.Functions[0];
        var complaint = ReadingReader.Read(circuit, $"{FunctionSetups.SetupFor(circuit, first)} : sees \"{first.Name}\" = dead").Value!;
        Measure(() => Diagnostician.Diagnose(new FaultSpace(new Machine(circuit)), [complaint]), Passes / 4);
    }

    private static void Measure(Action work, int passes)
    {
        for (var i = 0; i < 5; i++)
            work();
        GC.Collect();
        var before = Environment.CpuUsage.TotalTime;
        for (var i = 0; i < passes; i++)
            work();
        Seconds = (Environment.CpuUsage.TotalTime - before).TotalSeconds;
    }
}
