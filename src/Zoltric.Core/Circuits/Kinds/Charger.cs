namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Alternator or charger: its volts behind a resistance while its condition holds, nothing otherwise; it takes no current back. With
/// <c>field 15</c> it has that terminal as well, and gives nothing while the field lead carries too little to start it. A lead that is
/// named as the terminal of a charge lamp (D+, 61 by DIN 72552; L) feeds itself once it charges: the lamp goes out.
/// </summary>
/// <remarks>
/// Field 10 Ω at 12 V, the same power at other volts, so that a lamp before it lights; a tenth of a volt for each volt starts it, which a
/// lamp of 2 W passes and one of 1.2 W does not; common practice, no source. Terminals by DIN 72552, from memory.
/// </remarks>
public sealed class Charger : PartKind
{
    public override string Word => "charger";
    public override bool IsElectronic => true;
    public override bool IsSource => true;
    public override bool TakesCondition => true;
    public override string? TakesLead => "field";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["internal"] = Dimension.Ohm, ["limit"] = Dimension.Ampere };

    public override PartModel Describe(Part part)
    {
        var volts = part.Value(Dimension.Volt) ?? part.NominalVolts * 14.2 / 12;
        var fieldOhms = FieldOhms * (part.NominalVolts / 12) * (part.NominalVolts / 12);
        var field = part.Lead is { } lead ? new Link.Resistance("field", lead, "-", fieldOhms, Spread.Coil) : null;
        var ofLamp = field is not null && LampTerminals.Contains(field.A);
        return new PartModel
        {
            Terminals = ["+", "-", .. field is null ? Array.Empty<string>() : [field.A]],
            Through = ("+", "-"),
            Links =
            [
                new Link.Source(
                    "source",
                    "+",
                    "-",
                    volts,
                    part.NamedValue("internal") ?? Defaults.ChargerOhms,
                    Defaults.OpenOhms,
                    part.NamedValue("limit") ?? part.Value(Dimension.Ampere) ?? double.PositiveInfinity,
                    field is null ? part.When : Condition.Powered(part.Tag, part.When)
                ),
                .. field is null ? Array.Empty<Link>() : [field],
                .. ofLamp
                    ? new Link[]
                    {
                        new Link.Contact("exciter", "+", field!.A, new ClosedRule.ByControls([Condition.Powered(part.Tag, part.When)], []))
                        {
                            ClosedOhms = ExciterOhms,
                        },
                    }
                    : [],
            ],
            Coil = field is null
                ? null
                : new CoilRule(1, part.NominalVolts, FieldShare * part.NominalVolts, 0.5 * FieldShare * part.NominalVolts, 1, 1),
            Faults =
            [
                .. field is null ? Array.Empty<FaultMode>() : [new("open field", new FaultEffect.Open(1), 1)],
                new("dead", ofLamp ? new FaultEffect.Open(0, 2) : new FaultEffect.Open(0), 3),
                new("flat", new FaultEffect.Emf(0), 1) { Value = Dimension.Volt, DefaultValue = part.NominalVolts },
                new("high", new FaultEffect.Emf(0), 0.7)
                {
                    Value = Dimension.Volt,
                    DefaultValue = HighShares[1] * volts,
                    Values = [.. HighShares.Select(s => s * volts)],
                },
                new("internal", new FaultEffect.SetOhms(0), 0.7) { Value = Dimension.Ohm },
            ],
        };
    }

    /// <summary>What a regulator that does not hold its volts lets through, as a share of them; common practice, no source.</summary>
    private static readonly double[] HighShares = [1.06, 1.12, 1.2];

    private const double FieldOhms = 10,
        FieldShare = 0.1,
        ExciterOhms = 1;

    private static readonly HashSet<string> LampTerminals = new(StringComparer.OrdinalIgnoreCase) { "D+", "61", "L" };
}
