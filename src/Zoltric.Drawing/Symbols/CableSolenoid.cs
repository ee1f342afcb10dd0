namespace Zoltric.Drawing.Symbols;

/// <summary>Coil with two posts on its case.</summary>
public sealed class CableSolenoid : Symbol
{
    public override string Kind => "cablesolenoid";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-9" width="18" """
        + """height="18" class="body"/><line x1="-9" y1="5" x2="9" y2="5"/>"""
        + """<circle cx="-4" cy="-11" r="2" class="body"/><circle cx="4" cy="-11" r="2" class="body"/>""";
}
