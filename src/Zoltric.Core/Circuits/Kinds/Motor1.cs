using System.Numerics;

namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Single-phase motor with a start winding, <c>motor1 230V 4A run=5ohm start=15ohm locked=20A</c>: common C, run R, start S. A meter reads
/// the ohms of the copper; at work the run winding takes its amps, and while the rotor stands the locked ones. It starts when its start
/// winding gets enough volts of its own, through a capacitor or a start switch, and then runs on the run winding alone; without them it
/// hums and stands.
/// </summary>
/// <remarks>
/// Locked rotor five times the running amps, power factors and the start winding's reactance are common practice, no source; so is the
/// share of the volts at which it starts. What a protector inside opens is its common, <c>open C</c>: R to S reads, C to neither. Phase
/// angle between the windings is not weighed.
/// </remarks>
public sealed class Motor1 : PartKind
{
    public override string Word => "motor1";
    public override bool ShowsItself => true;
    public override string Spoken => "single-phase motor";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere, Dimension.Watt];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension>
        {
            ["run"] = Dimension.Ohm,
            ["start"] = Dimension.Ohm,
            ["locked"] = Dimension.Ampere,
        };

    /// <summary>Where both windings meet, before the protector.</summary>
    private const string Inner = "inner";

    private const double CommonOhms = 1e-4,
        LockedTimes = 5,
        RunningFactor = 0.8,
        StandingFactor = 0.6,
        CopperShare = 0.1,
        StartTimesRun = 3,
        StartsAtShare = 0.25,
        StallsAtShare = 0.5,
        DefaultAmps = 4,
        StartMs = 300,
        StopMs = 500;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var amps = part.Value(Dimension.Ampere) ?? (part.Value(Dimension.Watt) / (volts * RunningFactor)) ?? DefaultAmps;
        var run = part.NamedValue("run") ?? CopperShare * volts / amps;
        var start = part.NamedValue("start") ?? StartTimesRun * run;
        var locked = part.NamedValue("locked") ?? LockedTimes * amps;
        return new PartModel
        {
            Terminals = ["C", "R", "S"],
            Links =
            [
                new Link.Reactance("R-C", "R", Inner, run, Spread.Load, Lagging(amps / volts, RunningFactor))
                {
                    StandingSiemens = Lagging(locked / volts, StandingFactor),
                },
                new Link.Reactance("S-C", "S", Inner, start, Spread.Load, 1 / new Complex(start, volts / amps)),
                new Link.Resistance("C", Inner, "C", CommonOhms, Spread.Contact),
            ],
            Coil = new CoilRule(0, volts, StartsAtShare * volts, StallsAtShare * volts, StartMs, StopMs) { PullLink = 1 },
            Hums = true,
            Load = new LoadRule(0, amps, false, Defaults.LoadWorksShare, Defaults.LoadWeakShare) { OnlyWhileHeld = true },
            Silent = true,
            Faults =
            [
                new("open R-C", new FaultEffect.Open(0), 1.5),
                new("open S-C", new FaultEffect.Open(1), 1.5),
                new("open C", new FaultEffect.Open(2), 1.5),
                new("shorted R-C", new FaultEffect.SetOhms(0), 0.5) { Value = Dimension.Ohm },
                new("shorted S-C", new FaultEffect.SetOhms(1), 0.5) { Value = Dimension.Ohm },
                new("grounded", new FaultEffect.Grounded(0), 0.7) { Value = Dimension.Ohm, DefaultValue = 0.5 },
                new("seized", new FaultEffect.Stalled(), 1.5),
            ],
        };
    }

    private static Complex Lagging(double siemens, double factor) => new(siemens * factor, -siemens * Math.Sqrt(1 - factor * factor));
}
