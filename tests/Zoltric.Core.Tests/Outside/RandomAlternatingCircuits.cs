using System.Globalization;
using System.Text;

namespace Zoltric.Core.Tests.Outside;

/// <summary>
/// Random alternating-current sheets: single, split or three-phase mains; loads between phases and to neutral, bridges between feed points,
/// stars and deltas, transformers whose secondary nets hang on one another, neutrals shared through wire.
/// </summary>
internal static class RandomAlternatingCircuits
{
    public static string Sheet(int seed)
    {
        var random = new Random(seed);
        var (s, paths) = (new StringBuilder(), new StringBuilder());
        string F(double v) => v.ToString("0.####", CultureInfo.InvariantCulture);
        double Log(double low, double high) => low * Math.Pow(high / low, random.NextDouble());
        var system = random.Next(3);
        var phases = system switch
        {
            0 => new[] { "L" },
            1 => ["L1", "L2"],
            _ => ["L1", "L2", "L3"],
        };
        s.Append(
            CultureInfo.InvariantCulture,
            $"sheet \"random ac {seed}\"\nnominal 230V ac\npart T0 mains "
                + $"{system switch { 0 => "230V", 1 => "120/240V split", _ => "400V 3ph" }} internal={F(Log(20, 300))}mohm\n"
        );
        string Wire() => $" -[{F(Log(0.5, 10))}mm2 {F(Log(0.5, 30))}m]- ";
        var points = new List<string>();
        for (var i = 0; i < 3 + random.Next(4); i++)
        {
            s.Append(CultureInfo.InvariantCulture, $"part SP{i} splice\n");
            paths.Append(
                CultureInfo.InvariantCulture,
                $"path {(i < phases.Length ? "T0." + phases[i] : points[random.Next(points.Count)])}{Wire()}SP{i}\n"
            );
            points.Add($"SP{i}");
        }
        s.Append("part SPN splice\n");
        paths.Append(CultureInfo.InvariantCulture, $"path SPN{Wire()}T0.N\n");
        var k = 0;
        void Load(string from, string to)
        {
            s.Append(CultureInfo.InvariantCulture, $"part R{++k} resistor {F(Log(5, 2000))}ohm\n");
            paths.Append(CultureInfo.InvariantCulture, $"path {from}{Wire()}R{k}{Wire()}{to}\n");
        }

        string Any() => points[random.Next(points.Count)];
        for (var i = 0; i < 5; i++)
            Load(Any(), random.Next(2) == 0 ? "SPN" : "SP0");
        for (var i = 0; i < 3; i++)
            if (Any() is var a && Any() is var b && a != b)
                Load(a, b);
        if (phases.Length == 3)
            foreach (var shape in new[] { "star", "delta" })
            {
                s.Append(CultureInfo.InvariantCulture, $"part E{++k} heater3 400V {F(Log(1, 20))}kW {shape}\n");
                foreach (var (phase, end) in new[] { ("SP0", "U"), ("SP1", "V"), ("SP2", "W") })
                    paths.Append(CultureInfo.InvariantCulture, $"path {phase}{Wire()}E{k}.{end}\n");
            }
        for (var i = 0; i < 1 + random.Next(2); i++)
        {
            var t = ++k;
            s.Append(
                CultureInfo.InvariantCulture,
                $"part T{t} transformer {(random.Next(2) == 0 ? "230V:24V" : "400V:110V")} {F(Log(50, 1000))}VA\npart SA{t} "
                    + $"splice\npart SB{t} splice\n"
            );
            paths.Append(
                CultureInfo.InvariantCulture,
                $"path {Any()}{Wire()}T{t}.P1\npath T{t}.P2{Wire()}SPN\npath T{t}.S1{Wire()}SA{t}\npath T{t}.S2{Wire()}SB{t}\n"
            );
            // The secondary has one point in common with the rest, as a control circuit has.
            paths.Append(CultureInfo.InvariantCulture, $"path SB{t}{Wire()}{(random.Next(2) == 0 ? "T0.PE" : "SPN")}\n");
            Load($"SA{t}", $"SB{t}");
            Load($"SA{t}", $"SB{t}");
        }
        return s.ToString() + paths;
    }
}
