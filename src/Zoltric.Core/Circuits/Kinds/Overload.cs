namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Thermal overload relay (IEC 60947-4-1): poles 1-2, 3-4, 5-6 with a heater each, contact 95-96 that opens and 97-98 that closes when one
/// pole carries more than 1.2 times the set amps; reset by hand. It takes seconds, so a start does not trip it.
/// </summary>
/// <remarks>
/// 1.2 times is the current at which the standard wants a trip (at 1.05 none), from memory. A heater loses about 2 W at the set current
/// (data sheets, from memory). The seconds are those at some five times the set current, class 10, from memory.
/// </remarks>
public sealed class Overload : PartKind
{
    public override string Word => "overload";
    public override string Spoken => "overload relay";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ampere];

    /// <summary>Share of the set amps that trips it.</summary>
    public const double TripShare = 1.2;

    private const double HeaterWatts = 2;
    private const double TripMs = 5_000,
        TimedAtShare = 5;

    private static readonly string[] Poles = ["1-2", "3-4", "5-6"];

    public override PartModel Describe(Part part)
    {
        var amps = part.Value(Dimension.Ampere) ?? 1;
        var ohms = HeaterWatts / (amps * amps);
        var links = new List<Link>();
        var modes = new List<FaultMode>();
        foreach (var pole in Poles)
        {
            links.Add(new Link.Resistance(pole, pole[..1], pole[2..], ohms, Spread.Load));
            modes.Add(new($"open {pole}", new FaultEffect.Open(links.Count - 1), 0.5));
            modes.Add(new($"resists {pole}", new FaultEffect.Series(links.Count - 1), 0.3) { Value = Dimension.Ohm });
        }
        links.Add(new Link.Contact("95-96", "95", "96", new ClosedRule.ByCoil(false)));
        links.Add(new Link.Contact("97-98", "97", "98", new ClosedRule.ByCoil(true)));
        modes.Add(new("tripped", new FaultEffect.Tripped([3], [4]), 3));
        modes.Add(new("open 95-96", new FaultEffect.Open(3), 2));
        modes.Add(new("resists 95-96", new FaultEffect.Series(3), 1) { Value = Dimension.Ohm });
        modes.Add(new("open 97-98", new FaultEffect.Open(4), 0.3));
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B })],
            Links = links,
            Silent = true,
            Trip = 3,
            Coil = new CoilRule(0, amps * ohms, TripShare * amps * ohms, CoilRule.NeverLetsGo, TripMs, TripMs)
            {
                Links = [0, 1, 2],
                TimedAtVolts = TimedAtShare * amps * ohms,
            },
            Faults = modes,
        };
    }
}
