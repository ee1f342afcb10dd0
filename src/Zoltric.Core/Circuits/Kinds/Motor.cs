namespace Zoltric.Core.Circuits.Kinds;

public sealed class Motor : Load
{
    public override string Word => "motor";
    public override bool ShowsItself => true;
    public override bool HumsOnMains => true;
    protected override double OpenOdds => 3;
    protected override double? AtRest => CopperShare;

    /// <summary>
    /// Copper of a motor as a share of what it stands for at work, V/I: a twentieth for some kilowatts, a third for a small one with
    /// brushes; common practice, no source.
    /// </summary>
    public const double CopperShare = 0.15;

    // Locked rotor draws a few times the running current; three times is common practice for small DC motors, no source.
    protected override double? SeizedFactor => 1.0 / 3;
}
