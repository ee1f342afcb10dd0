namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Solenoid on a battery cable: two posts 1 and 2 for the cable, a small terminal S for the coil and the coil's other end C, which on
/// many is the case: wire C to the frame it is bolted to, and a loose bolt is a lost ground.
/// </summary>
public sealed class CableSolenoid : CoilDevice
{
    public override string Word => "cablesolenoid";
    public override string Spoken => "cable solenoid";
    protected override double OperateMs => 20;
    protected override double ReleaseMs => 12;

    protected override (string First, string Second) CoilTerminals(Part part) => ("S", "C");

    protected override IReadOnlyList<(string A, string B, bool NormallyOpen)> Contacts(Part part) => [("1", "2", true)];
}
