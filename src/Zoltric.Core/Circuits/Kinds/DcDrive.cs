namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Drive of a direct-current motor, <c>dcdrive 230V:180V 8A field=200V speed=60% when run=ON</c>: L, N in, the armature at A1, A2, a shunt
/// field at F1, F2 (letters of IEC 60034-8). While its input stands above 70 % of its volts the field is fed; while its condition holds
/// besides, the armature has the stated share of its volts, all of them when not said. A motor's field that is open lets it race or stall:
/// the field is read first.
/// </summary>
/// <remarks>
/// Field volts, where not stated, are the mean of a full wave, 2√2/π of the input: any textbook of power electronics. What it takes at L, N
/// follows its rated power and not its load. The regulation of 2 % at rated amps is an estimate.
/// </remarks>
public sealed class DcDrive : PartKind
{
    public override string Word => "dcdrive";
    public override string Spoken => "DC drive";
    public override bool Converts => true;
    public override bool IsSource => true;
    public override bool TakesCondition => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere, Dimension.Watt];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["field"] = Dimension.Volt, ["speed"] = Dimension.Percent };

    private const double AliveShare = 0.7,
        StartMs = 100,
        DefaultAmps = 5,
        Regulation = 0.02,
        FieldOhms = 1;

    /// <summary>What it gives at most, as a share of its rated amps: the usual limit of such drives; common practice, no source.</summary>
    private const double OverRating = 1.5;

    public override PartModel Describe(Part part)
    {
        var stated = part.Values.Where(v => v.Dimension == Dimension.Volt).Select(v => v.Value).ToList();
        var input = stated.Count > 0 ? stated[0] : part.NominalVolts;
        var armature = stated.Count > 1 ? stated[1] : Rectifier.FullWave(input);
        var amps = part.Value(Dimension.Ampere) ?? part.Value(Dimension.Watt) / armature ?? DefaultAmps;
        return new PartModel
        {
            Terminals = ["L", "N", "A1", "A2", "F1", "F2"],
            Links =
            [
                new Link.Source(
                    "armature",
                    "A1",
                    "A2",
                    (part.NamedValue("speed") ?? 100) / 100 * armature,
                    Regulation * armature / amps,
                    Defaults.OpenOhms,
                    OverRating * amps,
                    Condition.Powered(part.Tag, part.When)
                ),
                new Link.Source(
                    "field",
                    "F1",
                    "F2",
                    part.NamedValue("field") ?? Rectifier.FullWave(input),
                    FieldOhms,
                    Defaults.OpenOhms,
                    double.PositiveInfinity,
                    Condition.Powered(part.Tag, null)
                ),
                new Link.Resistance("L-N", "L", "N", input * input / (0.5 * armature * amps), Spread.Load),
            ],
            Silent = true,
            Coil = new CoilRule(2, input, AliveShare * input, 0.95 * AliveShare * input, StartMs, StartMs),
            Faults =
            [
                // A fuse of its own on the board, behind L and N.
                new("open L-N", new FaultEffect.Open(2), 1.5),
                new("dead", new FaultEffect.Open(0), 3),
                new("field dead", new FaultEffect.Open(1), 1),
                new("flat", new FaultEffect.Emf(0), 0.5) { Value = Dimension.Volt, DefaultValue = 0.4 * armature },
            ],
        };
    }
}
