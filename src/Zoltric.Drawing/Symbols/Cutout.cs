namespace Zoltric.Drawing.Symbols;

/// <summary>Contact opened by heat.</summary>
public sealed class Cutout : Symbol
{
    public override string Kind => "cutout";

    public override string Shape => """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><line x1="-9" y1="0" x2="9" y2="-3"/><path d="M-3 -9 h3 v4 h3 v-4 h3" />""";
}
