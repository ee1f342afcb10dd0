using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>
/// What a test shows on a machine that has run, with what spreads it: the mean, the tolerance, and for words how near the border is.
/// </summary>
internal static class Prediction
{
    /// <summary>Null for tests that need a run of their own. What chatters is taken at one end of its round.</summary>
    public static Predicted? Quick(Test test, OperatingPoint op)
    {
        if (test.Probe.Loads)
            return null;
        if (test.Probe.VoltsOn(op.Circuit) is { Function: not VoltsFunction.LowImpedance } tips)
        {
            var (p, q) = Meter.NodesOf(op, tips);
            return new Predicted(
                QuickVolts(op, tips.Function, p, q),
                0,
                true,
                null,
                double.NaN,
                0,
                OfMains: tips.Function == VoltsFunction.Ac
            );
        }
        if (test.Probe.OhmsAcross is { } x)
            return Meter.OhmsOnly(op, Meter.TipsOf(op, x)) switch
            {
                double.NaN => new Predicted(0, 0, false, Answer.Refused, double.NaN, 0),
                double.PositiveInfinity => new Predicted(0, 0, false, Answer.OverLimit, double.NaN, 0),
                var ohms => new Predicted(ohms, 0, false, null, double.NaN, 0),
            };
        return Predict(Meter.Read(op, test.Probe, spread: false), ShareOf(op, test.Probe), op.StateKey) with
        {
            Measured = MeasuredFunction(op, test.Probe) is not null,
        };
    }

    public static double QuickVolts(OperatingPoint op, VoltsFunction function, int p, int q) =>
        !op.Tied(p, q) ? 0
        : function == VoltsFunction.Ac ? op.AcVolts(p, q).Magnitude
        : op.Volts(p) - op.Volts(q);

    public static Predicted Predict(Test test, OperatingPoint op) =>
        op.OtherEnd is { } other ? GoingBetween(AtRest(test, op), AtRest(test, other)) : AtRest(test, op);

    /// <summary>
    /// What is read on a machine that chatters. A meter that settles in tenths of a second shows the middle or jumps about it; who looks
    /// sees now the one, now the other.
    /// </summary>
    private static Predicted GoingBetween(in Predicted shown, in Predicted atOther) =>
        (shown.Word, atOther.Word) switch
        {
            (null, null) => shown with
            {
                Mean = (shown.Mean + atOther.Mean) / 2,
                Spread = (shown.Spread + atOther.Spread) / 2,
                Swing = Math.Abs(shown.Mean - atOther.Mean) / 2,
            },
            ({ }, { } word) => shown with { OtherEnd = (word, atOther.Share) },
            _ => shown,
        };

    private static Predicted AtRest(Test test, OperatingPoint op)
    {
        var predicted = Predict(Meter.Read(op, test.Probe, spread: true), ShareOf(op, test.Probe), op.StateKey) with
        {
            Measured = MeasuredFunction(op, test.Probe) is not null,
            EitherWay = test.Probe.IsEitherWay,
        };
        if (OnTheBrink(op, test.Probe, predicted) is > 0 and var brink)
            predicted = predicted with { OnTheBrink = brink };
        if (test.Probe.Statistic != Statistic.None && predicted.Word is null && BeatOf(test.Probe, op) is { } beat)
            predicted = predicted with { Beat = (predicted.Mean - beat.Low, beat.High - predicted.Mean) };
        if (test.Probe is Probe.Clamp clamp && predicted.Word is null)
            return EitherSide(predicted, op, clamp.Wire);
        return predicted.Word is null && Floats(op, test.Probe) ? predicted with { Ghost = true } : predicted;
    }

    /// <summary>
    /// By how much pull-in volts stray from coil to coil, as a share of themselves; more on alternating volts, where a contactor need close
    /// at 85 % of rated ones only and ours does at 65 % (IEC 60947-4-1, from memory). Estimates.
    /// </summary>
    private const double PullInStray = 0.06,
        PullInStrayAlternating = 0.1;

    /// <summary>From this share of its pull-in volts on alternating ones move an armature that does not close; estimate.</summary>
    private const double BuzzesFrom = 0.4;

    /// <summary>How often such a one is heard; estimate.</summary>
    private const double Buzzes = 0.6;

    /// <summary>Less is not kept.</summary>
    private const double LeastBrink = 0.01;

    private static double OnTheBrink(OperatingPoint op, Probe probe, in Predicted p)
    {
        if (probe is Probe.Hears { Tag: var tag })
        {
            if (op.Circuit.FindPart(tag) is not { Model.Coil: { } own })
                return 0;
            var part = op.Circuit.IndexOf(tag);
            return p is { Word: Answer.Silent, Share: >= BuzzesFrom and < 1 } ? (op.IsAlternating(part, own.Link) ? Buzzes : 0)
                : p.Word is Answer.Clicks ? LetsGo(op, part)
                : 0;
        }
        return probe is Probe.Sees && p.Word is Answer.Works ? Enumerable.Range(0, op.Circuit.Parts.Count).Max(i => LetsGo(op, i)) : 0;
    }

    /// <summary>Chance that a coil which is in would not be: its volts are near those at which it pulls in.</summary>
    private static double LetsGo(OperatingPoint op, int part)
    {
        if (op.Circuit.Parts[part].Model.Coil is not { IsTrip: false, DropOutVolts: > 0 } coil || !op.PulledIn(part))
            return 0;
        var beyond = Math.Abs(op.LinkVolts(part, coil.PullLink ?? coil.Link)) / coil.PullInVolts - 1;
        if (beyond is <= 0 or >= Predicted.HoldsBelow - 1)
            return 0;
        var chance = Normal.Below(-beyond / (op.IsAlternating(part, coil.Link) ? PullInStrayAlternating : PullInStray));
        return chance < LeastBrink ? 0 : chance;
    }

    /// <summary>Lowest and highest of what is read over a beat of the pulsed outputs; null where none beats, or for other probes.</summary>
    private static (double Low, double High)? BeatOf(Probe probe, OperatingPoint op)
    {
        if (probe is Probe.Clamp { Wire: var wire })
            return op.BeatAmps(wire) is { } amps ? Lengths(amps) : null;
        if (TipsOf(op, probe) is not (>= 0 and var p, var q))
            return null;
        return op.BeatVolts(p, q) is { } volts ? (probe.IsEitherWay ? Lengths(volts) : volts) : null;

        // A clamp is laid on either way round.
        static (double, double) Lengths((double Low, double High) x) =>
            (Math.Min(Math.Abs(x.Low), Math.Abs(x.High)), Math.Max(Math.Abs(x.Low), Math.Abs(x.High)));
    }

    /// <summary>What each of some alternating readings is the length of, V; null for other probes and where nothing alternates.</summary>
    public static Complex[]? Phasors(Probe probe, OperatingPoint[] runs, Predicted[] shown)
    {
        if (runs[0].Phasors is null || probe.VoltsOn(runs[0].Circuit) is not { Function: VoltsFunction.Ac } tips)
            return null;
        var phasors = new Complex[runs.Length];
        for (var i = 0; i < runs.Length; i++)
        {
            var (p, q) = Meter.NodesOf(runs[i], tips);
            var volts = runs[i].AcVolts(p, q);
            phasors[i] = volts == Complex.Zero ? shown[i].Mean : volts * (shown[i].Mean / volts.Magnitude);
        }
        return phasors;
    }

    /// <summary>True where volts are read between points that only leakage joins.</summary>
    public static bool Floats(OperatingPoint op, Probe probe)
    {
        if (probe.VoltsOn(op.Circuit) is not { } tips)
            return false;
        var (p, q) = Meter.NodesOf(op, tips);
        return !op.Tied(p, q);
    }

    public static Predicted Predict(MeterReading shown, double share, int state) =>
        shown.Value is { } v
            ? new Predicted(
                v,
                shown.Spread,
                shown.FollowsSupply,
                null,
                share,
                state,
                Fixed: shown.Fixed,
                OfMains: shown.OfMains,
                OwnInstrument: shown.OwnInstrument
            )
            {
                Winding = shown.Winding,
                Often = shown.Often,
                OftenLogSpread = shown.OftenLogSpread,
                OfRatio = shown.OfRatio,
                AtWill = shown.AtWill,
            }
            : new Predicted(0, 0, false, shown.Answer, share, state) { Winding = shown.Winding, Often = shown.Often };

    private static double ShareOf(OperatingPoint op, Probe probe) =>
        probe switch
        {
            Probe.Sees { IsFunction: true } s
                when op.Circuit.FindFunction(s.What) is { Test: FunctionTest.LoadWorks l } f && op.Holds(f.When) => Strength(
                op,
                op.Circuit.IndexOf(l.Tag)
            ) / MeantShare.Of(op.Circuit, f),
            _ when MeasuredFunction(op, probe) is { } m => Inside(op, m),
            Probe.Sees { IsFunction: false } s => Strength(op, op.Circuit.IndexOf(s.What)),
            Probe.Looks l when op.Circuit.FindPart(l.Tag)?.Model.Trip is not null => Predicted.ShownByLever,
            Probe.Looks l when op.Circuit.FindPart(l.Tag)?.Kind is Circuits.Kinds.Fuse => Predicted.ShownByElement,
            Probe.Hears h when op.Circuit.FindPart(h.Tag) is { } motor && Nets.Of(op.Circuit).MayHum(motor) => double.NaN,
            Probe.Hears h => PullShare(op, op.Circuit.IndexOf(h.Tag)),
            _ => double.NaN,
        };

    /// <summary>
    /// Share of its rated current, as a person sees what it does: a magnet or motor that lost turns takes more and pulls no harder. Its
    /// ampere-turns stay those of its volts, and what it takes too much warms its copper.
    /// </summary>
    private static double Strength(OperatingPoint op, int part)
    {
        var share = LoadState.Share(op, part);
        var p = op.Circuit.Parts[part];
        if (
            p is not { Kind: Circuits.Kinds.Coil or Circuits.Kinds.Motor or Circuits.Kinds.Injector, Model.Load: { ByVolts: false } load }
            || p.Model.Links[load.Link] is not Link.Resistance link
            || op.MostLinkFlow(part, load.Link) is not (var volts, > 0 and var amps)
        )
            return share;
        var left = Math.Abs(volts) / amps / link.Ohms;
        return left > LostTurns ? share : share * left / (1 + WarmCopper * (1 / left - 1));
    }

    /// <summary>
    /// What is left of a winding's ohms where turns are said to be lost; and by how much its copper's ohms are up at its rated heat: 60 K
    /// (common practice, no source) at 0.39 % a kelvin (IEC 60028, from memory).
    /// </summary>
    private const double LostTurns = 0.95,
        WarmCopper = 0.24;

    /// <summary>The limits of a function that is judged by a reading, in a state where it should work.</summary>
    private static FunctionTest.Measured? MeasuredFunction(OperatingPoint op, Probe probe) =>
        probe is Probe.Sees { IsFunction: true } s
        && op.Circuit.FindFunction(s.What) is { Test: FunctionTest.Measured m } f
        && op.Holds(f.When)
            ? m
            : null;

    /// <summary>
    /// How far machines of one sheet stray in such a reading, as a share of the limit: volts, then amps and ohms; estimates.
    /// </summary>
    private const double VoltsStray = 0.012,
        OthersStray = 0.06;

    private static double Inside(OperatingPoint op, FunctionTest.Measured m)
    {
        var value = FunctionState.ValueOf(op, m);
        if (double.IsNaN(value))
            return -40;
        double Margin(double limit, double inside) =>
            double.IsInfinity(limit)
                ? 40
                : Math.Clamp(inside / (Math.Abs(limit) * (m.Probe.Dimension == Dimension.Volt ? VoltsStray : OthersStray) + 1e-9), -40, 40);
        return Math.Min(Margin(m.Low, value - m.Low), Margin(m.High, m.High - value));
    }

    /// <summary>
    /// True for a starter whose motor stands: what it draws at the first instant it draws on, so that its solenoid is not let go of later.
    /// </summary>
    private static bool Stands(OperatingPoint op, int part) =>
        op.Circuit.Parts[part] is { Kind: Circuits.Kinds.Starter, Model: { Load: { } load } model }
        && model.Links[load.Link] is Link.Resistance motor
        && op.MostLinkFlow(part, load.Link) is (var volts, > 0 and var amps)
        && Math.Abs(volts) / amps < StandingOhms * motor.Ohms;

    /// <summary>Below this share of what a turning motor comes to, it stands; a starter that is seized draws three times its
    /// amps.</summary>
    private const double StandingOhms = 0.5;

    /// <summary>
    /// For a coil: 1 when it clicked for good, half when a fuse went in the same breath so that it may or may not have been heard, else its
    /// volts as a share of pull-in.
    /// </summary>
    private static double PullShare(OperatingPoint op, int part)
    {
        if (op.Circuit.Parts[part].Kind is Circuits.Kinds.Coil or Circuits.Kinds.Injector)
            return op.AnyBlown ? Predicted.MayHaveClicked
                : op.Stuck(part) && op.MostLinkAmps(part, 0) > LoadState.PullsFrom * op.Circuit.Parts[part].Model.Load!.Rated
                    ? Predicted.MovesInside
                : LoadState.Share(op, part) / LoadState.PullsFrom;
        if (op.Circuit.Parts[part].Model.Coil is not { } coil)
            return double.NaN;
        // What is still in when a fuse elsewhere has gone was heard like any other.
        if (op.AnyBlown && !op.State.PulledIn(part))
            return Predicted.MayHaveClicked;
        double Share(int link) => op.LinkOpen(part, link) ? 0 : Math.Abs(op.LinkVolts(part, link)) / coil.PullInVolts;
        // Let go of and pulled in again, a coil chatters where its own contact drags its supply down to what it needs.
        return op.HasClicked(part)
            ? op.State.PulledIn(part) && coil.DropOutVolts > 0 && Share(coil.Link) < Predicted.HoldsBelow && !Stands(op, part)
                ? Predicted.BarelyHolds
                : double.NaN
            : coil.PullLink is { } pull
                ? Share(pull)
                : coil.Weakest
                    ? coil.Links.Min(Share)
                    : Share(coil.Link);
    }

    /// <summary>
    /// Volts as a share of nominal, amps and ohms as a share of themselves, loads as a share of rated, limits in standard deviations: what
    /// no meter or eye tells apart.
    /// </summary>
    private const double AlikeVolts = 0.005,
        AlikeOthers = 0.02,
        AlikeShare = 0.02,
        AlikeLimits = 0.5,
        FarInside = 5;

    public static bool Alike(Predicted a, Predicted b, Dimension dimension, double nominalVolts)
    {
        if (
            a.Word != b.Word
            || a.Ghost != b.Ghost
            || double.IsNaN(a.Share) != double.IsNaN(b.Share)
            || a.OtherEnd?.Word != b.OtherEnd?.Word
        )
            return false;
        if (
            a.Word is null
            && Math.Abs(a.Mean - b.Mean)
                > (
                    dimension == Dimension.Volt
                        ? AlikeVolts * nominalVolts
                        : AlikeOthers * (Math.Max(Math.Abs(a.Mean), Math.Abs(b.Mean)) + 0.1)
                )
        )
            return false;
        if (double.IsNaN(a.Share))
            return true;
        if (!a.Measured)
            return Math.Abs(a.Share - b.Share) <= AlikeShare;
        return Math.Abs(a.Share - b.Share) <= AlikeLimits
            || a.Share > FarInside && b.Share > FarInside
            || a.Share < -FarInside && b.Share < -FarInside;
    }

    /// <summary>
    /// What no reading tells apart: volts as a share of nominal and of themselves, the rest as a share of themselves, limits in standard
    /// deviations.
    /// </summary>
    private const double SameVolts = 3e-5,
        SameOthers = 1e-4,
        SameShare = 5e-4,
        SameLimits = 0.02;

    public static bool Same(Predicted a, Predicted b, Dimension dimension, double nominalVolts)
    {
        if (
            a.Word != b.Word
            || a.Ghost != b.Ghost
            || a.FollowsSupply != b.FollowsSupply
            || a.Measured != b.Measured
            || double.IsNaN(a.Share) != double.IsNaN(b.Share)
        )
            return false;
        if (a.Word is null && !(Near(a.Mean, b.Mean) && Near(a.Spread, b.Spread) && Near(a.Fixed, b.Fixed)))
            return false;
        if (!Near(a.Beat.Below, b.Beat.Below) || !Near(a.Beat.Above, b.Beat.Above))
            return false;
        return double.IsNaN(a.Share) || Math.Abs(a.Share - b.Share) <= (a.Measured ? SameLimits : SameShare);

        bool Near(double x, double y) =>
            Math.Abs(x - y)
            <= (dimension == Dimension.Volt ? SameVolts * nominalVolts : 1e-9) + SameOthers * Math.Max(Math.Abs(x), Math.Abs(y));
    }

    /// <summary>Nodes of the tips where direct volts are read, the same twice for any other probe.</summary>
    public static (int P, int Q) TipsOf(OperatingPoint op, Probe probe) =>
        probe.VoltsOn(op.Circuit) is { Function: VoltsFunction.Dc } tips ? Meter.NodesOf(op, tips) : (-1, -1);

    /// <summary>By how much each changed joint moves a reading of volts or ohms; null for other probes.</summary>
    public static double[]? JointsOf(Probe probe, OperatingPoint op)
    {
        if (probe.VoltsOn(op.Circuit) is { } tips)
        {
            var (p, q) = Meter.NodesOf(op, tips);
            return op.Sensitivities.MovedByJoints(p, q, Joints.Stray);
        }
        return probe.OhmsAcross is { } x
            ? op.Sensitivities.MovedByJoints(Meter.TipNode(op, x.P, true), Meter.TipNode(op, x.Q, true), Joints.Stray, ohms: true)
            : null;
    }

    /// <summary>
    /// A wire that touches something carries the current of that on one side of the place and not on the other, and nobody knows on which
    /// side the clamp sits: both are as likely.
    /// </summary>
    /// <param name="clamped">What a clamp shows beyond the place, with its spread.</param>
    private static Predicted EitherSide(Predicted clamped, OperatingPoint op, string wire)
    {
        var (node, there) = (op.WireNode(op.Circuit.FindWire(wire)!, true), 0.0);
        foreach (var (a, b, g) in op.Joins)
        {
            if (a == node)
                there += g * (op.Volts(a) - op.Volts(b));
            if (b == node)
                there += g * (op.Volts(b) - op.Volts(a));
        }
        return there == 0 ? clamped : clamped with { Mean = clamped.Mean + there / 2, Spread = double.Hypot(clamped.Spread, there / 2) };
    }
}
