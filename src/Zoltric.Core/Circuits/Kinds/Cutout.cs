namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Opens by temperature; on the sheet it is closed unless its lines say otherwise.</summary>
public sealed class Cutout : ProtectiveDevice
{
    public override string Word => "cutout";
    public override string Spoken => "cut-out";
    protected override double OpenOdds => 2;

    protected override Link Pole(Part part, string a, string b, ClosedRule rule) => new Link.Contact($"{a}-{b}", a, b, rule);
}
