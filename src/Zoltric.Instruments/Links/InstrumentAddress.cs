using System.Globalization;
using System.IO.Ports;
using System.Net;
using System.Net.Sockets;

namespace Zoltric.Instruments.Links;

/// <summary>
/// Where an instrument is: <c>192.168.4.20:5025</c>, a host and port of this network, or <c>/dev/ttyUSB0@9600</c>, a serial port and its
/// speed.
/// </summary>
public abstract record InstrumentAddress
{
    /// <summary>Port of SCPI over a raw socket where none is said; registered as scpi-raw with IANA.</summary>
    public const int ScpiPort = 5025;

    private const int UsualSpeed = 9600;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    public sealed record Tcp(IPAddress Host, int Port) : InstrumentAddress
    {
        public override string ToString() => new IPEndPoint(Host, Port).ToString();
    }

    public sealed record Serial(string Port, int Speed) : InstrumentAddress
    {
        public override string ToString() => $"{Port}@{Speed}";
    }

    /// <summary>Reads an address; the reason in words where it is none.</summary>
    public static (InstrumentAddress? Address, string? Why) Read(string? text)
    {
        text = text?.Trim() ?? "";
        if (text.StartsWith("/dev/", StringComparison.Ordinal))
            return SerialOf(text);
        var colon = text.LastIndexOf(':');
        var (host, port) = colon > 0 ? (text[..colon], text[(colon + 1)..]) : (text, $"{ScpiPort}");
        if (!IPAddress.TryParse(host, out var ip))
            return (null, $"“{text}” is no address: write the numbers the meter shows, such as 192.168.4.20:{ScpiPort}.");
        if (!int.TryParse(port, NumberStyles.None, CultureInfo.InvariantCulture, out var number) || number is < 1 or > 65535)
            return (null, $"“{port}” is no port: 1 to 65535, {ScpiPort} on most meters.");
        if (!IsNear(ip))
            return (null, $"{ip} is not in this network. A meter is reached on the network of the workshop only.");
        return (new Tcp(ip, number), null);
    }

    private static (InstrumentAddress?, string?) SerialOf(string text)
    {
        var at = text.IndexOf('@', StringComparison.Ordinal);
        var (port, speed) = at > 0 ? (text[..at], text[(at + 1)..]) : (text, $"{UsualSpeed}");
        if (!port["/dev/".Length..].StartsWith("tty", StringComparison.Ordinal) || port.Contains("..", StringComparison.Ordinal))
            return (null, $"“{port}” is no serial port: /dev/ttyUSB0, /dev/ttyACM0 or the like.");
        return int.TryParse(speed, NumberStyles.None, CultureInfo.InvariantCulture, out var baud) && baud is >= 300 and <= 4_000_000
            ? (new Serial(port, baud), null)
            : (null, $"“{speed}” is no speed: 9600 or what the meter is set to.");
    }

    /// <summary>
    /// Loopback, private and link-local addresses (RFC 1918, RFC 3927, RFC 4193, RFC 4291): nothing beyond the workshop is called.
    /// </summary>
    private static bool IsNear(IPAddress ip)
    {
        if (ip.IsIPv4MappedToIPv6)
            ip = ip.MapToIPv4();
        if (IPAddress.IsLoopback(ip))
            return true;
        if (ip.AddressFamily == AddressFamily.InterNetworkV6)
            return ip.IsIPv6LinkLocal || ip.IsIPv6UniqueLocal;
        var b = ip.GetAddressBytes();
        return b[0] == 10 || b[0] == 172 && b[1] is >= 16 and <= 31 || b[0] == 192 && b[1] == 168 || b[0] == 169 && b[1] == 254;
    }

    /// <exception cref="InstrumentException">When nothing answers there.</exception>
    public async Task<IInstrumentLink> Open(CancellationToken stop)
    {
        try
        {
            switch (this)
            {
                case Tcp t:
                {
                    var client = new TcpClient(t.Host.AddressFamily) { NoDelay = true };
                    using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
                    timed.CancelAfter(Patience);
                    await client.ConnectAsync(t.Host, t.Port, timed.Token);
                    return new StreamLink(client.GetStream(), t.ToString(), Patience, client);
                }
                case Serial s:
                {
                    var port = new SerialPort(s.Port, s.Speed, Parity.None, 8, StopBits.One) { NewLine = "\n" };
                    port.Open();
                    return new StreamLink(port.BaseStream, s.ToString(), Patience, port);
                }
                default:
                    throw new InvalidOperationException();
            }
        }
        catch (Exception e) when (e is SocketException or IOException or UnauthorizedAccessException or OperationCanceledException)
        {
            stop.ThrowIfCancellationRequested();
            throw new InstrumentException($"No meter answers at {this}. Is it on, and its interface?", e);
        }
    }
}
