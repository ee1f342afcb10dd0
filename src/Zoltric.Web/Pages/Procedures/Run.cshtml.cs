using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Procedures;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Procedures;

/// <summary>A procedure run in a job, one step a card. A step that is tied to the sheet is kept as a reading too, and weighs.</summary>
public sealed class RunModel(ProcedureStore procedures, JobDesk desk, NoteStore notes, LogbookStore logbook) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public long ProcedureId { get; set; }

    public JobView View { get; private set; } = null!;
    public Procedure Procedure { get; private set; } = null!;
    public RunState State { get; private set; } = null!;
    public IReadOnlyList<ProcedureAnswerRow> Given { get; private set; } = [];

    /// <summary>What the step in hand shows on the sound machine; null where it is tied to nothing.</summary>
    public string? Expected { get; private set; }

    /// <summary>Why an answer was not taken, or its reading not kept.</summary>
    public string? Problem { get; private set; }

    /// <summary>True where a reading was not kept: most often something has to be made safe before.</summary>
    public bool Unsafe { get; private set; }

    private ProcedureRow _row = null!;

    /// <summary>Null until the first answer: looking at a procedure begins nothing.</summary>
    private ProcedureRunRow? _run;

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    /// <summary>Several pins at once: each ticked or with its value.</summary>
    /// <param name="after">Answers that stood on the page: a second tap finds one more and is dropped.</param>
    public async Task<IActionResult> OnPostPinsAsync(Dictionary<int, string?> tick, Dictionary<int, string?> found, int after)
    {
        if (!await Fill())
            return NotFound();
        if (after != Given.Count || State.At is not { Pins.Count: > 0 } step)
            return RedirectToPage(new { Id, ProcedureId });
        string At(Dictionary<int, string?> all, int i) => all.GetValueOrDefault(i)?.Trim() ?? "";
        // A value tells more than a tick.
        Found = [.. step.Pins.Select((_, i) => At(found, i) is { Length: > 0 } value ? value : At(tick, i))];
        var (answer, problem) = StepPins.Answer(step, Found);
        if (answer is null)
            return Said(problem!);
        var me = Author.Name(HttpContext);
        if (JobDesk.MayWrite(View, me, Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        // All or none: a card that is sent again must not keep a pin twice.
        var values = step.Pins.Zip(Found).Where(p => IsValue(p.Second)).ToList();
        foreach (var (pin, shown) in values)
            if (Line(pin.Reading, shown) is { } line && JobDesk.WhyNot(View, line, me) is { } refusal)
                return Said($"{pin.Name}: {NotKept(refusal)}");
        foreach (var (pin, shown) in values)
            if (await KeepReading(pin.Reading, shown, me) is { } refused)
                return Said($"{pin.Name}: {refused}");
        return await Keep(step, answer, after, me);
    }

    private static bool IsValue(string shown) => shown is not (StepPins.Good or StepPins.Bad);

    /// <summary>What was typed or ticked of each pin, kept while an answer is not taken.</summary>
    public IReadOnlyList<string> Found { get; private set; } = [];

    /// <summary>A reading of the sheet with what it showed, as a line; null where the step is none of the sheet's.</summary>
    private string? Line(string reading, string shown) =>
        reading.Length > 0 && Core.Notation.ReadingReader.Read(View.Circuit, reading).Value is { } read
            ? read.Test.Probe is Core.Circuits.Probe.Replaced
                ? reading
                : $"{reading} = {Core.Figures.FigureReader.Result(read.Test.Probe.Dimension, shown)}"
            : null;

    /// <summary>What may not be measured is not answered either: the rules are those of the trace.</summary>
    private string NotKept(Refusal refusal)
    {
        Unsafe = true;
        return $"Not kept: {refusal.Problem.Message}";
    }

    /// <summary>Keeps a reading of the sheet with what it showed.</summary>
    /// <returns>Why it is not kept; null where it is, or where there is nothing to keep.</returns>
    private async Task<string?> KeepReading(string reading, string shown, string me) =>
        Line(reading, shown) is { } line && (await desk.Add(View, line, me)).Refusal is { } refusal ? NotKept(refusal) : null;

    /// <param name="after">Answers that stood on the page: a second tap finds one more and is dropped.</param>
    public async Task<IActionResult> OnPostAnswerAsync(string? answer, int after)
    {
        if (!await Fill())
            return NotFound();
        var me = Author.Name(HttpContext);
        answer = answer?.Trim() ?? "";
        if (JobDesk.MayWrite(View, me, Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (after != Given.Count || State.At is not { } step)
            return RedirectToPage(new { Id, ProcedureId });
        if (answer.Length is 0 or > 80)
            return Said("Write what is shown, or tap an answer.");
        if (!step.Answers.Any(a => a.When.Takes(answer)))
            return Said($"“{answer}” is none of its answers: {string.Join(", ", step.Answers.Select(a => a.When))}.");
        if (await KeepReading(step.Reading, answer, me) is { } refused)
            return Said(refused);
        return await Keep(step, answer, after, me);
    }

    private async Task<IActionResult> Keep(ProcedureStep step, string answer, int after, string me)
    {
        _run ??= await procedures.Run(View.Job.Id, _row);
        await procedures.Answer(_run.Id, after, step.Number, answer, me);
        await Fill();
        if (State.End is { } end)
        {
            await notes.Add(View.Job.Id, Record(end), me);
            await logbook.Index(View.Job.Id);
        }
        return RedirectToPage(new { Id, ProcedureId });
    }

    public async Task<IActionResult> OnPostBackAsync()
    {
        if (!await Fill())
            return NotFound();
        if (JobDesk.MayWrite(View, Author.Name(HttpContext), Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (_run is not null)
            await procedures.Back(_run.Id);
        return RedirectToPage(new { Id, ProcedureId });
    }

    private PageResult Said(string problem)
    {
        Problem = problem;
        return Page();
    }

    private string Record(StepLead end)
    {
        var steps = State.Taken.Select(t => $"{t.Given.Step}: {t.Given.Answer}");
        var ended = end is StepLead.Repair r ? r.Text : ((StepLead.Ask)end).Text;
        return $"Procedure “{Procedure.Title}”. {string.Join("; ", steps)}. Ended in: {ended}";
    }

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view || await procedures.Find(ProcedureId) is not { } row)
            return false;
        (View, _row) = (view, row);
        _run = await procedures.FindRun(Id, ProcedureId);
        if (ProcedureText.Read(_run?.Text ?? row.Text).Value is not { } p)
            return false;
        Procedure = p;
        Given = _run is null ? [] : await procedures.Answers(_run.Id);
        State = ProcedureRun.Follow(p, [.. Given.Select(g => new GivenAnswer(g.Step, g.Answer))]);
        Expected = State.At is { } step ? StepTies.Expected(step, view.Sheet.Machine) : null;
        return true;
    }
}
