namespace Zoltric.Drawing.Symbols;

/// <summary>A box that makes DC.</summary>
public sealed class Psu : Symbol
{
    public override string Kind => "psu";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><rect x="-11" y="-9" width="22" """
        + """height="18" class="body"/><line x1="-6" y1="-2" x2="6" y2="-2"/><line x1="-6" y1="3" x2="6" y2="3" """
        + """stroke-dasharray="3 2"/>""";
}
