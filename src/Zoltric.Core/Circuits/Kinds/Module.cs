namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Electronic module, described by its indented lines: 200 Ω from each supply pin to its ground, powered from 75 % of nominal volts when
/// not said; inputs switch at their threshold and pull to ground through 100 kΩ, so that an open contact reads low; outputs join the first
/// supply pin or the ground through 50 mΩ while their condition holds (<c>powered</c> when none is stated). A bus pair is held at its
/// resting level through 50 kΩ and driven for the module's share of time; asleep it is held at ground. Without power only its receiver is
/// left, 100 kΩ between the two wires. A bus of one wire is held at the supply through its pull-up and drawn to ground for the module's
/// share of time. Several ground pins of one line meet inside. A pulsed output is open while the machine settles, so
/// that its beat chatters nothing; a meter shows the mean over time.
/// </summary>
public sealed class Module : PartKind
{
    public override string Word => "module";
    public override bool IsElectronic => true;
    public override bool TakesModuleLines => true;

    private const double PoweredShare = 0.75;

    /// <summary>A module lets go a little below where it comes up; common practice, no source.</summary>
    private const double Hysteresis = 0.95;

    public override PartModel Describe(Part part)
    {
        var supplies = part.ModuleLines.OfType<ModuleLine.Supply>().ToList();
        var (plus, ground) = supplies.Count > 0 ? (supplies[0].Pins[0], GroundOf(supplies[0])) : ("+", "-");
        var sleep = part.ModuleLines.OfType<ModuleLine.Sleeps>().FirstOrDefault();
        var links = new List<Link>();
        var modes = new List<FaultMode>();
        foreach (var s in supplies)
        foreach (var pin in s.Pins)
            links.Add(
                new Link.Resistance($"{pin}-{s.Grounds[0]}", pin, GroundOf(s), Defaults.ModuleOhms, Spread.Load)
                {
                    SleepAfter = sleep?.AfterSeconds ?? double.PositiveInfinity,
                    // The sleeping current is that of the whole module, shared among its supply pins.
                    SleepOhms = sleep is null ? Defaults.ModuleOhms : part.NominalVolts / sleep.Amps * supplies.Sum(x => x.Pins.Count),
                }
            );
        // One that does not fall asleep takes about what it takes awake; each supply pin its own.
        if (sleep is not null && links.Count > 0)
            modes.Add(
                new("awake", new FaultEffect.Awake([.. Enumerable.Range(0, links.Count)]), 1)
                {
                    Value = Dimension.Ohm,
                    DefaultValue = Defaults.ModuleOhms,
                    // From 2 A down to some tens of milliamps (common practice, no source).
                    Values =
                    [
                        .. new[]
                        {
                            part.NominalVolts / 2,
                            part.NominalVolts,
                            2 * part.NominalVolts,
                            0.25 * Defaults.ModuleOhms,
                            0.5 * Defaults.ModuleOhms,
                            Defaults.ModuleOhms,
                            2 * Defaults.ModuleOhms,
                        }
                            .Distinct()
                            .Order(),
                    ],
                }
            );
        if (links.Count == 0)
            links.Add(new Link.Resistance("+--", plus, ground, Defaults.ModuleOhms, Spread.Load));
        var from = supplies.Select(s => s.FromVolts).FirstOrDefault(v => v is not null) ?? PoweredShare * part.NominalVolts;
        var coil = new CoilRule(0, part.NominalVolts, from, Hysteresis * from, 1, 1) { Links = [.. Enumerable.Range(0, links.Count)] };
        foreach (var s in supplies.Where(s => s.Grounds.Count > 1))
        foreach (var pin in s.Grounds)
            links.Add(new Link.Resistance($"ground {pin}", GroundOf(s), pin, Defaults.PinOhms, Spread.Contact));
        var inputs = new List<InputRule>();
        foreach (var input in part.ModuleLines.OfType<ModuleLine.Input>())
        {
            inputs.Add(new InputRule(input.Pin, links.Count, input.Above, input.Volts));
            if (input.PullUp)
            {
                // What reads it is high beside what holds it at the supply.
                links.Add(new Link.Resistance($"in{input.Pin}", input.Pin, ground, Defaults.VoltMeterOhms, Spread.None));
                links.Add(new Link.Resistance($"pullup {input.Pin}", plus, input.Pin, input.Ohms ?? Defaults.InputOhms, Spread.Load));
            }
            else
                links.Add(
                    new Link.Resistance(
                        $"in{input.Pin}",
                        input.Pin,
                        ground,
                        input.Ohms ?? Defaults.InputOhms,
                        input.Ohms is null ? Spread.None : Spread.Load
                    )
                );
        }
        BusRule? bus = null;
        if (part.ModuleLines.OfType<ModuleLine.Bus>().FirstOrDefault() is { } pair)
        {
            bus = new BusRule(links.Count, links.Count + 1, pair.Share, sleep?.AfterSeconds ?? double.PositiveInfinity);
            links.Add(new Link.Resistance("bus high", pair.HighPin, ground, Defaults.BusHoldOhms, Spread.None));
            links.Add(new Link.Resistance("bus low", pair.LowPin, ground, Defaults.BusHoldOhms, Spread.None));
            links.Add(new Link.Resistance("bus pair", pair.HighPin, pair.LowPin, 2 * Defaults.BusHoldOhms, Spread.None));
        }
        foreach (var single in part.ModuleLines.OfType<ModuleLine.SingleWire>())
        {
            var driver = links.Count;
            links.Add(
                new Link.Contact(
                    $"bus {single.Pin}",
                    single.Pin,
                    ground,
                    new ClosedRule.ByControls([Condition.Powered(part.Tag, null)], [])
                )
                {
                    ClosedOhms = Defaults.SingleWireDriveOhms,
                    PulsedShare = single.Share,
                }
            );
            links.Add(new Link.Resistance($"pullup {single.Pin}", plus, single.Pin, single.PullUpOhms, Spread.None));
            modes.Add(new($"bus {single.Pin} dead", new FaultEffect.Open(driver), 0.5));
            modes.Add(new($"bus {single.Pin} stuck-on", new FaultEffect.Closed(driver), 0.5));
        }
        var outputs = new List<int>();
        foreach (var output in part.ModuleLines.OfType<ModuleLine.Output>())
        {
            var i = links.Count;
            outputs.Add(i);
            var when = Condition.Powered(part.Tag, output.When);
            var (a, b) = output.High ? (plus, output.Pin) : (output.Pin, ground);
            links.Add(
                new Link.Contact($"output {output.Pin}", a, b, new ClosedRule.ByControls([when], []))
                {
                    ClosedOhms = output.Ohms ?? Defaults.DriverOhms,
                    PulsedShare = output.PulsedShare,
                }
            );
            if (output.LeakOhms is { } leak)
                links.Add(new Link.Resistance($"leak {output.Pin}", a, b, leak, Spread.Load));
            modes.Add(new($"output {output.Pin} dead", new FaultEffect.Open(i), 1));
            modes.Add(new($"output {output.Pin} stuck-on", new FaultEffect.Closed(i), 0.5));
        }
        modes.Insert(0, new("dead", new FaultEffect.Open([0, .. outputs]), 1));
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B }).Distinct().Where(t => t != InnerGround)],
            Links = links,
            Coil = coil,
            Inputs = inputs,
            Bus = bus,
            Faults = modes,
        };
    }

    /// <summary>Where several ground pins meet inside the module.</summary>
    private const string InnerGround = "inner ground";

    private static string GroundOf(ModuleLine.Supply s) => s.Grounds.Count > 1 ? InnerGround : s.Grounds[0];
}
