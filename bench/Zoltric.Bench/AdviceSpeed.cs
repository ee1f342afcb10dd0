using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>Time from a new reading to the next test, cold (nothing computed yet) and warm.</summary>
internal static class AdviceSpeed
{
    private static double Lanes(FaultSpace space, Findings findings)
    {
        LaneMarks.Of(space, findings);
        var watch = Stopwatch.StartNew();
        LaneMarks.Of(space, findings);
        return watch.Elapsed.TotalMilliseconds;
    }

    public static void Run(string[] files)
    {
        foreach (var file in files)
        {
            var circuit = SheetReader.Read(File.ReadAllText(file)).Value!;
            var first = circuit.Functions[0];
            var complaint = ReadingReader.Read(circuit, $"{Core.Metering.FunctionState.SetupFor(circuit, first)} : sees \"{first.Name}\" = dead").Value!;
            for (var round = 0; round < 3; round++)
            {
                var space = new FaultSpace(new Machine(circuit));
                var watch = Stopwatch.StartNew();
                var cold = Diagnostician.Diagnose(space, [complaint]);
                var coldMs = watch.Elapsed.TotalMilliseconds;
                for (var i = 0; i < 5; i++) Diagnostician.Diagnose(space, [complaint]);
                watch.Restart();
                var warm = Diagnostician.Diagnose(space, [complaint]);
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{Path.GetFileName(file)}: {circuit.Parts.Count} parts, {space.Suspects.Count} suspects; cold {coldMs:0} ms, warm {watch.Elapsed.TotalMilliseconds:0} ms; lanes {Lanes(space, warm):0} ms; first {cold.Next[0].Test}"));
            }
        }
    }
}
