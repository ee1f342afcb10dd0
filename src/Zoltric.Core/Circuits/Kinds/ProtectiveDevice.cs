namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// What fuse, breaker, cut-out and isolator share: a pole 1-2, opened by hand, heat or current. With <c>2pole</c>, <c>3pole</c> or
/// <c>4pole</c> it has 1-2, 3-4 and so on. Poles and auxiliary contacts that no line speaks of move with the first pole; an auxiliary
/// that breaks is closed while the poles are open.
/// </summary>
public abstract class ProtectiveDevice : PartKind
{
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ampere, Dimension.Celsius, Dimension.Volt];
    public override bool TakesContactLines => true;
    public override bool TakesAuxiliaries => HasPoles;
    public override IReadOnlyList<string> OwnWords => HasPoles ? [.. PolesOf.Keys] : [];

    /// <summary>True for switchgear that is made with three poles and auxiliary contacts.</summary>
    protected virtual bool HasPoles => false;
    protected abstract double OpenOdds { get; }
    protected virtual double ResistsOdds => 1;

    /// <summary>Odds that it does not open where it is turned off; nothing for what opens by current or heat.</summary>
    protected virtual double WeldedOdds => 0;

    /// <summary>Word that names it open; both <c>open</c> and <c>blown</c> are understood.</summary>
    protected virtual string OpenWord => "open";

    private static readonly Dictionary<string, int> PolesOf = new()
    {
        ["2pole"] = 2,
        ["3pole"] = 3,
        ["4pole"] = 4,
    };

    /// <summary>A pole between two terminals.</summary>
    protected abstract Link Pole(Part part, string a, string b, ClosedRule rule);

    public override PartModel Describe(Part part)
    {
        var first = part.Contacts.Count > 0 ? (part.Contacts[0].A, part.Contacts[0].B) : ("1", "2");
        var (a, b) = first;
        var rule = ContactRules.Closed(part, a, b);
        var stated = PolesOf.FirstOrDefault(p => part.Has(p.Key)).Value;
        if (!HasPoles || stated == 0 && part.Auxiliaries.Count == 0 && ContactRules.Pairs(part).Count < 2)
            return OfOnePole(part, a, b, rule);
        var poles = new List<(string A, string B)> { first };
        foreach (var pair in ContactRules.Pairs(part).Concat(Enumerable.Range(0, stated).Select(i => ($"{2 * i + 1}", $"{2 * i + 2}"))))
            if (!poles.Contains(pair) && !ContactRules.IsAuxiliary(pair))
                poles.Add(pair);
        var links = new List<Link>();
        var modes = new List<FaultMode>();
        foreach (var (p, q) in poles)
        {
            links.Add(Pole(part, p, q, ContactRules.Pairs(part).Contains((p, q)) ? ContactRules.Closed(part, p, q) : rule));
            modes.Add(new($"{OpenWord} {p}-{q}", new FaultEffect.Open(links.Count - 1), OpenOdds / poles.Count));
            modes.Add(
                new($"resists {p}-{q}", new FaultEffect.Series(links.Count - 1), ResistsOdds / poles.Count) { Value = Dimension.Ohm }
            );
            if (MayWeld(links[^1]))
                modes.Add(new($"stuck-closed {p}-{q}", new FaultEffect.Closed(links.Count - 1), WeldedOdds / 2 / poles.Count));
        }
        modes.Add(new(OpenWord, new FaultEffect.Open([.. Enumerable.Range(0, poles.Count)]), OpenOdds / 2));
        modes.Add(new("resists", new FaultEffect.Series(0), 0) { Value = Dimension.Ohm });
        if (MayWeld(links[0]))
            modes.Add(new("stuck-closed", new FaultEffect.Closed([.. Enumerable.Range(0, poles.Count)]), WeldedOdds));
        foreach (var (p, q) in part.Auxiliaries.Concat(ContactRules.Pairs(part).Where(ContactRules.IsAuxiliary)).Distinct())
        {
            var ruled = ContactRules.Pairs(part).Contains((p, q));
            var own =
                ruled ? ContactRules.Closed(part, p, q)
                : ContactRules.Makes((p, q)) ? rule
                : ContactRules.Inverse(rule);
            links.Add(new Link.Contact($"{p}-{q}", p, q, own));
            modes.Add(new($"{OpenWord} {p}-{q}", new FaultEffect.Open(links.Count - 1), 1));
            modes.Add(new($"resists {p}-{q}", new FaultEffect.Series(links.Count - 1), 0.5) { Value = Dimension.Ohm });
        }
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B }).Distinct()],
            Links = links,
            Faults = modes,
        };
    }

    /// <summary>True for a pole that some line opens and that may stay closed against it.</summary>
    private bool MayWeld(Link pole) => WeldedOdds > 0 && pole is Link.Contact { Rule: not ClosedRule.Always };

    private PartModel OfOnePole(Part part, string a, string b, ClosedRule rule) =>
        new()
        {
            Terminals = [a, b],
            Through = (a, b),
            Links = [Pole(part, a, b, rule)],
            Faults =
            [
                new(OpenWord, new FaultEffect.Open(0), OpenOdds),
                new(OpenWord == "open" ? "blown" : "open", new FaultEffect.Open(0), 0),
                new("resists", new FaultEffect.Series(0), ResistsOdds) { Value = Dimension.Ohm },
                .. MayWeld(Pole(part, a, b, rule))
                    ? [new("stuck-closed", new FaultEffect.Closed(0), WeldedOdds)]
                    : Array.Empty<FaultMode>(),
            ],
        };
}
