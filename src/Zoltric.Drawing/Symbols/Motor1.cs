namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with M and the sign of alternating current.</summary>
public sealed class Motor1 : Symbol
{
    public override string Kind => "motor1";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><text x="0" y="1" class="glyph">M</text><path d="M-4 6 q2 -4 4 0 q2 4 4 0"/>""";
}
