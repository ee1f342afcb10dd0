namespace Zoltric.Drawing.Symbols;

/// <summary>A circle with a wave.</summary>
public sealed class Mains : Symbol
{
    public override string Kind => "mains";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="10" """
        + """class="body"/><path d="M-6 0 q3 -6 6 0 t6 0"/>""";
}
