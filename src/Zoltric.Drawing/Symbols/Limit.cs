namespace Zoltric.Drawing.Symbols;

/// <summary>Contact worked by position (IEC 60617-S00243).</summary>
public sealed class Limit : Symbol
{
    public override string Kind => "limit";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="8" y2="-8"/><path d="M3 -5.5 v5.5 h5"/>""";
}
