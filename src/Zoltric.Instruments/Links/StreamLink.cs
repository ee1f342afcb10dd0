using System.Text;

namespace Zoltric.Instruments.Links;

/// <summary>
/// Lines over a stream of bytes: a raw socket, a serial port. Lines end by LF, as SCPI instruments send them; CR is dropped.
/// </summary>
/// <param name="patience">How long nothing may come while an answer is waited for.</param>
public sealed class StreamLink(Stream stream, string name, TimeSpan patience, IDisposable? owner = null) : IInstrumentLink
{
    /// <summary>Longest line that is waited for, bytes: a waveform of a million points in text is sixteen megabytes.</summary>
    public const int MostBytes = 16 << 20;

    /// <summary>No answer takes longer than so many times the patience, however steadily it trickles.</summary>
    private const int Longest = 20;

    private readonly byte[] _buffer = new byte[4096];
    private int _from,
        _to;

    public string Name => name;

    public async Task Send(string line, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(line);
        await InTime(
            async token =>
            {
                await stream.WriteAsync(Encoding.ASCII.GetBytes(line + "\n"), token);
                await stream.FlushAsync(token);
                return true;
            },
            stop
        );
    }

    public Task<string> Receive(CancellationToken stop) => InTime(Line, stop, Longest);

    public Task<byte[]> ReceiveBlock(CancellationToken stop) => InTime(Block, stop, Longest);

    private async Task<byte[]> Block(CancellationToken stop)
    {
        if (await Next(stop) != '#' || await Figure(stop) is not (>= 1 and <= 9 and var figures))
            throw new InstrumentException($"What came from {name} is no block of bytes of a known length.");
        var length = 0L;
        for (var i = 0; i < figures; i++)
            length = 10 * length + await Figure(stop);
        if (length > MostBytes)
            throw new InstrumentException($"The instrument at {name} announces {length} bytes; {MostBytes >> 20} MB are read.");
        var block = new byte[length];
        for (var have = 0; have < block.Length; )
        {
            await Fill(stop);
            var more = Math.Min(block.Length - have, _to - _from);
            _buffer.AsSpan(_from, more).CopyTo(block.AsSpan(have));
            (_from, have) = (_from + more, have + more);
        }
        while (await Next(stop) is var end && end != '\n')
            if (end != '\r')
                throw new InstrumentException($"More bytes came from {name} than it had announced.");
        return block;
    }

    private async Task<int> Figure(CancellationToken stop) =>
        await Next(stop) is >= '0' and <= '9' and var figure
            ? figure - '0'
            : throw new InstrumentException($"What came from {name} is no block of bytes of a known length.");

    private async Task<char> Next(CancellationToken stop)
    {
        await Fill(stop);
        return (char)_buffer[_from++];
    }

    /// <summary>Waits for more where all that came has been taken.</summary>
    private async Task Fill(CancellationToken stop)
    {
        if (_from < _to)
            return;
        // A serial port does not let go of a read by itself.
        (_from, _to) = (0, await InTime(token => stream.ReadAsync(_buffer, token).AsTask().WaitAsync(token), stop));
        if (_to == 0)
            throw new InstrumentException($"The instrument at {name} has hung up. Is its cable in?");
    }

    private async Task<string> Line(CancellationToken stop)
    {
        using var line = new MemoryStream();
        while (true)
        {
            await Fill(stop);
            var end = Array.IndexOf(_buffer, (byte)'\n', _from, _to - _from);
            var upTo = end < 0 ? _to : end;
            line.Write(_buffer, _from, upTo - _from);
            _from = end < 0 ? _to : end + 1;
            if (line.Length > MostBytes)
                throw new InstrumentException($"The instrument at {name} sends without end.");
            if (end >= 0)
                return Text(line);
        }
    }

    private string Text(MemoryStream line)
    {
        var bytes = line.GetBuffer().AsSpan(0, (int)line.Length).TrimEnd((byte)'\r');
        foreach (var b in bytes)
            if (b is < 0x20 and not (byte)'\t' or > 0x7e)
                throw new InstrumentException(
                    $"What came from {name} is no text. Is it a meter that speaks SCPI, and the speed of the port right?"
                );
        return Encoding.ASCII.GetString(bytes);
    }

    private async Task<T> InTime<T>(Func<CancellationToken, Task<T>> work, CancellationToken stop, int times = 1)
    {
        using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
        timed.CancelAfter(patience * times);
        try
        {
            return await work(timed.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new InstrumentException($"No answer from {name} within {patience.TotalSeconds * times:0.#} s.");
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException)
        {
            throw new InstrumentException($"The instrument at {name} is gone. Is its cable in?", e);
        }
    }

    public async ValueTask DisposeAsync()
    {
        await stream.DisposeAsync();
        owner?.Dispose();
    }
}
