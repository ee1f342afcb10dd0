using System.Net;
using System.Net.Sockets;

namespace Zoltric.Instruments.StandIns;

/// <summary>What is not there and is reached over a raw socket on this machine: several may call at once.</summary>
public abstract class TcpStandIn : IAsyncDisposable
{
    private readonly TcpListener _listener;
    private readonly CancellationTokenSource _stop = new();
    private Task _serving = Task.CompletedTask;

    /// <param name="port">0 for any that is free.</param>
    protected TcpStandIn(int port)
    {
        _listener = new TcpListener(IPAddress.Loopback, port);
        _listener.Start();
    }

    public string Address => _listener.LocalEndpoint.ToString()!;

    protected CancellationToken Stopped => _stop.Token;

    /// <summary>Begins to answer; what is made ready for that is made before.</summary>
    protected void Begin() => _serving = Serve();

    private async Task Serve()
    {
        var open = new List<Task>();
        try
        {
            while (!_stop.IsCancellationRequested)
            {
                var client = await _listener.AcceptTcpClientAsync(_stop.Token);
                open.RemoveAll(t => t.IsCompleted);
                open.Add(Answer(client));
            }
        }
        catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException) { }
        await Task.WhenAll(open);
    }

    private async Task Answer(TcpClient client)
    {
        using var _ = client;
        try
        {
            await using var stream = client.GetStream();
            await Talk(stream);
        }
        catch (Exception e) when (e is OperationCanceledException or IOException or SocketException or ObjectDisposedException) { }
    }

    /// <summary>Speaks with one that has called, until it or this is gone.</summary>
    protected abstract Task Talk(NetworkStream stream);

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        _listener.Stop();
        await _serving;
        _stop.Dispose();
        GC.SuppressFinalize(this);
    }
}
