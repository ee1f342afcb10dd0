namespace Zoltric.Drawing.Symbols;

/// <summary>A heater in three.</summary>
public sealed class Heater3 : Symbol
{
    public override string Kind => "heater3";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><rect x="-11" y="-8" width="22" """
        + """height="16" class="body"/><path d="M-11 -3 h22 M-11 3 h22 M0 -8 v16"/>""";
}
