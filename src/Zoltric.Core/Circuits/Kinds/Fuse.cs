namespace Zoltric.Core.Circuits.Kinds;

public sealed class Fuse : ProtectiveDevice
{
    public override string Word => "fuse";
    protected override string OpenWord => "blown";
    protected override double OpenOdds => 6;
    protected override double ResistsOdds => 1.5;

    protected override Link Describe(Part part, ClosedRule rule) =>
        new Link.Fuse(
            "1-2",
            "1",
            "2",
            part.Value(Dimension.Ampere) ?? double.PositiveInfinity,
            null,
            part.Has("blade") && part.Value(Dimension.Ampere) is { } amps ? Defaults.FuseElementOhms(amps) : null
        );
}
