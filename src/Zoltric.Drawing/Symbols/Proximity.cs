namespace Zoltric.Drawing.Symbols;

/// <summary>Box with the rhombus of nearness (IEC 60617-S00353, from memory).</summary>
public sealed class Proximity : Symbol
{
    public override string Kind => "proximity";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-10" width="18" """
        + """height="20" class="body"/><path d="M0 -6 L6 0 L0 6 L-6 0 Z"/>""";
}
