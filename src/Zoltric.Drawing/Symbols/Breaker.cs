namespace Zoltric.Drawing.Symbols;

/// <summary>Contact with a cross (IEC 60617-S00287).</summary>
public sealed class Breaker : Symbol
{
    public override string Kind => "breaker";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="8" y2="-8"/><path d="M6 -3 l6 6 M12 -3 l-6 6"/>""";
}
