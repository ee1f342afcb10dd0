using Zoltric.Core.Circuits;

namespace Zoltric.Core.Metering;

/// <summary>How exact a meter is: share of the reading plus a fixed amount for its last digits.</summary>
/// <param name="Share">Of the reading.</param>
/// <param name="DigitVolts">Volts that the last digits stand for.</param>
public sealed record MeterClass(string Name, double Share, double DigitVolts)
{
    /// <summary>0.5 % and two digits of 10 mV: an ordinary service multimeter. Common practice, no source.</summary>
    public static MeterClass Service { get; } = new("0.5%", 0.005, 0.02);
    public static MeterClass Fine { get; } = new("0.1%", 0.001, 0.01);
    public static MeterClass Plain { get; } = new("2%", 0.02, 0.05);

    public static IReadOnlyList<MeterClass> All { get; } = [Service, Fine, Plain];

    /// <summary>The class of that name; the service meter when none is named; null when there is no such class.</summary>
    public static MeterClass? Find(string? name) =>
        string.IsNullOrWhiteSpace(name) ? Service : All.FirstOrDefault(m => m.Name == name.Replace(" ", "", StringComparison.Ordinal));

    /// <summary>
    /// Between these amps the microamp range is chosen, what is less being insulation that nobody measures so; and what its last digit
    /// stands for, A. Common practice, no source.
    /// </summary>
    private const double LeastMicroAmps = 5e-7,
        MicroAmps = 1e-4,
        DigitMicroAmps = 1e-7,
        DigitMicrofarads = 0.05;

    /// <summary>Half width of the band a reading may stray by, in the reading's unit.</summary>
    public double Band(double value, Dimension d) =>
        Math.Abs(value) * Share
        + d switch
        {
            Dimension.Volt => DigitVolts,
            // A flame's or a sensor's current is read in the microamp range.
            Dimension.Ampere => Math.Abs(value) is >= LeastMicroAmps and < MicroAmps ? 4 * Share * Math.Abs(value) + DigitMicroAmps : 0.02,
            // Leads alone make 0.1 to 0.3 Ω (common practice).
            Dimension.Ohm => 0.3,
            // Capacity ranges are six times as coarse (common practice).
            Dimension.Microfarad => 5 * Share * Math.Abs(value) + DigitMicrofarads,
            _ => 0,
        };
}
