namespace Zoltric.Drawing.Symbols;

/// <summary>Motor with the solenoid on its back.</summary>
public sealed class Starter : Symbol
{
    public override string Kind => "starter";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="2" r="9" """
        + """class="body"/><rect x="-6" y="-12" width="12" height="5" class="body"/><text x="0" y="6" """
        + """class="glyph">M</text>""";
}
