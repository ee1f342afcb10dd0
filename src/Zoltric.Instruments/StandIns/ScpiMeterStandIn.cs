using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Simulation;

namespace Zoltric.Instruments.StandIns;

/// <summary>
/// A multimeter that is not there: speaks SCPI over a raw socket on this machine, and shows what the tips of a simulated machine meet. It
/// knows the commands that a meter is read with, in long and short form, and answers others as SCPI-1999 has it, with an entry in its
/// error queue.
/// </summary>
public sealed class ScpiMeterStandIn : IAsyncDisposable
{
    private const string Overload = "+9.90000000E+37";

    /// <summary>Volts that stray fields put between open leads, at most; common practice, no source.</summary>
    private const double StrayVolts = 0.08;

    /// <summary>Share by which a figure moves from one reading to the next.</summary>
    private const double Unrest = 0.0004;

    /// <summary>Longest line that is listened to.</summary>
    private const int MostLine = 1024;

    private readonly Func<SimulatedMachine?> _machine;
    private readonly TcpListener _listener;
    private readonly CancellationTokenSource _stop = new();
    private readonly Task _serving;
    private readonly Lock _gate = new();
    private readonly Queue<string> _errors = new();
    private readonly Random _random = new(20_27);
    private MeterFunction _function;

    /// <param name="port">0 for any that is free.</param>
    public ScpiMeterStandIn(Func<SimulatedMachine?> machine, int port = 0)
    {
        _machine = machine;
        _listener = new TcpListener(IPAddress.Loopback, port);
        _listener.Start();
        _serving = Serve();
    }

    public string Address => _listener.LocalEndpoint.ToString()!;

    /// <summary>How long a reading takes; ten a second as delivered.</summary>
    public TimeSpan Pace { get; set; } = TimeSpan.FromMilliseconds(100);

    /// <summary>Where its dial stands; set from here it is the hand that turns it.</summary>
    public MeterFunction Function
    {
        get
        {
            lock (_gate)
                return _function;
        }
        set
        {
            lock (_gate)
                _function = value;
        }
    }

    private async Task Serve()
    {
        var open = new List<Task>();
        try
        {
            while (!_stop.IsCancellationRequested)
            {
                var client = await _listener.AcceptTcpClientAsync(_stop.Token);
                open.RemoveAll(t => t.IsCompleted);
                open.Add(Talk(client));
            }
        }
        catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException) { }
        await Task.WhenAll(open);
    }

    private async Task Talk(TcpClient client)
    {
        using var _ = client;
        try
        {
            await using var stream = client.GetStream();
            using var reader = new StreamReader(stream, Encoding.ASCII, false, MostLine);
            while (await reader.ReadLineAsync(_stop.Token) is { Length: <= MostLine } line)
            {
                // Several commands of one line stand apart by semicolons (IEEE 488.2, 7.3.3); their answers come in one line.
                var answers = new List<string>();
                foreach (var command in line.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
                    if (await Answer(command) is { } answer)
                        answers.Add(answer);
                if (answers.Count > 0)
                    await stream.WriteAsync(Encoding.ASCII.GetBytes(string.Join(';', answers) + "\n"), _stop.Token);
            }
        }
        catch (Exception e) when (e is OperationCanceledException or IOException or SocketException) { }
    }

    private async Task<string?> Answer(string command)
    {
        var (header, argument) = command.IndexOf(' ', StringComparison.Ordinal) is > 0 and var space
            ? (command[..space], command[(space + 1)..].Trim())
            : (command, "");
        header = header.TrimStart(':').ToUpperInvariant();
        var asks = header.EndsWith('?');
        var words = header.TrimEnd('?').Split(':').Where(w => w.Length > 0 && !Is(w, "SENSe")).ToList();
        if (header.StartsWith('*'))
            return Common(header);
        if (words.Count == 0)
            return Unknown();
        if (words.Count == 1 && asks && Is(words[0], "CONFigure"))
            return $"\"{Named(Function)}\"";
        if (Is(words[0], "CONFigure") || Is(words[0], "MEASure") && asks)
        {
            if (Dial(words) is not { } dial)
                return Unknown();
            Function = dial;
            return asks ? await Reading() : null;
        }
        if (Is(words[0], "FUNCtion"))
            return asks ? $"\"{Named(Function)}\"" : Turn(argument);
        if (Is(words[0], "READ") && asks)
            return await Reading();
        if (Is(words[0], "SYSTem") && words.Count is 2 or 3 && Is(words[1], "ERRor") && asks)
            lock (_gate)
                return _errors.TryDequeue(out var error) ? error : "+0,\"No error\"";
        return Unknown();
    }

    private string? Turn(string quoted)
    {
        if (Dial(["", .. quoted.Trim('"', '\'').ToUpperInvariant().Split(':')]) is not { } dial)
            return Unknown();
        Function = dial;
        return null;
    }

    private string? Common(string header)
    {
        switch (header)
        {
            case "*IDN?":
                return "Saltmarrow Works,Stand-in meter,0,1.0";
            case "*RST":
                Function = MeterFunction.DcVolts;
                return null;
            case "*CLS":
                lock (_gate)
                    _errors.Clear();
                return null;
            case "*OPC?":
                return "1";
            default:
                return Unknown();
        }
    }

    private string? Unknown()
    {
        lock (_gate)
            _errors.Enqueue("-113,\"Undefined header\"");
        return null;
    }

    /// <summary>What stands after the first word: VOLT, VOLT:AC, RES, CONT.</summary>
    private static MeterFunction? Dial(List<string> words) =>
        words switch
        {
            [_, var v] when Is(v, "VOLTage") => MeterFunction.DcVolts,
            [_, var v, "DC"] when Is(v, "VOLTage") => MeterFunction.DcVolts,
            [_, var v, "AC"] when Is(v, "VOLTage") => MeterFunction.AcVolts,
            [_, var r] when Is(r, "RESistance") => MeterFunction.Ohms,
            [_, var c] when Is(c, "CONTinuity") => MeterFunction.Continuity,
            _ => null,
        };

    private static string Named(MeterFunction f) =>
        f switch
        {
            MeterFunction.DcVolts => "VOLT",
            MeterFunction.AcVolts => "VOLT:AC",
            MeterFunction.Ohms => "RES",
            _ => "CONT",
        };

    /// <summary>A keyword in its long form or in its short one, which is written in capitals (SCPI-1999, volume 1, 6.2.1).</summary>
    private static bool Is(string word, string keyword) =>
        word.Equals(keyword, StringComparison.OrdinalIgnoreCase)
        || word.Equals(new string([.. keyword.Where(char.IsUpper)]), StringComparison.OrdinalIgnoreCase);

    private async Task<string> Reading()
    {
        await Task.Delay(Pace, _stop.Token);
        var function = Function;
        var shown = _machine()?.Shows(function);
        lock (_gate)
        {
            if (shown is null)
                return function.Reads() == Dimension.Ohm ? Overload : Number(StrayVolts * _random.NextDouble());
            if (shown.Value is not { } value)
                return Overload;
            var digit = function.Reads() == Dimension.Ohm ? 0.01 : 0.0005;
            return Number(value * (1 + Unrest * (2 * _random.NextDouble() - 1)) + digit * (2 * _random.NextDouble() - 1));
        }
    }

    private static string Number(double value) => value.ToString("+0.00000000E+00;-0.00000000E+00", CultureInfo.InvariantCulture);

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        _listener.Stop();
        await _serving;
        _stop.Dispose();
    }
}
