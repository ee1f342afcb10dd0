namespace Zoltric.Core.Circuits.Kinds;

public sealed class Breaker : ProtectiveDevice
{
    public override string Word => "breaker";
    protected override bool HasPoles => true;
    protected override double OpenOdds => 2;

    protected override Link Pole(Part part, string a, string b, ClosedRule rule) =>
        new Link.Fuse($"{a}-{b}", a, b, part.Value(Dimension.Ampere) ?? double.PositiveInfinity, rule);
}
