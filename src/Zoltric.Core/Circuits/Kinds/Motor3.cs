namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Three-phase motor, its windings taken as resistances at the running current.</summary>
public sealed class Motor3 : ThreePhaseLoad
{
    public override string Word => "motor3";
    public override string Spoken => "three-phase motor";
    protected override double OpenOdds => 2;
    protected override double? AtRest => Motor.CopperShare;
}
