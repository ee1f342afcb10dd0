namespace Zoltric.Drawing.Symbols;

/// <summary>Make contact (IEC 60617-S00227).</summary>
public sealed class Switch : Symbol
{
    public override string Kind => "switch";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="8" y2="-8"/><circle cx="-9" cy="0" r="1.6"/><circle cx="9" cy="0" r="1.6"/>""";
}
