namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with M (IEC 60617-S00819).</summary>
public sealed class Motor : Symbol
{
    public override string Kind => "motor";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><text x="0" y="4" class="glyph">M</text>""";
}
