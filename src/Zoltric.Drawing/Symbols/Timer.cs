namespace Zoltric.Drawing.Symbols;

/// <summary>Coil with a waiting half circle.</summary>
public sealed class Timer : Symbol
{
    public override string Kind => "timer";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-9" width="18" """
        + """height="18" class="body"/><path d="M-5 4 a5 5 0 0 1 10 0"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><path d="M0 -6 v6 h4"/>""";
}
