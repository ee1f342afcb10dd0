namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Regulated supply with an internal resistance and a current limit; it takes no current back.</summary>
public sealed class Psu : PartKind
{
    public override string Word => "psu";
    public override string Spoken => "power supply";
    public override bool IsSource => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["internal"] = Dimension.Ohm, ["limit"] = Dimension.Ampere };

    public override PartModel Describe(Part part)
    {
        var volts = part.Value(Dimension.Volt) ?? part.NominalVolts;
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
                    part.NamedValue("internal") ?? Defaults.PsuOhms,
                    Defaults.OpenOhms,
                    part.NamedValue("limit") ?? double.PositiveInfinity,
                    null
                ),
            ],
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 2),
                new("flat", new FaultEffect.Emf(0), 0.7) { Value = Dimension.Volt, DefaultValue = volts * 0.6 },
                new("internal", new FaultEffect.SetOhms(0), 0.5) { Value = Dimension.Ohm },
            ],
        };
    }
}
