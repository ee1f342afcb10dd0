namespace Zoltric.Drawing.Symbols;

/// <summary>Pin in socket (IEC 60617-S00031).</summary>
public sealed class Connector : Symbol
{
    public override string Kind => "connector";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-6" y2="0"/><line x1="4" y1="0" x2="14" y2="0"/><path d="M-2 -7 a7 7 0 0 0 0 14" """
        + """/><line x1="-2" y1="0" x2="4" y2="0" class="heavy"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-4" y2="0"/><line x1="2" y1="0" x2="14" y2="0"/><path d="M-9 -6 L-3 0 L-9 6 M-3 -6 L3 0 L-3 6"/>""";
}
