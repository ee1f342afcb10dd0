namespace Zoltric.Core.Circuits.Kinds;

public sealed class Connector : PinRow
{
    public override string Word => "connector";
    public override bool ComesApart => true;
}
