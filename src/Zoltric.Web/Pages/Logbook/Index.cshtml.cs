using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.Import;

namespace Zoltric.Web.Pages.Logbook;

/// <summary>Closed jobs, searched by any word; job files brought from elsewhere.</summary>
public sealed class IndexModel(LogbookStore logbook, ImportStore imports) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? Words { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Family { get; set; }

    /// <summary>Days, both counted.</summary>
    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }
    public IReadOnlyList<LogbookRow> Found { get; private set; } = [];
    public string? Problem { get; private set; }

    /// <summary>How many there are, of which <see cref="Found"/> holds the newest.</summary>
    public long Count { get; private set; }

    public async Task OnGetAsync() =>
        (Found, Count) = await logbook.Find(Words is { Length: > 200 } ? Words[..200] : Words, Family, From, To);

    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        if (file is not { Length: > 0 })
            Problem = "Choose a job file first.";
        else
        {
            using var bytes = new MemoryStream();
            await file.CopyToAsync(bytes);
            var (job, problem) = JobFileReader.Read(bytes.ToArray());
            if (job is not null)
                return RedirectToPage(
                    "/Logbook/Bring",
                    new { id = await imports.Keep(Path.GetFileName(file.FileName), bytes.ToArray(), Author.Name(HttpContext)) }
                );
            Problem = problem;
        }
        await OnGetAsync();
        return Page();
    }
}
