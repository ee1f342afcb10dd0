namespace Zoltric.Core.Circuits.Kinds;

public sealed class Motor : Load
{
    public override string Word => "motor";
    protected override double OpenOdds => 3;
    protected override bool Turns => true;

    // Locked rotor draws a few times the running current; three times is common practice for small DC motors, no source.
    protected override double? SeizedFactor => 1.0 / 3;
}
