namespace Zoltric.Drawing.Symbols;

/// <summary>Coil of two channels that act together.</summary>
public sealed class SafetyRelay : Symbol
{
    public override string Kind => "safetyrelay";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-10" width="18" """
        + """height="20" class="body"/><path d="M-9 -3 h18 M-9 3 h18 M0 -9 v18"/>""";
}
