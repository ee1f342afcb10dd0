namespace Zoltric.Drawing.Symbols;

/// <summary>Contact with a cross (IEC 60617-S00287).</summary>
public sealed class Breaker : ContactSymbol
{
    public override string Kind => "breaker";

    protected override string Sign => """<path d="M6 -3 l6 6 M12 -3 l-6 6"/>""";
}
