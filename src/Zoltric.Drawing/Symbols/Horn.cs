namespace Zoltric.Drawing.Symbols;

/// <summary>A half circle that sounds.</summary>
public sealed class Horn : Symbol
{
    public override string Kind => "horn";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-7" y2="0"/><line x1="7" y1="0" x2="14" y2="0"/><path d="M-7 6 v-6 a7 7 0 0 1 14 0 """
        + """v6 z" class="body"/>""";
}
