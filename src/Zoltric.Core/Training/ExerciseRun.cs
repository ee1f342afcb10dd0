using System.Globalization;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Training;

/// <summary>What sort of thing a learner did.</summary>
public enum ActKind
{
    /// <summary>Measured, looked, listened.</summary>
    Reading,

    /// <summary>A part bought and put in, a joint mended.</summary>
    Repair,

    /// <summary>Said what must be said, locked and proved dead.</summary>
    Safe,

    /// <summary>Asked what the readings leave, or what to read next.</summary>
    Hint,

    /// <summary>Said what it is.</summary>
    Finding,

    /// <summary>Not done: not understood, or not there in this exercise.</summary>
    Refused,

    /// <summary>Ended the exercise: it would have hurt somebody, or something.</summary>
    Unsafe,
}

/// <summary>One thing done, and what came of it.</summary>
/// <param name="Shown">What the machine showed, or why it was not done.</param>
/// <param name="Cost">Of parts.</param>
public sealed record ExerciseAct(string Text, ActKind Kind, string Shown, double Minutes, double Cost)
{
    /// <summary>For a reading, with its result; null for anything else.</summary>
    public Reading? Reading { get; init; }

    /// <summary>Readings that the run had once it was done: complaint, what was measured, proved dead and mended.</summary>
    public int Readings { get; init; }

    /// <summary>Of a repair: true where something hidden was mended by it.</summary>
    public bool Mended { get; init; }
}

/// <summary>
/// An exercise as far as it has got. The acts alone are kept; what they showed, took and cost follows from them, always the same.
/// </summary>
public sealed partial class ExerciseRun
{
    /// <summary>Minutes that a hint costs, and being told what the readings leave; estimates.</summary>
    public const double HintMinutes = 5,
        KnowMinutes = 2,
        CodeMinutes = 3;

    public const int MostActs = 200;

    private readonly FaultSpace _space;
    private readonly List<ExerciseAct> _acts = [];
    private readonly List<Reading> _readings = [];
    private readonly HashSet<Fault> _left;
    private readonly BlownFuses _fuses;
    private bool _said;

    private ExerciseRun(Exercise exercise, FaultSpace space)
    {
        (Exercise, _space) = (exercise, space);
        Machine = exercise.Undrawn?.In(space.Circuit).Value is { } built ? new Machine(built) : space.Machine;
        Hidden = [.. exercise.Faults.SelectMany(f => FaultReader.Read(Machine.Circuit, f).Value ?? [])];
        _left = [.. Hidden];
        _fuses = new BlownFuses(Machine);
        Complaint = ComplaintOf(exercise, space.Circuit);
        if (Complaint is not { } c)
            return;
        _readings.Add(c);
        // Somebody has tried it before: what that blew is blown.
        _fuses.Run(c.Test.Setup, [.. _left]);
    }

    public Exercise Exercise { get; }

    /// <summary>What is measured on: the drawn machine, or that with a part in it which is on no drawing.</summary>
    public Machine Machine { get; }

    /// <summary>On <see cref="Machine"/>.</summary>
    public IReadOnlyList<Fault> Hidden { get; }

    /// <summary>Where the drawing has a fault: the wire, for what lies in a part that nobody drew.</summary>
    public string PlaceOf(Fault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return IsUndrawn(fault) ? Exercise.Undrawn!.Wire : fault.Target;
    }

    /// <summary>True for a fault of the part that is on no drawing.</summary>
    public bool IsUndrawn(Fault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return Exercise.Undrawn is not null
            && _space.Circuit.FindPart(fault.Target) is null
            && Machine.Circuit.FindPart(fault.Target) is not null;
    }

    /// <summary>The first line of the job; null where the sheet does not have the function.</summary>
    public Reading? Complaint { get; }

    public IReadOnlyList<ExerciseAct> Acts => _acts;

    /// <summary>Complaint and readings, as a job has them.</summary>
    public IReadOnlyList<Reading> Readings => _readings;
    public double Minutes => _acts.Sum(a => a.Minutes);
    public double Cost => _acts.Sum(a => a.Cost);

    /// <summary>How sure the learner was of the finding, 0 to 1; null where it was not said.</summary>
    public double? Sure { get; private set; }

    /// <summary>True once a finding was said, or something unsafe was done.</summary>
    public bool Ended => _acts is [.., { Kind: ActKind.Finding or ActKind.Unsafe }];

    /// <summary>True where the finding names everything that was hidden and nothing else.</summary>
    public bool Right { get; private set; }

    /// <summary>Why it was stopped; null where it was not.</summary>
    public string? Stopped => _acts is [.., { Kind: ActKind.Unsafe } last] ? last.Shown : null;

    /// <summary>The setup of the last reading: what a line without one is read in.</summary>
    public Setup InHand => _readings.Count > 0 ? _readings[^1].Test.Setup : Setup.Rest;

    /// <summary>Goes through the acts from the beginning.</summary>
    public static ExerciseRun Follow(Exercise exercise, FaultSpace space, IEnumerable<string> acts)
    {
        ArgumentNullException.ThrowIfNull(exercise);
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(acts);
        var run = new ExerciseRun(exercise, space);
        foreach (var act in acts.Take(MostActs))
            run.Do(act);
        return run;
    }

    /// <summary>
    /// How a complaint stands in a job: the function in the setting in which it is due, or at rest for what does not stop.
    /// </summary>
    private static Reading? ComplaintOf(Exercise exercise, Circuit circuit)
    {
        if (
            circuit.Functions.FirstOrDefault(f => f.Name == exercise.Function) is not { } function
            || FunctionSetups.SetupFor(circuit, function) is not { } setup
            || !AnswerText.TryParse(exercise.Seen, out var seen)
        )
            return null;
        return new Reading(
            new Test(seen == Answer.StuckOn ? Setup.Rest : setup, new Probe.Sees(function.Name, true)),
            new ReadingResult.Word(seen)
        );
    }

    /// <summary>
    /// Does one thing: a reading line without result; <c>replace K1</c> or <c>repair w12</c>; <c>safe</c>, <c>prove dead</c>; <c>hint</c>,
    /// <c>know</c>; <c>codes</c>; <c>found X2:1, w4 80%</c> or <c>found nothing</c>. After the end nothing is done any more.
    /// </summary>
    public ExerciseAct? Do(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        text = text.Trim();
        if (Ended || text.Length is 0 or > 400)
            return null;
        var space = text.IndexOf(' ', StringComparison.Ordinal);
        var (word, rest) = space > 0 ? (text[..space], text[(space + 1)..].Trim()) : (text, "");
        var act = word.ToUpperInvariant() switch
        {
            "REPLACE" or "REPAIR" => Mend(text, rest, word.Equals("replace", StringComparison.OrdinalIgnoreCase)),
            "SAFE" when rest.Length == 0 => Say(text),
            "PROVE" when rest is "" or "dead" => Prove(text),
            "HINT" or "KNOW" or "TELL" when Exercise.Without.Contains("hints") => Refused(text, "There are no hints in this exercise."),
            "HINT" or "KNOW" when rest.Length == 0 => Tell(text, word.Equals("hint", StringComparison.OrdinalIgnoreCase)),
            "TELL" when rest.Length > 0 => WouldTell(text, rest),
            "FOUND" => Find(text, rest),
            "CODES" when rest.Length == 0 => Codes(text),
            _ => Measure(text),
        };
        _acts.Add(act with { Readings = _readings.Count });
        return _acts[^1];
    }

    private static ExerciseAct Refused(string text, string why) => new(text, ActKind.Refused, why, 0, 0);

    /// <summary>Making safe costs nothing: nobody is to save minutes on it.</summary>
    private ExerciseAct Say(string text)
    {
        _said = true;
        return new ExerciseAct(text, ActKind.Safe, "Understood and done.", 0, 0);
    }

    private ExerciseAct Prove(string text)
    {
        _said = true;
        var (circuit, sweep) = (_space.Circuit, IsolationPlan.Of(_space.Circuit).Sweep);
        var off = new Setup(circuit.SourcesOff, []);
        var live = new List<string>();
        foreach (var check in sweep)
        {
            var test = new Test(off, new Probe.Volts(check.P, check.Q, check.Function));
            var shown = _fuses.Read(test, [.. _left]);
            if (ReadingReader.Read(circuit, Line(test, shown)).Value is { } reading)
                _readings.Add(reading);
            if (!SafetyLimits.IsDead(shown.Value ?? 0))
                live.Add($"{test.Probe} {shown.Text}");
        }
        return new ExerciseAct(
            text,
            ActKind.Safe,
            live.Count > 0
                ? $"Not dead: {string.Join(", ", live)}."
                : $"Locked; tester shown live; {sweep.Count} pairs read dead; tester shown live again.",
            0,
            0
        );
    }

    /// <summary>True while ohms may be read: every pair was read dead since it last had energy.</summary>
    public bool IsProvedDead => IsolationState.Of(_space.Circuit, _readings).IsProvedDead;

    private ExerciseAct Tell(string text, bool next)
    {
        var findings = Findings();
        if (next)
            return new ExerciseAct(
                text,
                ActKind.Hint,
                findings.Solved ? "The readings settle it already."
                    : findings.Next is [var first, ..] ? $"Ours would be: {first.Test}"
                    : "There is no further probe.",
                HintMinutes,
                0
            );
        var leading = findings.Suspects.Where(g => g.Share > 0).Take(4);
        return new ExerciseAct(
            text,
            ActKind.Hint,
            string.Join("; ", leading.Select(g => string.Create(CultureInfo.InvariantCulture, $"{g.Words.First()} {100 * g.Share:0} %"))),
            KnowMinutes,
            0
        );
    }

    /// <summary>What a reading would tell that has not been made: each answer that may come, and what it would leave.</summary>
    private ExerciseAct WouldTell(string text, string line)
    {
        var parsed = ReadingReader.Read(_space.Circuit, line, InHand);
        if (parsed.Value is not { } asked)
            return Refused(text, $"{parsed.Problems[0].Message} {parsed.Problems[0].Suggestion}".Trim());
        if (asked.Result is not null || asked.Test.Probe is Probe.Replaced or Probe.Code)
            return Refused(text, "Ask it of a reading that has not been made, without a result.");
        if (Meter.Read(_space.Machine, asked.Test) is { Refused: true } refused)
            return Refused(text, refused.Text);
        var outcomes = Diagnostician.WouldTell(_space, _readings, asked.Test);
        return new ExerciseAct(
            text,
            ActKind.Hint,
            outcomes.Count == 0 ? "Nothing: no suspect has a reading there."
                : outcomes is [{ Name: var only, Leads: var leads }] ? $"{only}, whatever it is: {leads}. It would tell nothing new."
                : string.Join(
                    "; ",
                    outcomes.Select(o => string.Create(CultureInfo.InvariantCulture, $"{o.Name} ({100 * o.Chance:0} %) {o.Leads}"))
                ),
            KnowMinutes,
            0
        );
    }

    /// <summary>What the diagnosis makes of the readings so far.</summary>
    public Diagnosis.Explanation.Findings Findings(int? readings = null) =>
        Diagnostician.Diagnose(_space, [.. _readings.Take(readings ?? _readings.Count)]);

    private ExerciseAct Mend(string text, string unit, bool replace)
    {
        var circuit = _space.Circuit;
        var part = circuit.FindPart(unit);
        if (replace && Exercise.Without.Contains("parts"))
            return Refused(text, "There are no parts in this exercise: say what it is.");
        if (replace && (part is null || part.Kind is Circuits.Kinds.PinRow or Circuits.Kinds.Point))
            return Refused(text, $"{NotationTokenizer.Clip(unit)} is no part that is replaced. A wire, a pin, a stud: repair it.");
        if (part is null && circuit.FindWire(unit) is null && ReadingReader.Read(circuit, $": repaired {unit}").Value is null)
            return Refused(text, $"{NotationTokenizer.Clip(unit)} is not on the sheet.");
        var mended = _left.Where(f => IsAt(f, unit)).ToList();
        _left.ExceptWith(mended);
        var renewed = _fuses.Renew(unit);
        var reading = ReadingReader.Read(circuit, $": {(replace ? "replaced" : "repaired")} {unit}").Value;
        if (reading is not null)
            _readings.Add(reading);
        return new ExerciseAct(
            text,
            ActKind.Repair,
            mended.Find(IsUndrawn) is { } undrawn
                    ? $"In it was {Machine.Circuit.FindPart(undrawn.Target)!.Spoken}, which is on no drawing: renewed."
                : replace ? "A new one is in."
                : "Done.",
            (part?.ReachMinutes ?? 2) + (replace ? PartPrices.Minutes(part!) : PartPrices.Joint),
            replace ? PartPrices.Price(part!) : 0
        )
        {
            Mended = mended.Count > 0 || renewed,
        };
    }

    /// <summary>True where a fault lies at what a person names: the part, wire, pin or stud itself.</summary>
    private bool IsAt(Fault fault, string unit) =>
        PlaceOf(fault).Split('/')[0].Equals(unit.Split('/')[0], StringComparison.OrdinalIgnoreCase);

    /// <summary>
    /// True also for another of the places that no meter tells apart: the wires of one net that touches the frame are followed by eye.
    /// </summary>
    private bool IsFoundAt(Fault fault, string unit)
    {
        if (IsAt(fault, unit))
            return true;
        var suspects = _space.Suspects;
        bool Is(int s, string target) =>
            suspects[s] is { Also: null, Together.Count: 0 } one
            && one.Template.Words == fault.Words
            && one.Template.Target.Equals(target, StringComparison.OrdinalIgnoreCase);
        var all = Enumerable.Range(0, suspects.Count);
        var own = all.Where(s => Is(s, fault.Target)).Select(s => _space.Sites[s]).FirstOrDefault();
        return own is not null && all.Any(s => Is(s, unit) && _space.Sites[s] == own);
    }

    private ExerciseAct Find(string text, string rest)
    {
        var m = Surely().Match(rest);
        var named = m.Groups[1].Value.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (named.Length == 0)
            return Refused(text, "Say what it is: found X2:1 80%, or found nothing.");
        var nothing = named is ["nothing"];
        if (!nothing && Array.Find(named, n => ReadingReader.Read(_space.Circuit, $": repaired {n}").Value is null) is { } unknown)
            return Refused(text, $"{NotationTokenizer.Clip(unknown)} is not on the sheet: a part, a wire, a pin as X2:1, a stud.");
        Sure = m.Groups[2].Success ? Math.Min(1, int.Parse(m.Groups[2].Value, CultureInfo.InvariantCulture) / 100.0) : null;
        // What was mended on the way counts as named.
        var open = Hidden.Where(_left.Contains).ToList();
        var said = nothing ? [] : named;
        Right =
            open.TrueForAll(f => Array.Exists(said, n => IsFoundAt(f, n)))
            && Array.TrueForAll(said, n => _fuses.Tags.Contains(n, StringComparer.OrdinalIgnoreCase) || Hidden.Any(f => IsFoundAt(f, n)));
        return new ExerciseAct(text, ActKind.Finding, Right ? "That is it." : "That is not it.", 0, 0);
    }

    /// <summary>All codes at once, as a reader shows them: what is not among them is absent.</summary>
    private ExerciseAct Codes(string text)
    {
        if (_space.Circuit.Codes.Count == 0)
            return Refused(text, "This machine has no codes to read.");
        foreach (var code in Exercise.Codes)
            Note(new Test(Setup.Rest, new Probe.Code(code.Number)), code.State);
        return new ExerciseAct(
            text,
            ActKind.Reading,
            Exercise.Codes.Count == 0 ? "no codes" : string.Join(", ", Exercise.Codes.Select(c => $"{c.Number} {c.State.Text()}")),
            CodeMinutes,
            0
        );
    }

    private ExerciseAct Coded(string text, Test test, string number)
    {
        var state = Exercise.Codes.FirstOrDefault(c => c.Number == number)?.State ?? Answer.Absent;
        var reading = Note(test, state);
        return new ExerciseAct(text, ActKind.Reading, state.Text(), CodeMinutes, 0) { Reading = reading };
    }

    private Reading Note(Test test, Answer state)
    {
        var reading = new Reading(test, new ReadingResult.Word(state));
        _readings.Add(reading);
        return reading;
    }

    private ExerciseAct Measure(string text)
    {
        var circuit = _space.Circuit;
        if (text.Contains(" = ", StringComparison.Ordinal))
            return Refused(text, "Write no result: the machine answers.");
        var parsed = ReadingReader.Read(circuit, text, InHand);
        if (parsed.Value is not { } asked)
            return Refused(text, $"{parsed.Problems[0].Message} {parsed.Problems[0].Suggestion}".Trim());
        var test = asked.Test;
        if (test.Probe is Probe.Code code)
            return Coded(text, test, code.Number);
        if (test.Probe is Probe.Replaced)
            return Refused(text, "That is nothing that is measured here.");
        if (test.Probe.SendsCurrent && Exercise.Without.Contains("ohms"))
            return Refused(text, "There is no ohmmeter in this exercise.");
        if (test.Probe is Probe.Lamp && Exercise.Without.Contains("lamp"))
            return Refused(text, "There is no test lamp in this exercise.");
        if (WhyUnsafe(test) is { } unsafeAct)
            return new ExerciseAct(text, ActKind.Unsafe, unsafeAct, 0, 0);
        if (!_said && MakeSafe.Needed(circuit, test).FirstOrDefault(i => i.Id != MakeSafe.LockedId) is { } first)
            return Refused(text, $"Before this: {first.Say} Say “safe” when that is understood and done.");
        var acting = _left.Where(_ => !Exercise.ComesAndGoes || test.Setup.Moved.Contains(Exercise.Moved)).ToList();
        var shown = _fuses.Read(test, acting);
        if (shown.Refused)
            return test.Probe.SendsCurrent ? new ExerciseAct(text, ActKind.Unsafe, shown.Text, 0, 0) : Refused(text, shown.Text);
        var minutes = new JobMinutes(circuit, _readings).Minutes(test);
        var reading = ReadingReader.Read(circuit, Line(test, shown)).Value;
        if (reading is not null)
            _readings.Add(reading);
        return new ExerciseAct(text, ActKind.Reading, shown.Text, minutes, 0) { Reading = reading };
    }

    /// <summary>A test with what was shown, as a reading line.</summary>
    internal static string Line(Test test, MeterReading shown) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{test} = {(
                shown.Answer == Answer.OverLimit ? "OL"
                : shown.Answer is { } a ? a.Text()
                : $"{shown.Value:0.#########}{Units.Short(shown.Dimension)}"
            )}"
        );

    /// <summary>Why a test would have hurt somebody or something; null for one that may be.</summary>
    private string? WhyUnsafe(Test test)
    {
        var circuit = _space.Circuit;
        if (Bridges.Forbidden(_space.Machine, test) is { } bridge)
            return bridge.Why;
        if (TestRules.IsForbidden(circuit, test) is { } never)
            return never;
        if (TestRules.IsDangerouslyLive(circuit, test) && !_said)
            return "Live at dangerous volts, and nothing was said of who may do that, with what, and how the machine stands.";
        return test.Probe.SendsCurrent && TestRules.HasDangerousVolts(circuit) && !IsProvedDead
            ? "Ohms on a machine that nobody has locked and proved dead."
            : null;
    }

    [GeneratedRegex(@"^(.*?)\s*(?:(\d{1,3})\s*%)?$", RegexOptions.CultureInvariant)]
    private static partial Regex Surely();
}
