namespace Zoltric.Drawing.Symbols;

/// <summary>A box across the pair.</summary>
public sealed class Terminator : Symbol
{
    public override string Kind => "terminator";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><rect x="-11" y="-5" width="22" """
        + """height="10" class="body"/><path d="M-7 -9 v18 M7 -9 v18"/>""";
}
