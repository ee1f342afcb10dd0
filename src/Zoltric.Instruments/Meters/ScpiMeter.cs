using System.Globalization;
using Zoltric.Core.Metering;
using Zoltric.Instruments.Links;

namespace Zoltric.Instruments.Meters;

/// <summary>
/// A multimeter by SCPI: common commands of IEEE 488.2, and the CONFigure, READ? and FUNCtion? of SCPI-1999 (volume 2). Overload is 9.9E37
/// and "not a number" 9.91E37 there (volume 1, 7.2.1).
/// </summary>
public sealed class ScpiMeter : IAsyncDisposable
{
    private const double Infinity = 9.9e37,
        NotANumber = 9.91e37;

    /// <summary>The dial is asked for every so many readings: somebody may have turned it by hand.</summary>
    private const int AskedEvery = 10;

    private readonly IInstrumentLink _link;
    private int _reads = 1;

    private ScpiMeter(IInstrumentLink link, string name) => (_link, Name) = (link, name);

    /// <summary>Maker's words for it, and its number.</summary>
    public string Name { get; }

    /// <summary>Where its dial stands, as far as is known; null for what is not read here.</summary>
    public MeterFunction? Function { get; private set; }

    /// <summary>Readings given since the dial was last asked for: those may be of another one.</summary>
    public int ReadSinceDial { get; private set; }

    /// <summary>Asks what is there.</summary>
    /// <exception cref="InstrumentException">When no SCPI instrument answers.</exception>
    public static async Task<ScpiMeter> Open(IInstrumentLink link, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(link);
        var meter = new ScpiMeter(link, await ScpiName.Ask(link, stop));
        meter.Function = await meter.Dial(stop);
        return meter;
    }

    /// <summary>Turns its dial. Only with the tips off the machine: on ohms it sends current, and a live point would break it.</summary>
    /// <exception cref="InstrumentException">When it will not.</exception>
    public async Task Select(MeterFunction function, CancellationToken stop)
    {
        if (function == MeterFunction.DcAmps)
            throw new InstrumentException("Leads go into the amps sockets by hand, and the dial with them.");
        Function = null;
        await _link.Send(
            function switch
            {
                MeterFunction.DcVolts => "CONF:VOLT:DC",
                MeterFunction.AcVolts => "CONF:VOLT:AC",
                MeterFunction.Ohms => "CONF:RES",
                _ => "CONF:CONT",
            },
            stop
        );
        await _link.Send("SYST:ERR?", stop);
        var error = await _link.Receive(stop);
        if (!error.TrimStart('+').StartsWith("0,", StringComparison.Ordinal))
            throw new InstrumentException($"The meter refuses {function.Spoken()}: {error}.");
        Function = await Dial(stop);
        if (Function != function)
            throw new InstrumentException($"The meter does not go to {function.Spoken()}. Turn its dial by hand.");
    }

    /// <summary>One reading.</summary>
    /// <exception cref="InstrumentException">When none comes, or when the dial was turned by hand.</exception>
    public async Task<MeterSample> Read(CancellationToken stop)
    {
        if (_reads++ % AskedEvery == 0 && await Dial(stop) is var now && now != Function)
        {
            Function = now;
            throw new InstrumentException(
                now is { } other ? $"The dial was turned to {other.Spoken()}." : "The dial stands on something that is not read here."
            );
        }
        if ((_reads - 1) % AskedEvery == 0)
            ReadSinceDial = 0;
        await _link.Send("READ?", stop);
        var text = await _link.Receive(stop);
        if (
            !double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            || double.IsNaN(value)
            || double.IsInfinity(value)
        )
            throw new InstrumentException($"“{(text.Length > 40 ? text[..40] + "…" : text)}” is no reading.");
        if (value >= NotANumber)
            throw new InstrumentException("The meter has nothing to show.");
        ReadSinceDial++;
        return new MeterSample(
            Math.Abs(value) >= Infinity ? Math.CopySign(double.PositiveInfinity, value) : value,
            Function ?? MeterFunction.DcVolts
        );
    }

    /// <summary>Asks where its dial stands just now; null for what is not read here.</summary>
    /// <exception cref="InstrumentException">When it does not answer.</exception>
    public async Task<MeterFunction?> Asked(CancellationToken stop)
    {
        (Function, ReadSinceDial) = (await Dial(stop), 0);
        return Function;
    }

    private async Task<MeterFunction?> Dial(CancellationToken stop)
    {
        await _link.Send("FUNC?", stop);
        return (await _link.Receive(stop)).Trim().Trim('"').ToUpperInvariant() switch
        {
            "VOLT" or "VOLT:DC" => MeterFunction.DcVolts,
            "VOLT:AC" => MeterFunction.AcVolts,
            "RES" => MeterFunction.Ohms,
            "CONT" => MeterFunction.Continuity,
            "CURR" or "CURR:DC" => MeterFunction.DcAmps,
            _ => null,
        };
    }

    public ValueTask DisposeAsync() => _link.DisposeAsync();
}
