namespace Zoltric.Core.Circuits.Kinds;

public sealed class Splice : Point
{
    public override string Word => "splice";
}
