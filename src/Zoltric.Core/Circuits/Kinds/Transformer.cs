namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Transformer <c>230V:24V 100VA</c> from P1,P2 to S1,S2: an ideal ratio behind a winding impedance, taken as resistance, half of it in
/// each winding. 5 % of volts² over volt-amps when not given (<c>impedance=…</c> seen from the secondary); common practice, no source.
/// The stated secondary volts are those at no load. The iron takes 5 % of the volt-amperes, as a resistance across the primary: a primary
/// that is not fed is held at its neutral and gives nothing. Windings alone are what DC and ohms see.
/// </summary>
public sealed class Transformer : PartKind
{
    public override string Word => "transformer";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.VoltAmpere];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["impedance"] = Dimension.Ohm };

    private const double ImpedanceShare = 0.05;

    public override PartModel Describe(Part part)
    {
        var volts = part.Values.Where(v => v.Dimension == Dimension.Volt).Select(v => v.Value).ToList();
        var (primary, secondary) =
            volts.Count >= 2 ? (volts[0], volts[1]) : (part.NominalVolts, volts.Count == 1 ? volts[0] : part.NominalVolts);
        var ratio = primary / secondary;
        var impedance = part.NamedValue("impedance") ?? ImpedanceShare * secondary * secondary / (part.Value(Dimension.VoltAmpere) ?? 100);
        return new PartModel
        {
            Terminals = ["P1", "P2", "S1", "S2"],
            Links =
            [
                new Link.Resistance("P1-P2", "P1", "P2", impedance / 2 * ratio * ratio, Spread.Load),
                new Link.Resistance("S1-S2", "S1", "S2", impedance / 2, Spread.Load),
            ],
            Coupling = new Coupling(
                0,
                1,
                ratio,
                primary * primary / (Defaults.MagnetisingShare * (part.Value(Dimension.VoltAmpere) ?? 100))
            ),
            Faults =
            [
                new("open P1-P2", new FaultEffect.Open(0), 2),
                new("open S1-S2", new FaultEffect.Open(1), 1.5),
                new("resists S1-S2", new FaultEffect.Series(1), 0.3) { Value = Dimension.Ohm },
            ],
        };
    }
}
