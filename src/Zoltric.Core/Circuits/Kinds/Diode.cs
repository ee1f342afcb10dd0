namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Diode from anode a to cathode k: 0.65 V and 50 mΩ when it conducts, insulation when it blocks.</summary>
public sealed class Diode : PartKind
{
    public override string Word => "diode";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];

    /// <summary>What a meter finds on a diode that has broken down, from a dead short up, Ω; estimate.</summary>
    private static readonly double[] ShortedOhms = [Defaults.DiodeOhms, 0.4, 3];

    public override PartModel Describe(Part part) =>
        new()
        {
            Terminals = ["a", "k"],
            Through = ("a", "k"),
            Links = [new Link.Diode("a-k", "a", "k", Defaults.DiodeVolts, Defaults.DiodeOhms)],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 2),
                new("shorted", new FaultEffect.Short(0, 0), 2)
                {
                    Value = Dimension.Ohm,
                    DefaultValue = Defaults.DiodeOhms,
                    Values = ShortedOhms,
                },
                new("resists", new FaultEffect.Series(0), 0.3) { Value = Dimension.Ohm },
            ],
        };
}
