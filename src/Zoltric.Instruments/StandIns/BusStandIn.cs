using System.Globalization;
using System.Net.Sockets;
using System.Text;
using Zoltric.Core.Circuits;

namespace Zoltric.Instruments.StandIns;

/// <summary>
/// A gateway that is not there: gives out the bus of a simulated machine over a raw socket on this machine, a line a frame. One module says
/// what is active (DM1) and what is stored (DM2) once a second, in packets where it is more than one code (SAE J1939-21 and -73, from
/// memory); another sends figures between.
/// </summary>
public sealed class BusStandIn : TcpStandIn
{
    private const byte Module = 0x00,
        Other = 0x17;

    private const int Active = 0xFECA,
        Stored = 0xFECB;

    /// <summary>Between two frames that only carry figures.</summary>
    private static readonly TimeSpan Figures = TimeSpan.FromMilliseconds(100);

    /// <summary>Between two packets of one message: 50 to 200 ms by the standard.</summary>
    private static readonly TimeSpan Packets = TimeSpan.FromMilliseconds(50);

    private readonly Func<IReadOnlyList<(string Code, Answer State)>?> _says;

    /// <param name="says">What the module says just now; null where it is without power, and the bus silent.</param>
    /// <param name="port">0 for any that is free.</param>
    public BusStandIn(Func<IReadOnlyList<(string Code, Answer State)>?> says, int port = 0)
        : base(port)
    {
        _says = says;
        Begin();
    }

    protected override async Task Talk(NetworkStream stream)
    {
        ArgumentNullException.ThrowIfNull(stream);
        for (var round = 0; ; round++)
        {
            if (_says() is { } said)
            {
                await Line(stream, 0xF004, Other, [0xF0, 0xFF, 0x7D, 0x80, 0x25, 0xFF, 0xFF, 0xFF]);
                if (round % 10 == 0)
                {
                    await Say(stream, Active, [.. said.Where(s => s.State == Answer.Active).Select(s => s.Code)]);
                    await Say(stream, Stored, [.. said.Where(s => s.State == Answer.Stored).Select(s => s.Code)]);
                }
            }
            await Task.Delay(Figures, Stopped);
        }
    }

    /// <summary>One message: lamps, then four bytes a code; in packets where it does not fit into eight bytes.</summary>
    private async Task Say(NetworkStream stream, int group, string[] codes)
    {
        // The amber lamp is on while a code is active.
        var data = new List<byte> { (byte)(group == Active && codes.Length > 0 ? 0x04 : 0x00), 0xFF };
        foreach (var code in codes)
            if (code.Split('-') is [var p, var m] && int.TryParse(p, out var parameter) && int.TryParse(m, out var mode))
                data.AddRange([(byte)parameter, (byte)(parameter >> 8), (byte)(parameter >> 11 & 0xE0 | mode & 0x1F), 1]);
        if (data.Count == 2)
            data.AddRange([0, 0, 0, 0]);
        if (data.Count <= 8)
        {
            await Line(stream, group, Module, [.. data, .. Enumerable.Repeat((byte)0xFF, 8 - data.Count)]);
            return;
        }
        var packets = (data.Count + 6) / 7;
        await Line(
            stream,
            0xECFF,
            Module,
            [0x20, (byte)data.Count, (byte)(data.Count >> 8), (byte)packets, 0xFF, (byte)group, (byte)(group >> 8), 0]
        );
        for (var i = 0; i < packets; i++)
        {
            await Task.Delay(Packets, Stopped);
            var part = data.Skip(7 * i).Take(7).ToList();
            await Line(stream, 0xEBFF, Module, [(byte)(i + 1), .. part, .. Enumerable.Repeat((byte)0xFF, 7 - part.Count)]);
        }
    }

    private async Task Line(NetworkStream stream, int group, byte from, byte[] data)
    {
        var seconds = (DateTime.UtcNow - DateTime.UnixEpoch).TotalSeconds;
        var line = string.Create(CultureInfo.InvariantCulture, $"({seconds:F6}) can0 18{group:X4}{from:X2}#{Convert.ToHexString(data)}\n");
        await stream.WriteAsync(Encoding.ASCII.GetBytes(line), Stopped);
    }
}
