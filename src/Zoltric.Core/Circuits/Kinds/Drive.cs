namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Inverter drive, <c>drive 400V 4kW speed=60% when run=ON</c>: L1, L2, L3 in, U, V, W out, its direct-current link at + and -. Fed and
/// with its condition true it gives the line's volts at U, V, W, or the stated share of its rated volts, since volts go with speed;
/// otherwise nothing at all. Its link holds 1.35 times the line volts and keeps them for minutes after it is isolated, which is said before
/// every dead test at it.
/// </summary>
/// <remarks>
/// Mean of a three-phase bridge, 3√2/π of the line volts: any textbook of power electronics. A meter without a filter reads other volts at
/// a pulsed output than the motor sees; between its phases they should be alike, and that is what to compare.
/// </remarks>
public sealed class Drive : PartKind
{
    public override string Word => "drive";
    public override string Spoken => "inverter drive";
    public override bool Converts => true;
    public override bool TakesCondition => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Watt];
    public override IReadOnlyList<string> StoredEnergy => ["capacitor"];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["speed"] = Dimension.Percent };

    private const double AliveShare = 0.7,
        StartMs = 500,
        DefaultWatts = 4000;

    /// <summary>What it loses on the way at its rated amps, share of the line volts; an estimate.</summary>
    private const double LossShare = 0.01;

    /// <summary>Its own electronics and fans, W; an estimate.</summary>
    private const double OwnWatts = 60;

    private const double LinkOhms = 1;

    /// <summary>Holds the middle of its output where the line's is; far more than any motor; an estimate.</summary>
    private const double MiddleOhms = 1e6;

    private static readonly (string A, string B)[] Poles = [("L1", "U"), ("L2", "V"), ("L3", "W")];

    /// <summary>Volts of its link at those line volts.</summary>
    public static double LinkVolts(double line) => 3 * Math.Sqrt(2) / Math.PI * line;

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var amps = (part.Value(Dimension.Watt) ?? DefaultWatts) / (Math.Sqrt(3) * volts);
        var runs = Condition.Powered(part.Tag, part.When);
        var sense = 3 * volts * volts / OwnWatts;
        var loss = LossShare * volts / Math.Sqrt(3) / amps;
        // At full speed the line itself; below it volts of its own about the middle of its link, which stands where the line's middle does.
        Link[] output = part.NamedValue("speed") is { } speed
            ?
            [
                .. Poles.Select(
                    (p, i) =>
                        (Link)
                            new Link.Source(p.B, p.B, "middle", 0, loss, loss, double.PositiveInfinity, runs)
                            {
                                Ac = Mains.Phase(speed / 100 * volts, i),
                            }
                ),
                .. Poles.Select(p => (Link)new Link.Resistance($"{p.A}-middle", p.A, "middle", MiddleOhms, Spread.Leakage)),
            ]
            :
            [
                .. Poles.Select(p =>
                    (Link)
                        new Link.Contact($"{p.A}-{p.B}", p.A, p.B, new ClosedRule.ByControls([runs], []))
                        {
                            ClosedOhms = loss,
                            LogSpread = Spread.Load,
                        }
                ),
            ];
        return new PartModel
        {
            Terminals = ["L1", "L2", "L3", "U", "V", "W", "+", "-"],
            Silent = true,
            Links =
            [
                new Link.Resistance("L1-L2", "L1", "L2", sense, Spread.Load),
                new Link.Resistance("L2-L3", "L2", "L3", sense, Spread.Load),
                new Link.Resistance("L3-L1", "L3", "L1", sense, Spread.Load),
                .. output,
                new Link.Source(
                    "link",
                    "+",
                    "-",
                    LinkVolts(volts),
                    LinkOhms,
                    Defaults.OpenOhms,
                    double.PositiveInfinity,
                    Condition.Powered(part.Tag, null)
                ),
            ],
            Coil = new CoilRule(0, volts, AliveShare * volts, 0.95 * AliveShare * volts, StartMs, StartMs)
            {
                Links = [0, 1, 2],
                Weakest = true,
            },
            Faults =
            [
                // Tripped on a fault of its own: no output, whatever it is told.
                new("dead", new FaultEffect.Open(3, 4, 5), 3),
                .. Poles.Select((p, i) => new FaultMode($"output {p.B} dead", new FaultEffect.Open(3 + i), 0.7)),
            ],
        };
    }
}
