namespace Zoltric.Core.Circuits.Kinds;

/// <summary>What relay, contactor and timer share: a coil link 0 and contacts that follow it.</summary>
public abstract class CoilDevice : PartKind
{
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ohm, Dimension.Watt, Dimension.Ampere];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["pullin"] = Dimension.Volt, ["dropout"] = Dimension.Volt };

    protected abstract double OperateMs { get; }
    protected abstract double ReleaseMs { get; }

    /// <summary>Contacts as (terminal, terminal, normally open).</summary>
    protected abstract IReadOnlyList<(string A, string B, bool NormallyOpen)> Contacts(Part part);

    protected abstract (string First, string Second) CoilTerminals(Part part);

    /// <summary>Terminals of a second coil that lets go what the first has pulled in, or null.</summary>
    protected virtual (string First, string Second)? ResetTerminals(Part part) => null;

    private static bool SharesBlade((string A, string B, bool) x, (string A, string B) y) =>
        x.A == y.A || x.A == y.B || x.B == y.A || x.B == y.B;

    /// <summary>
    /// Odds that the armature of several poles stays where the coil had it: one welded pole holds the bridge of all of them, dirt or
    /// magnetism the whole. Estimate.
    /// </summary>
    private const double StaysInOdds = 1;

    /// <summary>
    /// All contacts stand as with the coil fed. Of a device with one make contact it is that contact's weld in other words: understood, not
    /// suspected.
    /// </summary>
    private static FaultMode StaysIn(IReadOnlyList<(string A, string B, bool NormallyOpen)> contacts)
    {
        int[] Links(bool normallyOpen) =>
            [.. Enumerable.Range(0, contacts.Count).Where(k => contacts[k].NormallyOpen == normallyOpen).Select(k => 1 + k)];
        var made = Links(true);
        return new("welded", new FaultEffect.Tripped(Links(false), made), made.Length > 1 ? StaysInOdds : 0);
    }

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var ohms = part.Value(Dimension.Ohm) ?? (part.Value(Dimension.Watt) is { } w ? volts * volts / w : Defaults.RelayCoilOhms(volts));
        var (c1, c2) = CoilTerminals(part);
        var links = new List<Link> { new Link.Resistance("coil", c1, c2, ohms, Spread.Coil) };
        var modes = new List<FaultMode>
        {
            new("coil-open", new FaultEffect.Open(0), 2),
            new("coil", new FaultEffect.SetOhms(0), 0.5) { Value = Dimension.Ohm },
        };
        var contacts = Contacts(part);
        // Of a contactor the rating is its main poles'; of a relay its contacts'.
        var hasMain = contacts.Any(c => !ContactRules.IsAuxiliary((c.A, c.B)));
        int? reset = null;
        foreach (var (a, b, normallyOpen) in contacts)
        {
            var i = links.Count;
            var rated = hasMain && ContactRules.IsAuxiliary((a, b)) ? null : part.Value(Dimension.Ampere);
            links.Add(new Link.Contact($"{a}-{b}", a, b, new ClosedRule.ByCoil(normallyOpen)) { ClosedOhms = Defaults.ContactOhms(rated) });
            modes.Add(new($"contact {a}-{b} open", new FaultEffect.Open(i), 3));
            modes.Add(new($"contact {a}-{b} resists", new FaultEffect.Series(i), 2) { Value = Dimension.Ohm });
            // One blade goes between make and break: held by the one it never reaches the other.
            var opposite = Enumerable
                .Range(0, contacts.Count)
                .Where(k => contacts[k].NormallyOpen != normallyOpen && SharesBlade(contacts[k], (a, b)))
                .Select(k => 1 + k)
                .ToArray();
            modes.Add(new($"welded {a}-{b}", opposite.Length > 0 ? new FaultEffect.Tripped(opposite, [i]) : new FaultEffect.Closed(i), 1));
        }
        if (reset is null)
            modes.Add(StaysIn(contacts));
        if (ResetTerminals(part) is { } second)
        {
            reset = links.Count;
            links.Add(new Link.Resistance("reset", second.First, second.Second, ohms, Spread.Coil));
            modes.Add(new("reset coil-open", new FaultEffect.Open(links.Count - 1), 2));
        }
        return new PartModel
        {
            Terminals = links.SelectMany(l => new[] { l.A, l.B }).Distinct().ToList(),
            Links = links,
            Coil = new CoilRule(
                0,
                volts,
                part.NamedValue("pullin") ?? Defaults.PullInShare * volts,
                reset is null ? part.NamedValue("dropout") ?? Defaults.DropOutShare * volts : CoilRule.NeverLetsGo,
                OperateMs,
                ReleaseMs
            )
            {
                ResetLink = reset,
                OnDelay = part.NamedValue("on-delay") ?? 0,
                OffDelay = part.NamedValue("off-delay") ?? 0,
            },
            Faults = modes,
        };
    }
}
