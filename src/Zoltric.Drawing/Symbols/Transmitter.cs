namespace Zoltric.Drawing.Symbols;

/// <summary>Box that sends a current: an arrow through a circle.</summary>
public sealed class Transmitter : Symbol
{
    public override string Kind => "transmitter";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><rect x="-10" y="-10" width="20" """
        + """height="20" class="body"/><circle cx="0" cy="0" r="6"/><path d="M-4 4 L4 -4 M4 -4 h-4 M4 -4 v4"/>""";
}
