namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with G: a generator.</summary>
public sealed class Charger : Symbol
{
    public override string Kind => "charger";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><text x="0" y="4" class="glyph">G</text>""";
}
