namespace Zoltric.Drawing.Symbols;

/// <summary>Contact worked by temperature.</summary>
public sealed class Thermostat : ContactSymbol
{
    public override string Kind => "thermostat";

    protected override string Sign => """<path d="M-2 -3 v-8 h5 M3 -11 v3"/>""";
}
