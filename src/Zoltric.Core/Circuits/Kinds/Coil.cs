namespace Zoltric.Core.Circuits.Kinds;

public sealed class Coil : Load
{
    public override string Word => "coil";
    protected override double OpenOdds => 6;
}
