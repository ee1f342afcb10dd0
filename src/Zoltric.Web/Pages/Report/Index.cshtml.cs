using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Store;
using Zoltric.Web.Import;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Report;

public sealed class IndexModel(
    JobDesk desk,
    FindingStore findings,
    NoteStore notes,
    LogbookStore logbook,
    IntakeStore intake,
    PartStore parts,
    ReportStore reports,
    CaptureStore captures,
    ImportStore imports,
    JobHistory history,
    JobArchive archive,
    PartialRenderer renderer
) : PageModel
{
    private const int MostNote = 4000,
        MostBytes = 8 * 1024 * 1024;

    /// <summary>The version for the customer: plain words, before and after, cost.</summary>
    [BindProperty(SupportsGet = true, Name = "for")]
    public string? For { get; set; }

    public bool ForCustomer => For == "customer";
    public IntakeRow? Facts { get; private set; }
    public IReadOnlyList<CodeRow> Codes { get; private set; } = [];
    public IReadOnlyList<PartRow> Parts { get; private set; } = [];

    /// <summary>The lane that held the fault as it was found, and after the repair where volts were read on it again.</summary>
    public MarkedLane? Before { get; private set; }
    public MarkedLane? After { get; private set; }

    public double PartsCost => Parts.Where(p => p.Needed).Sum(p => p.Price ?? 0);
    public double LabourCost => (Finding?.Labour ?? 0) * (Finding?.Rate ?? 0);

    public JobView View { get; private set; } = null!;
    public string Me => Author.Name(HttpContext);
    public FindingRow? Finding { get; private set; }
    public IReadOnlyList<VerificationRow> Verified { get; private set; } = [];
    public IReadOnlyList<NoteRow> Notes { get; private set; } = [];
    public IReadOnlyList<AttachmentRow> Attachments { get; private set; } = [];

    /// <summary>What instruments wrote over time, for the workshop's report.</summary>
    public IReadOnlyList<KeptCapture> Captures { get; private set; } = [];

    private const int MostCaptures = 6;

    /// <summary>What was changed after it was written, oldest first.</summary>
    public IReadOnlyList<JobChange> Changes { get; private set; } = [];

    /// <summary>How the job came in; null for one that was opened here.</summary>
    public Brought? Brought { get; private set; }

    /// <summary>True where it was asked to be taken out again and has been worked on.</summary>
    public bool Kept { get; private set; }

    /// <summary>Takes a job out again that came from elsewhere and is as it came.</summary>
    public async Task<IActionResult> OnPostTakeOutAsync(long id)
    {
        if (await imports.TakeOut(id, Me))
            return RedirectToPage("/Logbook/Index");
        Kept = true;
        return await OnGetAsync(id);
    }

    public string? Problem { get; private set; }

    /// <summary>The seal of a closed job, and whether it still holds; null for an open one and one that nobody sealed.</summary>
    public (string Seal, bool Holds)? Seal { get; private set; }

    /// <summary>The computed part of a closed job's report as it stood at closing; null for an open job.</summary>
    public FrozenReport? Frozen { get; private set; }

    public async Task<IActionResult> OnGetAsync(long id)
    {
        if (await desk.Load(id) is not { } view)
            return NotFound();
        await Fill(id, view);
        Brought = await imports.Of(id);
        Changes = await history.Of(id);
        if (!view.Closed)
            return Page();
        Frozen = await reports.Find(id, Reader) ?? await Freeze(id);
        if (await archive.Export(id) is { Seal: { } seal } file)
            Seal = (seal, JobSeal.Holds(file, seal));
        return Page();
    }

    private const string Customer = "customer",
        Workshop = "workshop";

    private string Reader => ForCustomer ? Customer : Workshop;

    /// <summary>Writes the report for both its readers, once: what a later version would compute changes it no more.</summary>
    private async Task<FrozenReport?> Freeze(long id)
    {
        var asked = For;
        foreach (var reader in new[] { Workshop, Customer })
        {
            For = reader;
            await reports.Keep(id, reader, await renderer.Render(PageContext, "/Pages/Report/_ReportBody.cshtml", this), Version);
        }
        For = asked;
        return await reports.Find(id, Reader);
    }

    private static string Version { get; } =
        typeof(IndexModel).Assembly.GetName().Version is { } v ? $"{v.Major}.{v.Minor}.{v.Build}" : "unknown";

    private async Task Fill(long id, JobView view)
    {
        (View, Finding, Verified) = (view, await findings.Find(id), await findings.Verified(id));
        (Notes, Attachments) = (await notes.Notes(id), await notes.Attachments(id));
        if (!ForCustomer)
            Captures = await KeptCapture.All(captures, id, MostCaptures);
        (Facts, Codes, Parts) = (await intake.Find(id), await intake.Codes(id), await parts.All(id));
        if (view.Lanes.Count > 0)
        {
            // The lane that the finding lies on, one that was read before one that was not; a lane without it would mislead.
            var found = Finding is { } f ? f.Fault.Split(" or ")[0].Split(" + ").Select(w => w.Split(' ', '/')[0]).ToList() : [];
            Before =
                found.Count > 0
                    ? view.Lanes.Where(l => found.Exists(l.Lane.Holds)).OrderByDescending(l => l.Touched).FirstOrDefault()
                    : view.Lanes.FirstOrDefault(l =>
                        view.Findings.Stretch is { } s && l.Lane.Part == s.Lane.Part && l.Lane.Link == s.Lane.Link
                    ) ?? view.Lanes[0];
            if (Before is null)
                return;
            // A job done with dead tests alone has its ohms to show.
            if (!Before.Touched && LaneMarks.Ohms(view.Sheet.Space, view.Findings, Before) is { Touched: true } ohms)
                Before = ohms;
            After = LaneMarks.After(
                Before,
                [.. view.Lines.Where(l => l.Row.Phase == "verify" && l.Reading is not null).Select(l => l.Reading!)]
            );
        }
    }

    public async Task<IActionResult> OnPostNoteAsync(long id, string? text, string? stage, IFormFile? picture)
    {
        if (await desk.Load(id) is null)
            return NotFound();
        text = text?.Trim() ?? "";
        if (text.Length > MostNote)
            Problem = $"Keep a note under {MostNote} characters.";
        else if (picture is { Length: > MostBytes })
            Problem = $"The picture is larger than {MostBytes / 1024 / 1024} MB.";
        else if (picture is { Length: > 0 } && !JobFileReader.Types.Contains(picture.ContentType))
            Problem = "Pictures are JPEG, PNG or WebP, documents PDF.";
        else if (text.Length == 0 && picture is not { Length: > 0 })
            Problem = "There is neither a note nor a picture.";
        if (Problem is not null)
            return await OnGetAsync(id);
        if (picture is { Length: > 0 })
        {
            using var bytes = new MemoryStream();
            await picture.CopyToAsync(bytes);
            if (!JobFileReader.IsWhatItSays(picture.ContentType, bytes.ToArray()))
            {
                Problem = $"{Path.GetFileName(picture.FileName)} is not of the type that its name says.";
                return await OnGetAsync(id);
            }
            if (PictureCopy.Of(picture.ContentType, bytes.ToArray()) is not { } copy)
            {
                Problem = $"{Path.GetFileName(picture.FileName)} cannot be read as a picture, or has too many points.";
                return await OnGetAsync(id);
            }
            await notes.Attach(
                id,
                Path.GetFileName(picture.FileName),
                picture.ContentType,
                text,
                stage is "before" or "after" ? stage : "",
                copy,
                Author.Name(HttpContext)
            );
        }
        else
            await notes.Add(id, text, Author.Name(HttpContext));
        await logbook.Index(id);
        return RedirectToPage(new { id });
    }
}
