namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Two-wire transmitter of a 4–20 mA loop from 1 (plus) to 2: <c>transmitter 50%</c> lets 12 mA through whatever the volts, as long as 10 V
/// are left for itself; below that it lets through what its electronics can, as 500 Ω would. Half way where nothing is said.
/// </summary>
/// <remarks>4 mA is nothing and 20 mA the whole span: IEC 60381-1. Below 3.6 and above 21 mA it reports a
/// fault of its own: NAMUR NE 43. The 10 V are
/// usual on data sheets, from memory.</remarks>
public sealed class Transmitter : PartKind
{
    public override string Word => "transmitter";
    public override bool IsElectronic => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Percent];

    private const double ZeroAmps = 0.004,
        SpanAmps = 0.016,
        FullAmps = ZeroAmps + SpanAmps,
        FailedLowAmps = 0.0035,
        FailedHighAmps = 0.0215,
        LeastVolts = 10;

    /// <summary>Amps of the loop at that share of the span.</summary>
    public static double Amps(double percent) => ZeroAmps + SpanAmps * Math.Clamp(percent, 0, 100) / 100;

    public override PartModel Describe(Part part)
    {
        var now = Amps(part.Value(Dimension.Percent) ?? 50);
        return new()
        {
            Terminals = ["1", "2"],
            Through = ("1", "2"),
            // Turned round, a source of no volts that gives so many amps and no more is what lets so many through.
            Links =
            [
                new Link.Source("loop", "2", "1", 0, LeastVolts / FullAmps, Defaults.OpenOhms, now, null) with
                {
                    LogSpread = Spread.Starved,
                },
            ],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 2),
                // What it says itself when it is ill, and one that follows nothing any more.
                new("low", new FaultEffect.Limit(0), 1)
                {
                    Value = Dimension.Ampere,
                    DefaultValue = FailedLowAmps,
                    Values = [FailedLowAmps],
                },
                new("high", new FaultEffect.Limit(0), 1)
                {
                    Value = Dimension.Ampere,
                    DefaultValue = FailedHighAmps,
                    Values = [FailedHighAmps],
                },
                new("stuck", new FaultEffect.Limit(0), 1)
                {
                    Value = Dimension.Ampere,
                    Values = [.. new[] { 0, 25, 50, 75, 100.0 }.Select(Amps).Where(a => Math.Abs(a - now) > 0.1 * SpanAmps)],
                },
                new("shorted", new FaultEffect.Short(0, 0), 0.5) { Value = Dimension.Ohm, DefaultValue = 1 },
            ],
        };
    }
}
