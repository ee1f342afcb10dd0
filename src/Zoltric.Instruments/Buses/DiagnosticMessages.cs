using Zoltric.Core.Exchange;
using Zoltric.Core.Practice;

namespace Zoltric.Instruments.Buses;

/// <summary>A trouble code of a module on the bus.</summary>
/// <param name="From">Address of the module.</param>
/// <param name="Parameter">Suspect parameter number.</param>
/// <param name="Mode">Failure mode identifier, 0 to 31.</param>
/// <param name="Count">Occurrences; null where the module does not count (127 on the bus).</param>
public sealed record BusCode(byte From, int Parameter, int Mode, int? Count, bool Active);

/// <summary>What a module's lamps say (SAE J1939-73, DM1 byte 1).</summary>
/// <param name="Malfunction">The lamp of emissions.</param>
/// <param name="Stop">The red one.</param>
/// <param name="Warning">The amber one.</param>
/// <param name="Protect">The one for what is not electronic.</param>
public sealed record BusLamps(bool Malfunction, bool Stop, bool Warning, bool Protect);

/// <summary>What a log of the bus says of trouble.</summary>
/// <param name="Codes">Each once, as it was said last.</param>
/// <param name="Lamps">By module.</param>
/// <param name="Broken">Long messages of which a part was missing.</param>
public sealed record BusTrouble(IReadOnlyList<BusCode> Codes, IReadOnlyDictionary<byte, BusLamps> Lamps, int Broken)
{
    /// <summary>As a list of codes is read from a reader.</summary>
    public IReadOnlyList<ReadCode> AsRead =>
        [.. Codes.Select(c => new ReadCode(TroubleCode.Read($"{c.Parameter}-{c.Mode}"), c.Active ? "active" : "stored", c.Count))];
}

/// <summary>
/// Codes on the bus: DM1, the active ones, group 65226, and DM2, those that were, group 65227 (SAE J1939-73, from memory). Four bytes a
/// code: nineteen bits of parameter, five of failure mode, one of conversion, seven of count.
/// </summary>
public static class DiagnosticMessages
{
    private const int Active = 65226,
        Previous = 65227;

    private const int NotCounted = 127;

    /// <summary>Goes through the frames in their order.</summary>
    public static BusTrouble Read(IEnumerable<BusFrame> frames)
    {
        ArgumentNullException.ThrowIfNull(frames);
        var transport = new TransportSessions();
        var (active, previous) = (new Dictionary<byte, List<BusCode>>(), new Dictionary<byte, List<BusCode>>());
        var lamps = new Dictionary<byte, BusLamps>();
        foreach (var frame in frames)
        {
            if (transport.Take(frame) is not { Group: Active or Previous } message || message.Data.Length < 6)
                continue;
            // What a module says last stands: a code that it leaves out is gone.
            (message.Group == Active ? active : previous)[message.From] = Codes(message);
            if (message.Group == Active)
                lamps[message.From] = Lamps(message.Data.Span[0]);
        }
        return new BusTrouble(
            [
                .. active.Values.SelectMany(c => c),
                .. previous.Values.SelectMany(c => c).Where(p => !active.Values.Any(a => a.Exists(c => Same(c, p)))),
            ],
            lamps,
            transport.Broken
        );
    }

    private static bool Same(BusCode a, BusCode b) => (a.From, a.Parameter, a.Mode) == (b.From, b.Parameter, b.Mode);

    private static List<BusCode> Codes(BusMessage message)
    {
        var codes = new List<BusCode>();
        var data = message.Data.Span;
        for (var i = 2; i + 4 <= data.Length; i += 4)
        {
            var parameter = data[i] | data[i + 1] << 8 | (data[i + 2] & 0xE0) << 11;
            var (mode, count) = (data[i + 2] & 0x1F, data[i + 3] & 0x7F);
            // No code at all is sent as parameter 0, mode 0; what fills a frame is all ones.
            if (parameter == 0 && mode == 0 || parameter == 0x7FFFF && mode == 31)
                continue;
            // The older layouts, marked by the high bit, put the parameter's bits elsewhere and do not say how: no number is better than
            // a wrong one.
            if ((data[i + 3] & 0x80) != 0)
                continue;
            codes.Add(new BusCode(message.From, parameter, mode, count == NotCounted ? null : count, message.Group == Active));
        }
        return codes;
    }

    /// <summary>Two bits a lamp, 01 for on.</summary>
    private static BusLamps Lamps(byte b) => new((b >> 6 & 3) == 1, (b >> 4 & 3) == 1, (b >> 2 & 3) == 1, (b & 3) == 1);
}
