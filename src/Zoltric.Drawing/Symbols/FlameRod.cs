namespace Zoltric.Drawing.Symbols;

/// <summary>A rod that ends in a flame.</summary>
public sealed class FlameRod : Symbol
{
    public override string Kind => "flamerod";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="2" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><path d="M5 9 q-6 -4 -2 -10 q1 3 2 3 """
        + """q1 -6 2 -9 q5 8 2 16 z"/>""";
}
