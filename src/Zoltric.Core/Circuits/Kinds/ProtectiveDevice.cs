namespace Zoltric.Core.Circuits.Kinds;

/// <summary>What fuse, breaker, cut-out and isolator share: two terminals, one link, opened by hand, heat or current.</summary>
public abstract class ProtectiveDevice : PartKind
{
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ampere, Dimension.Celsius, Dimension.Volt];
    public override bool TakesContactLines => true;
    protected abstract double OpenOdds { get; }
    protected virtual double ResistsOdds => 1;

    /// <summary>Word that names it open; both <c>open</c> and <c>blown</c> are understood.</summary>
    protected virtual string OpenWord => "open";

    protected abstract Link Describe(Part part, ClosedRule rule);

    public override PartModel Describe(Part part)
    {
        var (a, b) = part.Contacts.Count > 0 ? (part.Contacts[0].A, part.Contacts[0].B) : ("1", "2");
        return new PartModel
        {
            Terminals = [a, b],
            Through = (a, b),
            Links = [Describe(part, ContactRules.Of(part, a, b))],
            Faults =
            [
                new(OpenWord, new FaultEffect.Open(0), OpenOdds),
                new(OpenWord == "open" ? "blown" : "open", new FaultEffect.Open(0), 0),
                new("resists", new FaultEffect.Series(0), ResistsOdds) { Value = Dimension.Ohm },
            ],
        };
    }
}
