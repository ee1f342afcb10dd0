using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;

namespace Zoltric.Bench;

/// <summary>
/// Circuits of any size in the shape of a machine's loom: a feed rail and a return rail of splices with wire between, and along them blocks
/// of a fuse, a switch, a connector, a relay, two loads on its contact and a third across the rails.
/// </summary>
internal static class LargeCircuits
{
    /// <summary>Every wire open, and with 3 and 40 Ω more.</summary>
    public static List<Fault> WireFaults(Circuit circuit) =>
        [
            .. circuit.Wires.SelectMany(w =>
                new[]
                {
                    new Fault(w.Id, "open"),
                    new Fault(w.Id, "resists", 3, Dimension.Ohm),
                    new Fault(w.Id, "resists", 40, Dimension.Ohm),
                }
            ),
        ];

    /// <param name="parts">Parts wanted; the circuit has at least as many.</param>
    public static string Sheet(int parts)
    {
        var random = new Random(parts);
        var s = new StringBuilder();
        var paths = new StringBuilder();
        string Wire(double mm2) =>
            string.Create(CultureInfo.InvariantCulture, $" -[w{++_wire} RD {mm2}mm2 {0.3 + 4 * random.NextDouble():0.##}m]- ");
        _wire = 0;
        s.Append(
            CultureInfo.InvariantCulture,
            $"sheet \"loom of {parts}\"\nnominal 24V dc\ncontrol a: OFF*, ON\npart G1 battery 24V internal=5mohm\npart SP0 "
                + $"splice\npart GN0 stud\n"
        );
        paths.Append(CultureInfo.InvariantCulture, $"path G1.+{Wire(120)}SP0\npath GN0{Wire(120)}G1.-\n");
        for (int i = 1, n = 3; n < parts; i++, n += 9)
        {
            s.Append(
                CultureInfo.InvariantCulture,
                $"""
                part SP{i} splice
                part GN{i} stud
                part F{i} fuse 20A
                part S{i} switch
                  closed 1-2 when a=ON
                part X{i} connector 2
                part K{i} relay 24V {200 + 200 * random.NextDouble():0}ohm
                part H{i} lamp 24V {1 + 4 * random.NextDouble():0.#}W
                part Y{i} coil 24V {150 + 300 * random.NextDouble():0.#}ohm
                part R{i} resistor {300 + 900 * random.NextDouble():0}ohm

                """
            );
            var before = random.Next(Math.Max(0, i - 12), i);
            paths.Append(
                CultureInfo.InvariantCulture,
                $"""
                path SP{before}{Wire(95)}SP{i}
                path GN{i}{Wire(95)}GN{before}
                path SP{i}{Wire(2.5)}F{i}{Wire(1.5)}S{i}{Wire(1)}X{i}:1{Wire(1)}K{i}.86>85{Wire(1)}GN{i}
                path F{i}.2{Wire(2.5)}K{i}.30>87{Wire(1.5)}X{i}:2{Wire(1.5)}H{i}{Wire(1.5)}GN{i}
                path X{i}:2b{Wire(1.5)}Y{i}{Wire(1.5)}GN{before}
                path SP{i}{Wire(1)}R{i}{Wire(1)}GN{i}

                """
            );
        }
        return s.ToString() + paths;
    }

    private static int _wire;
}
