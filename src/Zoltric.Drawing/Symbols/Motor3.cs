namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with M and three leads.</summary>
public sealed class Motor3 : Symbol
{
    public override string Kind => "motor3";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><path d="M-5 -12 v3 M0 -13 v3 M5 -12 v3"/><text x="0" y="4" class="glyph">M</text>""";
}
