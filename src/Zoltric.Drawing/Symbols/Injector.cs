namespace Zoltric.Drawing.Symbols;

/// <summary>A valve coil with its needle.</summary>
public sealed class Injector : Symbol
{
    public override string Kind => "injector";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-8" width="18" """
        + """height="11" class="body"/><path d="M-4 3 L0 10 L4 3"/>""";
}
