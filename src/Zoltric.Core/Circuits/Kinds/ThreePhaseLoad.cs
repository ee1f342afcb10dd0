namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// What three-phase loads share: three equal elements between U, V and W, in <c>star</c> or <c>delta</c> (delta when not said). Power at
/// the line volts gives the elements: star V²/P each, delta 3·V²/P; ohms are those of one element, amps the line current.
/// </summary>
public abstract class ThreePhaseLoad : PartKind
{
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Watt, Dimension.Ampere, Dimension.Ohm];
    public override IReadOnlyList<string> OwnWords => ["star", "delta"];
    protected abstract double OpenOdds { get; }

    /// <summary>Leads that come off inside, for each winding of a delta that burns open; estimate.</summary>
    private const double LeadShare = 0.3;

    /// <summary>True for what is heard when it is fed and stands.</summary>
    protected virtual bool Hums => false;

    /// <summary>What else goes wrong in one of its kind.</summary>
    protected virtual IEnumerable<FaultMode> OwnFaults(bool star) => [];

    /// <summary>
    /// A lead inside that has come off its terminal; where nothing says how it is connected, also a winding of a star.
    /// </summary>
    private IEnumerable<FaultMode> OpenLeads((string A, string B)[] ends, bool saidDelta)
    {
        foreach (var terminal in new[] { "U", "V", "W" })
        {
            int[] there = [.. Enumerable.Range(0, 3).Where(i => ends[i].A == terminal || ends[i].B == terminal)];
            yield return new($"open {terminal}", new FaultEffect.Open(there), OpenOdds / 3 * (saidDelta ? LeadShare : 1));
        }
    }

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var star = part.Has("star");
        var ohms = part.Value(Dimension.Ohm)
            ?? (
                part.Value(Dimension.Watt) is { } w
                    ? (star ? 1 : 3) * volts * volts / w
                    : (star ? 1 : 3) * volts / Math.Sqrt(3) / (part.Value(Dimension.Ampere) ?? 1)
            );
        (string A, string B)[] ends = star ? [("U", "star"), ("V", "star"), ("W", "star")] : [("U", "V"), ("V", "W"), ("W", "U")];
        var modes = new List<FaultMode>();
        for (var i = 0; i < 3; i++)
        {
            var name = star ? ends[i].A : $"{ends[i].A}-{ends[i].B}";
            modes.Add(new($"open {name}", new FaultEffect.Open(i), OpenOdds / 3));
            modes.Add(new($"resists {name}", new FaultEffect.Series(i), 0.1) { Value = Dimension.Ohm });
            modes.Add(new($"shorted {name}", new FaultEffect.SetOhms(i), 0.2) { Value = Dimension.Ohm });
        }
        if (!star)
            modes.AddRange(OpenLeads(ends, part.Has("delta")));
        modes.AddRange(OwnFaults(star));
        // Words without an element speak of the first one: understood, not suspected.
        modes.Add(new("open", new FaultEffect.Open(0), 0));
        modes.Add(new("resists", new FaultEffect.Series(0), 0) { Value = Dimension.Ohm });
        modes.Add(new("shorted", new FaultEffect.SetOhms(0), 0) { Value = Dimension.Ohm });
        modes.Add(new("grounded", new FaultEffect.Grounded(0), 0.3) { Value = Dimension.Ohm, DefaultValue = 0.5 });
        var rated = (star ? volts / Math.Sqrt(3) : volts) / ohms;
        return new PartModel
        {
            Terminals = ["U", "V", "W"],
            Links =
            [
                .. ends.Select(e =>
                    (Link)
                        new Link.Resistance(star ? e.A : $"{e.A}-{e.B}", e.A, e.B, ohms, Spread.Load)
                        {
                            RestShare = RestShare(part),
                            RestLogSpread = AtRestLogSpread,
                        }
                ),
            ],
            Hums = Hums,
            Load = new LoadRule(0, rated, false, Defaults.LoadWorksShare, Defaults.LoadWeakShare) { Links = [0, 1, 2] },
            Faults = modes,
        };
    }
}
