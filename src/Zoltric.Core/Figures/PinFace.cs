using System.Text.RegularExpressions;

namespace Zoltric.Core.Figures;

/// <summary>How the pins of a plug are counted, seen on its mating side.</summary>
public enum PinCount
{
    /// <summary>Along each row from the left: 1 2 3 over 4 5 6.</summary>
    Rows,

    /// <summary>Down each column from the left: 1 3 5 over 2 4 6.</summary>
    Columns,

    /// <summary>Along the first row and back along the next: 1 2 3 over 6 5 4.</summary>
    ThereAndBack,

    /// <summary>Round the outside inwards, clockwise from the upper left.</summary>
    Spiral,
}

/// <summary>A pin on the face of a plug.</summary>
/// <param name="Row">From the top, 0 first.</param>
/// <param name="Column">From the left, 0 first.</param>
public sealed record PinPlace(string Pin, int Row, int Column);

/// <summary>
/// The face of a plug: where each pin lies, by how they are counted. Names of a letter and a number lie by them, the letter its row and
/// the number its column, whatever is chosen.
/// </summary>
public static partial class PinFace
{
    public const int MostRows = 12,
        MostPins = 200;

    /// <param name="pins">Every pin of the plug, in the order counted.</param>
    /// <param name="rows">Rows of the face; held between 1 and the pins there are.</param>
    /// <param name="wireSide">True for the side the wires go in: left and right change places.</param>
    public static IReadOnlyList<PinPlace> Of(IReadOnlyList<string> pins, int rows, PinCount count, bool wireSide)
    {
        ArgumentNullException.ThrowIfNull(pins);
        if (pins.Count == 0)
            return [];
        var places = Lettered(pins) ?? Counted(pins, Math.Clamp(rows, 1, Math.Min(MostRows, pins.Count)), count);
        var last = places.Max(p => p.Column);
        return wireSide ? [.. places.Select(p => p with { Column = last - p.Column })] : places;
    }

    /// <summary>Rows that a plug of so many pins is likely to have.</summary>
    public static int LikelyRows(int pins) =>
        pins <= 3 ? 1
        : pins <= 24 ? 2
        : pins <= 60 ? 3
        : 4;

    private static List<PinPlace>? Lettered(IReadOnlyList<string> pins)
    {
        var named = pins.Select(p => LetterAndNumber().Match(p)).ToList();
        if (named.Any(m => !m.Success))
            return null;
        var letters = named.Select(m => m.Groups[1].Value).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal).ToList();
        var least = named.Min(m => int.Parse(m.Groups[2].Value, null));
        return
        [
            .. named.Select(m => new PinPlace(m.Value, letters.IndexOf(m.Groups[1].Value), int.Parse(m.Groups[2].Value, null) - least)),
        ];
    }

    private static List<PinPlace> Counted(IReadOnlyList<string> pins, int rows, PinCount count)
    {
        var columns = (pins.Count + rows - 1) / rows;
        IEnumerable<(int Row, int Column)> places = count switch
        {
            PinCount.Columns => Grid(columns, rows).Select(c => (c.Second, c.First)),
            PinCount.ThereAndBack => Grid(rows, columns).Select(c => (c.First, c.First % 2 == 0 ? c.Second : columns - 1 - c.Second)),
            PinCount.Spiral => Spiral(rows, columns),
            _ => Grid(rows, columns).Select(c => (c.First, c.Second)),
        };
        return [.. pins.Zip(places, (pin, at) => new PinPlace(pin, at.Row, at.Column))];
    }

    private static IEnumerable<(int First, int Second)> Grid(int first, int second) =>
        Enumerable.Range(0, first).SelectMany(i => Enumerable.Range(0, second).Select(j => (i, j)));

    private static IEnumerable<(int Row, int Column)> Spiral(int rows, int columns)
    {
        var (top, bottom, left, right) = (0, rows - 1, 0, columns - 1);
        while (top <= bottom && left <= right)
        {
            for (var c = left; c <= right; c++)
                yield return (top, c);
            for (var r = top + 1; r <= bottom; r++)
                yield return (r, right);
            for (var c = right - 1; top < bottom && c >= left; c--)
                yield return (bottom, c);
            for (var r = bottom - 1; left < right && r > top; r--)
                yield return (r, left);
            (top, bottom, left, right) = (top + 1, bottom - 1, left + 1, right - 1);
        }
    }

    [GeneratedRegex(@"^([A-Za-z])(\d{1,2})$")]
    private static partial Regex LetterAndNumber();
}
