namespace Zoltric.Drawing.Symbols;

/// <summary>Terminal: an open ring.</summary>
public sealed class Strip : Symbol
{
    public override string Kind => "strip";

    public override string Shape =>
        """<line x1="-14" y1="0" x2="-5" y2="0"/><line x1="5" y1="0" x2="14" y2="0"/><circle cx="0" cy="0" r="5" class="body"/>""";
}
