using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>Where a limit comes from, the strongest first.</summary>
public enum LimitSource
{
    /// <summary>A function of the sheet that is judged by this very reading.</summary>
    Sheet,

    /// <summary>The maker's acceptance range, <c>good 11..13ohm</c>.</summary>
    Maker,

    /// <summary>What a wire of a two-wire bus shows while modules talk, whatever their traffic.</summary>
    Bus,

    /// <summary>What the trade allows a joint, contact or lead to lose under load.</summary>
    Trade,
}

/// <summary>A limit that a reading is held to before any computed band.</summary>
/// <param name="Low">Base units; minus infinity where there is none.</param>
/// <param name="Say">The limit in words, with its unit.</param>
internal sealed record ReadingLimit(double Low, double High, LimitSource Source, string Say)
{
    /// <summary>
    /// Most that may be lost at the working current, V: a closed contact of a relay, contactor or starter, a switch, a joint, a control
    /// lead, a fuse. Common practice, no source.
    /// </summary>
    internal const double ContactVolts = 0.2,
        SwitchVolts = 0.3,
        JointVolts = 0.1,
        LeadVolts = 0.2,
        FuseVolts = 0.1;

    /// <summary>A lead that loses more than the trade allows even when sound is held to this many times its computed loss.</summary>
    private const double SoundFactor = 1.5;

    /// <summary>
    /// What a meter shows on either wire of a healthy bus, V: from rest, 2.5 V on both (ISO 11898-2), to as far as traffic moves the mean,
    /// with a tenth either way for the meter. Common practice for the averages: high 2.5 to 2.8 V and now and then 3, low 2.2 to 2.5 V.
    /// </summary>
    internal const double BusHighLowest = 2.4,
        BusHighMost = 3.0,
        BusLowLeast = 2.0,
        BusLowMost = 2.6;

    /// <summary>
    /// The wire of a bus that volts to the reference are read on, true for the high one; null elsewhere or where it sleeps.
    /// </summary>
    private static bool? BusWire(Circuit circuit, Test test, HealthyBand healthy)
    {
        if (
            test.Probe is not Probe.Volts { Function: VoltsFunction.Dc } v
            || v.Q is { } q && q != circuit.ReferencePoint
            || test.Setup.Interventions.Count > 0
            || healthy.Nominal is not (> BusLowLeast and < BusHighMost)
        )
            return null;
        return TwoWireBus.WireAt(circuit, v.P);
    }

    /// <param name="sound">The sound machine in the reading's setup.</param>
    public static ReadingLimit? Of(Circuit circuit, Test test, OperatingPoint sound, HealthyBand healthy)
    {
        foreach (var f in circuit.Functions)
            if (f.Test is FunctionTest.Measured m && m.Probe == test.Probe && sound.Holds(f.When))
                return new ReadingLimit(m.Low, m.High, LimitSource.Sheet, $"“{f.Name}” wants {Range(m.Low, m.High, m.Probe.Dimension)}");
        if (
            test.Probe is Probe.Ohms { X: var x }
            && x.P.Terminal.Tag == x.Q.Terminal.Tag
            && circuit.FindPart(x.P.Terminal.Tag) is { GoodOhms: { } good, Model.Through: { } through }
            && (x.P.Terminal.Name, x.Q.Terminal.Name) is var ends
            && (ends == through || ends == (through.Second, through.First))
        )
            return new ReadingLimit(good.Low, good.High, LimitSource.Maker, $"the maker gives {Range(good.Low, good.High, Dimension.Ohm)}");
        if (BusWire(circuit, test, healthy) is { } high)
            return high
                ? new ReadingLimit(BusHighLowest, BusHighMost, LimitSource.Bus, Range(BusHighLowest, BusHighMost, Dimension.Volt))
                : new ReadingLimit(BusLowLeast, BusLowMost, LimitSource.Bus, Range(BusLowLeast, BusLowMost, Dimension.Volt));
        if (
            test.Probe is Probe.Drop { X: var across }
            && test.Setup.Interventions.Count == 0
            && Trade(circuit, across) is { } allowed
            && healthy.Nominal is { } lost
        )
        {
            var most = Math.Max(allowed, SoundFactor * Math.Abs(lost));
            return new ReadingLimit(
                double.NegativeInfinity,
                most,
                LimitSource.Trade,
                $"under {MeterReading.Format(most, Dimension.Volt)} is usual"
            );
        }
        return null;
    }

    private static string Range(double low, double high, Dimension d) =>
        double.IsInfinity(high) ? $"at least {MeterReading.Format(low, d)}"
        : double.IsInfinity(low) ? $"at most {MeterReading.Format(high, d)}"
        : $"{MeterReading.Format(low, d)} to {MeterReading.Format(high, d)}";

    private static double? Trade(Circuit circuit, Across x)
    {
        if (circuit.FindWire(x.Text) is not null)
            return LeadVolts;
        var (p, q) = (x.P.Terminal, x.Q.Terminal);
        if (p.Tag != q.Tag || circuit.FindPart(p.Tag) is not { } part)
            return null;
        if (part.Kind is PinRow)
            return JointVolts;
        var link = part.Model.Links.FirstOrDefault(l => (l.A, l.B) == (p.Name, q.Name) || (l.B, l.A) == (p.Name, q.Name));
        return link switch
        {
            Link.Contact { Rule: ClosedRule.ByCoil } => ContactVolts,
            Link.Contact => part.Kind is Isolator ? JointVolts : SwitchVolts,
            Link.Fuse => FuseVolts,
            _ => null,
        };
    }
}
