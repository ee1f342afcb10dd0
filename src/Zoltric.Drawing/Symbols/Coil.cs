namespace Zoltric.Drawing.Symbols;

/// <summary>A box with a slanted stroke: a solenoid.</summary>
public sealed class Coil : Symbol
{
    public override string Kind => "coil";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-8" width="18" """
        + """height="16" class="body"/><line x1="-9" y1="8" x2="9" y2="-8"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><path d="M-10 0 a3.3 4 0 0 1 6.6 """
        + """0 a3.3 4 0 0 1 6.6 0 a3.3 4 0 0 1 6.6 0"/><path d="M-9 -8 h18 M-9 -11 h18"/>""";
}
