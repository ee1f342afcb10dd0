using Zoltric.Core.Circuits;

namespace Zoltric.Core.Metering;

/// <summary>Where the dial of a multimeter stands, of those that a meter on a lead is used with.</summary>
public enum MeterFunction
{
    DcVolts,
    AcVolts,
    Ohms,
    Continuity,

    /// <summary>With the leads in the amps sockets. A hand turns the dial there and nothing else does.</summary>
    DcAmps,
}

/// <summary>Dials and probes.</summary>
public static class MeterFunctions
{
    /// <summary>
    /// The dial that a probe is read on with two tips; null for one that a meter on a lead does not read: amps, clamp, low impedance, ear,
    /// eye, insulation.
    /// </summary>
    public static MeterFunction? Of(Circuit circuit, Probe probe)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(probe);
        return probe.Statistic != Statistic.None
            ? null
            : probe.DialOn(circuit).Function switch
            {
                "DCV" => MeterFunction.DcVolts,
                "ACV" => MeterFunction.AcVolts,
                "OHM" => MeterFunction.Ohms,
                "BEEP" => MeterFunction.Continuity,
                _ => null,
            };
    }

    /// <summary>What the dial reads in.</summary>
    public static Dimension Reads(this MeterFunction function) =>
        function switch
        {
            MeterFunction.DcVolts or MeterFunction.AcVolts => Dimension.Volt,
            MeterFunction.DcAmps => Dimension.Ampere,
            _ => Dimension.Ohm,
        };

    /// <summary>As it stands on the dial.</summary>
    public static string Spoken(this MeterFunction function) =>
        function switch
        {
            MeterFunction.DcVolts => "DC volts",
            MeterFunction.AcVolts => "AC volts",
            MeterFunction.Ohms => "ohms",
            MeterFunction.DcAmps => "DC amps",
            _ => "continuity",
        };
}
