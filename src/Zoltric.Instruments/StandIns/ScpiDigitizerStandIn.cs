using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Simulation;

namespace Zoltric.Instruments.StandIns;

/// <summary>What the channels of a simulated machine lie on, and what is done while they watch.</summary>
/// <param name="Before">The machine before the first instant.</param>
/// <param name="Then">Controls that are moved a tenth of the time after it.</param>
/// <param name="Seconds">How long is watched, s.</param>
/// <param name="Channels">Volts between two points; the current in a wire through a clamp of 100 mV an ampere.</param>
public sealed record Watch(Setup Before, IReadOnlyList<ControlMove> Then, double Seconds, IReadOnlyList<Probe> Channels);

/// <summary>
/// An instrument for waveforms that is not there: armed, it runs a simulated machine over time and keeps what its channels saw.
/// </summary>
/// <param name="machine">The machine, and what is watched on it; null with nothing on the bench.</param>
/// <param name="port">0 for any that is free.</param>
/// <param name="binary">False for one of the older kind, which gives text only.</param>
public sealed class ScpiDigitizerStandIn(Func<(SimulatedMachine Machine, Watch Watch)?> machine, int port = 0, bool binary = true)
    : ScpiStandIn("Stand-in digitizer", port)
{
    /// <summary>Points of one waveform.</summary>
    public const int Points = 4000;

    /// <summary>V of its clamp for one ampere.</summary>
    public const double ClampVoltsPerAmp = 0.1;

    /// <summary>Of the whole swing: what an eight-bit converter makes of nothing; common practice, no source.</summary>
    private const double Noise = 1.0 / 512;

    private readonly Random _random = new(20_28);
    private Waveforms? _held;
    private bool _singles;
    private const string Illegal = "-224,\"Illegal parameter value\"";

    protected override Task<string?> Answer(List<string> words, bool asks, string argument)
    {
        ArgumentNullException.ThrowIfNull(words);
        ArgumentNullException.ThrowIfNull(argument);
        if (words.Count == 1 && !asks && Is(words[0], "INITiate"))
            return Task.FromResult(Run());
        if (words.Count is 1 or 2 && !asks && Is(words[0], "FORMat") && (words.Count == 1 || Is(words[1], "DATA")))
            return Task.FromResult(Format(argument.ToUpperInvariant()));
        if (words.Count == 2 && !asks && Is(words[0], "FORMat") && Is(words[1], "BORDer"))
            return Task.FromResult(Is(argument.ToUpperInvariant(), "NORMal") ? null : Unknown(Illegal));
        if (words.Count == 2 && asks && Is(words[0], "SWEep") && Is(words[1], "TINTerval"))
            return Task.FromResult<string?>(Number(Held is { } held ? held.Seconds[1] - held.Seconds[0] : 0));
        if (words.Count == 2 && asks && Is(words[0], "SWEep") && Is(words[1], "POINts"))
            return Task.FromResult<string?>((Held?.Seconds.Length ?? 0).ToString(CultureInfo.InvariantCulture));
        if (words.Count == 2 && asks && Is(words[0], "TRACe") && Is(words[1], "CATalog"))
            return Task.FromResult<string?>(string.Join(',', (Held?.Channels ?? []).Select((_, i) => $"\"CH{i + 1}\"")));
        if (asks && Is(words[0], "TRACe") && (words.Count == 1 || words.Count == 2 && Is(words[1], "DATA")))
            return Task.FromResult(Trace(argument));
        return Task.FromResult(Unknown());
    }

    private Waveforms? Held
    {
        get
        {
            lock (Gate)
                return _held;
        }
    }

    private string? Format(string how)
    {
        var (text, singles) = (Is(how, "ASCii"), how.Replace(" ", "", StringComparison.Ordinal) == "REAL,32");
        if (!text && !(singles && binary))
            return Unknown(Illegal);
        lock (Gate)
            _singles = singles;
        return null;
    }

    private string? Run()
    {
        if (machine() is not var (simulated, watch))
            return Unknown("-221,\"Settings conflict\"");
        try
        {
            var seen = simulated.Over(watch.Before, [new TimedMove(watch.Seconds / 10, watch.Then)], watch.Seconds, Points, watch.Channels);
            lock (Gate)
                _held = seen;
            return null;
        }
        catch (ArgumentException)
        {
            return Unknown("-221,\"Settings conflict\"");
        }
    }

    private string? Trace(string name)
    {
        var held = Held;
        if (
            held is null
            || !name.StartsWith("CH", StringComparison.OrdinalIgnoreCase)
            || !int.TryParse(name.AsSpan(2), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            || number < 1
            || number > held.Channels.Count
        )
            return Unknown(Illegal);
        var channel = held.Channels[number - 1];
        var scale = channel.Unit == "A" ? ClampVoltsPerAmp : 1;
        var noise = Noise * (channel.Values.Max() - channel.Values.Min()) * scale;
        lock (Gate)
        {
            var values = channel.Values.Select(v => v * scale + noise * (2 * _random.NextDouble() - 1));
            return _singles ? Block([.. values]) : string.Join(',', values.Select(Number));
        }
    }

    /// <summary>A block of a known length (IEEE 488.2, 8.7.9), a character a byte.</summary>
    private static string Block(double[] values)
    {
        var bytes = new byte[values.Length * sizeof(float)];
        for (var i = 0; i < values.Length; i++)
            BinaryPrimitives.WriteSingleBigEndian(bytes.AsSpan(i * sizeof(float)), (float)values[i]);
        var length = bytes.Length.ToString(CultureInfo.InvariantCulture);
        return $"#{length.Length}{length}{Encoding.Latin1.GetString(bytes)}";
    }

    private static string Number(double value) => value.ToString("+0.000000E+00;-0.000000E+00", CultureInfo.InvariantCulture);
}
