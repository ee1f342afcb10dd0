namespace Zoltric.Drawing.Symbols;

/// <summary>A heavy dot.</summary>
public sealed class Stud : Symbol
{
    public override string Kind => "stud";

    public override string Shape => """<line x1="-14" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="6" class="ink"/>""";
}
