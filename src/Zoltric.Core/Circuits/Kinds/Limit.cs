namespace Zoltric.Core.Circuits.Kinds;

public sealed class Limit : ContactDevice
{
    public override string Word => "limit";
    public override string Spoken => "limit switch";
}
