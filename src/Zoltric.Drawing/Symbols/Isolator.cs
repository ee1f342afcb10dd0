namespace Zoltric.Drawing.Symbols;

/// <summary>Contact with a stroke across its end (IEC 60617-S00288).</summary>
public sealed class Isolator : Symbol
{
    public override string Kind => "isolator";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="8" y2="-8"/><line x1="9" y1="-5" x2="9" y2="5"/>""";
}
