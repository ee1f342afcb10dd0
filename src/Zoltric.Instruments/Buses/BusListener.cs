using Zoltric.Instruments.Links;

namespace Zoltric.Instruments.Buses;

/// <summary>What was heard on a bus.</summary>
/// <param name="Unread">Lines that were no frame.</param>
/// <param name="CutShort">Why it ended before its time; null where it did not.</param>
public sealed record BusHeard(IReadOnlyList<BusFrame> Frames, int Unread, string? CutShort);

/// <summary>
/// Listens to a bus whose frames a gateway gives out over the network as lines of text, one a frame, as <see cref="BusLog"/> reads them.
/// Nothing is ever sent.
/// </summary>
public static class BusListener
{
    /// <summary>
    /// Every module says its active codes once a second (SAE J1939-73, DM1, from memory); more than one takes packets, fifty to two hundred
    /// milliseconds apart: those of twenty codes at their slowest, after a second in which they may begin.
    /// </summary>
    public static readonly TimeSpan Usual = TimeSpan.FromSeconds(4);

    /// <summary>More frames than a full bus carries in a minute.</summary>
    private const int MostFrames = 500_000;

    /// <exception cref="InstrumentException">When nothing answers there, or nothing comes that is a frame.</exception>
    public static async Task<BusHeard> Listen(InstrumentAddress address, TimeSpan howLong, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(address);
        await using var link = await address.Open(stop);
        var frames = new List<BusFrame>();
        var unread = 0;
        string? cut = null;
        using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
        timed.CancelAfter(howLong);
        try
        {
            while (frames.Count < MostFrames && !timed.IsCancellationRequested)
                if (await link.Receive(timed.Token) is { Length: > 0 } line)
                {
                    if (BusLog.Frame(line) is { } frame)
                        frames.Add(frame);
                    else
                        unread++;
                }
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested) { }
        catch (InstrumentException e)
        {
            cut = e.Message;
        }
        if (frames.Count == 0)
            throw new InstrumentException(
                unread > 0 ? $"What comes from {address} is no frame of a bus: a line a frame is read, time, bus, identifier, data."
                : cut is not null ? $"Nothing was heard of the bus. {cut}"
                : $"Nothing was heard of the bus at {address}. Is the key on, and does the gateway give it out as text?"
            );
        return new BusHeard(frames, unread, cut);
    }
}
