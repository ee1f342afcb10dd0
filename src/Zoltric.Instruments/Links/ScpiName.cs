namespace Zoltric.Instruments.Links;

/// <summary>How an instrument that speaks SCPI calls itself.</summary>
internal static class ScpiName
{
    /// <summary>Clears its errors and asks: maker's words, model and number.</summary>
    /// <exception cref="InstrumentException">When no SCPI instrument answers.</exception>
    public static async Task<string> Ask(IInstrumentLink link, CancellationToken stop)
    {
        await link.Send("*CLS", stop);
        await link.Send("*IDN?", stop);
        // IEEE 488.2, 10.14: maker, model, serial number, firmware, by commas.
        var said = (await link.Receive(stop)).Split(',');
        return said.Length == 4
            ? string.Join(' ', said.Take(3).Select(s => s.Trim()).Where(s => s.Length > 0 && s != "0"))
            : throw new InstrumentException($"What answers at {link.Name} is no SCPI instrument: it does not say its name.");
    }
}
