using Zoltric.Core.Circuits;

namespace Zoltric.Drawing.Schematic;

/// <summary>
/// A unit on the page; <paramref name="Axes"/> are the x of its ports, in the order of <see cref="Unit.Ports"/>. All in px.
/// </summary>
public sealed record PlacedUnit(Unit Unit, double X, double Y, IReadOnlyList<double> Axes);

/// <summary>
/// A straight piece of a net. Its current is the sum of what flows out of the ports beyond it into the net, counted towards (X2, Y2).
/// </summary>
/// <param name="Labels">Wires this piece stands for: one gives it its colour; none on a stretch that several share.</param>
public sealed record Piece(
    DrawnNet Net,
    double X1,
    double Y1,
    double X2,
    double Y2,
    IReadOnlyList<NetPort> Beyond,
    IReadOnlyList<Wire> Labels
)
{
    public bool Horizontal => Y1 == Y2;

    /// <summary>Where the piece hops over others, x in px, rising.</summary>
    public IReadOnlyList<double> Hops { get; init; } = [];
}

public enum TextUse
{
    Tag,
    Words,
    Pin,
    Wire,
    Bar,
}

/// <summary>A line of text, x at its start (or middle), y at its base line.</summary>
public sealed record Text(TextUse Use, double X, double Y, double Size, bool Middle, string Words)
{
    /// <summary>What the text belongs to.</summary>
    public Unit? Unit { get; init; }
    public Wire? Wire { get; init; }
    public DrawnNet? Net { get; init; }

    /// <summary>Width taken for a layout without the font at hand: a little more than the font needs, checked in a browser.</summary>
    public double Width => WidthOf(Words, Size, Use is TextUse.Tag or TextUse.Bar);

    /// <summary>px for words in the shipped font, bold or not.</summary>
    public static double WidthOf(string words, double size, bool bold)
    {
        ArgumentNullException.ThrowIfNull(words);
        return words.Sum(Share) * size * (bold ? 1.1 : 1) + 0.5;

        static double Share(char c) =>
            c switch
            {
                ' ' => 0.3,
                'i' or 'l' or 'j' or 'I' or '.' or ',' or ':' or '\'' or '|' or '(' or ')' or 't' or 'f' or 'r' => 0.42,
                'm' or 'w' or 'M' or 'W' or '%' or '…' or '–' or '−' => 0.95,
                >= 'a' and <= 'z' => 0.6,
                _ => 0.69,
            };
    }

    public (double Left, double Top, double Right, double Bottom) Box =>
        (Middle ? X - Width / 2 : X, Y - Size * 0.8, Middle ? X + Width / 2 : X + Width, Y + Size * 0.25);
}

/// <summary>Where three or more pieces of a net meet.</summary>
public sealed record Dot(DrawnNet Net, double X, double Y);

/// <summary>A drawing with all its places, in px; nothing of it depends on the state of the machine.</summary>
public sealed record Page(
    Circuit Circuit,
    double Width,
    double Height,
    IReadOnlyList<PlacedUnit> Units,
    IReadOnlyList<Piece> Pieces,
    IReadOnlyList<Text> Texts,
    IReadOnlyList<Dot> Dots
)
{
    public required IReadOnlyList<DrawnNet> Nets { get; init; }

    /// <summary>Where a splice or stud can be touched.</summary>
    public IReadOnlyList<(Terminal Terminal, double X, double Y)> Points { get; init; } = [];

    /// <summary>Connectors as the line their pins stand on: tag, from, to, y.</summary>
    public IReadOnlyList<(Part Part, double From, double To, double Y)> Bulkheads { get; init; } = [];

    /// <summary>Conductors that run together: phases of one load, the pair of a bus.</summary>
    public IReadOnlyList<Bundle> Bundles { get; init; } = [];

    /// <summary>y where a printed page may be cut, between rows.</summary>
    public IReadOnlyList<double> RowCuts { get; init; } = [];

    /// <summary>x where a printed page may be cut, between columns.</summary>
    public IReadOnlyList<double> ColumnCuts { get; init; } = [];
}
