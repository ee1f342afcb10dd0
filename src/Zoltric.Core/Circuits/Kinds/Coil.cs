namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// A coil that moves something: a valve, a brake, a latch. It may stick: it draws its current, and nothing moves; common practice, no
/// source.
/// </summary>
public sealed class Coil : Load
{
    public override string Word => "coil";
    protected override double OpenOdds => 6;
    protected override double? SeizedFactor => 1;
    protected override (string Words, double Odds) Stuck => ("sticks", 1);
}
