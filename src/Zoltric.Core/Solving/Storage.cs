using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Solving;

/// <summary>
/// What a branch stores over milliseconds, beside its resistance: a coil its field, a motor its speed, a filament its heat, a capacitor its
/// charge.
/// </summary>
internal abstract record Storage
{
    /// <summary>Inductance in series with the winding's resistance, and a resistance across both that takes what a break leaves.</summary>
    /// <param name="Seconds">Time constant L/R of the sound winding.</param>
    public sealed record Field(double Seconds) : Storage;

    /// <summary>
    /// Copper in series with what the speed makes: a resistance with a capacitance across it (C. Kuo, Automatic Control Systems: armature
    /// voltage control of a motor with inertia, as its electrical analogue).
    /// </summary>
    /// <param name="CopperShare">Of the ohms at work.</param>
    /// <param name="Seconds">In which it comes up to 63 % of its speed.</param>
    public sealed record Speed(double CopperShare, double Seconds) : Storage;

    /// <summary>A filament: cold share of its ohms, and the time in which it heats.</summary>
    public sealed record Heat(double ColdShare, double Seconds) : Storage;

    /// <summary>A capacitor, F.</summary>
    public sealed record Charge(double Farads) : Storage;

    /// <summary>
    /// What a break leaves in a coil finds this many times its own ohms: a damping resistor or diode's worth of none; some hundred volts
    /// on a
    /// coil of 12 V, which is what is measured (common practice, no source).
    /// </summary>
    public const double DampingTimes = 20;

    /// <summary>
    /// Time constants: valve coils and horns 8 ms, injectors 1 ms, motors 80 ms, starters 60 ms, filaments 30 ms; a relay's coil takes half
    /// of its operate time for its field, its armature the rest. Estimates.
    /// </summary>
    private const double CoilSeconds = 8e-3,
        InjectorSeconds = 1e-3,
        MotorSeconds = 80e-3,
        StarterSeconds = 60e-3,
        LampSeconds = 30e-3,
        FieldShare = 0.5;

    /// <summary>Copper of a starter as a share of what it stands for while it cranks; common practice, no source.</summary>
    private const double StarterCopper = 0.3;

    /// <summary>Of one link of a part; null where it stores nothing to speak of.</summary>
    public static Storage? Of(Part part, int link)
    {
        var model = part.Model;
        if (model.Links[link] is Link.Reactance { Microfarads: { } micro })
            return new Charge(micro * 1e-6);
        if (model.Links[link] is not Link.Resistance r)
            return null;
        if (model is { Clicks: true, Coil: { } coil } && coil.AllLinks.Contains(link))
            return new Field(FieldSeconds(coil));
        return part.Kind switch
        {
            Coil => new Field(CoilSeconds),
            Injector => new Field(InjectorSeconds),
            Starter when model.Load?.Link == link => new Speed(StarterCopper, StarterSeconds),
            Motor => new Speed(r.RestShare ?? Motor.CopperShare, MotorSeconds),
            Lamp when r.RestShare is { } cold => new Heat(cold, LampSeconds),
            _ => null,
        };
    }

    /// <summary>The time constant of a relay's coil, s: at its rated volts its field comes to pull-in in a share of its operate
    /// time.</summary>
    public static double FieldSeconds(CoilRule coil) => FieldShare * coil.OperateMs / 1000 / RatedRise(coil);

    /// <summary>What the armature takes from pull-in to closed contacts, s.</summary>
    public static double TravelSeconds(CoilRule coil) => (1 - FieldShare) * coil.OperateMs / 1000;

    private static double RatedRise(CoilRule coil) =>
        Math.Log(coil.RatedVolts / Math.Max(coil.RatedVolts - coil.PullInVolts, 0.05 * coil.RatedVolts));
}
