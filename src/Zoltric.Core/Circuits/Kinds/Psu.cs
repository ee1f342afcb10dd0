namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Regulated supply with an internal resistance and a current limit; it takes no current back. Written <c>230V:24V</c> it has an input L, N
/// and gives while that stands above 70 % of its volts. What it takes there follows its rated power and not its load. <c>separated</c> says
/// that no fault joins its two sides (SELV, PELV).
/// </summary>
/// <remarks>85 V to 264 V is a usual input range of a wide-range supply and 70 % the usual limit of a plain one; data sheets, from
/// memory.</remarks>
public sealed class Psu : PartKind
{
    public override string Word => "psu";
    public override bool Converts => true;
    public override string Spoken => "power supply";
    public override bool IsSource => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere, Dimension.Watt];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["internal"] = Dimension.Ohm, ["limit"] = Dimension.Ampere };

    public override PartModel Describe(Part part)
    {
        var stated = part.Values.Where(v => v.Dimension == Dimension.Volt).Select(v => v.Value).ToList();
        double? input = stated.Count > 1 ? stated[0] : null;
        var volts = stated.Count > 0 ? stated[^1] : part.NominalVolts;
        var limit = part.NamedValue("limit") ?? OverRating * RatedAmps(part, volts);
        var fed = input is { } v ? new Link.Resistance("L-N", "L", "N", v * v / InputWatts(volts, limit), Spread.Load) : null;
        return new PartModel
        {
            Terminals = fed is null ? ["+", "-"] : ["+", "-", "L", "N"],
            Through = ("+", "-"),
            Links =
            [
                new Link.Source(
                    "source",
                    "+",
                    "-",
                    volts,
                    part.NamedValue("internal") ?? Defaults.PsuOhms,
                    Defaults.OpenOhms,
                    limit,
                    fed is null ? null : new Condition.Active(part.Tag)
                ),
                .. fed is null ? Array.Empty<Link>() : [fed],
            ],
            Coil = input is { } rated ? new CoilRule(1, rated, InputShare * rated, 0.95 * InputShare * rated, StartMs, StartMs) : null,
            Faults =
            [
                .. fed is null ? Array.Empty<FaultMode>() : [new("open L-N", new FaultEffect.Open(1), 1)],
                new("dead", new FaultEffect.Open(0), 2),
                new("flat", new FaultEffect.Emf(0), 0.7) { Value = Dimension.Volt, DefaultValue = volts * 0.6 },
                new("internal", new FaultEffect.SetOhms(0), 0.5) { Value = Dimension.Ohm },
            ],
        };
    }

    /// <summary>What it gives at most, where only its amps or watts are stated: a fifth more; common practice, no source.</summary>
    private const double OverRating = 1.2;

    private static double RatedAmps(Part part, double volts) =>
        part.Value(Dimension.Ampere) ?? part.Value(Dimension.Watt) / volts ?? double.PositiveInfinity;

    private const double InputShare = 0.7;
    private const double StartMs = 1;

    /// <summary>Watts taken at the input: half the rated power, 50 W where no limit is stated; an estimate.</summary>
    private static double InputWatts(double volts, double limit) => double.IsFinite(limit) ? 0.5 * volts * limit : 50;
}
