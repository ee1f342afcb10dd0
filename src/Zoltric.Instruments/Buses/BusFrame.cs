using System.Globalization;
using System.Text.RegularExpressions;

namespace Zoltric.Instruments.Buses;

/// <summary>One frame of a CAN bus as a log has it.</summary>
/// <param name="Seconds">Time of the log; 0 where it has none.</param>
/// <param name="Id">11 or 29 bits.</param>
public sealed record BusFrame(double Seconds, string Bus, uint Id, bool Extended, ReadOnlyMemory<byte> Data)
{
    /// <summary>Parameter group number (SAE J1939-21): with a format below 240 the second byte is an address, no part of it.</summary>
    public int Group => (int)(Id >> 8 & (Format < FirstBroadcast ? 0x3FF00u : 0x3FFFFu));

    /// <summary>Whom it is for; 255 for everybody.</summary>
    public byte To => Format < FirstBroadcast ? (byte)(Id >> 8) : (byte)255;

    /// <summary>Who sent it.</summary>
    public byte From => (byte)Id;

    private const byte FirstBroadcast = 240;

    private byte Format => (byte)(Id >> 16);
}

/// <summary>
/// Reads the text that general tools for the bus write: <c>(1436509052.249713) can0 18FECA00#0455…</c> of a log file, and
/// <c>can0  18FECA00   [8]  04 55 …</c> of a live listing.
/// </summary>
public static partial class BusLog
{
    /// <summary>Frames of a text, and how many lines were none.</summary>
    /// <param name="most">Frames that are read at most.</param>
    public static (IReadOnlyList<BusFrame> Frames, int Unread) Read(TextReader text, int most = 5_000_000)
    {
        ArgumentNullException.ThrowIfNull(text);
        var frames = new List<BusFrame>();
        var unread = 0;
        while (frames.Count < most && text.ReadLine() is { } line)
        {
            if (Frame(line) is { } frame)
                frames.Add(frame);
            else if (!string.IsNullOrWhiteSpace(line))
                unread++;
        }
        return (frames, unread);
    }

    /// <summary>True for a text whose first line with anything on it is a frame.</summary>
    public static bool IsLog(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        using var lines = new StringReader(text);
        string? line;
        while ((line = lines.ReadLine()) is not null && line.Trim().Length == 0) { }
        return line is not null && Frame(line) is not null;
    }

    /// <summary>One line; null where it is no frame with data: an error frame, a remote frame, anything else.</summary>
    public static BusFrame? Frame(string line)
    {
        ArgumentNullException.ThrowIfNull(line);
        if (line.Length > 400 || (Logged().Match(line) is { Success: true } m ? m : Listed().Match(line)) is not { Success: true } read)
            return null;
        var id = uint.Parse(read.Groups["id"].Value, NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture);
        // A standard identifier is written with three figures, an extended one with eight.
        var extended = read.Groups["id"].Length == 8;
        if (id > (extended ? 0x1FFFFFFFu : 0x7FFu))
            return null;
        var hex = read.Groups["data"].Value.Replace(" ", "", StringComparison.Ordinal);
        if (
            hex.Length % 2 != 0
            || hex.Length > 128
            || read.Groups["n"] is { Success: true } n && hex.Length != 2 * int.Parse(n.Value, CultureInfo.InvariantCulture)
        )
            return null;
        _ = double.TryParse(read.Groups["t"].Value, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var seconds);
        return new BusFrame(seconds, read.Groups["bus"].Value, id, extended, Convert.FromHexString(hex));
    }

    [GeneratedRegex(
        @"^\s*\((?<t>\d+\.\d+)\)\s+(?<bus>\S{1,15})\s+(?<id>[0-9A-F]{3}|[0-9A-F]{8})#(?<data>[0-9A-F]*)(?:\s+[RT])?\s*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Logged();

    [GeneratedRegex(
        @"^\s*(?:\((?<t>\d+\.\d+)\)\s+)?(?<bus>\S{1,15})\s+(?<id>[0-9A-F]{3}|[0-9A-F]{8})\s+"
            + @"\[(?<n>\d{1,2})\]\s*(?<data>(?:[0-9A-F]{2}\s*)*)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Listed();
}
