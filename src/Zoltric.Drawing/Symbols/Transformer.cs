namespace Zoltric.Drawing.Symbols;

/// <summary>Two circles that meet (IEC 60617-S00841).</summary>
public sealed class Transformer : Symbol
{
    public override string Kind => "transformer";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><circle cx="-4" cy="0" r="7" """
        + """class="body"/><circle cx="4" cy="0" r="7"/>""";
}
