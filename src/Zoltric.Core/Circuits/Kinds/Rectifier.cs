namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Rectifier bridge from alternating volts at L, N to direct volts at +, - with nothing that smooths: <c>rectifier 230V 1A</c>. A meter on
/// DC shows the mean of the half waves, 0.9 of the effective volts; with one diode open it shows half of that. A diode that has failed
/// through joins L to N.
/// </summary>
/// <remarks>Mean of a full wave 2√2/π of its effective value: any textbook of power electronics. What it takes at L, N follows its rated
/// amps and not its load.</remarks>
public sealed class Rectifier : PartKind
{
    public override string Word => "rectifier";
    public override bool Converts => true;
    public override bool IsSource => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];

    private const double DefaultAmps = 1;

    /// <summary>Two diodes in the way, V.</summary>
    private const double Forward = 2 * Defaults.DiodeVolts;

    /// <summary>Volts at L, N from which it gives at all; below it is as good as dead.</summary>
    private const double AliveShare = 0.3;

    private const double StartMs = 1;

    /// <summary>Mean of a rectified sine, less the diodes, V.</summary>
    public static double Mean(double effective) => FullWave(effective) - Forward;

    /// <summary>Mean of a rectified sine of these effective volts, V.</summary>
    public static double FullWave(double effective) => 2 * Math.Sqrt(2) / Math.PI * effective;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var amps = part.Value(Dimension.Ampere) ?? DefaultAmps;
        var (mean, alive) = (Mean(volts), AliveShare * volts);
        return new PartModel
        {
            Terminals = ["L", "N", "+", "-"],
            Through = ("+", "-"),
            Links =
            [
                new Link.Source(
                    "source",
                    "+",
                    "-",
                    mean,
                    Defaults.DiodeOhms * 2,
                    Defaults.OpenOhms,
                    double.PositiveInfinity,
                    new Condition.Active(part.Tag)
                ),
                new Link.Resistance("L-N", "L", "N", volts * volts / (mean * amps), Spread.Load),
            ],
            Coil = new CoilRule(1, volts, alive, 0.9 * alive, StartMs, StartMs),
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 1),
                new("flat", new FaultEffect.Emf(0), 2) { Value = Dimension.Volt, DefaultValue = mean / 2 },
                new("shorted L-N", new FaultEffect.Short(1, 1), 2) { Value = Dimension.Ohm, DefaultValue = Defaults.DiodeOhms },
                new("open L-N", new FaultEffect.Open(1), 0.5),
            ],
        };
    }
}
