namespace Zoltric.Core.Circuits.Kinds;

public sealed class Resistor : Load
{
    public override string Word => "resistor";
    protected override double OpenOdds => 1;
}
