namespace Zoltric.Core.Circuits.Kinds;

public sealed class Horn : Load
{
    public override string Word => "horn";
    public override bool ShowsItself => true;
    protected override double OpenOdds => 3;
}
