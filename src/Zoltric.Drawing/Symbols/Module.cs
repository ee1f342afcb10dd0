namespace Zoltric.Drawing.Symbols;

/// <summary>A box with pins.</summary>
public sealed class Module : Symbol
{
    public override string Kind => "module";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><rect x="-9" y="-10" width="18" """
        + """height="20" class="body"/><path d="M-9 -5 h-4 M-9 5 h-4 M9 -5 h4 M9 5 h4"/>""";
}
