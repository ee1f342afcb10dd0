namespace Zoltric.Drawing.Symbols;

/// <summary>Coil: a box (IEC 60617-S00305).</summary>
public sealed class Relay : Symbol
{
    public override string Kind => "relay";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-9" width="18" """
        + """height="18" class="body"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><path d="M-10 0 a3.3 4 0 0 1 6.6 """
        + """0 a3.3 4 0 0 1 6.6 0 a3.3 4 0 0 1 6.6 0"/>""";
}
