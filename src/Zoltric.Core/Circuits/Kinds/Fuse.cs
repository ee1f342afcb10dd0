namespace Zoltric.Core.Circuits.Kinds;

public sealed class Fuse : ProtectiveDevice
{
    public override string Word => "fuse";
    protected override string OpenWord => "blown";
    protected override double OpenOdds => 6;
    protected override double ResistsOdds => 1.5;

    protected override Link Pole(Part part, string a, string b, ClosedRule rule) =>
        new Link.Fuse(
            $"{a}-{b}",
            a,
            b,
            part.Value(Dimension.Ampere) ?? double.PositiveInfinity,
            null,
            part.Has("blade") && part.Value(Dimension.Ampere) is { } amps ? Defaults.FuseElementOhms(amps) : null
        );
}
