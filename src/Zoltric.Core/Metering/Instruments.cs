using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Metering;

/// <summary>What each instrument, ear and eye shows on a machine that has settled.</summary>
/// <param name="spread">False leaves out how part tolerances spread the value.</param>
internal sealed class Instruments(OperatingPoint op, bool spread) : IInstruments
{
    public Circuit Circuit => op.Circuit;

    public MeterReading Volts(in BetweenTips tips)
    {
        var (p, q) = Meter.NodesOf(op, tips);
        if (p == q)
            return MeterReading.Number(0, Dimension.Volt) with { FollowsSupply = true };
        var low = tips.Function == VoltsFunction.LowImpedance;
        var ac = (low ? Nets.Of(op.Circuit).FunctionAt(tips.P.Terminal) : tips.Function) == VoltsFunction.Ac;
        var meterOhms = low ? Meter.LowImpedanceOhms : Defaults.VoltMeterOhms;
        if (ac)
            return AcVolts(p, q, meterOhms);
        var read = DcVolts(p, q, meterOhms);
        return spread && BusSpread(tips, read.Value!.Value) is > 0 and var bus
            ? read with
            {
                Spread = double.Hypot(read.Spread, bus),
            }
            : read;
    }

    /// <summary>
    /// How far the level of a bus at rest strays from its middle, V: ISO 11898-2 allows 2.0 to 3.0 V, transceivers lie closer; estimate.
    /// </summary>
    private const double BusRestStray = 0.05;

    /// <summary>
    /// How busy a bus is nobody knows, so that what its traffic adds to the level is known to its order of size: standard deviation, V. A
    /// line that something holds down has no level to stray.
    /// </summary>
    private double BusSpread(in BetweenTips tips, double volts)
    {
        var nets = Nets.Of(op.Circuit);
        double At(ProbePoint? tip) => tip is { } x && nets.BusWireAt(x.Terminal) is { } wire ? wire.Traffic : 0;
        var (p, q) = (At(tips.P), At(tips.Q));
        if (p + q == 0)
            return 0;
        var level = Math.Min(1, Math.Abs(volts) / Defaults.BusRestVolts);
        return p > 0 && q > 0
            ? Math.Min(p + q, Math.Abs(volts)) * Defaults.BusDriven
            : double.Hypot((p + q) * Defaults.BusDriven, BusRestStray) * level;
    }

    private MeterReading DcVolts(int p, int q, double meterOhms)
    {
        var loading = meterOhms / (meterOhms + op.Ohms(p, q));
        var volts = op.Volts(p) - op.Volts(q);
        return MeterReading.Number(volts * loading, Dimension.Volt) with
        {
            Fixed = spread ? (volts - op.VoltsFromSources(p, q)) * loading : 0,
            Spread = spread ? Math.Sqrt(op.Sensitivities.VarianceFromTolerances(p, q)) * loading : 0,
            FollowsSupply = true,
        };
    }

    /// <summary>Effective alternating volts, always positive as a meter shows them.</summary>
    private MeterReading AcVolts(int p, int q, double meterOhms)
    {
        var volts = op.AcVolts(p, q);
        var y = op.PhasorResponse(p, q);
        var loading = (meterOhms / (meterOhms + Potentials.Across(y, p, q))).Magnitude;
        return MeterReading.Number(volts.Magnitude * loading, Dimension.Volt) with
        {
            Spread = spread ? Math.Sqrt(op.Sensitivities.AlternatingVariance(y, volts)) * loading : 0,
            FollowsSupply = true,
            OfMains = true,
            OfRatio = spread ? op.Sensitivities.OfRatio(y, volts) : 0,
            AtWill = IsFedByMotor(y, Potentials.Across(y, p, q)) ? BackFedLogSpread : 0,
        };
    }

    public MeterReading Ohms(Across x) => Ohms(x, Meter.MostOhms, spread);

    /// <summary>Standard deviations of the logarithm of what electronics, and insulation, read as; estimates.</summary>
    private const double ElectronicsLogSpread = 0.9,
        InsulationLogSpread = 1.5;

    /// <summary>Cold, a flaw that conducts at work may let through as little as megohms do: a crack, damp that was driven off.</summary>
    private const double ColdFlawOhms = 1e6;

    /// <summary>
    /// What insulation lets through goes with damp, heat and the tester's volts: only its order of size says something, and of a short to
    /// earth hardly that.
    /// </summary>
    public MeterReading Insulation(Across x)
    {
        var read = Ohms(x, Meter.MostInsulationOhms, spread);
        var flaw = read.Value is { } ohms and < ColdFlawOhms ? Math.Log(ColdFlawOhms / Math.Max(ohms, 0.1)) / 2 : 0;
        return read with { AtWill = Math.Max(InsulationLogSpread, flaw) };
    }

    public MeterReading Beep(Across x)
    {
        var ohms = Ohms(x, Meter.MostOhms, false);
        return ohms.Refused
            ? ohms
            : MeterReading.Word(ohms.Value < Meter.BeepOhms ? Answer.Beep : Answer.Silent) with
            {
                Winding = ohms.Winding,
                Often = ohms.Often,
                OftenLogSpread = ohms.OftenLogSpread,
            };
    }

    /// <summary>
    /// What a three-phase motor takes on two phases: 1.7 times if it goes on turning, four to six times if it stands; common practice, no
    /// source.
    /// </summary>
    private const double TwoPhaseTimes = 2.5;

    /// <summary>How widely that strays, as a standard deviation of the logarithm; estimate.</summary>
    private const double TwoPhaseLogSpread = 0.8;

    /// <summary>Elements of a three-phase motor that differ more than this have not all their phases.</summary>
    private const double Uneven = 0.6;

    /// <summary>How many times the amps are often seen, since a motor that lost a phase does what no resistance does; 0 for none.</summary>
    private double OnTwoPhases(params ReadOnlySpan<double> ways)
    {
        var amps = 0.0;
        foreach (var way in ways)
            amps = Math.Max(amps, Math.Abs(way));
        if (amps < ClampLeast)
            return 0;
        // What the wire takes is the motor's, not a small load beside it.
        foreach (var (_, most) in MotorsOnTwoPhases())
            if (amps > 0.5 * most)
                return TwoPhaseTimes;
        return 0;
    }

    /// <summary>
    /// How many times the amps of the sheet's rule a motor that is held takes as often, and how widely that strays, as a standard deviation
    /// of the logarithm: small direct-current ones take three times their running amps, mains ones four to eight. Common practice, no
    /// source.
    /// </summary>
    private const double StandingTimes = 1.5,
        StandingLogSpread = 0.4;

    /// <summary>The same where what these amps flow to is a motor that is held; 0 where it is not.</summary>
    private double Standing(double amps)
    {
        if (Math.Abs(amps) < ClampLeast)
            return 0;
        for (var part = 0; part < op.Circuit.Parts.Count; part++)
            if (
                op.Stuck(part)
                && op.Circuit.Parts[part] is { Kind: not Circuits.Kinds.Coil, Model.Load: { } load }
                && Math.Abs(amps) > 0.5 * op.MostLinkAmps(part, load.Link)
                && op.MostLinkAmps(part, load.Link) > ClampLeast
            )
                return StandingTimes;
        return 0;
    }

    /// <summary>How many times the amps are as often what a motor does that lost a phase or is held, and how widely that strays.</summary>
    private (double Times, double LogSpread) Otherwise(double amps) =>
        OnTwoPhases(amps) is > 0 and var times ? (times, TwoPhaseLogSpread) : (Standing(amps), StandingLogSpread);

    /// <summary>Three-phase motors, by index, of which one element takes far less than another, and the most that one takes, A.</summary>
    private IEnumerable<(int Part, double Most)> MotorsOnTwoPhases()
    {
        if (op.Phasors is null)
            yield break;
        for (var part = 0; part < op.Circuit.Parts.Count; part++)
        {
            var links = op.Circuit.Parts[part].Model.Links;
            if (links is not [Link.Resistance { RestShare: not null }, _, _, ..])
                continue;
            var (least, most) = (double.MaxValue, 0.0);
            for (var l = 0; l < links.Count; l++)
                if (Math.Abs(op.LinkAmps(part, l)) is var a)
                    (least, most) = (Math.Min(least, a), Math.Max(most, a));
            if (most > ClampLeast && least < Uneven * most)
                yield return (part, most);
        }
    }

    /// <summary>
    /// Standard deviation of the logarithm of what a three-phase motor that lost a phase puts on the dead wire: a rotor that turns makes
    /// nearly the whole volts there, one that stands half of them or less; estimate.
    /// </summary>
    private const double BackFedLogSpread = 0.5;

    /// <summary>True where the volts between two points come through a three-phase motor that runs on two phases.</summary>
    /// <param name="y">Phasors with unit current between the points, Ω.</param>
    /// <param name="impedance">Between the points, Ω.</param>
    private bool IsFedByMotor(Complex[] y, Complex impedance) =>
        MotorsOnTwoPhases().Any(m => op.Sensitivities.IsThrough(m.Part, y, impedance));

    private MeterReading Ohms(Across x, double most, bool withSpread)
    {
        var tips = Meter.TipsOf(op, x);
        var (p, q, live) = (tips.P, tips.Q, Meter.LiveAt(op, tips));
        if (live > Meter.LiveVolts)
            return MeterReading.Refuse(
                Dimension.Ohm,
                $"Live: {MeterReading.Format(live, Dimension.Volt)} there. Isolate the source (off …) and read volts near zero first."
            );
        if (p == q)
            return MeterReading.Number(0, Dimension.Ohm);
        var y = op.Response(p, q);
        var ohms = Potentials.Across(y, p, q);
        if (ohms > most)
            return MeterReading.Word(Answer.OverLimit, Dimension.Ohm);
        var (winding, rest, strays) = op.Sensitivities.WindingOf(y, ohms);
        return MeterReading.Number(ohms, Dimension.Ohm) with
        {
            Spread = withSpread ? Math.Sqrt(op.Sensitivities.OhmsVariance(y)) : 0,
            Winding = 1 + winding,
            Often = rest,
            OftenLogSpread = strays,
            AtWill = op.Sensitivities.IsThroughElectronics(y, ohms) ? ElectronicsLogSpread : 0,
        };
    }

    /// <summary>A capacity range strays by 3 % at most (common practice, no source); half of that as a standard deviation.</summary>
    private const double CapacityShare = 0.015;

    /// <summary>Less than this across a capacitor shorts it for the meter, Ω.</summary>
    private const double CapacityShorted = 1e4;

    public MeterReading Capacitance(string tag)
    {
        var part = op.Circuit.IndexOf(tag);
        var link = op.Circuit.Parts[part].Model.Links.OfType<Link.Reactance>().FirstOrDefault(l => l.Microfarads is not null);
        if (link is null)
            return MeterReading.Refuse(Dimension.Microfarad, $"{tag} is no capacitor.");
        var (a, b) = (new Terminal(tag, link.A), new Terminal(tag, link.B));
        var tips = Meter.TipsOf(op, new Across(tag, new ProbePoint(a), new ProbePoint(b)));
        var (p, q, live) = (tips.P, tips.Q, Meter.LiveAt(op, tips));
        if (live > Meter.LiveVolts)
            return MeterReading.Refuse(
                Dimension.Microfarad,
                $"Live: {MeterReading.Format(live, Dimension.Volt)} there. Isolate the source (off …) and discharge it first."
            );
        if (op.Node(a) == p && op.Node(b) == q)
            return MeterReading.Refuse(
                Dimension.Microfarad,
                $"Take the wires off {tag} first (unplug {tag}): what is beside it is read too."
            );
        if (op.Ohms(p, q) < CapacityShorted)
            return MeterReading.Word(Answer.OverLimit, Dimension.Microfarad);
        var capacity = op.Microfarads(part, link);
        return MeterReading.Number(capacity, Dimension.Microfarad) with
        {
            Spread = spread ? double.Hypot(link.LogSpread, CapacityShare) * capacity : 0,
        };
    }

    /// <summary>A phase below this share of the largest line volts is missing.</summary>
    private const double PhaseShare = 0.6;

    public MeterReading Rotation(Terminal first, Terminal second, Terminal third)
    {
        var (a, b, c) = (op.Node(first), op.Node(second), op.Node(third));
        var (ab, bc, ca) = (op.AcVolts(a, b), op.AcVolts(b, c), op.AcVolts(c, a));
        var most = Math.Max(ab.Magnitude, Math.Max(bc.Magnitude, ca.Magnitude));
        var least = Math.Min(ab.Magnitude, Math.Min(bc.Magnitude, ca.Magnitude));
        return MeterReading.Word(
            most < Meter.LiveVolts || least < PhaseShare * most ? Answer.None
            : Phases.TurnRight(ab, bc) ? Answer.Right
            : Answer.Left
        );
    }

    /// <summary>A clamp strays by 2 % and 0.05 A at most (common practice, no source); half of that as a standard deviation.</summary>
    private const double ClampShare = 0.01,
        ClampAmps = 0.025;

    /// <summary>Less than this no clamp shows, A.</summary>
    private const double ClampLeast = 1e-4;

    public MeterReading Clamp(string wire)
    {
        var amps = op.WireAmps(wire);
        if (Math.Abs(amps) < ClampLeast)
            amps = 0;
        var (often, logSpread) = Otherwise(amps);
        return MeterReading.Number(amps, Dimension.Ampere) with
        {
            Spread = spread ? double.Hypot(op.Sensitivities.WireAmpsSpread(wire), ClampShare * Math.Abs(amps) + ClampAmps) : 0,
            FollowsSupply = true,
            Often = often,
            OftenLogSpread = logSpread,
            OfMains = op.WireFlow(op.Network.Layout.WireIndex(wire)) is var flow && flow.Alternating.Magnitude > Math.Abs(flow.Direct),
        };
    }

    /// <summary>
    /// A clamp for leakage strays by 3 % and a milliamp (common practice, no source); half of that as a standard deviation.
    /// </summary>
    private const double LeakShare = 0.015,
        LeakAmps = 0.0005;

    public MeterReading Residual(IReadOnlyList<(string Wire, bool Along)> wires)
    {
        var flows = wires.Select(w => (Flow: op.WireFlow(op.Network.Layout.WireIndex(w.Wire)), w.Along));
        var amps = flows.Aggregate(default(Flow), (sum, f) => sum + (f.Along ? f.Flow : -f.Flow)).Amps;
        return MeterReading.Number(amps, Dimension.Ampere) with
        {
            Spread = spread ? LeakShare * Math.Abs(amps) + LeakAmps : 0,
            OwnInstrument = true,
            FollowsSupply = true,
        };
    }

    /// <summary>How far what a flame lets through strays from flame to flame, as a share; estimate.</summary>
    private const double FlameSpread = 0.15;

    public MeterReading Amps(string tag)
    {
        var part = op.Circuit.IndexOf(tag);
        var amps = op.LinkAmps(part, 0);
        // Of what takes current by itself, amps are those in series with it.
        if (op.Circuit.Parts[part].Kind is Circuits.Kinds.Load or Circuits.Kinds.FlameRod)
        {
            var let = op.LetThrough(part, Math.Abs(amps));
            return MeterReading.Number(let, Dimension.Ampere) with
            {
                Spread =
                    !spread ? 0
                    : let < Math.Abs(amps) ? FlameSpread * let
                    : op.Sensitivities.LinkAmpsSpread(part, 0),
                FollowsSupply = true,
                Often = Standing(amps),
                OftenLogSpread = StandingLogSpread,
            };
        }
        if (!op.Circuit.Parts[part].Kind.IsSource)
            return MeterReading.Refuse(Dimension.Ampere, $"Pull {tag} first: series amps are read in its place.");
        var (often, logSpread) = Otherwise(amps);
        return MeterReading.Number(op.Circuit.Alternating ? Math.Abs(amps) : -amps, Dimension.Ampere) with
        {
            Spread = spread ? op.Sensitivities.LinkAmpsSpread(part, 0) : 0,
            FollowsSupply = true,
            Often = often,
            OftenLogSpread = logSpread,
        };
    }

    public MeterReading Function(string name) =>
        op.Circuit.FindFunction(name) is { } f
            ? MeterReading.Word(FunctionState.Judge(op, f))
            : MeterReading.Refuse(Dimension.None, $"There is no function “{name}” on this sheet.");

    public MeterReading Load(string tag) => MeterReading.Word(LoadState.Judge(op, op.Circuit.IndexOf(tag)));

    /// <summary>Share of its rated amps from which a motor is heard; estimate.</summary>
    private const double HeardFrom = 0.2;

    public MeterReading Coil(string tag)
    {
        var part = op.Circuit.IndexOf(tag);
        if (op.Circuit.Parts[part].Model.Load is { } load && Nets.Of(op.Circuit).MayHum(op.Circuit.Parts[part]))
            return MeterReading.Word(
                LoadState.Judge(op, part) == Answer.Works ? Answer.Works
                : load.Links.Average(l => op.MostLinkAmps(part, l)) > HeardFrom * load.Rated ? Answer.Hums
                : Answer.Silent
            );
        if (op.Circuit.Parts[part].Kind is Circuits.Kinds.Coil or Circuits.Kinds.Injector)
            return MeterReading.Word(LoadState.Share(op, part) >= LoadState.PullsFrom ? Answer.Clicks : Answer.Silent);
        return MeterReading.Word(
            op.Mute(part) ? Answer.Silent
            : op.Chatters(part) ? Answer.Chatters
            : op.HasClicked(part) ? Answer.Clicks
            : Answer.Silent
        );
    }

    /// <summary>A blown element shows as an open fuse link, a trip by its lever or flag.</summary>
    public MeterReading Look(string tag)
    {
        var part = op.Circuit.IndexOf(tag);
        var model = op.Circuit.Parts[part].Model;
        var open =
            model.Links is [Link.Fuse, ..] && op.LinkOpen(part, 0)
            || model is { Trip: not null, Coil: not null } && op.State.PulledIn(part)
            || model.Trip is { } trip && op.LinkOpen(part, trip);
        return MeterReading.Word(open || op.Blown.Any(b => b.Tag == tag) ? Answer.Bad : Answer.Good) with
        {
            Often =
                open || model is not { Trip: not null, Coil: not null }
                    ? 0
                    : OnTwoPhases(op.LinkAmps(part, 0), op.LinkAmps(part, 1), op.LinkAmps(part, 2)),
        };
    }
}
