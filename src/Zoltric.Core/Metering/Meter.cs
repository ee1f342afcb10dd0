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
    public static MeterReading Read(Machine machine, Test test, IReadOnlyList<Fault>? faults = null, ToleranceDraw? vary = null)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe.Loads
            ? test.Probe.Read(new LoadingInstruments(machine, test.Setup, faults, vary))
            : Read(machine.Run(test.Setup, faults, vary: vary), test);
    }

    /// <summary>
    /// Reads a probe that leaves the settled state as it is: all but lamp and series amps. On a machine that chatters a figure is the
    /// middle of what it goes between, as a meter shows it that settles in tenths of a second; lowest and highest are its ends.
    /// </summary>
    public static MeterReading Read(OperatingPoint op, Test test)
    {
        ArgumentNullException.ThrowIfNull(op);
        ArgumentNullException.ThrowIfNull(test);
        var shown = Read(op, test.Probe, spread: true);
        return op.OtherEnd is { } other ? Between(shown, Read(other, test.Probe, spread: true), test.Probe.Statistic) : shown;
    }

    private static MeterReading Between(MeterReading shown, MeterReading other, Statistic asked)
    {
        if (shown.Value is not { } a || other.Value is not { } b)
            return shown;
        if (asked is Statistic.Min or Statistic.Max or Statistic.Peak)
            return (asked == Statistic.Min) == (a < b) ? shown : other;
        return shown with
        {
            Value = (a + b) / 2,
            Text = MeterReading.Format((a + b) / 2, shown.Dimension),
            Spread = (shown.Spread + other.Spread) / 2,
            Fixed = (shown.Fixed + other.Fixed) / 2,
        };
    }

    /// <param name="spread">False leaves out how part tolerances spread the value, which costs most of the work.</param>
    internal static MeterReading Read(OperatingPoint op, Probe probe, bool spread) => probe.Read(new Instruments(op, spread));

    /// <summary>Nodes of a reading in volts; -1 is the reference.</summary>
    internal static (int P, int Q) NodesOf(OperatingPoint op, in BetweenTips tips) =>
        (TipNode(op, tips.P, false), tips.Q is { } q ? TipNode(op, q, false) : -1);

    /// <summary>Node under a tip. Ohms touch the part's own metal, volts the loom's, where the two are parted.</summary>
    internal static int TipNode(OperatingPoint op, ProbePoint p, bool partSide) =>
        // Nobody reads ohms into an unplugged module: there the tip is in the loom's plug.
        p.WireId
            is { } id
            ? op.WireNode(op.Circuit.FindWire(id)!, p.WireStart)
            : op.Node(p.Terminal, partSide && op.Circuit.FindPart(p.Terminal.Tag)?.Kind is not Circuits.Kinds.Module);

    /// <summary>Direct volts as a volt meter shows them, without their spread.</summary>
    internal static double VoltsOnly(OperatingPoint op, int p, int q) =>
        (op.Volts(p) - op.Volts(q)) * Defaults.VoltMeterOhms / (Defaults.VoltMeterOhms + op.Ohms(p, q));

    /// <summary>Where ohms are read: the nodes under both tips, on the part's side, and the common of each one's own circuit.</summary>
    /// <param name="HomeP">-1 is the reference.</param>
    internal readonly record struct OhmsTips(int P, int Q, int HomeP, int HomeQ);

    /// <summary>The same for every fault on one setup.</summary>
    internal static OhmsTips TipsOf(OperatingPoint op, Across x) =>
        new(TipNode(op, x.P, true), TipNode(op, x.Q, true), HomeOf(op, x.P), HomeOf(op, x.Q));

    /// <summary>The figure alone, Ω: NaN where it would be refused, infinite where the meter shows OL.</summary>
    /// <param name="dead">Known to be dead, as <see cref="IsDead"/> finds it.</param>
    internal static double OhmsOnly(OperatingPoint op, in OhmsTips tips, bool dead = false)
    {
        if (!dead && LiveAt(op, tips) > LiveVolts)
            return double.NaN;
        return op.Ohms(tips.P, tips.Q) is var ohms && ohms > MostOhms ? double.PositiveInfinity : ohms;
    }

    /// <summary>True where ohms would be refused nowhere: no two nodes have volts between them.</summary>
    internal static bool IsDead(OperatingPoint op)
    {
        var (low, high, most) = (0.0, 0.0, 0.0);
        for (var i = 0; i < op.Nodes; i++)
        {
            var v = op.Volts(i);
            (low, high) = (Math.Min(low, v), Math.Max(high, v));
            most = Math.Max(most, op.AcVolts(i, -1).Magnitude);
        }
        return high - low <= LiveVolts && 2 * most <= LiveVolts;
    }

    /// <summary>
    /// The most volts between two tips and from each of them home, to the common of its own circuit. Alternating ones as a low-impedance
    /// tester shows them: what comes through the insulation of an open contact falls away under it.
    /// </summary>
    internal static double LiveAt(OperatingPoint op, in OhmsTips tips) =>
        Math.Max(VoltsAt(op, tips.P, tips.Q), Math.Max(VoltsAt(op, tips.P, tips.HomeP), VoltsAt(op, tips.Q, tips.HomeQ)));

    /// <summary>The volts that count between two nodes; -1 is the reference.</summary>
    private static double VoltsAt(OperatingPoint op, int p, int q)
    {
        if (p == q)
            return 0;
        var alternating = op.AcVolts(p, q).Magnitude;
        if (alternating > LiveVolts)
            alternating *= (LowImpedanceOhms / (LowImpedanceOhms + Potentials.Across(op.PhasorResponse(p, q), p, q))).Magnitude;
        return Math.Max(Math.Abs(op.Volts(p) - op.Volts(q)), alternating);
    }

    private static int HomeOf(OperatingPoint op, ProbePoint tip)
    {
        var at = tip.WireId is { } id ? op.Circuit.FindWire(id)!.From : tip.Terminal;
        return Nets.Of(op.Circuit).CommonOf(at) is { } common ? op.Node(common) : -1;
    }
}
