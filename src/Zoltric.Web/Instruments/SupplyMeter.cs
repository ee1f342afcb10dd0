using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Instruments;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Meters;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Instruments;

/// <summary>What the supply's meter showed when a reading was kept.</summary>
/// <param name="Text">Volts, with their unit.</param>
/// <param name="Line">A reading line of the posts, where the supply has moved since the last one; null where it has not.</param>
public sealed record Supplied(string Meter, string Text, string? Line);

/// <summary>
/// A second meter on the posts of the supply beside a hands-free trace: what is lost on the way is then no longer taken for a battery that
/// sags. Without it everything goes on. Its dial is never turned from here.
/// </summary>
internal sealed class SupplyMeter(InstrumentAddress address, TimeProvider clock) : IAsyncDisposable
{
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);

    /// <summary>
    /// More than a full battery of 12 V shows at rest; of 24 V twice that. Common practice: 12.6 to 12.9 V when rested, no single source.
    /// </summary>
    private const double HeldUpFrom = 13.0 / 12;

    /// <summary>And more than the sheet's own sources give as it stands, by this share.</summary>
    private const double AboveTheSheet = 0.02;

    private ScpiMeter? _meter;
    private double? _volts,
        _line;
    private string _trouble = "";
    private long _looked;
    private bool _heldUp;

    /// <summary>What it shows, in words; why it shows nothing.</summary>
    public string Says =>
        _volts is not { } v ? _trouble
        : _heldUp ? $"supply {Text(v)}: more than its sources give. Is a charger on it?"
        : $"supply {Text(v)}";

    private static string Text(double volts) => MeterReading.Format(volts, Dimension.Volt);

    /// <summary>Reads it, now and then.</summary>
    public async Task Look(CancellationToken stop)
    {
        if (_looked != 0 && clock.GetElapsedTime(_looked) < Again)
            return;
        await Read(stop);
    }

    private async Task Read(CancellationToken stop)
    {
        _looked = clock.GetTimestamp();
        try
        {
            _meter ??= await ScpiMeter.Open(await address.Open(stop), stop);
            if (_meter.Function != MeterFunction.DcVolts)
                throw new InstrumentException("it does not stand on DC volts.");
            _volts = (await _meter.Read(stop)).Value is var v && double.IsFinite(v) ? v : null;
            _trouble = _volts is null ? "The supply's meter shows OL." : "";
        }
        catch (InstrumentException e)
        {
            (_volts, _trouble) = (null, $"The supply's meter: {e.Message}");
            await DisposeAsync();
        }
    }

    /// <summary>What it shows as a reading is kept; null where it shows nothing, or the test is none under the supply's volts.</summary>
    public async Task<Supplied?> Now(JobView view, Test test, MeterClass accuracy, CancellationToken stop)
    {
        if (
            test.Probe.Dimension != Dimension.Volt
            || view.Circuit.Sources.FirstOrDefault() is not { Model.Terminals: ["+", "-", ..], Tag: var tag }
            || test.Setup.Interventions.OfType<Intervention.Off>().Any(o => o.Tag == tag)
        )
            return null;
        await Read(stop);
        if (_volts is not { } volts)
            return null;
        var (plus, minus) = (new Terminal(tag, "+"), new Terminal(tag, "-"));
        var stands = view.Sheet.Machine.Run(test.Setup);
        var given = stands.Volts(plus) - stands.Volts(minus);
        _heldUp = volts > HeldUpFrom * view.Circuit.NominalVolts && volts > (1 + AboveTheSheet) * given;
        var moved = _line is not { } last || Math.Abs(volts - last) > 2 * accuracy.Band(volts, Dimension.Volt);
        if (moved)
            _line = volts;
        var setup = test.Setup.IsRest ? "" : test.Setup.ToString();
        return new Supplied(
            _meter?.Name ?? address.ToString()!,
            Text(volts),
            moved ? string.Create(CultureInfo.InvariantCulture, $"{setup} : V {plus} {minus} = {volts:0.00}V") : null
        );
    }

    public async ValueTask DisposeAsync()
    {
        if (_meter is not null)
            await _meter.DisposeAsync();
        _meter = null;
    }
}
