namespace Zoltric.Drawing.Symbols;

/// <summary>Contact worked by a push.</summary>
public sealed class Button : ContactSymbol
{
    public override string Kind => "button";

    protected override string Sign => """<path d="M0 -4 v-8 M-5 -12 h10"/>""";
}
