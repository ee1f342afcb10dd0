namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// What all two-terminal loads share. Resistance is the ohms given, else volts² over watts, else volts over amps; a load with none of
/// these is taken as 1 A at nominal volts and the checker says so.
/// </summary>
public abstract class Load : PartKind
{
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ohm, Dimension.Ampere, Dimension.Watt];

    protected virtual double OpenOdds => 3;

    /// <summary>Windings short turn by turn; a filament hardly ever.</summary>
    protected virtual double ShortedOdds => 0.5;

    /// <summary>Share of its running resistance that a part stuck fast shows; null for parts that do not move.</summary>
    protected virtual double? SeizedFactor => null;

    /// <summary>What is said of it when it draws its current and does not move, and the odds of that.</summary>
    protected virtual (string Words, double Odds) Stuck => ("seized", 1.5);

    public static bool HasRating(Part part) =>
        part.Value(Dimension.Ohm) is not null || part.Value(Dimension.Ampere) is not null || part.Value(Dimension.Watt) is not null;

    public static double RatedVolts(Part part) => part.Value(Dimension.Volt) ?? part.NominalVolts;

    public static double RatedOhms(Part part)
    {
        var volts = RatedVolts(part);
        if (part.Value(Dimension.Ohm) is { } ohms)
            return ohms;
        if (part.Value(Dimension.Watt) is { } watts)
            return volts * volts / watts;
        return volts / (part.Value(Dimension.Ampere) ?? 1);
    }

    public override PartModel Describe(Part part)
    {
        var ohms = RatedOhms(part);
        var modes = new List<FaultMode>
        {
            new("open", new FaultEffect.Open(0), OpenOdds),
            new("resists", new FaultEffect.Series(0), 0.3) { Value = Dimension.Ohm },
            new("shorted", new FaultEffect.SetOhms(0), ShortedOdds) { Value = Dimension.Ohm },
            new("grounded", new FaultEffect.Grounded(0), 0.3) { Value = Dimension.Ohm, DefaultValue = 0.5 },
        };
        if (SeizedFactor is { } factor)
            modes.Add(new(Stuck.Words, new FaultEffect.Seized(factor, 0), Stuck.Odds));
        return new PartModel
        {
            Terminals = ["1", "2"],
            Through = ("1", "2"),
            Links =
            [
                new Link.Resistance("1-2", "1", "2", ohms, Spread.Load) { RestShare = RestShare(part), RestLogSpread = AtRestLogSpread },
            ],
            Load = new LoadRule(0, RatedVolts(part) / ohms, false, Defaults.LoadWorksShare, Defaults.LoadWeakShare),
            Faults = modes,
        };
    }
}
