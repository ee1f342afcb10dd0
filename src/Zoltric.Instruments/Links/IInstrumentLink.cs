namespace Zoltric.Instruments.Links;

/// <summary>A way to an instrument that speaks in lines.</summary>
public interface IInstrumentLink : IAsyncDisposable
{
    /// <summary>The address, as a person gave it.</summary>
    string Name { get; }

    /// <summary>Sends one line; the end of line is the link's own.</summary>
    /// <exception cref="InstrumentException">When the instrument is gone.</exception>
    Task Send(string line, CancellationToken stop);

    /// <summary>The next line, without its end.</summary>
    /// <exception cref="InstrumentException">
    /// When none comes in time, when the instrument is gone, or when what comes is no text.
    /// </exception>
    Task<string> Receive(CancellationToken stop);

    /// <summary>
    /// A block of bytes of a length that is said before it (IEEE 488.2, 8.7.9: <c>#</c>, how many figures, the length, the bytes), and the
    /// end of its line.
    /// </summary>
    /// <exception cref="InstrumentException">
    /// When none comes in time, when the instrument is gone, or when what comes is no such block.
    /// </exception>
    Task<byte[]> ReceiveBlock(CancellationToken stop);
}
