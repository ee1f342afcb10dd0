namespace Zoltric.Drawing.Symbols;

/// <summary>A dot where wires meet (IEC 60617-S00016).</summary>
public sealed class Splice : Symbol
{
    public override string Kind => "splice";

    public override string Shape => """<line x1="-14" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="4" class="ink"/>""";
}
