namespace Zoltric.Core.Circuits.Kinds;

public sealed class Stud : Point
{
    public override string Word => "stud";
    public override bool IsGroundStud => true;
}
