namespace Zoltric.Core.Circuits.Kinds;

public sealed class Isolator : ProtectiveDevice
{
    public override string Word => "isolator";
    protected override bool HasPoles => true;
    protected override double OpenOdds => 1.5;
    protected override double ResistsOdds => 2;
    protected override double WeldedOdds => 0.3;

    protected override Link Pole(Part part, string a, string b, ClosedRule rule) =>
        new Link.Contact($"{a}-{b}", a, b, rule) { ClosedOhms = Defaults.ContactOhms(part.Value(Dimension.Ampere)) };
}
