namespace Zoltric.Core.Circuits.Kinds;

public sealed class Breaker : ProtectiveDevice
{
    public override string Word => "breaker";
    protected override bool HasPoles => true;
    protected override double OpenOdds => 2;

    public override PartModel Describe(Part part) => base.Describe(part) with { Trip = 0 };

    protected override Link Pole(Part part, string a, string b, ClosedRule rule) =>
        part.Value(Dimension.Ampere) is > 0 and var amps
            ? new Link.Fuse($"{a}-{b}", a, b, amps, rule, Defaults.BreakerOhms(amps)) { LogSpread = Spread.Breaker }
            : new Link.Fuse($"{a}-{b}", a, b, double.PositiveInfinity, rule);
}
