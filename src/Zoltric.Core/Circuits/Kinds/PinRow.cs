namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Connector and strip: numbered pins, each with half a and half b joined by one contact.</summary>
public abstract class PinRow : PartKind
{
    public override bool HasHalves => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.None];

    public override PartModel Describe(Part part)
    {
        var pins = Enumerable.Range(1, part.Pins).ToList();
        return new PartModel
        {
            Terminals = pins.SelectMany(p => new[] { $"{p}a", $"{p}b" }).ToList(),
            Links = pins.Select(p => (Link)new Link.Resistance($"{p}", $"{p}a", $"{p}b", Defaults.PinOhms, Spread.Contact)).ToList(),
        };
    }
}
