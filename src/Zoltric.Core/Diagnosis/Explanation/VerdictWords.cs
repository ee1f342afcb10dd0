using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>What is known of a reading when its sentence is chosen.</summary>
/// <param name="Limit">The limit that decided, or null where the computed band did.</param>
/// <param name="Proved">The working current flowed.</param>
internal readonly record struct Judged(
    Circuit Circuit,
    Reading Reading,
    Judgement Judgement,
    Expected Expected,
    ReadingLimit? Limit,
    bool Proved
)
{
    /// <summary>True for a new fuse that has held where the last one had blown.</summary>
    public bool HeldAnew { get; init; }

    /// <summary>What the same function did before, or did while nothing was moved; none where it was not looked at.</summary>
    public Earlier Earlier { get; init; }

    /// <summary>The part that was put in since; null where none was.</summary>
    public Part? PutIn { get; init; }
}

/// <summary>What a function that is looked at again did the last time.</summary>
internal enum Earlier
{
    None,

    /// <summary>Nothing has been seen not to work.</summary>
    NothingDead,
    DeadBeforeThePart,
    DeadUnmoved,
    Dead,
}

/// <summary>
/// The sentences of verdicts: one table, by what was probed, how it came out, and what it was compared with. Each row says a direction:
/// lost, leaking, open, sound. A test holds every row to it.
/// </summary>
internal static class VerdictWords
{
    /// <summary>V across a meter of 10 MΩ in a lifted lead: a twentieth of a millionth of an ampere.</summary>
    private const double NothingInTheGap = 0.5;

    public static string Say(in Judged j)
    {
        var (test, result) = (j.Reading.Test, j.Reading.Result);
        if (test.Probe is Probe.Replaced)
            return "Weak evidence by itself: what the machine does after it tells more.";
        if (test.Probe is Probe.Code)
            return "Points at what it is about, and proves nothing: a low supply or a shared ground sets codes too.";
        if (ReadingKinds.IsSeriesScreen(j.Circuit, test))
            return result is ReadingResult.Number { Value: var gap } && Math.Abs(gap) < NothingInTheGap
                ? "A screen only: next to nothing is drawn here, or the tips did not meet. Amps in the gap, or a clamp, say it."
                : "A screen only: something draws through this lead. How much cannot be told from volts, since a millionth of an ampere "
                    + "through the meter shows as much as a lamp left on. Amps in the gap, or a clamp, say it.";
        if (j.Expected.Healthy is { Refused: true, Text: var why })
            return $"Not judged. {why}";
        if (j.Reading.Doubtful)
            return "Doubtful: counts little.";
        if (j.Judgement != Judgement.Ok && PlugSides.Between(j.Circuit, test.Setup, test.Probe.Tips) is { } parted)
            return $"{parted.Tag} is parted and the tips are on its two sides: nothing should join them there. If both were on one side, "
                + $"say {string.Join(' ', PlugSides.ToSideOf(j.Circuit, test.Probe.Tips))}.";
        if (result is ReadingResult.Jumps)
            return "It comes and goes: a joint, a contact, or a bad tip. Touch clean metal, hold still, and read it once more.";
        if (
            result is not ReadingResult.OverLimit
            && j.Limit is { Source: not LimitSource.Trade } limit
            && j.Judgement is Judgement.Low or Judgement.High
        )
            return Outside(limit, j.Judgement) + BusMeaning(j);
        return test.Probe switch
        {
            Probe.Looks look => Looked(j, look),
            Probe.Hears heard when j.Circuit.FindPart(heard.Tag) is { } motor && Nets.Of(j.Circuit).MayHum(motor) => result switch
            {
                ReadingResult.Word { Answer: Answer.Hums } =>
                    "It is fed and does not turn: a phase or its capacitor is missing, or something holds it. Switch off before it burns.",
                ReadingResult.Word { Answer: Answer.Silent } when j.Judgement != Judgement.Ok =>
                    "Nothing reaches it, or its winding or way home is open.",
                ReadingResult.Word { Answer: Answer.Silent } => "Silent, as it should be here.",
                _ => "It runs: what feeds it carries its current.",
            },
            Probe.Hears when result is ReadingResult.Word { Answer: Answer.Hums } =>
                "It hums: its volts are low, or its armature does not close.",
            Probe.Hears heard
                when j.Circuit.FindPart(heard.Tag)?.Kind is Circuits.Kinds.Coil or Circuits.Kinds.Injector
                    && result is ReadingResult.Word { Answer: Answer.Clicks }
                    && j.Judgement == Judgement.Ok => "Its coil is fed and its armature moves: what it should move may still hang.",
            Probe.Hears => j.Judgement == Judgement.Ok
                ? result is ReadingResult.Word { Answer: Answer.Silent }
                    ? "Silent, as it should be here."
                    : "Proves the coil side only: a relay can click and still not conduct."
                : "The coil is not doing its part: look at what feeds it and its way home.",
            Probe.Sees => Seen(j),
            Probe.Lamp => j.Judgement switch
            {
                Judgement.Ok => "The lamp shows what it should here, for the little current it takes.",
                Judgement.High => "Brighter than it should be: something feeds this point.",
                _ => "Less light than there should be: the feed or the way home before this point.",
            },
            Probe.Volts when TestRules.IsDeadCheck(j.Circuit, test) => j.Judgement == Judgement.Ok
                ? "Read dead with the sources off: proof, and no evidence of the fault. Show the tester live before and after."
                : "Live with the sources off: find out where it comes from before touching anything.",
            Probe.Insulation => j.Judgement switch
            {
                Judgement.Ok => "No leak between the two points.",
                Judgement.Unsure when result is ReadingResult.Number { Value: >= Reading.LeastInsulation } =>
                    "Damp, dirt or age: sound insulation has 5 MΩ and more. By itself this opens no fuse.",
                Judgement.Low => "It leaks: there is a path between the two points that should not be there.",
                _ => "Better insulated than expected: a path that should be there may be open.",
            },
            Probe.Beep => j.Judgement switch
            {
                Judgement.Ok => result is ReadingResult.Word { Answer: Answer.Silent }
                    ? "No path, as it should be."
                    : "Beeps, as it should: joined, for the little current of a meter.",
                Judgement.High => "Open: it should beep and does not.",
                Judgement.Unsure => "No beep: open, or windings of more ohms than a meter beeps at. Read ohms.",
                _ => "It beeps where it should not: a path to somewhere.",
            },
            Probe.Ohms => Ohms(j),
            Probe.Amps a
                when j.Circuit.FindPart(a.Tag) is { Kind: Circuits.Kinds.Load or Circuits.Kinds.FlameRod }
                    && j.Judgement is Judgement.Low or Judgement.High => j.Judgement == Judgement.Low
                ? "It takes less than it should: it is worn or dirty, or its circuit has a weak joint."
                : "It takes more than it should: it is shorted in part, or works too hard.",
            Probe.Residual => j.Judgement switch
            {
                Judgement.Ok => "What goes out comes home: nothing to speak of leaks.",
                Judgement.High => "So much does not come home by these wires: it leaks to earth behind them.",
                _ => "Less leaks here than there should: it goes another way.",
            },
            Probe.Clamp when j.Judgement == Judgement.Low && TakenOut(j) is { } tag =>
                $"Less flows with {tag} out: what was drawn goes through it.",
            Probe.Clamp or Probe.Amps => j.Judgement switch
            {
                Judgement.Ok => "As much as should flow here.",
                Judgement.Low => "Less flows here than there should: what is drawn goes another way.",
                Judgement.High => "More flows here than there should: what takes it lies beyond.",
                _ => "Not judged.",
            },
            Probe.Drop d => Drop(j, d.X),
            Probe.Capacitance => j.Judgement switch
            {
                Judgement.Low => "Less capacity than is stated: it is worn, and is changed.",
                Judgement.High => "More than is stated: another capacitor, or it leaks.",
                _ => "As stated, within its tolerance.",
            },
            Probe.Rotation => j.Judgement == Judgement.Ok
                ? "The phases follow each other as they should."
                : "The phases follow each other the other way round, or one is missing.",
            _ => Volts(j),
        };
    }

    private static string Outside(ReadingLimit limit, Judgement judgement) =>
        (limit.Source, judgement) switch
        {
            (LimitSource.Maker, Judgement.Low) => $"Below the maker's range ({limit.Say}): turns are shorted, or a path lies beside it.",
            (LimitSource.Bus, Judgement.Low) =>
                $"Below a healthy bus level ({limit.Say}): it touches ground or the other wire, or is not driven.",
            (LimitSource.Bus, _) => $"Above a healthy bus level ({limit.Say}): it touches the supply or the other wire.",
            (LimitSource.Maker, _) => $"Above the maker's range ({limit.Say}): a bad joint in it, or it is hot.",
            (_, Judgement.Low) => $"Too low: {limit.Say}.",
            _ => $"Too high: {limit.Say}.",
        };

    private static string Looked(in Judged j, Probe.Looks look)
    {
        var part = j.Circuit.FindPart(look.Tag);
        return (j.Reading.Result, part) switch
        {
            (ReadingResult.Word { Answer: Answer.Bad }, { Model.Trip: not null }) =>
                "It has tripped: find what drew too much, or leaks, before it is set back for good.",
            (ReadingResult.Word { Answer: Answer.Bad }, { Kind: Circuits.Kinds.Fuse }) =>
                "It has blown: find what drew too much before a new one goes in.",
            (ReadingResult.Word { Answer: Answer.Bad }, _) => "Damage seen: a good pointer. Let a reading say that it is the trouble.",
            (ReadingResult.Word { Answer: Answer.Good }, { Model.Trip: not null }) => "It has not tripped.",
            (ReadingResult.Word { Answer: Answer.Good }, { Kind: Circuits.Kinds.Fuse }) when j.HeldAnew =>
                "The new one holds: what blew it is not joined, or not switched on, as the machine stands now.",
            (_, { Kind: Circuits.Kinds.Fuse }) => "A look only nudges the odds: fuses that look perfect can be open.",
            _ => "A look only nudges the odds: what looks perfect can be open.",
        };
    }

    /// <summary>The one part that was pulled or unplugged, or null.</summary>
    private static string? TakenOut(in Judged j) =>
        j.Reading.Test.Setup.Interventions.Where(i => i is not Intervention.Off).ToList() switch
        {
            [Intervention.Pull p] => p.Tag,
            [Intervention.Unplug u] => u.Tag,
            _ => null,
        };

    private static string Named(Part part) => $"{part.Label ?? part.Kind.Spoken} {part.Tag}";

    private static string Seen(in Judged j)
    {
        var bridged = j.Reading.Test.Setup.Interventions.Any(i => i is Intervention.Jumper or Intervention.Feed);
        var moved = j.Reading.Test.Setup.Moved is [.., var place] ? place : null;
        return j.Reading.Result switch
        {
            ReadingResult.Word { Answer: Answer.Works } when bridged =>
                "It works with the lead on: the trouble is in what the lead goes past.",
            ReadingResult.Word { Answer: Answer.Works } when j is { Earlier: Earlier.DeadBeforeThePart, PutIn: { } part } =>
                $"It works with the new {Named(part)} in: the old one, or a joint at it, was the trouble.",
            ReadingResult.Word { Answer: Answer.Works } when moved is not null && j.Earlier == Earlier.DeadUnmoved =>
                $"It works while “{moved}” is moved: a joint there makes and breaks.",
            ReadingResult.Word { Answer: Answer.Works } when j.Earlier == Earlier.Dead =>
                "It works now and did not before: something makes and breaks, or what was done since helped.",
            ReadingResult.Word { Answer: Answer.Works } when j.Judgement == Judgement.Ok && j.Earlier == Earlier.NothingDead =>
                "It works: what feeds it carries its current.",
            ReadingResult.Word { Answer: Answer.Works } when j.Judgement == Judgement.Ok =>
                "What it shares with the dead one is proved for the current it draws.",
            ReadingResult.Word { Answer: Answer.Works } when j.Judgement == Judgement.High =>
                "It runs and nothing asks it to: a contact that does not open, or something else feeds it.",
            ReadingResult.Word { Answer: Answer.Works } => "It works, which the suspects left do not explain.",
            ReadingResult.Word { Answer: Answer.StuckOn } => "It runs when it should not: that is the symptom.",
            { ComesAndGoes: true } => "It comes and goes: a joint, a contact or a supply that does.",
            ReadingResult.Word { Answer: Answer.Dead } when bridged =>
                "Dead with the lead on: the trouble is not, or not only, in what the lead goes past.",
            ReadingResult.Word { Answer: Answer.Dead } when j.Expected.GoodWord == Answer.Dead => "Dead, as it should be here.",
            ReadingResult.Word { Answer: Answer.Dead } when j is { Earlier: Earlier.DeadBeforeThePart, PutIn: { } part } =>
                $"Still dead with the new {Named(part)} in: the old one was not the trouble, or not all of it.",
            ReadingResult.Word { Answer: Answer.Dead } when moved is not null && j.Earlier == Earlier.DeadUnmoved =>
                $"Still dead while “{moved}” is moved: no joint there makes contact for that.",
            _ => "The symptom, seen.",
        };
    }

    private static string Ohms(in Judged j)
    {
        if (j.Reading.Result is ReadingResult.OverLimit && j.Judgement == Judgement.High)
            return "Open: no path where there should be one.";
        return Plain(j) + BusMeaning(j);

        static string Plain(in Judged j) =>
            j.Judgement switch
            {
                Judgement.Ok when j.Reading.Result is ReadingResult.OverLimit => "No path, as it should be.",
                Judgement.Ok when j.Expected.OfFilament => "A cold filament: a tenth or so of what it has when it glows. It is whole.",
                Judgement.Ok when j.Expected.ByOtherWinding =>
                    "As the motor's other terminals read: its windings are alike. That says nothing of their insulation.",
                Judgement.Ok when j.Expected.OfWinding =>
                    "A motor's copper: less than what it stands for at work. It says that the winding is "
                        + "whole; of three windings, compare the others.",
                Judgement.High when j.Expected.ByOtherWinding => "More ohms than the motor's other terminals read: a joint, or a winding.",
                Judgement.Low when j.Expected.ByOtherWinding => "Fewer ohms than the motor's other terminals read: turns are shorted.",
                Judgement.Ok => "As a sound part reads; ohms say nothing of what it carries under load.",
                Judgement.High => "More ohms than a sound part has.",
                _ when TakenOut(j) is { } tag
                        && j.Circuit.FindPart(tag) is { Kind: Circuits.Kinds.Load }
                        && j.Reading.Test.Probe.Tips.All(t => t.Tag == tag && t.Side != TerminalSide.Loom) =>
                    "Fewer ohms than it should have: it is shorted inside.",
                _ => "Fewer ohms than a sound part has: a path to somewhere.",
            };
    }

    /// <summary>What a figure between the two wires of a bus means, as a sentence of its own; empty elsewhere.</summary>
    private static string BusMeaning(in Judged j) =>
        j.Reading is { Test.Probe: Probe.Ohms { X: var x }, Result: ReadingResult.Number { Value: var ohms } }
        && TwoWireBus.OhmsMean(j.Circuit, x, ohms, j.Judgement == Judgement.Ok && j.Reading.Test.Setup.Interventions.Count > 0) is { } means
            ? $" On a bus: {means}."
            : "";

    /// <summary>Share of the supply from which all of it stands across something.</summary>
    private const double AllOfIt = 0.8;

    private static string Drop(in Judged j, Across x)
    {
        var load =
            x.P.Terminal.Tag == x.Q.Terminal.Tag
            && j.Circuit.FindPart(x.P.Terminal.Tag) is { } part
            && part.Model.Links.Any(l =>
                l is Link.Resistance
                && (l.A, l.B) is var ends
                && (ends == (x.P.Terminal.Name, x.Q.Terminal.Name) || ends == (x.Q.Terminal.Name, x.P.Terminal.Name))
                && (part.Model.Load is not null || part.Model.Coil is not null)
            );
        var all = j.Reading.Result is ReadingResult.Number n && Math.Abs(n.Value) >= AllOfIt * j.Circuit.NominalVolts;
        if (load)
            return all ? "The whole supply stands across it: its feed and its way home are good. If it does nothing, it is open or stuck."
                : j.Judgement == Judgement.Ok ? "It gets the volts that it should."
                : j.Judgement == Judgement.Low ? "It gets fewer volts than it should: they are lost before it or on the way home."
                : "It gets more volts than it should.";
        if (all)
            return "The whole supply stands across it: it is open, or its contact does not close.";
        return j.Judgement switch
        {
            Judgement.Ok when j.Proved => "Proved under load: the working current flowed and little is lost here.",
            Judgement.Ok => "Little is lost here; that counts only while the working current flows.",
            Judgement.High when j.Limit is { } limit => $"Volts are lost across this: {limit.Say}.",
            Judgement.High => "Volts are lost across this.",
            _ => "Less is lost here than there should be: the current goes another way.",
        };
    }

    /// <summary>Least and most share of its volts that an open wire beside a live one shows; common practice, no source.</summary>
    private const double LeastStray = 0.02,
        MostStray = 0.6;

    private static bool MayBeStray(in Judged j) =>
        j.Reading is { Test.Probe: Probe.Volts { Function: VoltsFunction.Ac }, Result: ReadingResult.Number { Value: var volts } }
        && j.Expected.Healthy.Nominal is { } healthy
        && volts > LeastStray * healthy
        && volts < MostStray * healthy;

    /// <summary>True where both tips are on one source, or on one winding of a transformer.</summary>
    private static bool AtItsSource(in Judged j) =>
        j.Reading.Test.Probe.Tips is [var p, var q]
        && p.Tag == q.Tag
        && j.Circuit.FindPart(p.Tag) is { } part
        && (part.Kind.IsSource || part.Model.Coupling is not null);

    private static bool AtItsOwnSource(in Judged j) =>
        AtItsSource(j) && j.Circuit.FindPart(j.Reading.Test.Probe.Tips[0].Tag)!.Kind.IsSource;

    /// <summary>What both tips are on the ends of, where a sound machine has next to nothing there: a closed contact, a fuse.</summary>
    private static Across? OnePart(in Judged j) =>
        j.Reading.Test.Probe.Tips is [var p, var q]
        && p.Tag == q.Tag
        && p != q
        && Math.Abs(j.Expected.Healthy.Nominal ?? j.Circuit.NominalVolts) < ClosedShare * j.Circuit.NominalVolts
        && j.Circuit.FindPart(p.Tag) is { } part
        && part.Model.Links.Any(l => l is not Link.Source && (l.A == p.Name && l.B == q.Name || l.A == q.Name && l.B == p.Name))
            ? new Across(p.Tag, new ProbePoint(p), new ProbePoint(q))
            : null;

    /// <summary>Least share of nominal volts that tells a contact that should be open from one that should be closed.</summary>
    private const double ClosedShare = 0.1;

    /// <summary>
    /// Share of its volts from which what is lost leaves no load dead; common practice, no source. And the share of its own volts below
    /// which a source is low itself.
    /// </summary>
    private const double LittleLost = 0.85,
        SourceLow = 0.85;

    private static bool IsLittle(in Judged j) =>
        j.Reading.Result is ReadingResult.Number { Value: var volts }
        && j.Expected.GoodSoFar is { Nominal: > 0 and var good }
        && volts >= LittleLost * good;

    /// <summary>True where the point has what its source has, and that is less than it should be.</summary>
    private static bool IsSourceLow(in Judged j) =>
        j is { Expected: { Healthy.Nominal: > 0 and var healthy, GoodSoFar.Nominal: var good } } && good < SourceLow * healthy;

    private static string Volts(in Judged j)
    {
        if (j.Judgement is Judgement.High && OnePart(j) is { } across)
            return Drop(j, across);
        var unplugged = j.Reading.Test.Setup.Interventions.Any(i => i is Intervention.Unplug or Intervention.Lift);
        var bus = j.Limit is { Source: LimitSource.Bus };
        return j.Judgement switch
        {
            Judgement.Ok when unplugged && Math.Abs(j.Expected.GoodSoFar?.Nominal ?? j.Circuit.NominalVolts) < 0.5 =>
                "Nothing here with that out.",
            Judgement.Ok when unplugged => "Present with the plug off: proves little, no load current flowed.",
            Judgement.Ok when bus => "A healthy level.",
            Judgement.Ok when IsSourceLow(j) => "No more is lost up to here than at the source itself, which is low.",
            Judgement.Ok when j.Proved => "Proved under load: the working current flowed and the volts held.",
            Judgement.Ok when Math.Abs(j.Expected.GoodSoFar?.Nominal ?? 0) < 0.5 => "As it should be here.",
            Judgement.Ok when AtItsSource(j) => "Its volts are there, with what load it had.",
            Judgement.Ok => "Present: the volts are here, but the load's current did not flow.",
            Judgement.Low when MayBeStray(j) =>
                "Volts are lost before this point; so few may be stray ones on an open wire: read them with low impedance.",
            Judgement.Low when AtItsOwnSource(j) => "Too little at the source itself: it is weak, or too much is drawn from it.",
            Judgement.Low when IsLittle(j) =>
                "A little is lost before this point: more than there should be, and not enough to leave a load dead.",
            Judgement.Low => "Volts are lost before this point.",
            Judgement.High when AtItsSource(j) => "Higher than stated, at the source itself: with little load, or on charge, it may be.",
            Judgement.High => "Higher than it should be: the way home is not doing its part, or something feeds it from elsewhere.",
            _ => "Not judged.",
        };
    }
}
