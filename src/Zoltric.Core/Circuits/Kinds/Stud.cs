namespace Zoltric.Core.Circuits.Kinds;

public sealed class Stud : Point
{
    public override string Word => "stud";
}
