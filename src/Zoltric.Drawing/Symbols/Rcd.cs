namespace Zoltric.Drawing.Symbols;

/// <summary>Contact with a ring about its conductor: what goes out has to come home through it.</summary>
public sealed class Rcd : ContactSymbol
{
    public override string Kind => "rcd";

    protected override string Sign => """<ellipse cx="11" cy="0" rx="2" ry="6"/>""";
}
