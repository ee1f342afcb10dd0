namespace Zoltric.Drawing.Symbols;

/// <summary>Contact opened by heat.</summary>
public sealed class Cutout : ContactSymbol
{
    public override string Kind => "cutout";

    protected override string Sign => """<path d="M-4 -10 h3 v4 h3 v-4 h3"/>""";
}
