using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>Time from a new reading to the next test, cold (nothing computed yet) and warm.</summary>
internal static class AdviceSpeed
{
    private static double Lanes(FaultSpace space, Findings findings)
    {
        LaneMarks.Mark(space, findings);
        var watch = Stopwatch.StartNew();
        LaneMarks.Mark(space, findings);
        return watch.Elapsed.TotalMilliseconds;
    }

    public static void Run(string[] files)
    {
        foreach (var file in files)
        {
            var circuit = SheetReader.Read(File.ReadAllText(file)).Value!;
            var first = circuit.Functions[0];
            var complaint = ReadingReader.Read(circuit, $"{FunctionSetups.SetupFor(circuit, first)} : sees \"{first.Name}\" = dead").Value!;
            for (var round = 0; round < 3; round++)
            {
                var space = new FaultSpace(new Machine(circuit));
                var watch = Stopwatch.StartNew();
                var cold = Diagnostician.Diagnose(space, [complaint]);
                var coldMs = watch.Elapsed.TotalMilliseconds;
                for (var i = 0; i < 5; i++)
                    Diagnostician.Diagnose(space, [complaint]);
                watch.Restart();
                var warm = Diagnostician.Diagnose(space, [complaint]);
                Console.WriteLine(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{Path.GetFileName(file)}: {circuit.Parts.Count} parts, {space.Suspects.Count} suspects; cold "
                            + $"{coldMs:0} ms, warm {watch.Elapsed.TotalMilliseconds:0} ms; lanes {Lanes(space, warm):0} ms; first "
                            + $"{cold.Next[0].Test}"
                    )
                );
            }
        }
    }

    /// <summary>
    /// Next test on looms of many parts: the first after a complaint (cold), one more reading in the same setup (warm), and the same two on
    /// a machine that solves every fault afresh. Cold means that nothing is known of the circuit; the code has been compiled on a small one
    /// before.
    /// </summary>
    public static void Large(int[] sizes)
    {
        foreach (var size in sizes.Length == 0 ? [60, 300, 1200] : sizes.Prepend(60))
        {
            var text = LargeCircuits.Sheet(size);
            var last = (size - 3 + 8) / 9;
            text +=
                $"function \"lamp lights\": H{last} when a=ON\nfunction \"first lamp lights\": H1 when a=ON\nfunction \"valve "
                + $"opens\": Y{last} when a=ON\n";
            var circuit = SheetReader.Read(text).Value!;
            List<Core.Circuits.Reading> Lines(params string[] lines) => [.. lines.Select(l => ReadingReader.Read(circuit, l).Value!)];
            var one = Lines("a=ON : sees \"lamp lights\" = dead");
            var two = Lines("a=ON : sees \"lamp lights\" = dead", "a=ON : sees \"first lamp lights\" = works");
            var three = Lines(
                "a=ON : sees \"lamp lights\" = dead",
                "a=ON : sees \"first lamp lights\" = works",
                $"a=ON : V F{last}.2 = 24V"
            );
            foreach (var afresh in size == 300 ? new[] { false, false, true } : [false])
            {
                var watch = Stopwatch.StartNew();
                var space = new FaultSpace(new Machine(circuit) { FactorsEachTime = afresh });
                double Next()
                {
                    var ms = watch.Elapsed.TotalMilliseconds;
                    watch.Restart();
                    return ms;
                }
                var made = Next();
                Diagnostician.Diagnose(space, one);
                var cold = Next();
                Diagnostician.Diagnose(space, two);
                var warm = Next();
                var f = Diagnostician.Diagnose(space, three);
                var warmer = Next();
                Console.WriteLine(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{circuit.Parts.Count} parts, {space.Suspects.Count} "
                            + $"suspects{(afresh ? ", every fault afresh" : "")}: space {made:0} ms, cold {cold:0} ms, next reading "
                            + $"{warm:0} ms, next {warmer:0} ms; order {f.Next[0].Test}"
                    )
                );
            }
        }
    }
}
