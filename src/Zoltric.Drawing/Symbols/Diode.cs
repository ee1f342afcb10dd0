namespace Zoltric.Drawing.Symbols;

/// <summary>Triangle against a bar (IEC 60617-S00641).</summary>
public sealed class Diode : Symbol
{
    public override string Kind => "diode";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-7" y2="0"/><line x1="7" y1="0" x2="14" y2="0"/><path d="M-7 -7 L7 0 L-7 7 z" """
        + """class="body"/><line x1="7" y1="-7" x2="7" y2="7"/>""";
}
