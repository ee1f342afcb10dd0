namespace Zoltric.Drawing.Symbols;

/// <summary>A box with bars (IEC 60617-S00556).</summary>
public sealed class Heater : Symbol
{
    public override string Kind => "heater";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><rect x="-11" y="-5" width="22" """
        + """height="10" class="body"/><path d="M-5 -5 v10 M0 -5 v10 M5 -5 v10"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><path d="M-11 0 l1.8 -5 l3.7 10 """
        + """l3.7 -10 l3.7 10 l3.7 -10 l3.7 10 l1.7 -5"/>""";
}
