namespace Zoltric.Drawing.Symbols;

/// <summary>Contact worked by temperature.</summary>
public sealed class Thermostat : Symbol
{
    public override string Kind => "thermostat";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="8" y2="-7"/><path d="M-2 -4 v-7 h4"/>""";
}
