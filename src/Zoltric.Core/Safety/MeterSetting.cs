using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>
/// How the meter is set for a test: the word of its function, as the HTTP interface says it, and as a person reads it on the dial.
/// </summary>
/// <param name="Function">DCV, ACV, LOZ, OHM, BEEP, INSUL, CLAMP_DC, CLAMP_AC, SERIES_DC, SERIES_AC, LAMP, SEE, HEAR, LOOK, CODE or
/// SWAP.</param>
/// <param name="Dial">The same on a dial: "AC volts".</param>
/// <param name="Range">The smallest usual range that holds what may stand there, such as "600 V"; null where there is none.</param>
public sealed record MeterSetting(string Function, string Dial, string? Range)
{
    /// <summary>Ranges of a meter of 6000 counts, base units. Common practice, no source.</summary>
    private static readonly double[] VoltRanges = [0.6, 6, 60, 600, 1000],
        AmpRanges = [0.6, 6, 60, 600],
        OhmRanges = [600, 6e3, 60e3, 600e3, 6e6, 60e6];

    /// <summary>From this much current on a clamp is not read in its smallest range.</summary>
    private const double UsualAmps = 60;

    /// <summary>Ranges of a clamp for leakage, A; common practice, no source.</summary>
    private static readonly double[] LeakRanges = [0.06, 0.6, 6];

    /// <param name="expected">What may be read at most, in base units; null where nothing is known.</param>
    public static MeterSetting Of(Circuit circuit, Test test, double? expected = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var volts = TestRules.ExposureOf(circuit, test);
        var dial = test.Probe.DialOn(circuit);
        var range = dial.Range switch
        {
            DialRange.Volts => Volts(volts.Volts),
            DialRange.AnyVolts => Volts(Math.Max(volts.DcVolts, volts.AcVolts)),
            DialRange.AcVolts => Volts(volts.AcVolts),
            DialRange.DcVolts => Volts(volts.DcVolts),
            DialRange.Ohms => Fitting(OhmRanges, expected ?? 0, "Ω"),
            DialRange.Insulation => volts.Volts > 60 ? "500 V" : "250 V",
            DialRange.Amps => Fitting(AmpRanges, expected ?? UsualAmps, "A"),
            DialRange.Leakage => Fitting(LeakRanges, expected ?? 0, "A"),
            DialRange.SeriesAmps => "10 A",
            _ => null,
        };
        return new MeterSetting(dial.Function, dial.Words, range);
    }

    private static string Volts(double most) => Fitting(VoltRanges, most, "V")!;

    private static string? Fitting(double[] ranges, double most, string unit)
    {
        // A little headroom: a supply on charge, a winding without load.
        const double headroom = 1.2;
        var range = Array.Find(ranges, r => r >= most * headroom);
        if (range == 0)
            range = ranges[^1];
        return range switch
        {
            >= 1e6 => FormattableString.Invariant($"{range / 1e6:0} M{unit}"),
            >= 1e3 when unit == "Ω" => FormattableString.Invariant($"{range / 1e3:0} k{unit}"),
            < 1 => FormattableString.Invariant($"{range * 1000:0} m{unit}"),
            _ => FormattableString.Invariant($"{range:0} {unit}"),
        };
    }
}
