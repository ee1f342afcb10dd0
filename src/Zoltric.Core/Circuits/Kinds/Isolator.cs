namespace Zoltric.Core.Circuits.Kinds;

public sealed class Isolator : ProtectiveDevice
{
    public override string Word => "isolator";
    protected override double OpenOdds => 1.5;
    protected override double ResistsOdds => 2;

    protected override Link Describe(Part part, ClosedRule rule) =>
        new Link.Contact(
            "1-2",
            part.Contacts.Count > 0 ? part.Contacts[0].A : "1",
            part.Contacts.Count > 0 ? part.Contacts[0].B : "2",
            rule
        );
}
