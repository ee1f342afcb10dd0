using System.Globalization;

namespace Zoltric.Core.Circuits;

/// <summary>One test: setup and probe.</summary>
public sealed record Test(Setup Setup, Probe Probe)
{
    /// <summary>The same with no place moved by hand.</summary>
    public Test Unmoved => Setup.Moved.Count == 0 ? this : this with { Setup = Setup.Unmoved };

    public override string ToString() => $"{Setup} : {Probe}".TrimStart();
}

/// <summary>One reading line: test and result; a result is doubtful when it ends in <c>?</c>.</summary>
public sealed record Reading(Test Test, ReadingResult? Result, bool Doubtful = false)
{
    /// <summary>The finest step of an insulation tester, Ω: what is less shows as 0 MΩ. Common practice, no source.</summary>
    private const double InsulationStep = 1e4;

    /// <summary>From here on insulation is sound, Ω (IEEE 43, 5 MΩ for windings below 1 kV, from memory).</summary>
    internal const double SoundInsulation = 5e6;

    /// <summary>The least that is let pass, Ω: damp, dirt or age, and not what opens a fuse (IEC 60204-1, 1 MΩ, from memory).</summary>
    internal const double LeastInsulation = 1e6;

    /// <summary>
    /// The result as it bears on a steady figure: a minimum or maximum is one side of it, 0 MΩ is anything below an insulation tester's
    /// step, and how many megohms sound insulation has is no matter.
    /// </summary>
    public ReadingResult? Steady =>
        (Result, Test.Probe.Statistic) switch
        {
            (ReadingResult.Number n, Statistic.Min) => new ReadingResult.Extreme(n.Value, true, n.Dimension),
            (ReadingResult.Number n, Statistic.Max or Statistic.Peak) => new ReadingResult.Extreme(n.Value, false, n.Dimension),
            (ReadingResult.Number { Value: 0 } n, _) when Test.Probe is Probe.Insulation => new ReadingResult.Range(
                0,
                InsulationStep,
                n.Dimension
            ),
            (ReadingResult.Number { Value: >= SoundInsulation }, _) when Test.Probe is Probe.Insulation => new ReadingResult.OverLimit(),
            _ => Result,
        };

    public override string ToString() => Result is null ? Test.ToString() : $"{Test} = {Result}{(Doubtful ? "?" : "")}";
}

public abstract record ReadingResult
{
    /// <summary>A number in base units (V, A, Ω).</summary>
    public sealed record Number(double Value, Dimension Dimension) : ReadingResult
    {
        public override string ToString() => Value.ToString("0.######", CultureInfo.InvariantCulture) + Units.Short(Dimension);
    }

    /// <summary>Known only to lie in a range: what a one-key answer stands for.</summary>
    public sealed record Range(double Low, double High, Dimension Dimension) : ReadingResult
    {
        public override string ToString() =>
            string.Create(CultureInfo.InvariantCulture, $"{Low:0.######}..{High:0.######}{Units.Short(Dimension)}");
    }

    /// <summary>
    /// It jumps between two figures while it is watched, or with <see cref="High"/> infinite up to over limit: <c>4..OL</c>. NaN where no
    /// figure was said: <c>flickers</c>.
    /// </summary>
    public sealed record Jumps(double Low, double High, Dimension Dimension) : ReadingResult
    {
        public override string ToString() =>
            double.IsNaN(Low) ? "flickers"
            : double.IsInfinity(High) ? string.Create(CultureInfo.InvariantCulture, $"{Low:0.######}{Units.Short(Dimension)}..OL")
            : string.Create(CultureInfo.InvariantCulture, $"{Low:0.######}..{High:0.######}{Units.Short(Dimension)}");
    }

    /// <summary>The lowest or highest figure of a watch: the steady one lies on its other side.</summary>
    public sealed record Extreme(double Value, bool Lowest, Dimension Dimension) : ReadingResult
    {
        public override string ToString() => (Lowest ? "≥" : "≤") + new Number(Value, Dimension);
    }

    /// <summary>
    /// True for a range that no steady reading covers: one from a one-key answer is a band around a figure, or lies next to nothing.
    /// </summary>
    /// <param name="nominalVolts">Of the machine, V.</param>
    public static bool IsJump(double low, double high, Dimension dimension, double nominalVolts) =>
        double.IsInfinity(high)
        || dimension switch
        {
            Dimension.Volt => high - low >= 0.5 * Math.Max(Math.Abs(low), Math.Abs(high)) && high - low > 0.15 * nominalVolts,
            Dimension.Ohm => high > 3 * Math.Max(low, 0) && high - low > 5,
            _ => high > 3 * Math.Max(low, 0) && high - low > 0.5,
        };

    /// <summary>True where the reading was seen to come and go.</summary>
    public bool ComesAndGoes => this is Jumps or Word { Answer: Answer.Flickers };

    /// <summary>Over limit: more than the meter can show.</summary>
    public sealed record OverLimit : ReadingResult
    {
        public override string ToString() => "OL";
    }

    public sealed record Word(Answer Answer) : ReadingResult
    {
        public override string ToString() => Answer.Text();
    }
}

public static class Units
{
    /// <summary>Unit letters as the notation writes them.</summary>
    public static string Short(Dimension d) =>
        d switch
        {
            Dimension.Volt => "V",
            Dimension.Ampere => "A",
            Dimension.Ohm => "ohm",
            Dimension.Watt => "W",
            Dimension.VoltAmpere => "VA",
            Dimension.Second => "s",
            Dimension.Metre => "m",
            Dimension.SquareMillimetre => "mm2",
            Dimension.WireGauge => "awg",
            Dimension.Celsius => "C",
            Dimension.Percent => "%",
            Dimension.Microfarad => "uF",
            Dimension.Hertz => "Hz",
            _ => "",
        };

    /// <summary>Unit sign as printed.</summary>
    public static string Sign(Dimension d) =>
        d switch
        {
            Dimension.Ohm => "Ω",
            Dimension.Microfarad => "µF",
            _ => Short(d),
        };
}
