namespace Zoltric.Drawing.Symbols;

/// <summary>Box that turns alternating into direct: halved, a wave above and a line below.</summary>
public sealed class DcDrive : Symbol
{
    public override string Kind => "dcdrive";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-10" y2="0"/><line x1="10" y1="0" x2="14" y2="0"/><rect x="-10" y="-10" width="20" """
        + """height="20" class="body"/><path d="M-10 10 L10 -10 M-8 -5 q2 -4 4 0 q2 4 4 0 M0 5 h7"/>""";
}
