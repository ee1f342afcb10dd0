namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Opens by temperature; on the sheet it is closed unless its lines say otherwise.</summary>
public sealed class Cutout : ProtectiveDevice
{
    public override string Word => "cutout";
    public override string Spoken => "cut-out";
    protected override double OpenOdds => 2;

    protected override Link Describe(Part part, ClosedRule rule) =>
        new Link.Contact(
            "1-2",
            part.Contacts.Count > 0 ? part.Contacts[0].A : "1",
            part.Contacts.Count > 0 ? part.Contacts[0].B : "2",
            rule
        );
}
