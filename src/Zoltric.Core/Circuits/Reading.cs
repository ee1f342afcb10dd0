using System.Globalization;

namespace Zoltric.Core.Circuits;

/// <summary>One test: setup and probe.</summary>
public sealed record Test(Setup Setup, Probe Probe)
{
    public override string ToString() => $"{Setup} : {Probe}".TrimStart();
}

/// <summary>One reading line: test and result; a result is doubtful when it ends in <c>?</c>.</summary>
public sealed record Reading(Test Test, ReadingResult? Result, bool Doubtful = false)
{
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

    /// <summary>Over limit: more than the meter can show.</summary>
    public sealed record OverLimit : ReadingResult
    {
        public override string ToString() => "OL";
    }

    public sealed record Word(string Text) : ReadingResult
    {
        public override string ToString() => Text;
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
            _ => "",
        };

    /// <summary>Unit sign as printed.</summary>
    public static string Sign(Dimension d) => d == Dimension.Ohm ? "Ω" : Short(d);
}
