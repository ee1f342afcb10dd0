namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Flame rod from 1 (rod) to 2 (burner ground), <c>flamerod 4uA when burner=LIT</c>: while its condition holds the flame lets so many
/// microamps of direct current through, whatever the volts, as long as 10 V are left for it; otherwise nothing. A sooted rod lets through
/// less, one that touches the burner everything.
/// </summary>
/// <remarks>
/// A few microamps, read in series, with 1 µA about the least a control accepts: common practice, no source. The alternating volts that the
/// flame rectifies are taken as the direct current that is left of them.
/// </remarks>
public sealed class FlameRod : PartKind
{
    public override string Word => "flamerod";
    public override string Spoken => "flame rod";
    public override bool TakesCondition => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ampere];

    private const double DefaultAmps = 4e-6,
        LeastVolts = 10;

    private static readonly double[] DirtyShares = [0.1, 0.25, 0.5];

    public override PartModel Describe(Part part)
    {
        var amps = part.Value(Dimension.Ampere) ?? DefaultAmps;
        return new PartModel
        {
            Terminals = ["1", "2"],
            Through = ("1", "2"),
            Links =
            [
                new Link.Source("flame", "2", "1", 0, LeastVolts / amps, Defaults.OpenOhms, amps, part.When) with
                {
                    LogSpread = Spread.Starved,
                },
            ],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 1.5),
                new("dirty", new FaultEffect.Limit(0), 3)
                {
                    Value = Dimension.Ampere,
                    DefaultValue = 0.25 * amps,
                    Values = [.. DirtyShares.Select(s => s * amps)],
                },
                new("shorted", new FaultEffect.Short(0, 0), 1)
                {
                    Value = Dimension.Ohm,
                    DefaultValue = 1,
                    Values = [1, 1e3, 1e5],
                },
            ],
        };
    }
}
