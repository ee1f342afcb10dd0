namespace Zoltric.Drawing.Symbols;

/// <summary>Coil that looks at three waves.</summary>
public sealed class PhaseMonitor : Symbol
{
    public override string Kind => "phasemonitor";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-10" width="18" """
        + """height="20" class="body"/><path d="M-7 -3 q2 -4 4 0 q2 4 4 0 q2 -4 4 0 M-7 3 q2 -4 4 0 q2 4 4 0 q2 -4 4 0"/>""";
}
