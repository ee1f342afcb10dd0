using System.Globalization;
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
public sealed class ScpiDigitizerStandIn(Func<(SimulatedMachine Machine, Watch Watch)?> machine, int port = 0)
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

    protected override Task<string?> Answer(List<string> words, bool asks, string argument)
    {
        ArgumentNullException.ThrowIfNull(words);
        ArgumentNullException.ThrowIfNull(argument);
        if (words.Count == 1 && !asks && Is(words[0], "INITiate"))
            return Task.FromResult(Run());
        if (words.Count == 1 && !asks && Is(words[0], "FORMat"))
            return Task.FromResult(Is(argument.ToUpperInvariant(), "ASCii") ? null : Unknown("-224,\"Illegal parameter value\""));
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
            return Unknown("-224,\"Illegal parameter value\"");
        var channel = held.Channels[number - 1];
        var scale = channel.Unit == "A" ? ClampVoltsPerAmp : 1;
        var noise = Noise * (channel.Values.Max() - channel.Values.Min()) * scale;
        lock (Gate)
            return string.Join(',', channel.Values.Select(v => Number(v * scale + noise * (2 * _random.NextDouble() - 1))));
    }

    private static string Number(double value) => value.ToString("+0.000000E+00;-0.000000E+00", CultureInfo.InvariantCulture);
}
