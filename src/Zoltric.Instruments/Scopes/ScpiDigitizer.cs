using System.Buffers.Binary;
using System.Globalization;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Links;

namespace Zoltric.Instruments.Scopes;

/// <summary>
/// An instrument that keeps waveforms, by SCPI-1999 (volume 2): INITiate arms it, SENSe:SWEep:TINTerval? is the time from point to point,
/// TRACe:CATalog? names its channels, TRACe[:DATA]? gives one: after FORMat REAL,32 as a block of IEEE 754 singles, the high byte first
/// (FORMat:BORDer NORMal), where the instrument knows that, else as text after FORMat ASCii. Overload is 9.9E37, "not a number" 9.91E37
/// (volume 1, 7.2.1).
/// </summary>
public sealed class ScpiDigitizer : IAsyncDisposable
{
    /// <summary>A single holds 9.9E37 to seven figures.</summary>
    private const double Infinity = 9.8999e37;
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
        if (await Error(stop) is { } error)
            throw new InstrumentException($"{Name} cannot: {error}.");
    }

    /// <summary>What it says went wrong; null for nothing.</summary>
    private async Task<string?> Error(CancellationToken stop) =>
        await Ask("SYST:ERR?", stop) is var error && error.TrimStart('+').StartsWith("0,", StringComparison.Ordinal) ? null : error;

    /// <summary>Asks for bytes instead of text; false where it gives text only.</summary>
    private async Task<bool> Binary(CancellationToken stop)
    {
        await _link.Send("FORM:BORD NORM", stop);
        _ = await Error(stop);
        await _link.Send("FORM REAL,32", stop);
        if (await Error(stop) is null)
            return true;
        await _link.Send("FORM ASC", stop);
        return false;
    }

    /// <summary>What it holds: each channel that it names, volts at its input.</summary>
    /// <exception cref="InstrumentException">When what comes is no waveform, or too long, or of unequal length.</exception>
    public async Task<Capture> Fetch(CancellationToken stop)
    {
        var binary = await Binary(stop);
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
            await _link.Send($"TRAC? {name}", stop);
            var values = binary
                ? Singles(name, await _link.ReceiveBlock(stop))
                : Array.ConvertAll((await _link.Receive(stop)).Split(','), Value);
            if (values.Length is < 2 or > CaptureFile.MostRows)
                throw new InstrumentException($"{name} has {values.Length} points; 2 to {CaptureFile.MostRows} are read.");
            channels.Add(new CaptureChannel(name, "V", values));
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
    private static double Value(string text) => InRange(Figure(text));

    private static double InRange(double v) => Math.Abs(v) >= Infinity ? double.NaN : v;

    private static double[] Singles(string name, byte[] block)
    {
        if (block.Length % sizeof(float) != 0)
            throw new InstrumentException($"{name} comes in {block.Length} bytes, which is no number of singles.");
        var values = new double[block.Length / sizeof(float)];
        for (var i = 0; i < values.Length; i++)
            values[i] = InRange(BinaryPrimitives.ReadSingleBigEndian(block.AsSpan(i * sizeof(float))));
        return values;
    }

    private static double Figure(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && !double.IsNaN(v)
            ? v
            : throw new InstrumentException($"“{(text.Length > 40 ? text[..40] + "…" : text)}” is no figure.");

    public ValueTask DisposeAsync() => _link.DisposeAsync();
}
