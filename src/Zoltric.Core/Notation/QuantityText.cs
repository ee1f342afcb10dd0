using System.Globalization;
using Superpower;
using Superpower.Model;
using Superpower.Parsers;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Values with units and SI prefixes: <c>12V</c>, <c>8mΩ</c>, <c>4k7</c>, <c>2.5mm2</c>, <c>14awg</c>, <c>5min</c>.</summary>
public static class QuantityText
{
    private static readonly (string Text, Dimension Dimension, double Factor)[] UnitWords =
    [
        ("", Dimension.None, 1),
        ("V", Dimension.Volt, 1),
        ("A", Dimension.Ampere, 1),
        ("ohm", Dimension.Ohm, 1),
        ("ohms", Dimension.Ohm, 1),
        ("Ω", Dimension.Ohm, 1),
        ("\u2126", Dimension.Ohm, 1),
        ("R", Dimension.Ohm, 1),
        ("W", Dimension.Watt, 1),
        ("VA", Dimension.VoltAmpere, 1),
        ("s", Dimension.Second, 1),
        ("min", Dimension.Second, 60),
        ("h", Dimension.Second, 3600),
        ("m", Dimension.Metre, 1),
        ("cm", Dimension.Metre, 0.01),
        ("mm", Dimension.Metre, 0.001),
        ("km", Dimension.Metre, 1000),
        ("ft", Dimension.Metre, 0.3048),
        ("in", Dimension.Metre, 0.0254),
        ("mm2", Dimension.SquareMillimetre, 1),
        ("mm²", Dimension.SquareMillimetre, 1),
        ("awg", Dimension.WireGauge, 1),
        ("AWG", Dimension.WireGauge, 1),
        ("C", Dimension.Celsius, 1),
        ("°C", Dimension.Celsius, 1),
        ("%", Dimension.Percent, 1),
        ("uF", Dimension.Microfarad, 1),
        ("µF", Dimension.Microfarad, 1),
        ("μF", Dimension.Microfarad, 1),
        ("mfd", Dimension.Microfarad, 1),
        ("nF", Dimension.Microfarad, 1e-3),
        ("F", Dimension.Microfarad, 1e6),
        ("Hz", Dimension.Hertz, 1),
        ("hz", Dimension.Hertz, 1),
    ];

    private static readonly (string Text, double Factor)[] Prefixes =
    [
        ("", 1),
        ("m", 1e-3),
        ("u", 1e-6),
        ("µ", 1e-6),
        ("μ", 1e-6),
        ("n", 1e-9),
        ("k", 1e3),
        ("K", 1e3),
        ("M", 1e6),
        ("G", 1e9),
    ];

    /// <summary>
    /// Every spelling of a unit, prefixed ones included; a plain spelling wins over a prefixed one (m is metre, not milli).
    /// </summary>
    private static readonly Dictionary<string, (Dimension Dimension, double Factor)> Spellings = Build();

    private static Dictionary<string, (Dimension, double)> Build()
    {
        var all = new Dictionary<string, (Dimension, double)>(StringComparer.Ordinal);
        foreach (var (text, dim, factor) in UnitWords)
            all.TryAdd(text, (dim, factor));
        foreach (var (text, dim, factor) in UnitWords)
            if (
                dim is Dimension.Volt or Dimension.Ampere or Dimension.Ohm or Dimension.Watt or Dimension.VoltAmpere or Dimension.Second
                && factor == 1
            )
                foreach (var (p, f) in Prefixes)
                    all.TryAdd(p + text, (dim, f));
        // Bare prefixes are ohms in the trade's shorthand: 4k7, 10k, 1M.
        foreach (var (p, f) in Prefixes)
            if (f >= 1e3)
                all.TryAdd(p, (Dimension.Ohm, f));
        return all;
    }

    private static readonly TextParser<double> PlainNumber =
        from sign in Character.EqualTo('-').Or(Character.EqualTo('+')).OptionalOrDefault('+')
        from digits in Span.MatchedBy(
            Numerics
                .Natural.Then(_ => Character.EqualTo('.').IgnoreThen(Numerics.Natural).OptionalOrDefault(TextSpan.Empty))
                .Value(Unit.Value)
                .Try()
                .Or(Character.EqualTo('.').IgnoreThen(Numerics.Natural).Value(Unit.Value))
        )
        select (sign == '-' ? -1 : 1) * double.Parse(digits.ToStringValue(), CultureInfo.InvariantCulture);

    /// <summary>Reads <c>4k7</c>: prefix in the place of the decimal point.</summary>
    private static readonly TextParser<Quantity> Infix =
        from whole in Numerics.Natural
        from prefix in Character.In('k', 'K', 'M', 'R')
        from part in Numerics.Natural
        select new Quantity(
            double.Parse($"{whole}.{part}", CultureInfo.InvariantCulture)
                * (
                    prefix switch
                    {
                        'M' => 1e6,
                        'R' => 1,
                        _ => 1e3,
                    }
                ),
            Dimension.Ohm
        );

    private static readonly TextParser<Quantity> Plain =
        from number in PlainNumber
        from spaces in Character.EqualTo(' ').Many()
        from unit in Span.WithAll(c => !char.IsWhiteSpace(c))
            .OptionalOrDefault(TextSpan.Empty)
            .Where(u => Spellings.ContainsKey(u.ToStringValue()), "a known unit")
        select new Quantity(number * Spellings[unit.ToStringValue()].Factor, Spellings[unit.ToStringValue()].Dimension);

    private static readonly TextParser<Quantity> Any = Infix.AtEnd().Try().Or(Plain.AtEnd());

    /// <summary>Reads one value; false when the text is no value with a known unit.</summary>
    public static bool TryParse(string text, out Quantity value)
    {
        value = default;
        if (text.Length is 0 or > 40)
            return false;
        var result = Any.TryParse(text);
        if (!result.HasValue || !double.IsFinite(result.Value.Value))
            return false;
        value = result.Value;
        return true;
    }

    /// <summary>True when the text starts like a number, so that it was meant as a value.</summary>
    public static bool LooksNumeric(string text) =>
        text.Length > 0 && (char.IsAsciiDigit(text[0]) || (text.Length > 1 && text[0] is '-' or '.' && char.IsAsciiDigit(text[1])));

    /// <summary>Name of a dimension in messages.</summary>
    public static string Say(Dimension d) =>
        d switch
        {
            Dimension.Volt => "volts (12V)",
            Dimension.Ampere => "amps (15A)",
            Dimension.Ohm => "ohms (85ohm)",
            Dimension.Watt => "watts (21W)",
            Dimension.VoltAmpere => "volt-amps (100VA)",
            Dimension.Second => "a time (5min)",
            Dimension.Metre => "a length (1.2m)",
            Dimension.SquareMillimetre or Dimension.WireGauge => "a wire size (2.5mm2, 14awg)",
            Dimension.Celsius => "degrees (90C)",
            Dimension.Percent => "per cent (70%)",
            Dimension.Microfarad => "a capacity (20uF)",
            Dimension.Hertz => "a frequency (60Hz)",
            _ => "a plain number",
        };

    /// <summary>Writes a value so that reading it gives the same value.</summary>
    public static string Write(Quantity q) => q.Value.ToString("R", CultureInfo.InvariantCulture) + Units.Short(q.Dimension);
}
