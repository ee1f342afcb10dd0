using System.Globalization;

namespace Zoltric.Core.Circuits;

/// <summary>What an observation shows: a number in base units, a word, or a refusal with its reason.</summary>
/// <param name="Value">V, A or Ω; null for words, OL and refusals.</param>
/// <param name="Text">As a person reads it.</param>
public sealed record MeterReading(double? Value, Dimension Dimension, string Text)
{
    /// <summary>Standard deviation from part-to-part spread, same unit as the value.</summary>
    public double Spread { get; init; }

    /// <summary>True when the value, but for what is <see cref="Fixed"/> of it, grows in proportion to the supply.</summary>
    public bool FollowsSupply { get; init; }

    /// <summary>True for what alternates: it goes with the mains, where direct volts go with a battery or supply.</summary>
    public bool OfMains { get; init; }

    /// <summary>How widely ohms through electronics or damp stray, as a standard deviation of the logarithm; 0 for what does not.</summary>
    public double AtWill { get; init; }

    /// <summary>True where the spread is that of an instrument of its own, and the meter's adds nothing.</summary>
    public bool OwnInstrument { get; init; }

    /// <summary>How much of it goes with what a transformer makes of the mains, 0 to 1.</summary>
    public double OfRatio { get; init; }

    /// <summary>
    /// One more than the index of the motor or lamp that makes up a good part of the ohms and has far less of them at rest; 0 for none.
    /// </summary>
    public int Winding { get; init; }

    /// <summary>
    /// Where a motor or lamp does what a resistance does not, how many times the value such a reading often is: copper alone, a cold
    /// filament, amps of a motor that stands on two phases. 0 for none.
    /// </summary>
    public double Often { get; init; }

    /// <summary>How widely that strays, as a standard deviation of the logarithm; says nothing where <see cref="Often"/> is 0.</summary>
    public double OftenLogSpread { get; init; }

    /// <summary>The part that does not: what modules drive a bus to, same unit as the value.</summary>
    public double Fixed { get; init; }

    /// <summary>True when the test must not or cannot be done in that setup; <see cref="Text"/> says why.</summary>
    public bool Refused => Answer == Circuits.Answer.Refused;

    /// <summary>What is said instead of a number; null for numbers.</summary>
    public Answer? Answer { get; init; }

    public static MeterReading Number(double value, Dimension dimension) => new(value, dimension, Format(value, dimension));

    public static MeterReading Word(Answer answer, Dimension dimension = Dimension.None) =>
        new(null, dimension, answer.Text()) { Answer = answer };

    public static MeterReading Refuse(Dimension dimension, string reason) =>
        new(null, dimension, reason) { Answer = Circuits.Answer.Refused };

    /// <summary>Four figures as a meter shows them, with a space before the unit.</summary>
    public static string Format(double value, Dimension dimension)
    {
        var a = Math.Abs(value);
        var unit = Units.Sign(dimension);
        string N(double v, string prefix) =>
            v.ToString(
                Math.Abs(v) switch
                {
                    >= 100 => "0",
                    >= 10 => "0.0",
                    _ => "0.00",
                },
                CultureInfo.InvariantCulture
            )
            + " "
            + prefix
            + unit;
        if (dimension == Dimension.Volt)
            return a < 0.0005 ? $"0.00 {unit}"
                : a < 0.1 ? N(value * 1000, "m")
                : N(value, "");
        if (dimension == Dimension.Microfarad)
            return N(value, "");
        if (dimension == Dimension.Ampere && a is >= 1e-7 and < 1e-4)
            return N(value * 1e6, "µ");
        if (a >= 1e6)
            return N(value / 1e6, "M");
        if (a >= 1e3)
            return N(value / 1e3, "k");
        if (a < 1e-6)
            return $"0.00 {unit}";
        return a < 0.1 ? N(value * 1000, "m") : N(value, "");
    }
}
