namespace Zoltric.Core.Circuits.Kinds;

public sealed class Heater3 : ThreePhaseLoad
{
    public override string Word => "heater3";
    public override string Spoken => "three-phase heater";
    protected override double OpenOdds => 5;
}
