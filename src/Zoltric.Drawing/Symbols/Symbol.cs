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

    /// <summary>The same with its contact closed; kinds without one have one shape.</summary>
    public virtual string Closed => Shape;

    /// <summary>After IEEE 315 (North American drawings), where that differs; from memory.</summary>
    public virtual string Ieee => Shape;

    public virtual string IeeeClosed => ReferenceEquals(Ieee, Shape) || Ieee == Shape ? Closed : Ieee;

    /// <summary>The shape in a set of symbols and a state.</summary>
    public string In(SymbolSet set, bool closed) =>
        set == SymbolSet.Ieee ? (closed ? IeeeClosed : Ieee)
        : closed ? Closed
        : Shape;

    public static IReadOnlyDictionary<string, Symbol> All { get; } =
        typeof(Symbol)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(Symbol)) && !t.IsAbstract)
            .Select(t => (Symbol)Activator.CreateInstance(t)!)
            .ToDictionary(s => s.Kind, StringComparer.Ordinal);
}

/// <summary>Which published set of symbols a drawing uses.</summary>
public enum SymbolSet
{
    /// <summary>IEC 60617.</summary>
    Iec,

    /// <summary>IEEE 315.</summary>
    Ieee,
}
