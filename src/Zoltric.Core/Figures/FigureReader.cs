using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Figures;

/// <summary>Reads what a person writes into the fields of a bench: with or without unit, with a decimal comma or point.</summary>
public static class FigureReader
{
    /// <summary>Over limit, as a meter shows it: no end of ohms.</summary>
    private const string OverLimit = "OL";

    /// <returns>The values, or what is wrong by field.</returns>
    public static (FigureValues? Values, IReadOnlyDictionary<string, string> Problems) Read(
        IReadOnlyList<FigureField> fields,
        Func<string, string?> written
    )
    {
        ArgumentNullException.ThrowIfNull(fields);
        ArgumentNullException.ThrowIfNull(written);
        var (numbers, words, problems) = (
            new Dictionary<string, double>(),
            new Dictionary<string, string>(),
            new Dictionary<string, string>()
        );
        foreach (var f in fields)
        {
            var text = written(f.Name)?.Trim() ?? "";
            if (f.Choices.Count > 0)
                words[f.Name] = f.Choices.Contains(text) ? text : f.Choices[0];
            else if (text.Length == 0 && f.Optional)
                continue;
            else if (text.Length == 0)
                problems[f.Name] = $"Write {QuantityText.Say(f.Dimension)}.";
            else if (f.Optional && f.Dimension == Dimension.Ohm && text.Equals(OverLimit, StringComparison.OrdinalIgnoreCase))
                numbers[f.Name] = double.PositiveInfinity;
            else if (Value(f, text) is not { } value)
                problems[f.Name] = $"{NotationTokenizer.Clip(text)} is no value here: write {QuantityText.Say(f.Dimension)}.";
            else if (value < f.Least || value > f.Most)
                problems[f.Name] =
                    value <= 0 && f.Least > 0
                        ? "It has to be more than nothing."
                        : $"That is outside what is worked out here: {Bound(f.Least, f)} to {Bound(f.Most, f)}.";
            else
                numbers[f.Name] = value;
        }
        return (problems.Count == 0 ? new FigureValues(numbers, words) : null, problems);
    }

    /// <summary>What was written in a field as the result of a reading line: with its unit, a decimal point.</summary>
    public static string Result(Dimension dimension, string written)
    {
        ArgumentNullException.ThrowIfNull(written);
        var text = written.Trim().Replace(',', '.').Replace(" ", "", StringComparison.Ordinal);
        return QuantityText.TryParse(text, out var q) && q.Dimension == Dimension.None ? text + Units.Short(dimension) : text;
    }

    private static string Bound(double value, FigureField f) =>
        f.Dimension == Dimension.None ? $"{value:0.###}" : $"{value:0.###} {Units.Sign(f.Dimension)}";

    /// <summary>In the field's base unit; a number without unit is taken in that. A wire size is mm² or a gauge number.</summary>
    private static double? Value(FigureField f, string text)
    {
        text = text.Replace(',', '.').Replace(" ", "", StringComparison.Ordinal);
        if (!QuantityText.TryParse(text, out var q))
            return null;
        if (q.Dimension == f.Dimension || q.Dimension == Dimension.None)
            return q.Value;
        return f.Dimension == Dimension.SquareMillimetre && q.Dimension == Dimension.WireGauge ? Conductor.SquareMillimetres(q) : null;
    }
}
