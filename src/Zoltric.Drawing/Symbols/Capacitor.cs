namespace Zoltric.Drawing.Symbols;

/// <summary>Two plates that do not touch.</summary>
public sealed class Capacitor : Symbol
{
    public override string Kind => "capacitor";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-3" y2="0"/><line x1="3" y1="0" x2="14" y2="0"/><path d="M-3 -10 v20 M3 -10 v20"/>""";
}
