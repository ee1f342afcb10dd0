using System.Net.Sockets;
using System.Text;

namespace Zoltric.Instruments.StandIns;

/// <summary>
/// An instrument that is not there: speaks SCPI over a raw socket on this machine. What it does not know it answers as SCPI-1999 has it,
/// with
/// an entry in its error queue.
/// </summary>
public abstract class ScpiStandIn : TcpStandIn
{
    /// <summary>Longest line that is listened to.</summary>
    private const int MostLine = 1024;

    private readonly Queue<string> _errors = new();
    private readonly string _name;

    /// <param name="name">As it calls itself.</param>
    /// <param name="port">0 for any that is free.</param>
    protected ScpiStandIn(string name, int port)
        : base(port)
    {
        _name = name;
        Begin();
    }

    /// <summary>Held while it answers for what it remembers.</summary>
    protected Lock Gate { get; } = new();

    protected override async Task Talk(NetworkStream stream)
    {
        ArgumentNullException.ThrowIfNull(stream);
        using var reader = new StreamReader(stream, Encoding.ASCII, false, MostLine);
        while (await reader.ReadLineAsync(Stopped) is { Length: <= MostLine } line)
        {
            // Several commands of one line stand apart by semicolons (IEEE 488.2, 7.3.3); their answers come in one line.
            var answers = new List<string>();
            foreach (var command in line.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
                if (await Answer(command) is { } answer)
                    answers.Add(answer);
            if (answers.Count > 0)
                await stream.WriteAsync(Encoding.Latin1.GetBytes(string.Join(';', answers) + "\n"), Stopped);
        }
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
        if (words.Count is 2 or 3 && Is(words[0], "SYSTem") && Is(words[1], "ERRor") && asks)
            lock (Gate)
                return _errors.TryDequeue(out var error) ? error : "+0,\"No error\"";
        return words.Count == 0 ? Unknown() : await Answer(words, asks, argument);
    }

    /// <summary>
    /// Answers a command of the instrument's own; null for what has no answer. Each character is a byte: a block of bytes is a text of
    /// them.
    /// </summary>
    /// <param name="words">Its keywords in capitals, without SENSe.</param>
    protected abstract Task<string?> Answer(List<string> words, bool asks, string argument);

    /// <summary>To the state it is delivered in.</summary>
    protected virtual void Reset() { }

    private string? Common(string header)
    {
        switch (header)
        {
            case "*IDN?":
                return $"Saltmarrow Works,{_name},0,1.0";
            case "*RST":
                Reset();
                return null;
            case "*CLS":
                lock (Gate)
                    _errors.Clear();
                return null;
            case "*OPC?":
                return "1";
            default:
                return Unknown();
        }
    }

    /// <summary>Notes what it does not know.</summary>
    protected string? Unknown(string error = "-113,\"Undefined header\"")
    {
        lock (Gate)
            _errors.Enqueue(error);
        return null;
    }

    /// <summary>A keyword in its long form or in its short one, which is written in capitals (SCPI-1999, volume 1, 6.2.1).</summary>
    protected static bool Is(string word, string keyword)
    {
        ArgumentNullException.ThrowIfNull(word);
        return word.Equals(keyword, StringComparison.OrdinalIgnoreCase)
            || word.Equals(new string([.. keyword.Where(char.IsUpper)]), StringComparison.OrdinalIgnoreCase);
    }
}
