using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Metering;

/// <summary>What each instrument, ear and eye shows on a machine in a setup, loading included.</summary>
public static class Meter
{
    /// <summary>Volts above this on either point refuse an ohms test.</summary>
    public const double LiveVolts = 0.1;

    /// <summary>Most ohms a meter shows; beyond is OL. Common practice, no source.</summary>
    public const double MostOhms = 50e6;

    /// <summary>A continuity beeper sounds below this, Ω. Common practice, no source.</summary>
    public const double BeepOhms = 30;

    /// <summary>Input resistance in low-impedance volts, Ω. Common practice, no source.</summary>
    public const double LowImpedanceOhms = 3000;

    /// <summary>Most ohms an insulation tester shows.</summary>
    public const double MostInsulationOhms = 2e9;

    /// <summary>Runs the machine and reads the probe.</summary>
    /// <exception cref="FaultException">When the circuit cannot take a fault as worded.</exception>
    public static Shown Read(Machine machine, Test test, IReadOnlyList<Fault>? faults = null, MachineSpread? vary = null)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe switch
        {
            Probe.Lamp lamp => Lamp(machine, test.Setup, lamp, faults, vary),
            Probe.Amps { At: { } at } => GapAmps(machine, test.Setup, at, faults, vary),
            Probe.Amps amps when Pulled(test.Setup, amps.Tag) => SeriesAmps(machine, test.Setup, amps.Tag, faults, vary),
            _ => Read(machine.Run(test.Setup, faults, vary: vary), test),
        };
    }

    /// <summary>Reads a probe that leaves the settled state as it is: all but lamp and series amps.</summary>
    public static Shown Read(OperatingPoint op, Test test)
    {
        ArgumentNullException.ThrowIfNull(op);
        ArgumentNullException.ThrowIfNull(test);
        return Read(op, test.Probe, spread: true);
    }

    /// <param name="spread">False leaves out how part tolerances spread the value, which costs most of the work.</param>
    internal static Shown Read(OperatingPoint op, Probe probe, bool spread)
    {
        var circuit = op.Circuit;
        switch (probe)
        {
            case Probe.Volts v:
            {
                var (p, q) = (op.Node(v.P), v.Q is { } t ? op.Node(t) : -1);
                return v.Function switch
                {
                    VoltsFunction.Ac => AcVolts(op, p, q, Defaults.VoltMeterOhms, spread),
                    VoltsFunction.LowImpedance when Nets.Of(circuit).FunctionAt(v.P) == VoltsFunction.Ac => AcVolts(
                        op,
                        p,
                        q,
                        LowImpedanceOhms,
                        spread
                    ),
                    VoltsFunction.LowImpedance => Volts(op, p, q, LowImpedanceOhms, spread),
                    _ => Volts(op, p, q, Defaults.VoltMeterOhms, spread),
                };
            }
            case Probe.Drop d:
                return (
                    Nets.Of(circuit).FunctionAt(d.X.P.Terminal) == VoltsFunction.Ac
                        ? (Func<OperatingPoint, int, int, double, bool, Shown>)AcVolts
                        : Volts
                )(op, TipNode(op, d.X.P, false), TipNode(op, d.X.Q, false), Defaults.VoltMeterOhms, spread);
            case Probe.Ohms o:
                return Ohms(op, o.X, MostOhms, spread);
            case Probe.Insulation i:
                return Ohms(op, new Across("", new ProbePoint(i.P), new ProbePoint(i.Q)), MostInsulationOhms, spread);
            case Probe.Beep b:
                var ohms = Ohms(op, b.X, MostOhms, false);
                return ohms.Refused ? ohms : Shown.Word(ohms.Value < BeepOhms ? "beep" : "silent");
            case Probe.Amps a:
                return OwnAmps(op, a.Tag, spread);
            case Probe.Clamp c:
                return Clamp(op, c.Wire, spread);
            case Probe.Sees { IsFunction: true } s:
                return circuit.FindFunction(s.What) is { } f
                    ? Shown.Word(FunctionState.Of(op, f))
                    : Shown.Refuse(Dimension.None, $"There is no function “{s.What}” on this sheet.");
            case Probe.Sees s:
                return Shown.Word(LoadState.Of(op, circuit.IndexOf(s.What)));
            case Probe.Hears h:
                var part = circuit.IndexOf(h.Tag);
                return Shown.Word(
                    op.Mute(part) ? "silent"
                    : op.Chatters(part) ? "chatters"
                    : op.HasClicked(part) ? "clicks"
                    : "silent"
                );
            case Probe.Looks l:
                return Shown.Word(op.Blown.Any(b => b.Tag == l.Tag) || LooksBlown(op, l.Tag) ? "bad" : "good");
            default:
                return Shown.Refuse(Dimension.None, $"“{probe}” cannot be computed from the sheet.");
        }
    }

    /// <summary>A blown element shows as an open fuse link.</summary>
    private static bool LooksBlown(OperatingPoint op, string tag)
    {
        var part = op.Circuit.IndexOf(tag);
        return op.Circuit.Parts[part].Model.Links is [Link.Fuse, ..] && op.LinkOpen(part, 0);
    }

    /// <summary>Node under a tip. Ohms touch the part's own metal, volts the loom's, where the two are parted.</summary>
    internal static int TipNode(OperatingPoint op, ProbePoint p, bool partSide) =>
        // Nobody reads ohms into an unplugged module: there the tip is in the loom's plug.
        p.WireId
            is { } id
            ? op.WireNode(op.Circuit.FindWire(id)!, p.WireStart)
            : op.Node(p.Terminal, partSide && op.Circuit.FindPart(p.Terminal.Tag)?.Kind is not Circuits.Kinds.Module);

    /// <summary>
    /// Amps in the gap between a post and the lead that was lifted off it. Refused where it was not lifted, and while a starter turns: its
    /// current is beyond any series meter.
    /// </summary>
    private static Shown GapAmps(Machine machine, Setup setup, Terminal at, IReadOnlyList<Fault>? faults, MachineSpread? vary)
    {
        if (!setup.Interventions.Any(i => i is Intervention.Lift l && l.P.Bare == at.Bare))
            return Shown.Refuse(Dimension.Ampere, $"Lift {at.Bare} first: amps are read between the post and its lead.");
        var (post, lead) = (at with { Side = TerminalSide.Part }, at with { Side = TerminalSide.Lead });
        var op = machine.Run(setup, faults, (post, lead, Defaults.AmmeterOhms), leadFromStart: true, vary: vary);
        for (var i = 0; i < machine.Circuit.Parts.Count; i++)
            if (machine.Circuit.Parts[i].Kind is Circuits.Kinds.Starter && op.PulledIn(i))
                return Shown.Refuse(Dimension.Ampere, "Never with a starter turning: its current goes through the meter. Use a clamp.");
        return Shown.Number(Math.Abs(Across(op, op.Node(post), op.Node(lead))) / Defaults.AmmeterOhms, Dimension.Ampere) with
        {
            Spread = op.AmmeterSpread(),
            FollowsSupply = true,
        };
    }

    private static Shown Volts(OperatingPoint op, int p, int q, double meterOhms, bool spread)
    {
        if (p == q)
            return Shown.Number(0, Dimension.Volt) with { FollowsSupply = true };
        var loading = meterOhms / (meterOhms + op.Ohms(p, q));
        var volts = op.Volts(p) - op.Volts(q);
        return Shown.Number(volts * loading, Dimension.Volt) with
        {
            Fixed = spread ? (volts - op.VoltsFromSources(p, q)) * loading : 0,
            Spread = spread ? Math.Sqrt(op.VarianceFromTolerances(p, q)) * loading : 0,
            FollowsSupply = true,
        };
    }

    /// <summary>Direct volts as a volt meter shows them, without their spread.</summary>
    internal static double VoltsOnly(OperatingPoint op, int p, int q) =>
        (op.Volts(p) - op.Volts(q)) * Defaults.VoltMeterOhms / (Defaults.VoltMeterOhms + op.Ohms(p, q));

    /// <summary>Effective alternating volts, always positive as a meter shows them.</summary>
    private static Shown AcVolts(OperatingPoint op, int p, int q, double meterOhms, bool spread)
    {
        var volts = op.AcVolts(p, q);
        if (p == q)
            return Shown.Number(0, Dimension.Volt) with { FollowsSupply = true };
        var y = op.Response(p, q, alternating: true);
        var behind = Potentials.Across(y, p, q);
        var loading = meterOhms / (meterOhms + behind);
        return Shown.Number(volts.Magnitude * loading, Dimension.Volt) with
        {
            Spread = spread ? Math.Sqrt(op.AlternatingVariance(y, volts)) * loading : 0,
            FollowsSupply = true,
        };
    }

    private static Shown Ohms(OperatingPoint op, Across x, double most, bool spread)
    {
        var (p, q) = (TipNode(op, x.P, true), TipNode(op, x.Q, true));
        var live = LiveAt(op, p, q);
        if (live > LiveVolts)
            return Shown.Refuse(
                Dimension.Ohm,
                $"Live: {Shown.Format(live, Dimension.Volt)} there. Isolate the source (off …) and read volts near zero first."
            );
        if (p == q)
            return Shown.Number(0, Dimension.Ohm);
        var y = op.Response(p, q);
        var ohms = Potentials.Across(y, p, q);
        return ohms > most
            ? new Shown(null, Dimension.Ohm, "OL")
            : Shown.Number(ohms, Dimension.Ohm) with
            {
                Spread = spread ? Math.Sqrt(op.OhmsVariance(y)) : 0,
            };
    }

    /// <summary>The figure alone, Ω: NaN where it would be refused, infinite where the meter shows OL.</summary>
    internal static double OhmsOnly(OperatingPoint op, Across x)
    {
        var (p, q) = (TipNode(op, x.P, true), TipNode(op, x.Q, true));
        if (LiveAt(op, p, q) > LiveVolts)
            return double.NaN;
        return op.Ohms(p, q) is var ohms && ohms > MostOhms ? double.PositiveInfinity : ohms;
    }

    private static double LiveAt(OperatingPoint op, int p, int q)
    {
        var live = Math.Max(Math.Max(Math.Abs(op.Volts(p)), Math.Abs(op.Volts(q))), Math.Abs(op.Volts(p) - op.Volts(q)));
        return Math.Max(live, Math.Max(op.AcVolts(p, q).Magnitude, Math.Max(op.AcVolts(p, -1).Magnitude, op.AcVolts(q, -1).Magnitude)));
    }

    private static bool Pulled(Setup setup, string tag) => setup.Interventions.Any(i => i is Intervention.Pull p && p.Tag == tag);

    private static Shown SeriesAmps(Machine machine, Setup setup, string tag, IReadOnlyList<Fault>? faults, MachineSpread? vary)
    {
        var part = machine.Circuit.FindPart(tag)!;
        if (part.Model.Through is not { } through || part.Kind.IsSource)
            return Shown.Refuse(Dimension.Ampere, $"{tag} has no two ends that an ammeter could join safely.");
        var (p, q) = (new Terminal(tag, through.First), new Terminal(tag, through.Second));
        var op = machine.Run(setup, faults, (p, q, Defaults.AmmeterOhms), leadFromStart: true, vary: vary);
        return Shown.Number(Across(op, op.Node(p), op.Node(q)) / Defaults.AmmeterOhms, Dimension.Ampere) with
        {
            Spread = op.AmmeterSpread(),
            FollowsSupply = true,
        };
    }

    /// <summary>Signed volts where all is direct, else the effective value.</summary>
    private static double Across(OperatingPoint op, int p, int q)
    {
        var (direct, ac) = (op.Volts(p) - op.Volts(q), op.AcVolts(p, q).Magnitude);
        return ac == 0 ? direct : Math.Sqrt(direct * direct + ac * ac);
    }

    /// <summary>A clamp strays by 2 % and 0.05 A at most (common practice, no source); half of that as a standard deviation.</summary>
    private const double ClampShare = 0.01,
        ClampAmps = 0.025;

    private static Shown Clamp(OperatingPoint op, string wire, bool spread)
    {
        var amps = op.WireAmps(wire);
        return Shown.Number(amps, Dimension.Ampere) with
        {
            Spread = spread ? double.Hypot(op.WireAmpsSpread(wire), ClampShare * Math.Abs(amps) + ClampAmps) : 0,
            FollowsSupply = true,
        };
    }

    private static Shown OwnAmps(OperatingPoint op, string tag, bool spread)
    {
        var part = op.Circuit.IndexOf(tag);
        if (!op.Circuit.Parts[part].Kind.IsSource)
            return Shown.Refuse(Dimension.Ampere, $"Pull {tag} first: series amps are read in its place.");
        var amps = op.LinkAmps(part, 0);
        return Shown.Number(op.Circuit.Alternating ? Math.Abs(amps) : -amps, Dimension.Ampere) with
        {
            Spread = spread ? op.LinkAmpsSpread(part, 0) : 0,
            FollowsSupply = true,
        };
    }

    private static Shown Lamp(Machine machine, Setup setup, Probe.Lamp lamp, IReadOnlyList<Fault>? faults, MachineSpread? vary)
    {
        var volts = machine.Circuit.NominalVolts;
        var rated = lamp.Watts is { } w ? w / volts : Defaults.TestLampAmps;
        var ohms = volts / rated;
        var q = lamp.Q ?? machine.Circuit.ReferencePoint;
        var op = machine.Run(setup, faults, (lamp.P, q, ohms), vary: vary);
        var share = Math.Abs(Across(op, op.Node(lamp.P), op.Node(q))) / ohms / rated;
        return Shown.Word(
            share >= Defaults.LoadWorksShare ? "bright"
            : share >= Defaults.LoadWeakShare ? "dim"
            : "off"
        );
    }
}
