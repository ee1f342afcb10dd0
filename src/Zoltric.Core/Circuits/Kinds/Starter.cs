namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Starter motor with its solenoid: two things in one body. The solenoid coil runs from S to the body G and closes the contact from
/// the post B to the motor's post M, where a tip can be put; the motor draws its rated amps at nominal volts. Pull-in and hold-in windings
/// are taken as one unless <c>pullwinding=0.3ohm</c> states the first: it runs from S to M, comes home through the motor and is bridged by
/// the contact once that closes. Without the second the plunger then falls back and is pulled again. A plunger that sticks draws its
/// current and does not move; worn brushes are an open motor.
/// </summary>
public sealed class Starter : PartKind
{
    public override string Word => "starter";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Ampere];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension>
        {
            ["solenoid"] = Dimension.Ohm,
            ["pullwinding"] = Dimension.Ohm,
            ["pullin"] = Dimension.Volt,
            ["dropout"] = Dimension.Volt,
        };

    public override PartModel Describe(Part part)
    {
        var volts = Load.RatedVolts(part);
        var motorOhms = volts / (part.Value(Dimension.Ampere) ?? 150);
        // A solenoid that the sheet leaves out: 0.6 Ω at 12 V, the same power at other voltages; common practice, no source.
        var solenoid = part.NamedValue("solenoid") ?? 0.6 * (volts / 12) * (volts / 12);
        var pull = part.NamedValue("pullwinding");
        var contact = new Link.Contact("contact", "B", "M", new ClosedRule.ByCoil(true))
        {
            ClosedOhms = Defaults.ContactOhms(volts / motorOhms),
        };
        return new PartModel
        {
            Terminals = ["B", "S", "G", "M"],
            Posts = ["M"],
            Links =
            [
                new Link.Resistance("solenoid", "S", "G", solenoid, Spread.Coil),
                contact,
                new Link.Resistance("motor", "M", "G", motorOhms, Spread.Load),
                .. pull is { } ohms ? [new Link.Resistance("pull-in", "S", "M", ohms, Spread.Coil)] : Array.Empty<Link>(),
            ],
            Coil = new CoilRule(
                0,
                volts,
                part.NamedValue("pullin") ?? Defaults.PullInShare * volts,
                part.NamedValue("dropout") ?? Defaults.DropOutShare * volts,
                30,
                20
            )
            {
                PullLink = pull is null ? null : 3,
            },
            Load = new LoadRule(2, volts, true, Defaults.StarterWorksShare, Defaults.StarterWeakShare),
            Faults =
            [
                new("coil-open", pull is null ? new FaultEffect.Open(0) : new FaultEffect.Open(0, 3), pull is null ? 1.5 : 0.5),
                .. pull is null
                    ? Array.Empty<FaultMode>()
                    : [new("pull-in open", new FaultEffect.Open(3), 0.7), new("hold-in open", new FaultEffect.Open(0), 0.7)],
                new("contact open", new FaultEffect.Open(1), 2),
                new("contact resists", new FaultEffect.Series(1), 3) { Value = Dimension.Ohm },
                new("welded", new FaultEffect.Closed(1), 0.5),
                new("sticks", new FaultEffect.Sticks(1), 1),
                new("motor-open", new FaultEffect.Open(2), 2),
                // The same to every meter; understood, and suspected under the other name.
                new("brushes", new FaultEffect.Open(2), 0),
                new("seized", new FaultEffect.Seized(1.0 / 3, 2), 1),
            ],
        };
    }
}
