namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Phase monitor: L1, L2, L3 and a change-over 11-12-14. It holds while the lowest of the three line volts is above 85 % of the stated and
/// the phases follow each other clockwise; it lets go at 80 %, or when two of them are crossed.
/// </summary>
/// <remarks>Limits as usual on such relays, from memory.</remarks>
public sealed class PhaseMonitor : PartKind
{
    public override string Word => "phasemonitor";
    public override bool IsElectronic => true;
    public override string Spoken => "phase monitor";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];

    private const double PullInShare = 0.85,
        DropOutShare = 0.80;

    /// <summary>What each pair of lines meets, Ω; an estimate.</summary>
    private const double SenseOhms = 200e3;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        Link[] links =
        [
            new Link.Resistance("L1-L2", "L1", "L2", SenseOhms, Spread.Load),
            new Link.Resistance("L2-L3", "L2", "L3", SenseOhms, Spread.Load),
            new Link.Resistance("L3-L1", "L3", "L1", SenseOhms, Spread.Load),
            new Link.Contact("11-14", "11", "14", new ClosedRule.ByCoil(true)),
            new Link.Contact("11-12", "11", "12", new ClosedRule.ByCoil(false)),
        ];
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B }).Distinct()],
            Links = links,
            Coil = new CoilRule(0, volts, PullInShare * volts, DropOutShare * volts, 100, 100)
            {
                Links = [0, 1, 2],
                Weakest = true,
                InOrder = true,
            },
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 2),
                new("contact 11-14 open", new FaultEffect.Open(3), 2),
                new("contact 11-14 resists", new FaultEffect.Series(3), 1) { Value = Dimension.Ohm },
                new("welded 11-14", new FaultEffect.Closed(3), 0.5),
                new("contact 11-12 open", new FaultEffect.Open(4), 1),
            ],
        };
    }
}
