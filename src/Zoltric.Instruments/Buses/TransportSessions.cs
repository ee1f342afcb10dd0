namespace Zoltric.Instruments.Buses;

/// <summary>A whole message: one frame, or several that were put together.</summary>
/// <param name="Group">Parameter group number.</param>
public sealed record BusMessage(double Seconds, int Group, byte From, byte To, ReadOnlyMemory<byte> Data);

/// <summary>
/// Puts messages of more than eight bytes together (SAE J1939-21, transport protocol): announced to all (control byte 32) or asked for and
/// granted (16), then numbered packets of seven bytes. A message with a packet missing, late or out of order is dropped and counted.
/// </summary>
public sealed class TransportSessions
{
    private const int Control = 0xEC00,
        Packets = 0xEB00;

    private const byte ToAll = 32,
        ToOne = 16,
        Abort = 255;

    private const int PerPacket = 7,
        MostBytes = 255 * PerPacket;

    /// <summary>Time between two packets, s: T1 of the standard is 750 ms; a log may have paused a little.</summary>
    private const double Patience = 1.25;

    private readonly Dictionary<(string Bus, byte From, byte To), Session> _open = [];

    private sealed class Session(int group, byte[] data, int packets, double at)
    {
        public int Group => group;
        public byte[] Data => data;
        public int Packets => packets;
        public int Have { get; set; }
        public double At { get; set; } = at;
    }

    /// <summary>Messages of which a part was missing.</summary>
    public int Broken { get; private set; }

    /// <summary>Takes one frame; the message that it is, or that it completes.</summary>
    public BusMessage? Take(BusFrame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        if (!frame.Extended)
            return null;
        var key = (frame.Bus, frame.From, frame.To);
        var data = frame.Data.Span;
        switch (frame.Group)
        {
            case Control when data.Length == 8 && data[0] is ToAll or ToOne:
            {
                var (size, packets) = (data[1] | data[2] << 8, data[3]);
                Drop(key);
                if (size is > 8 and <= MostBytes && packets == (size + PerPacket - 1) / PerPacket)
                    _open[key] = new Session(data[5] | data[6] << 8 | data[7] << 16, new byte[size], packets, frame.Seconds);
                return null;
            }
            case Control when data.Length == 8 && data[0] == Abort:
                Drop(key);
                return null;
            case Control:
                return null;
            case Packets when data.Length >= 2:
                return Packet(key, frame);
            case Packets:
                return null;
            default:
                return new BusMessage(frame.Seconds, frame.Group, frame.From, frame.To, frame.Data);
        }
    }

    private BusMessage? Packet((string, byte From, byte To) key, BusFrame frame)
    {
        if (!_open.TryGetValue(key, out var session))
            return null;
        var data = frame.Data.Span;
        // The same packet once more is a repeat that was asked for.
        if (data[0] == session.Have)
            return null;
        if (data[0] != session.Have + 1 || frame.Seconds - session.At > Patience)
        {
            Drop(key);
            return null;
        }
        var from = session.Have * PerPacket;
        var bytes = data[1..];
        bytes[..Math.Min(bytes.Length, session.Data.Length - from)].CopyTo(session.Data.AsSpan(from));
        (session.Have, session.At) = (session.Have + 1, frame.Seconds);
        if (session.Have < session.Packets)
            return null;
        _open.Remove(key);
        return new BusMessage(frame.Seconds, session.Group, key.From, key.To, session.Data);
    }

    private void Drop((string, byte, byte) key)
    {
        if (_open.Remove(key))
            Broken++;
    }
}
