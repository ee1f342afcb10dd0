namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Solid-state relay: input A1, A2 from 4 V on, output 1-2 through a triac or thyristors. Off it still leaks, so a meter shows nearly all
/// of the volts behind it until a load is connected; on it loses about 1.2 V at its rated amps.
/// </summary>
/// <remarks>
/// Off-state current about 5 mA at 230 V through the snubber, input 10 mA, on-state 1.2 V at rated amps: typical data sheets, from
/// memory. The loss is taken as a resistance.
/// </remarks>
public sealed class Ssr : PartKind
{
    public override string Word => "ssr";
    public override bool IsElectronic => true;
    public override string Spoken => "solid-state relay";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];

    private const double InputAmps = 0.010,
        OnVolts = 1.2,
        DefaultAmps = 10;

    /// <summary>Across the output, Ω.</summary>
    public const double SnubberOhms = 46e3;

    private const double PullInVolts = 4,
        DropOutVolts = 1;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        return new PartModel
        {
            Terminals = ["A1", "A2", "1", "2"],
            Silent = true,
            Links =
            [
                new Link.Resistance("input", "A1", "A2", volts / InputAmps, Spread.Load),
                new Link.Contact("1-2", "1", "2", new ClosedRule.ByCoil(true))
                {
                    ClosedOhms = OnVolts / (part.Value(Dimension.Ampere) ?? DefaultAmps),
                    LogSpread = Spread.Load,
                },
                new Link.Resistance("snubber", "1", "2", SnubberOhms, Spread.Leakage),
            ],
            Coil = new CoilRule(0, volts, PullInVolts, DropOutVolts, 10, 10),
            Faults =
            [
                new("dead", new FaultEffect.Open(0), 1),
                new("contact 1-2 open", new FaultEffect.Open(1), 1.5),
                // They fail through more often than open (common practice, no source).
                new("welded 1-2", new FaultEffect.Closed(1), 3),
            ],
        };
    }
}
