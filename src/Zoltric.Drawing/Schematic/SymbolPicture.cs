using System.Net;
using Zoltric.Drawing.Symbols;

namespace Zoltric.Drawing.Schematic;

/// <summary>A symbol by itself, for a table of symbols.</summary>
public static class SymbolPicture
{
    /// <param name="name">What it stands for, for screen readers.</param>
    public static string Of(Symbol symbol, SymbolSet set, string name)
    {
        ArgumentNullException.ThrowIfNull(symbol);
        return $"<svg class=\"zd\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(name)}\" viewBox=\"-32 -20 64 40\" width=\"96\" "
            + "height=\"60\">"
            + $"<style>{PageStyle.Css}</style><path class=\"lead\" d=\"M-30 0H-14M14 0H30\"/>"
            + $"<g class=\"shape\">{symbol.In(set, false)}</g></svg>";
    }
}
