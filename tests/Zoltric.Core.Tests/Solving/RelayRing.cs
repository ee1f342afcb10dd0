using System.Globalization;
using System.Text;

namespace Zoltric.Core.Tests.Solving;

/// <summary>A machine that never comes to rest.</summary>
internal static class RelayRing
{
    /// <summary>Relays in a ring, each fed by the one before, every other by its resting contact.</summary>
    public static string Sheet(int relays)
    {
        var s = new StringBuilder("sheet \"Ring\"\nnominal 12V dc\ncontrol go: OFF*, ON\npart G1 battery 12V\npart F1 fuse 30A\n");
        s.Append("part S1 switch\n  closed 1-2 when go=ON\npart H1 lamp 12V 5W\npath G1.+ - F1 - S1 - H1 - G1.-\n");
        for (var i = 0; i < relays; i++)
            s.Append(CultureInfo.InvariantCulture, $"part K{i} relay 12V 85ohm\n");
        for (var i = 0; i < relays; i++)
            s.Append(CultureInfo.InvariantCulture, $"path S1.2 - K{i}.30>87{(i % 2 == 0 ? "a" : "")} - K{(i + 1) % relays}.86>85 - G1.-\n");
        return s.Append("function \"lamp lights\": H1 when go=ON\n").ToString();
    }
}
