namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Safety relay for two channels: supply A1 and A2; channel one goes out at S11 and comes home at S12, channel two at S21 and S22. Only
/// with both home do 13-14 and 23-24 make and 41-42 break. Reset is automatic. One channel alone keeps it down: that is what it is for.
/// </summary>
/// <remarks>Terminal numbers as common on such relays, function digits by EN 50005; channel current 20 mA, from memory.</remarks>
public sealed class SafetyRelay : PartKind
{
    public override string Word => "safetyrelay";
    public override bool IsElectronic => true;
    public override string Spoken => "safety relay";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];

    private const double ChannelAmps = 0.020;

    /// <summary>Inner resistance of what a channel is fed through, Ω; an estimate.</summary>
    private const double FeedOhms = 1;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var links = new List<Link>
        {
            new Link.Resistance("channel 1", "S12", "A2", volts / ChannelAmps, Spread.Coil),
            new Link.Resistance("channel 2", "S22", "A2", volts / ChannelAmps, Spread.Coil),
            new Link.Resistance("A1-S11", "A1", "S11", FeedOhms, Spread.Contact),
            new Link.Resistance("A1-S21", "A1", "S21", FeedOhms, Spread.Contact),
        };
        var modes = new List<FaultMode>
        {
            new("dead", new FaultEffect.Open(0, 1), 2),
            new("open A1-S11", new FaultEffect.Open(2), 0.5),
            new("open A1-S21", new FaultEffect.Open(3), 0.5),
        };
        foreach (var (a, b, makes) in new[] { ("13", "14", true), ("23", "24", true), ("41", "42", false) })
        {
            var i = links.Count;
            links.Add(new Link.Contact($"{a}-{b}", a, b, new ClosedRule.ByCoil(makes)));
            modes.Add(new($"contact {a}-{b} open", new FaultEffect.Open(i), 2));
            modes.Add(new($"contact {a}-{b} resists", new FaultEffect.Series(i), 1) { Value = Dimension.Ohm });
            // Two contacts in series stand behind each output, so one that welds is noticed at the next reset.
            modes.Add(new($"welded {a}-{b}", new FaultEffect.Closed(i), 0.1));
        }
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B }).Distinct()],
            Links = links,
            Coil = new CoilRule(0, volts, Defaults.PullInShare * volts, Defaults.DropOutShare * volts, 20, 12)
            {
                Links = [0, 1],
                Weakest = true,
            },
            Faults = modes,
        };
    }
}
