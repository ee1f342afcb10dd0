using System.Globalization;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Links;

namespace Zoltric.Instruments.Scopes;

/// <summary>
/// An instrument that keeps waveforms, by SCPI-1999 (volume 2): INITiate arms it, SENSe:SWEep:TINTerval? is the time from point to point,
/// TRACe:CATalog? names its channels, TRACe[:DATA]? gives one as text after FORMat ASCii. Overload is 9.9E37, "not a number" 9.91E37 there
/// (volume 1, 7.2.1).
/// </summary>
public sealed class ScpiDigitizer : IAsyncDisposable
{
    private const double Infinity = 9.9e37;
    private readonly IInstrumentLink _link;

    private ScpiDigitizer(IInstrumentLink link, string name) => (_link, Name) = (link, name);

    /// <summary>Maker's words for it, and its number.</summary>
    public string Name { get; }

    /// <summary>Asks what is there.</summary>
    /// <exception cref="InstrumentException">When no SCPI instrument answers.</exception>
    public static async Task<ScpiDigitizer> Open(IInstrumentLink link, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(link);
        try
        {
            return new ScpiDigitizer(link, await ScpiName.Ask(link, stop));
        }
        catch
        {
            await link.DisposeAsync();
            throw;
        }
    }

    /// <summary>Arms it and waits until it has triggered and is done.</summary>
    /// <exception cref="InstrumentException">When nothing comes in time.</exception>
    public async Task Arm(CancellationToken stop)
    {
        await _link.Send("INIT", stop);
        await _link.Send("*OPC?", stop);
        if ((await _link.Receive(stop)).TrimStart('+') != "1")
            throw new InstrumentException($"{Name} does not say that it is done.");
        var error = await Ask("SYST:ERR?", stop);
        if (!error.TrimStart('+').StartsWith("0,", StringComparison.Ordinal))
            throw new InstrumentException($"{Name} cannot: {error}.");
    }

    /// <summary>What it holds: each channel that it names, volts at its input.</summary>
    /// <exception cref="InstrumentException">When what comes is no waveform, or too long, or of unequal length.</exception>
    public async Task<Capture> Fetch(CancellationToken stop)
    {
        await _link.Send("FORM ASC", stop);
        var interval = Figure(await Ask("SWE:TINT?", stop));
        if (!(interval > 0) || double.IsInfinity(interval))
            throw new InstrumentException($"{Name} gives no time from point to point.");
        var names = (await Ask("TRAC:CAT?", stop))
            .Split(',')
            .Select(n => n.Trim().Trim('"', '\''))
            .Where(n => n.Length is > 0 and <= 24 && n.All(c => char.IsAsciiLetterOrDigit(c) || c == '_'))
            .ToList();
        if (names.Count is 0 or > CaptureFile.MostChannels)
            throw new InstrumentException($"{Name} names {names.Count} channels; 1 to {CaptureFile.MostChannels} are read.");
        var channels = new List<CaptureChannel>();
        foreach (var name in names)
        {
            var values = (await Ask($"TRAC? {name}", stop)).Split(',');
            if (values.Length is < 2 or > CaptureFile.MostRows)
                throw new InstrumentException($"{name} has {values.Length} points; 2 to {CaptureFile.MostRows} are read.");
            channels.Add(new CaptureChannel(name, "V", Array.ConvertAll(values, Value)));
        }
        if (channels.Exists(c => c.Values.Length != channels[0].Values.Length))
            throw new InstrumentException($"The channels of {Name} are of different lengths.");
        return new Capture([.. Enumerable.Range(0, channels[0].Values.Length).Select(i => i * interval)], channels);
    }

    private async Task<string> Ask(string query, CancellationToken stop)
    {
        await _link.Send(query, stop);
        return await _link.Receive(stop);
    }

    /// <summary>A point; not a number where it was over its range.</summary>
    private static double Value(string text) => Figure(text) is var v && Math.Abs(v) >= Infinity ? double.NaN : v;

    private static double Figure(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && !double.IsNaN(v)
            ? v
            : throw new InstrumentException($"“{(text.Length > 40 ? text[..40] + "…" : text)}” is no figure.");

    public ValueTask DisposeAsync() => _link.DisposeAsync();
}
