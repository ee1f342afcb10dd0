namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// A lamp. Its resistance is that of the hot filament; where <c>cold=</c> is given, that holds while it has less than a twentieth of its
/// rated volts, which is what an ohmmeter sees: about a tenth of the hot value; common practice, no source.
/// </summary>
public sealed class Lamp : Load
{
    public override string Word => "lamp";
    public override bool ShowsItself => true;
    protected override double OpenOdds => 6;
    protected override double ShortedOdds => 0.25;

    /// <summary>Tungsten has a tenth to a fifteenth of its ohms when cold; common practice, no source.</summary>
    private const double ColdShare = 0.085;
    protected override double? AtRest => ColdShare;

    /// <summary>Filaments are much alike; a fortieth is the least that any of them has, a fifth the most; estimate.</summary>
    protected override double AtRestLogSpread => 0.35;
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["cold"] = Dimension.Ohm };

    public override PartModel Describe(Part part)
    {
        var model = base.Describe(part);
        if (part.NamedValue("cold") is not { } cold)
            return model;
        return model with
        {
            Links = [(Link.Resistance)model.Links[0] with { RestShare = null, ColdOhms = cold, GlowVolts = 0.05 * RatedVolts(part) }],
        };
    }
}
