namespace Zoltric.Core.Circuits.Kinds;

public sealed class Switch : ContactDevice
{
    public override string Word => "switch";
}
