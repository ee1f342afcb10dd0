namespace Zoltric.Core.Circuits.Kinds;

public sealed class Fuse : ProtectiveDevice
{
    public override string Word => "fuse";
    protected override string OpenWord => "blown";
    protected override double OpenOdds => 6;
    protected override double ResistsOdds => 0.8;

    /// <summary>Odds that the clips of its holder make poor contact, and none; estimates.</summary>
    private const double HolderOdds = 0.7,
        HolderOpenOdds = 0.4;

    public override PartModel Describe(Part part)
    {
        var fuse = base.Describe(part);
        return fuse with
        {
            Faults =
            [
                .. fuse.Faults,
                new("holder resists", new FaultEffect.Holder(0), HolderOdds) { Value = Dimension.Ohm },
                new("holder open", new FaultEffect.Holder(0), HolderOpenOdds),
            ],
        };
    }

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
