namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Three-phase motor, its windings taken as resistances at the running current.</summary>
public sealed class Motor3 : ThreePhaseLoad
{
    public override string Word => "motor3";
    public override bool ShowsItself => true;
    public override string Spoken => "three-phase motor";
    protected override double OpenOdds => 2;
    protected override double? AtRest => Motor.CopperShare;

    protected override bool Hums => true;

    /// <summary>Rated ohms over those of a rotor that stands: cage motors draw five to seven times their amps (IEC 60034-12, from
    /// memory).</summary>
    private const double LockedTimes = 6;

    /// <summary>
    /// A rotor or what it drives that is stuck, and in star a fault from phase to phase, which in delta is one of a winding; odds are
    /// estimates.
    /// </summary>
    protected override IEnumerable<FaultMode> OwnFaults(bool star)
    {
        yield return new("seized", new FaultEffect.Seized(1 / LockedTimes, 0, 1, 2), 1);
        if (!star)
            yield break;
        foreach (var (a, b) in new[] { ("U", "V"), ("V", "W"), ("W", "U") })
            yield return new($"shorted {a}-{b}", new FaultEffect.Across(a, b), 0.1) { Value = Dimension.Ohm };
    }
}
