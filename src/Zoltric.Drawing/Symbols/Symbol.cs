namespace Zoltric.Drawing.Symbols;

/// <summary>
/// How one kind of part is drawn: a glyph about the origin, 28 wide, at most 24 high, leads at y = 0 to the left and right. One file per
/// kind, named as the kind in Zoltric.Core. Drawn for us after the published standard named beside each; numbers from memory.
/// </summary>
public abstract class Symbol
{
    /// <summary>The word of the kind in the notation.</summary>
    public abstract string Kind { get; }

    /// <summary>SVG elements. Classes: body is filled with paper, ink with ink, heavy is a thick stroke, glyph is a letter.</summary>
    public abstract string Shape { get; }

    public static IReadOnlyDictionary<string, Symbol> All { get; } = typeof(Symbol).Assembly.GetTypes()
        .Where(t => t.IsSubclassOf(typeof(Symbol)) && !t.IsAbstract).Select(t => (Symbol)Activator.CreateInstance(t)!)
        .ToDictionary(s => s.Kind, StringComparer.Ordinal);
}
