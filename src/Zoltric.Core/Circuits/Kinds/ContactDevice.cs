namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Switch, button, thermostat, limit: one link per pair of terminals named by its <c>closed</c> and <c>open</c> lines. A sheet that
/// states no line has a contact 1-2 that is always closed, and the checker says so.
/// </summary>
public abstract class ContactDevice : PartKind
{
    public override bool TakesContactLines => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Celsius, Dimension.Volt, Dimension.Ampere];

    /// <summary>Ohms of a burnt contact where none are said; an estimate.</summary>
    private const double WornOhms = 2;

    /// <summary>
    /// Odds that what works the contacts does not: a float that hangs, a lever off its cam, a rod that has slipped; estimate.
    /// </summary>
    private const double StuckOdds = 1;

    /// <summary>
    /// Odds that all contacts of a switch are open at once: their common terminal or blade; without one, what works them. Estimates, beside
    /// 5 for one contact of a switch that has no other.
    /// </summary>
    private const double CommonOpenOdds = 1,
        LeverOdds = 0.5;

    /// <summary>
    /// A switch of several contacts that stays in a position, whatever its control or condition says: all its contacts stand as there.
    /// </summary>
    private static IEnumerable<FaultMode> Stuck(Part part, List<(string A, string B)> pairs)
    {
        var spoken = part.Contacts.SelectMany(c => c.When?.Leaves() ?? []).ToList();
        var places = spoken.OfType<Condition.Position>().DistinctBy(p => p.At, StringComparer.OrdinalIgnoreCase).ToList();
        if (
            pairs.Count < 2
            || places.Count < spoken.OfType<Condition.Position>().Distinct().Count()
            || spoken.Exists(c => c is not Condition.Position p || !p.Control.Equals(places[0].Control, StringComparison.OrdinalIgnoreCase))
        )
            yield break;
        foreach (var at in places)
        {
            var made = pairs.Select((p, i) => (Link: i, Closed: ContactRules.Closed(part, p.A, p.B).IsClosedAt(at.At))).ToList();
            if (made.Exists(m => m.Closed))
                yield return new(
                    $"stuck {at.At}",
                    new FaultEffect.Tripped(
                        [.. made.Where(m => !m.Closed).Select(m => m.Link)],
                        [.. made.Where(m => m.Closed).Select(m => m.Link)]
                    ),
                    StuckOdds / places.Count
                );
        }
    }

    public override PartModel Describe(Part part)
    {
        var pairs = new List<(string A, string B)>();
        foreach (var line in part.Contacts)
            if (!pairs.Contains((line.A, line.B)) && !pairs.Contains((line.B, line.A)))
                pairs.Add((line.A, line.B));
        if (pairs.Count == 0)
            pairs.Add(("1", "2"));
        var terminals = pairs.SelectMany(p => new[] { p.A, p.B }).Distinct().ToList();
        var all = Enumerable.Range(0, pairs.Count).ToArray();
        var modes = new List<FaultMode>();
        for (var i = 0; i < pairs.Count; i++)
        {
            var suffix = pairs.Count == 1 ? "" : $" {pairs[i].A}-{pairs[i].B}";
            modes.Add(new("open" + suffix, new FaultEffect.Open(i), 5.0 / pairs.Count));
            modes.Add(new("resists" + suffix, new FaultEffect.Series(i), 3.0 / pairs.Count) { Value = Dimension.Ohm });
            modes.Add(new("stuck-closed" + suffix, new FaultEffect.Closed(i), 1.0 / pairs.Count));
        }
        if (pairs.Count > 1)
        {
            // Words without a contact speak of the whole switch: what its contacts have in common, a terminal, a blade or the lever.
            var common = pairs.TrueForAll(p => p.A == pairs[0].A || p.A == pairs[0].B || p.B == pairs[0].A || p.B == pairs[0].B);
            modes.Add(new("open", new FaultEffect.Open(all), common ? CommonOpenOdds : LeverOdds));
            modes.Add(new("resists", new FaultEffect.Series(all), 0) { Value = Dimension.Ohm });
            modes.Add(new("stuck-closed", new FaultEffect.Closed(all), 0));
        }
        else
        {
            var named = $" {pairs[0].A}-{pairs[0].B}";
            modes.Add(new("open" + named, new FaultEffect.Open(0), 0));
            modes.Add(new("resists" + named, new FaultEffect.Series(0), 0) { Value = Dimension.Ohm });
            modes.Add(new("stuck-closed" + named, new FaultEffect.Closed(0), 0));
        }
        modes.AddRange(Stuck(part, pairs));
        // Words for the same as a person finds it: it is not made where it should be, its contact is burnt, it does not come back.
        modes.Add(new("misadjusted", new FaultEffect.Open(all), 0));
        modes.Add(new("worn", new FaultEffect.Series(all), 0) { Value = Dimension.Ohm, DefaultValue = WornOhms });
        modes.Add(new("sticks", new FaultEffect.Closed(all), 0));
        return new PartModel
        {
            Terminals = terminals,
            Through = terminals.Count == 2 ? (terminals[0], terminals[1]) : null,
            Links = pairs
                .Select(p =>
                    (Link)
                        new Link.Contact($"{p.A}-{p.B}", p.A, p.B, ContactRules.Closed(part, p.A, p.B))
                        {
                            ClosedOhms = Defaults.ContactOhms(part.Value(Dimension.Ampere)),
                        }
                )
                .ToList(),
            Faults = modes,
        };
    }
}
