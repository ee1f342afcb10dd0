namespace Zoltric.Core.Circuits.Kinds;

public sealed class Lamp : Load
{
    public override string Word => "lamp";
    protected override double OpenOdds => 6;
}
