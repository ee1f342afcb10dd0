namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with a cross (IEC 60617-S00965).</summary>
public sealed class Lamp : Symbol
{
    public override string Kind => "lamp";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="9" """
        + """class="body"/><path d="M-6 -6 l12 12 M6 -6 l-12 12"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="9" """
        + """class="body"/><path d="M-9 0 h4 a5 5 0 0 1 10 0 h4"/>""";
}
