using System.Threading.Channels;

namespace Zoltric.Web.Instruments;

/// <summary>The screens that follow something live, and what they show. Safe to use from several threads.</summary>
public sealed class Screens<T>(T nothing)
{
    /// <summary>What waits for a screen that does not take it; the oldest goes first.</summary>
    private const int MostWaiting = 64;

    private readonly Lock _gate = new();
    private readonly List<Channel<T>> _open = [];
    private bool _ended;

    public T Shown { get; private set; } = nothing;

    /// <summary>Sends it to every screen.</summary>
    public void Show(T what)
    {
        lock (_gate)
        {
            Shown = what;
            foreach (var screen in _open)
                screen.Writer.TryWrite(what);
        }
    }

    /// <summary>Nothing more comes.</summary>
    public void End()
    {
        lock (_gate)
        {
            _ended = true;
            foreach (var screen in _open)
                screen.Writer.TryComplete();
        }
    }

    /// <summary>What is shown now and everything from now on, until it ends or the screen goes.</summary>
    public async IAsyncEnumerable<T> Watch([System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone)
    {
        var screen = Channel.CreateBounded<T>(new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest });
        lock (_gate)
        {
            screen.Writer.TryWrite(Shown);
            if (_ended)
                screen.Writer.TryComplete();
            _open.Add(screen);
        }
        try
        {
            while (await More(screen.Reader, gone))
            while (screen.Reader.TryRead(out var shown))
                yield return shown;
        }
        finally
        {
            lock (_gate)
                _open.Remove(screen);
        }
    }

    private static async Task<bool> More(ChannelReader<T> screen, CancellationToken gone)
    {
        try
        {
            return await screen.WaitToReadAsync(gone);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }
}
