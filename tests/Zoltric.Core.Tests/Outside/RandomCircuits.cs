using System.Globalization;
using System.Text;

namespace Zoltric.Core.Tests.Outside;

/// <summary>
/// Random direct-current sheets with parallel, bridge and shared-return structure: loads, fuses, switches, pins and diodes among feed
/// nodes, relays whose contacts feed a second net. Wired through splices, so that lugs and shared feeds come in by themselves.
/// </summary>
internal static class RandomCircuits
{
    public static string Sheet(int seed)
    {
        var random = new Random(seed);
        var s = new StringBuilder();
        var paths = new StringBuilder();
        string F(double v) => v.ToString("0.###", CultureInfo.InvariantCulture);
        double Log(double low, double high) => low * Math.Pow(high / low, random.NextDouble());
        var volts = random.Next(2) == 0 ? 12 : 24;
        s.Append(
            CultureInfo.InvariantCulture,
            $"sheet \"random {seed}\"\nnominal {volts}V dc\ncontrol a: OFF*, ON\ncontrol b: OFF*, ON\npart G1 battery "
                + $"{volts}V internal={F(Log(5, 100))}mohm\n"
        );
        var nodes = random.Next(4, 9);
        var second = random.Next(2, 5);
        for (var i = 0; i < nodes + second; i++)
            s.Append(CultureInfo.InvariantCulture, $"part SP{i} splice\n");
        s.Append("part GND1 stud\n");
        var n = 0;
        string Wire() =>
            random.Next(3) switch
            {
                0 => " - ",
                1 => $" -[v{n}x RD {F(Log(0.5, 10))}mm2 {F(Log(0.3, 8))}m]- ".Replace("v" + n + "x ", "", StringComparison.Ordinal),
                _ => $" -[w{++n} BK {F(Log(0.5, 10))}mm2 {F(Log(0.3, 8))}m]- ",
            };
        paths.Append(CultureInfo.InvariantCulture, $"path G1.+{Wire()}SP0\npath GND1{Wire()}G1.-\n");
        var k = 0;
        void Between(string from, string to, int kind)
        {
            k++;
            var (declare, tag) = kind switch
            {
                0 => ($"part F{k} fuse {random.Next(60, 300)}A\n", $"F{k}"),
                1 => (
                    $"part S{k} switch\n  closed 1-2 when {(random.Next(2) == 0 ? "a" : "b")}={(random.Next(2) == 0 ? "ON" : "OFF")}\n",
                    $"S{k}"
                ),
                2 => ($"part X{k} connector 1\n", $"X{k}:1"),
                3 => ($"part D{k} diode\n", $"D{k}"),
                4 => ($"part H{k} lamp {volts}V {F(Log(2, 60))}W\n", $"H{k}"),
                _ => ($"part R{k} resistor {F(Log(0.8, 900))}ohm\n", $"R{k}"),
            };
            s.Append(declare);
            paths.Append(CultureInfo.InvariantCulture, $"path {from}{Wire()}{tag}{Wire()}{to}\n");
        }

        // A tree out from the feed keeps every node alive in some state; extra branches make bridges and parallels.
        for (var i = 1; i < nodes; i++)
            Between($"SP{random.Next(i)}", $"SP{i}", random.Next(6));
        for (var i = 0; i < nodes; i++)
            if (random.Next(3) > 0)
                Between($"SP{i}", "GND1", 4 + random.Next(2));
        for (var i = 0; i < nodes / 2; i++)
        {
            var (a, b) = (random.Next(nodes), random.Next(nodes));
            if (a != b)
                Between($"SP{a}", $"SP{b}", 2 + random.Next(4));
        }
        for (var i = 0; i < second; i++)
        {
            var (coil, pull) = (Log(60, 400), volts * (0.45 + 0.3 * random.NextDouble()));
            s.Append(CultureInfo.InvariantCulture, $"part K{i} relay {volts}V {F(coil)}ohm pullin={F(pull)}V\n");
            paths.Append(CultureInfo.InvariantCulture, $"path SP{random.Next(nodes)}{Wire()}K{i}.86>85{Wire()}GND1\n");
            paths.Append(
                CultureInfo.InvariantCulture,
                $"path SP0{Wire()}K{i}.30>{(random.Next(3) == 0 ? "87a" : "87")}{Wire()}SP{nodes + i}\n"
            );
            Between($"SP{nodes + i}", "GND1", 4 + random.Next(2));
            if (i > 0)
                Between($"SP{nodes + i}", $"SP{nodes + random.Next(i)}", 3 + random.Next(3));
        }
        return s.ToString() + paths;
    }
}
