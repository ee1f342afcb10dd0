namespace Zoltric.Core.Circuits.Kinds;

public sealed class Heater : Load
{
    public override string Word => "heater";
    protected override double OpenOdds => 4;
}
