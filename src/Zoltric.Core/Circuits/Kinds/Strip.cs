namespace Zoltric.Core.Circuits.Kinds;

public sealed class Strip : PinRow
{
    public override string Word => "strip";
    public override string Spoken => "terminal strip";
    public override bool Unplugs => false;
}
