using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Metering;

/// <summary>What a healthy machine shows: lowest, nominal and highest value, or the word.</summary>
public sealed record HealthyBand(double? Low, double? Nominal, double? High, Dimension Dimension, string Text, Answer? Answer = null)
{
    public bool Refused => Answer == Circuits.Answer.Refused;

    /// <summary>
    /// A source at rest strays this far below and above its stated volts: a battery from half to full charge (memory: battery-trade table).
    /// </summary>
    public const double SupplyBelow = 0.03;
    public const double SupplyAbove = 0.02;

    /// <summary>The mains may be off by as much, either way: IEC 60038, EN 50160.</summary>
    public const double MainsEitherWay = 0.1;

    /// <summary>
    /// A transformer with little load gives more than is stated, since most makers state its volts at full load; common practice, no
    /// source.
    /// </summary>
    public const double RatioAbove = 0.1;

    /// <summary>
    /// Least ohms of a motor's copper, and of a cold filament, of those that it stands for at work: 2.5 standard deviations below the usual
    /// share, which is a fiftieth for a motor; common practice, no source.
    /// </summary>
    internal static double LeastCopper(MeterReading shown, double ohms) => ohms * shown.Often * Math.Exp(-2.5 * shown.OftenLogSpread);

    public static HealthyBand Of(Machine machine, Test test, MeterClass? meter = null) =>
        Of(Meter.Read(machine, test), meter ?? MeterClass.Service);

    public static HealthyBand Of(MeterReading shown, MeterClass meter)
    {
        ArgumentNullException.ThrowIfNull(shown);
        ArgumentNullException.ThrowIfNull(meter);
        if (shown.Value is not { } v)
            return new HealthyBand(null, null, null, shown.Dimension, shown.Text, shown.Answer);
        var band = 2 * shown.Spread + (shown.OwnInstrument ? 0 : meter.Band(v, shown.Dimension));
        var (below, above) =
            shown is { FollowsSupply: true, OfMains: true, Dimension: Dimension.Volt }
                ? (MainsEitherWay * Math.Abs(v), (MainsEitherWay + RatioAbove * shown.OfRatio) * Math.Abs(v))
            : shown.FollowsSupply ? (SupplyBelow * Math.Abs(v - shown.Fixed), SupplyAbove * Math.Abs(v - shown.Fixed))
            : (0, 0);
        var (low, high) = (v - band - below, v + band + above);
        if (shown.Dimension == Dimension.Ohm)
            low = shown.Winding > 0 ? LeastCopper(shown, v) : Math.Max(0, low);
        return new HealthyBand(low, v, high, shown.Dimension, shown.Text);
    }
}
