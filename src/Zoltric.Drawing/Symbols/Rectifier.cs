namespace Zoltric.Drawing.Symbols;

/// <summary>Box with a diode in it.</summary>
public sealed class Rectifier : Symbol
{
    public override string Kind => "rectifier";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><rect x="-10" y="-10" width="20" """
        + """height="20" class="body"/><path d="M-7 0 h3 M-4 -4 v8 l7 -4 z M3 -4 v8 M3 0 h4"/>""";
}
