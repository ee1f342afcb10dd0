namespace Zoltric.Drawing.Symbols;

/// <summary>A heater's bracket in its box (IEC 60617-S00325).</summary>
public sealed class Overload : Symbol
{
    public override string Kind => "overload";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-8" width="18" """
        + """height="16" class="body"/><path d="M-9 0 h4 v-4 h10 v4 h4"/>""";
}
