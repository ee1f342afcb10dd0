namespace Zoltric.Core.Circuits.Kinds;

public sealed class Thermostat : ContactDevice
{
    public override string Word => "thermostat";
}
