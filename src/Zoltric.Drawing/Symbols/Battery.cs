namespace Zoltric.Drawing.Symbols;

/// <summary>Long and short plate (IEC 60617-S01342).</summary>
public sealed class Battery : Symbol
{
    public override string Kind => "battery";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-3" y2="0"/><line x1="3" y1="0" x2="14" y2="0"/><line x1="-3" y1="-10" x2="-3" """
        + """y2="10"/><line x1="3" y1="-5" x2="3" y2="5" class="heavy"/>""";
}
