namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Proximity switch, terminals after IEC 60947-5-2: 1 plus (brown), 3 minus (blue), 4 output (black). <c>pnp</c> joins 4 to plus and
/// <c>npn</c> to minus while it is powered and its condition holds, <c>proximity pnp when flap=SHUT</c>. With <c>2wire</c> it has 1 and 4
/// alone and lives on what leaks through it: the load in series sees that current even when it is off, and misses some 4 V when it is on.
/// </summary>
/// <remarks>
/// The standard allows 0.5 mA off for three wires and 1.5 mA for two, 3.5 V and 8 V of loss; here are 0.1 mA and 0.8 mA, 1.5 V at 150 mA
/// and 4 V, typical data sheets, from memory. It is alive from 10 V.
/// </remarks>
public sealed class Proximity : PartKind
{
    public override string Word => "proximity";
    public override bool IsElectronic => true;
    public override string Spoken => "proximity switch";
    public override bool TakesCondition => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];
    public override IReadOnlyList<string> OwnWords => ["pnp", "npn", "2wire"];

    private const double SupplyAmps = 0.010,
        LeakAmps = 0.0001,
        TwoWireLeakAmps = 0.0008,
        OnOhms = 10,
        TwoWireVolts = 4,
        TwoWireOhms = 5,
        AliveVolts = 10;

    /// <summary>
    /// What an output that is on keeps for itself strays by this, V: IEC 60947-5-2 allows 3.5 V with three wires and 8 V with two, and most
    /// keep half to two and a half.
    /// </summary>
    private const double OutputStrays = 1;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        if (part.Has("2wire"))
            return new PartModel
            {
                Terminals = ["1", "4"],
                Through = ("1", "4"),
                Links =
                [
                    new Link.Contact("output 4", "1", "inside", new ClosedRule.ByControls([part.When], [])),
                    new Link.Diode("loss", "inside", "4", TwoWireVolts, TwoWireOhms) { StrayVolts = OutputStrays },
                    new Link.Resistance("leak", "1", "4", volts / TwoWireLeakAmps, Spread.Leakage / 2),
                ],
                Faults = [.. Modes(new FaultEffect.Open(0, 2), 0)],
            };
        var (a, b) = part.Has("npn") ? ("4", "3") : ("1", "4");
        return new PartModel
        {
            Terminals = ["1", "3", "4"],
            Links =
            [
                new Link.Resistance("1-3", "1", "3", volts / SupplyAmps, Spread.Load),
                new Link.Contact("output 4", a, b, new ClosedRule.ByControls([Condition.Powered(part.Tag, part.When)], []))
                {
                    ClosedOhms = OnOhms,
                    LogSpread = Spread.Load,
                    StrayVolts = OutputStrays,
                },
                new Link.Resistance("leak", a, b, volts / LeakAmps, Spread.Leakage),
            ],
            Coil = new CoilRule(0, volts, AliveVolts, AliveVolts * 0.9, 1, 1),
            Faults = [.. Modes(new FaultEffect.Open(0, 1), 1)],
        };
    }

    private static IEnumerable<FaultMode> Modes(FaultEffect dead, int output) =>
        [
            new("dead", dead, 2),
            new("output 4 dead", new FaultEffect.Open(output), 2),
            new("output 4 stuck-on", new FaultEffect.Closed(output), 1),
        ];
}
