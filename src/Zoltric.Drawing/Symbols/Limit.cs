namespace Zoltric.Drawing.Symbols;

/// <summary>Contact worked by position (IEC 60617-S00243).</summary>
public sealed class Limit : ContactSymbol
{
    public override string Kind => "limit";

    protected override string Sign => """<path d="M1 -4.5 v-5.5 h6"/>""";
}
