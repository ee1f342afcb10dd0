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

    /// <param name="expected">What may be read at most, in base units; null where nothing is known.</param>
    public static MeterSetting Of(Circuit circuit, Test test, double? expected = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var nets = Nets.Of(circuit);
        var volts = TestRules.ExposureOf(circuit, test);
        switch (test.Probe)
        {
            case Probe.Volts { Function: VoltsFunction.Ac }:
                return new("ACV", "AC volts", Volts(volts.AcVolts));
            case Probe.Volts { Function: VoltsFunction.LowImpedance } v:
                return nets.FunctionAt(v.P) == VoltsFunction.Ac
                    ? new("LOZ", "two-pole tester, or AC volts low impedance", Volts(volts.AcVolts))
                    : new("LOZ", "two-pole tester, or volts low impedance", Volts(volts.Volts));
            case Probe.Volts:
                return new("DCV", "DC volts", Volts(Math.Max(volts.DcVolts, volts.AcVolts)));
            case Probe.Drop d:
                return nets.FunctionAt(d.X.P.Terminal) == VoltsFunction.Ac
                    ? new("ACV", "AC volts", Volts(volts.AcVolts))
                    : new("DCV", "DC volts", Volts(volts.DcVolts));
            case Probe.Ohms:
                return new("OHM", "ohms", Fitting(OhmRanges, expected ?? 0, "Ω"));
            case Probe.Beep:
                return new("BEEP", "continuity", null);
            case Probe.Insulation:
                return new("INSUL", "insulation", volts.Volts > 60 ? "500 V" : "250 V");
            case Probe.Clamp c:
                return IsAc(circuit.FindWire(c.Wire)?.From)
                    ? new("CLAMP_AC", "clamp, AC amps", Fitting(AmpRanges, expected ?? UsualAmps, "A"))
                    : new("CLAMP_DC", "clamp, DC amps, set to zero first", Fitting(AmpRanges, expected ?? UsualAmps, "A"));
            case Probe.Amps a:
                return IsAc(circuit.FindPart(a.Tag) is { } p ? Connectivity.At(p, p.Model.Terminals[0]) : null)
                    ? new("SERIES_AC", "AC amps, leads in the amps sockets", "10 A")
                    : new("SERIES_DC", "DC amps, leads in the amps sockets", "10 A");
            case Probe.Lamp:
                return new("LAMP", "test lamp", null);
            case Probe.Sees:
                return new("SEE", "look", null);
            case Probe.Hears:
                return new("HEAR", "feel and listen", null);
            case Probe.Looks:
                return new("LOOK", "look", null);
            case Probe.Code:
                return new("CODE", "code reader", null);
            default:
                return new("SWAP", "swap", null);
        }

        bool IsAc(Terminal? t) => t is { } at && nets.FunctionAt(at) == VoltsFunction.Ac;
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
