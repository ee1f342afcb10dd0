using System.Text;

namespace Zoltric.Instruments.Links;

/// <summary>
/// Lines over a stream of bytes: a raw socket, a serial port. Lines end by LF, as SCPI instruments send them; CR is dropped.
/// </summary>
/// <param name="patience">How long an answer may take.</param>
public sealed class StreamLink(Stream stream, string name, TimeSpan patience, IDisposable? owner = null) : IInstrumentLink
{
    /// <summary>Longest line that is waited for, bytes: a waveform of a million points in text is sixteen megabytes.</summary>
    public const int MostBytes = 16 << 20;

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

    public Task<string> Receive(CancellationToken stop) => InTime(Line, stop);

    private async Task<string> Line(CancellationToken stop)
    {
        using var line = new MemoryStream();
        while (true)
        {
            if (_from == _to)
            {
                // A serial port does not let go of a read by itself.
                (_from, _to) = (0, await stream.ReadAsync(_buffer, stop).AsTask().WaitAsync(stop));
                if (_to == 0)
                    throw new InstrumentException($"The instrument at {name} has hung up. Is its cable in?");
            }
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

    private async Task<T> InTime<T>(Func<CancellationToken, Task<T>> work, CancellationToken stop)
    {
        using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
        timed.CancelAfter(patience);
        try
        {
            return await work(timed.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new InstrumentException($"No answer from {name} within {patience.TotalSeconds:0.#} s.");
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
