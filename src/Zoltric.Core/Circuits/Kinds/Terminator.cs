namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Bus terminator between H and L: 120 Ω (ISO 11898-2).</summary>
public sealed class Terminator : PartKind
{
    public override string Word => "terminator";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ohm];

    public override PartModel Describe(Part part) =>
        new()
        {
            Terminals = ["H", "L"],
            Through = ("H", "L"),
            Links = [new Link.Resistance("H-L", "H", "L", part.Value(Dimension.Ohm) ?? 120, 0.01)],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 2),
                new("resists", new FaultEffect.Series(0), 0.3) { Value = Dimension.Ohm },
                new("shorted", new FaultEffect.SetOhms(0), 0.5) { Value = Dimension.Ohm },
                new("grounded", new FaultEffect.Grounded(0), 0.3) { Value = Dimension.Ohm, DefaultValue = 0.5 },
            ],
        };
}
