namespace Zoltric.Drawing.Symbols;

/// <summary>Contact with a stroke across its end (IEC 60617-S00288).</summary>
public sealed class Isolator : ContactSymbol
{
    public override string Kind => "isolator";

    protected override string Sign => """<line x1="9" y1="-5" x2="9" y2="5"/>""";
}
