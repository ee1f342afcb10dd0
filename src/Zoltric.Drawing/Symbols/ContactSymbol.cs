namespace Zoltric.Drawing.Symbols;

/// <summary>
/// A contact with a sign for what moves it: a blade to the side, open or closed (IEC 60617-S00227); with round ends in IEEE 315.
/// </summary>
public abstract class ContactSymbol : Symbol
{
    /// <summary>What moves it, as SVG elements on the blade's side.</summary>
    protected abstract string Sign { get; }

    /// <summary>The same on a North American drawing.</summary>
    protected virtual string IeeeSign => Sign;

    private const string Leads =
        """<line x1="-14" y1="0" x2="-9" y2="0"/><line x1="9" y1="0" x2="14" y2="0"/><circle cx="-9" cy="0" r="1.5"/>""";
    private const string Ends = """<circle cx="-9" cy="0" r="2.2" class="body"/><circle cx="9" cy="0" r="2.2" class="body"/>""";
    private const string Open = """<line x1="-9" y1="0" x2="8" y2="-8" class="blade"/>""";
    private const string Shut = """<path d="M-9 0 L10 -3.5 M9 0 V-6" class="blade"/>""";

    public sealed override string Shape => Leads + Open + Sign;
    public sealed override string Closed => Leads + Shut + Sign;
    public sealed override string Ieee => Leads + Open + Ends + IeeeSign;
    public sealed override string IeeeClosed => Leads + Shut + Ends + IeeeSign;
}
