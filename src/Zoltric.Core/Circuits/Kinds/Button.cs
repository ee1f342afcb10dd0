namespace Zoltric.Core.Circuits.Kinds;

public sealed class Button : ContactDevice
{
    public override string Word => "button";
}
