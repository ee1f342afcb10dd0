namespace Zoltric.Drawing.Symbols;

/// <summary>Coil: a box with a bar.</summary>
public sealed class Contactor : Symbol
{
    public override string Kind => "contactor";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-9" width="18" """
        + """height="18" class="body"/><line x1="-9" y1="5" x2="9" y2="5"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" class="body"/>""";
}
