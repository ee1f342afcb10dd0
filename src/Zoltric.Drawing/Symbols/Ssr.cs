namespace Zoltric.Drawing.Symbols;

/// <summary>Coil beside a semiconductor: two triangles back to back.</summary>
public sealed class Ssr : Symbol
{
    public override string Kind => "ssr";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-9" width="18" """
        + """height="18" class="body"/><path d="M-4 -5 v10 M4 -5 v10 M-4 0 L4 -5 M4 0 L-4 5"/>""";
}
