using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.Workshop;

namespace Zoltric.Web.Pages.Report;

public sealed class IndexModel(JobDesk desk, FindingStore findings, NoteStore notes, LogbookStore logbook) : PageModel
{
    private const int MostNote = 4000, MostBytes = 8 * 1024 * 1024;

    public JobView View { get; private set; } = null!;
    public FindingRow? Finding { get; private set; }
    public IReadOnlyList<VerificationRow> Verified { get; private set; } = [];
    public IReadOnlyList<NoteRow> Notes { get; private set; } = [];
    public IReadOnlyList<AttachmentRow> Attachments { get; private set; } = [];
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync(long id)
    {
        if (await desk.Load(id) is not { } view) return NotFound();
        (View, Finding, Verified) = (view, await findings.Find(id), await findings.Verified(id));
        (Notes, Attachments) = (await notes.Notes(id), await notes.Attachments(id));
        return Page();
    }

    public async Task<IActionResult> OnPostNoteAsync(long id, string? text, IFormFile? picture)
    {
        if (await desk.Load(id) is null) return NotFound();
        text = text?.Trim() ?? "";
        if (text.Length > MostNote) Problem = $"Keep a note under {MostNote} characters.";
        else if (picture is { Length: > MostBytes }) Problem = $"The picture is larger than {MostBytes / 1024 / 1024} MB.";
        else if (picture is { Length: > 0 } && !JobFileReader.Types.Contains(picture.ContentType)) Problem = "Pictures are JPEG, PNG or WebP, documents PDF.";
        else if (text.Length == 0 && picture is not { Length: > 0 }) Problem = "There is neither a note nor a picture.";
        if (Problem is not null) return await OnGetAsync(id);
        if (picture is { Length: > 0 })
        {
            using var bytes = new MemoryStream();
            await picture.CopyToAsync(bytes);
            await notes.Attach(id, Path.GetFileName(picture.FileName), picture.ContentType, text, bytes.ToArray(), Author.Of(HttpContext));
        }
        else await notes.Add(id, text, Author.Of(HttpContext));
        await logbook.Index(id);
        return RedirectToPage(new { id });
    }
}
