namespace Zoltric.Drawing.Symbols;

/// <summary>Box with a rising line.</summary>
public sealed class SoftStarter : Symbol
{
    public override string Kind => "softstarter";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><rect x="-10" y="-10" width="20" """
        + """height="20" class="body"/><path d="M-7 7 L3 -5 h5 M-7 7 h14"/>""";
}
