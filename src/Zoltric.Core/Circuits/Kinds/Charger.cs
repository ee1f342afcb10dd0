namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Alternator or charger: its volts behind a resistance while its condition holds, nothing otherwise; it takes no current back.
/// </summary>
public sealed class Charger : PartKind
{
    public override string Word => "charger";
    public override bool IsSource => true;
    public override bool TakesCondition => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["internal"] = Dimension.Ohm, ["limit"] = Dimension.Ampere };

    public override PartModel Describe(Part part)
    {
        var volts = part.Value(Dimension.Volt) ?? part.NominalVolts * 14.2 / 12;
        return new PartModel
        {
            Terminals = ["+", "-"],
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
                    part.NamedValue("limit") ?? double.PositiveInfinity,
                    part.When
                ),
            ],
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 3),
                new("flat", new FaultEffect.Emf(0), 1) { Value = Dimension.Volt, DefaultValue = part.NominalVolts },
                new("internal", new FaultEffect.SetOhms(0), 0.7) { Value = Dimension.Ohm },
            ],
        };
    }
}
