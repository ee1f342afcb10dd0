using System.Diagnostics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;

namespace Zoltric.Instruments.Tests;

/// <summary>A small machine of round numbers, and programs of others.</summary>
internal static class Bench
{
    /// <summary>12 V without inner resistance, a switch, a load of 6 Ω: half a volt is lost in each of two resistances of 0.25 Ω.</summary>
    private const string Sheet = """
        sheet "two wires and a lamp"
        nominal 12V dc
        control key: OFF*, ON
        part G1 battery emf=13V internal=1mohm
        part S1 switch "key"
          closed 1-2 when key=ON
        part R1 resistor 6ohm "load"
        part R2 resistor 0.25ohm "feed"
        part R3 resistor 0.25ohm "return"
        path G1.+ -[w1]- R2 -[w2]- S1 -[w3]- R1 -[w4]- R3 -[w5]- G1.-
        function "load": R1 when key=ON
        """;

    public static Machine Machine { get; } =
        new(SheetReader.Read(Sheet).Value ?? throw new InvalidOperationException(string.Join("; ", SheetReader.Read(Sheet).Problems)));

    public static SimulatedMachine Simulated(string faults = "") =>
        new(
            Machine,
            faults.Length == 0 ? [] : FaultReader.Read(Machine.Circuit, faults).Value ?? throw new InvalidOperationException(faults)
        );

    public static Test Test(string line) => ReadingReader.Read(Machine.Circuit, line).Value!.Test;

    /// <summary>What a program prints, given this on its standard input.</summary>
    public static string Run(string program, string input, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardInput = true, RedirectStandardOutput = true }
        )!;
        process.StandardInput.Write(input);
        process.StandardInput.Close();
        var said = process.StandardOutput.ReadToEnd();
        process.WaitForExit(20_000).ShouldBeTrue($"{program} does not end");
        return said;
    }
}
