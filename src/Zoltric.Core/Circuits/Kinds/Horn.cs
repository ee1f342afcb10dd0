namespace Zoltric.Core.Circuits.Kinds;

public sealed class Horn : Load
{
    public override string Word => "horn";
    protected override double OpenOdds => 3;
}
