namespace Zoltric.Core.Circuits.Kinds;

public sealed class Breaker : ProtectiveDevice
{
    public override string Word => "breaker";
    protected override double OpenOdds => 2;

    protected override Link Describe(Part part, ClosedRule rule) =>
        new Link.Fuse(
            "1-2",
            part.Contacts.Count > 0 ? part.Contacts[0].A : "1",
            part.Contacts.Count > 0 ? part.Contacts[0].B : "2",
            part.Value(Dimension.Ampere) ?? double.PositiveInfinity,
            rule
        );
}
