namespace Zoltric.Core.Circuits.Kinds;

public sealed class Injector : Load
{
    public override string Word => "injector";
    protected override double OpenOdds => 2;
}
