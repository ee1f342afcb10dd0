using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Procedures;

/// <summary>How a procedure ends on one hidden fault.</summary>
/// <param name="End">Null where it got stuck.</param>
/// <param name="Names">True where what it says to mend is what is broken.</param>
/// <param name="Minutes">Of the steps walked.</param>
public sealed record TrialEnd(Fault Fault, StepLead? End, bool Names, double Minutes, string? Trouble)
{
    /// <summary>The steps that were walked, with what was answered.</summary>
    public IReadOnlyList<GivenAnswer> Walked { get; init; } = [];
}

/// <summary>What came of a procedure on many faults.</summary>
public sealed record TrialSum(int Faults, int Right, int Wrong, int Unsettled, double Minutes);

/// <summary>
/// Tries a procedure on a machine with a hidden fault: the steps that are tied to the sheet are read with the meter of the core, nothing
/// else is known. By it two procedures are compared.
/// </summary>
public static class ProcedureTrial
{
    /// <param name="unit">What of the sheet is mended for that fault: part, wire, pin.</param>
    /// <param name="complaint">How the machine was run before: a fuse that blew then is blown. Null for one that was not.</param>
    public static TrialEnd Run(Procedure procedure, Machine machine, Fault fault, string unit, Setup? complaint = null)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(machine);
        var fuses = new BlownFuses(machine);
        MeterReading Read(Test test) => fuses.Read(test, [fault]);
        if (complaint is not null)
            fuses.Run(complaint, [fault]);
        var given = new List<GivenAnswer>();
        double minutes = 0;
        while (true)
        {
            var state = ProcedureRun.Follow(procedure, given);
            if (state.At is not { } step || state.Trouble is not null)
                return new TrialEnd(fault, state.End, Named(state.End, unit), minutes, state.Trouble) { Walked = given };
            minutes += step.Minutes;
            if (Answer(step, machine.Circuit, Read) is not { } answer)
                return new TrialEnd(fault, null, false, minutes, $"Step {step.Number} is tied to no reading of the sheet.")
                {
                    Walked = given,
                };
            given.Add(new GivenAnswer(step.Number, answer));
        }
    }

    public static TrialSum Sum(IReadOnlyList<TrialEnd> ends)
    {
        ArgumentNullException.ThrowIfNull(ends);
        return new TrialSum(
            ends.Count,
            ends.Count(e => e.Names),
            ends.Count(e => !e.Names && e.End is StepLead.Repair),
            ends.Count(e => e.End is not StepLead.Repair),
            ends.Count == 0 ? 0 : ends.Average(e => e.Minutes)
        );
    }

    /// <summary>
    /// Tries it on every single fault that leaves a function dead, at several sizes each: how often it ends in what is broken, in something
    /// sound, or in nothing.
    /// </summary>
    /// <exception cref="OperationCanceledException">When it was stopped.</exception>
    public static TrialSum OverAll(Procedure procedure, FaultSpace space, Test complaint, CancellationToken stop = default)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(complaint);
        var ends = new List<TrialEnd>();
        foreach (var (i, fault, _) in Singles(space, complaint, stop))
        {
            stop.ThrowIfCancellationRequested();
            ends.Add(Run(procedure, space.Machine, fault, space.Sites[i].Unit, complaint.Setup));
        }
        return Sum(ends);
    }

    /// <summary>
    /// Every single fault, there all the time, with which the complaint is seen as dead; one that has a size at several, even over what it
    /// may be. With the index of its suspect, and its odds, parted among its sizes.
    /// </summary>
    /// <exception cref="OperationCanceledException">When it was stopped.</exception>
    public static IReadOnlyList<(int Suspect, Fault Fault, double Odds)> Singles(
        FaultSpace space,
        Test complaint,
        CancellationToken stop = default
    )
    {
        ArgumentNullException.ThrowIfNull(space);
        var all = new List<(int Suspect, Fault Fault, double Odds)>();
        for (var i = 0; i < space.Suspects.Count; i++)
        {
            var s = space.Suspects[i];
            if (s.Together.Count > 0 || s.Also is not null || s.Template.Kind == FaultKind.Intermittent)
                continue;
            var faults = Sized(space, i).ToList();
            all.AddRange(faults.Select(f => (i, f, s.Odds / faults.Count)));
        }
        var seen = new bool[all.Count];
        WorkBudget.For(0, seen.Length, k =>
            seen[k] = !stop.IsCancellationRequested && Meter.Read(space.Machine, complaint, [all[k].Fault]).Answer == Circuits.Answer.Dead
        );
        stop.ThrowIfCancellationRequested();
        return [.. all.Where((_, k) => seen[k])];
    }

    /// <summary>Sizes of a fault that a trial is made on.</summary>
    private const int Sizes = 5;

    private static IEnumerable<Fault> Sized(FaultSpace space, int suspect)
    {
        var s = space.Suspects[suspect];
        return s.Values.Count == 0 ? [s.Template]
            : s.Continuous
                ? Enumerable
                    .Range(0, Sizes)
                    .Select(k => s.With(space.ValueOf(suspect, (k + 0.5) / Sizes * (s.Values.Count - 1))))
                    .Distinct()
            : s.Values.Select(s.With);
    }

    /// <summary>What is answered at a step by somebody whose meter shows this; null where it asks for nothing that a meter shows.</summary>
    internal static string? Answer(ProcedureStep step, Circuit circuit, Func<Test, MeterReading> read)
    {
        if (step.Pins.Count > 0)
            return StepPins.Answer(step, [.. step.Pins.Select(p => Shown(p.Reading, circuit, read) ?? "")]).Answer;
        // Volts with the sources off: a machine that behaves is dead then.
        if (step.Answers.Any(a => a.When.Word == "dead") && step.Reading.Length == 0)
            return "dead";
        if (step.Reading.Length == 0 || ReadingReader.Read(circuit, step.Reading).Value is not { } reading)
            return step.Answers.Count == 1 ? step.Answers[0].When.Word : null;
        var shown = read(reading.Test);
        if (reading.Test.Probe is Probe.Replaced)
            return step.Answers.Count == 1 ? step.Answers[0].When.Word : null;
        if (shown.Refused)
            return null;
        if (shown.Value is { } value)
            return step.Answers.FirstOrDefault(a => a.When.Takes(value)) is { When: { } rule }
                ? rule.Word ?? $"{value:0.#########}"
                : MeterReading.Format(value, shown.Dimension);
        var word = shown.Answer!.Value.Text();
        return shown.Answer == Circuits.Answer.OverLimit ? "OL" : word;
    }

    /// <summary>What the meter shows for a reading line, as it would be typed; null where it is none or is refused.</summary>
    private static string? Shown(string line, Circuit circuit, Func<Test, MeterReading> read) =>
        line.Length == 0 || ReadingReader.Read(circuit, line).Value is not { } reading ? null
        : read(reading.Test) is not { Refused: false } shown ? null
        : shown.Value is { } value ? $"{value:0.#########}"
        : shown.Answer == Circuits.Answer.OverLimit ? "OL"
        : shown.Answer!.Value.Text();

    /// <summary>True where what an end says to mend is that unit.</summary>
    internal static bool Named(StepLead? end, string unit) =>
        end is StepLead.Repair r && (r.Of.Length > 0 ? r.Of == unit : ProcedureCheck.TagsIn(r.Text).Contains(unit.Split(':')[0]));
}
