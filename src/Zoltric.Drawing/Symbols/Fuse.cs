namespace Zoltric.Drawing.Symbols;

/// <summary>Box with the wire through it (IEC 60617-S00362).</summary>
public sealed class Fuse : Symbol
{
    public override string Kind => "fuse";

    public override string Shape => """<rect x="-11" y="-5" width="22" height="10" class="body"/><line x1="-14" y1="0" x2="14" y2="0"/>""";

    public override string Ieee =>
        """<line x1="-14" y1="0" x2="-11" y2="0"/><line x1="11" y1="0" x2="14" y2="0"/><path d="M-11 0 c4 -9 7 -9 11 0 c4 9 7 9 11 0"/>""";
}
