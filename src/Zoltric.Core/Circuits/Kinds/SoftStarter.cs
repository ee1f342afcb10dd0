namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Soft starter of three phases, <c>softstarter 400V 16A</c>: thyristors from 1-2, 3-4 and 5-6, worked by A1, A2. Off they leak, so a
/// meter on the open output shows nearly all of the line; on they lose about a volt each. The ramp is over when the machine has settled.
/// </summary>
/// <remarks>Leakage through the snubbers as of a solid-state relay, typical data sheets, from memory.</remarks>
public sealed class SoftStarter : PartKind
{
    public override string Word => "softstarter";
    public override bool IsElectronic => true;
    public override string Spoken => "soft starter";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["coil"] = Dimension.Volt };

    private const double InputAmps = 0.010,
        OnVolts = 1,
        DefaultAmps = 16,
        DefaultInputVolts = 24,
        PullInShare = 0.6,
        DropOutShare = 0.2;

    private static readonly (string A, string B)[] Poles = [("1", "2"), ("3", "4"), ("5", "6")];

    public override PartModel Describe(Part part)
    {
        var amps = part.Value(Dimension.Ampere) ?? DefaultAmps;
        var coil = part.NamedValue("coil") ?? DefaultInputVolts;
        return new PartModel
        {
            Terminals = ["A1", "A2", .. Poles.SelectMany(p => new[] { p.A, p.B })],
            Silent = true,
            Links =
            [
                new Link.Resistance("input", "A1", "A2", coil / InputAmps, Spread.Load),
                .. Poles.Select(p =>
                    (Link)
                        new Link.Contact($"{p.A}-{p.B}", p.A, p.B, new ClosedRule.ByCoil(true))
                        {
                            ClosedOhms = OnVolts / amps,
                            LogSpread = Spread.Load,
                        }
                ),
                .. Poles.Select(p => (Link)new Link.Resistance($"snubber {p.A}-{p.B}", p.A, p.B, Ssr.SnubberOhms, Spread.Leakage)),
            ],
            Coil = new CoilRule(0, coil, PullInShare * coil, DropOutShare * coil, 10, 10),
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 2),
                .. Poles.SelectMany(
                    (p, i) =>
                        new FaultMode[]
                        {
                            new($"contact {p.A}-{p.B} open", new FaultEffect.Open(1 + i), 1),
                            new($"welded {p.A}-{p.B}", new FaultEffect.Closed(1 + i), 1),
                        }
                ),
            ],
        };
    }
}
