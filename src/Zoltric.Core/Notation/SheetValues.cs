using System.Globalization;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Values of a sheet read from words, each with the problem where one does not fit.</summary>
internal static class SheetValues
{
    public static Quantity Quantity(Placed at, int line, params ReadOnlySpan<Dimension> allowed)
    {
        if (!QuantityText.TryParse(at.Text, out var q))
            throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no value with a known unit.", Or(allowed), null);
        if (allowed.Contains(q.Dimension))
            return q;
        if (q.Dimension == Dimension.None && allowed.Length == 1)
            return q with { Dimension = allowed[0] };
        throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} has the wrong unit here.", Or(allowed), null);
    }

    public static string Or(ReadOnlySpan<Dimension> allowed)
    {
        var names = new List<string>();
        foreach (var d in allowed)
            if (QuantityText.Say(d) is var name && !names.Contains(name))
                names.Add(name);
        return string.Join(" or ", names);
    }

    public static double Positive(Placed at, int line) =>
        double.TryParse(at.Text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && v > 0 && double.IsFinite(v)
            ? v
            : throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no number above zero.", "a number such as 3", null);

    public static (double, double) Range(Placed at, int line)
    {
        var dots = at.Text.IndexOf("..", StringComparison.Ordinal);
        if (
            dots > 0
            && QuantityText.TryParse(at.Text[..dots], out var low)
            && QuantityText.TryParse(at.Text[(dots + 2)..], out var high)
            && low.Dimension is Dimension.None or Dimension.Ohm
            && high.Dimension is Dimension.Ohm
            && low.Value <= high.Value
        )
            return (low.Value, high.Value);
        throw Names.Fail(line, at, $"{NotationTokenizer.Clip(at.Text)} is no range of ohms.", "low..high with unit", "write 3..4ohm");
    }

    public static double Share(Placed at, int line)
    {
        var percent = Quantity(at, line, Dimension.Percent).Value;
        return percent is >= 0 and <= 100 ? percent / 100 : throw Names.Fail(line, at, "This is a share of time.", "0 to 100 %", null);
    }
}
