using System.Globalization;
using System.Net;
using System.Net.Sockets;

namespace Zoltric.Web.Tests;

/// <summary>A meter of the test's own: shows what the test says, on the dial that the test has turned, and lets its cable be
/// pulled.</summary>
internal sealed class HandMeter : IDisposable
{
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly CancellationTokenSource _stop = new();
    private TcpClient? _client;

    public HandMeter()
    {
        _listener.Start();
        _ = Task.Run(Serve);
    }

    public string Address => _listener.LocalEndpoint.ToString()!;
    public string Dial { get; set; } = "VOLT";
    public Func<double> Shows { get; set; } = () => 0;
    public bool CableOut { get; set; }

    /// <summary>Every command that was sent.</summary>
    public List<string> Heard { get; } = [];

    public void PullCable()
    {
        CableOut = true;
        _client?.Dispose();
    }

    private async Task Serve()
    {
        while (!_stop.IsCancellationRequested)
        {
            try
            {
                using var client = await _listener.AcceptTcpClientAsync(_stop.Token);
                if (CableOut)
                    continue;
                _client = client;
                using var reader = new StreamReader(client.GetStream());
                await using var writer = new StreamWriter(client.GetStream()) { AutoFlush = true, NewLine = "\n" };
                while (await reader.ReadLineAsync(_stop.Token) is { } line)
                {
                    lock (Heard)
                        Heard.Add(line);
                    if (!line.EndsWith('?'))
                        continue;
                    await Task.Delay(20, _stop.Token);
                    await writer.WriteLineAsync(
                        line switch
                        {
                            "*IDN?" => "Saltmarrow Works,hand meter,0,1",
                            "FUNC?" => $"\"{Dial}\"",
                            "READ?" => Shows().ToString("E6", CultureInfo.InvariantCulture),
                            _ => "+0,\"No error\"",
                        }
                    );
                }
            }
            catch (Exception e) when (e is IOException or SocketException or ObjectDisposedException or OperationCanceledException) { }
        }
    }

    public void Dispose()
    {
        _stop.Cancel();
        _client?.Dispose();
        _listener.Dispose();
        _stop.Dispose();
    }
}
