using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Figures;

/// <summary>All benches of figures, alone or with the parts of a job's machine that each knows.</summary>
public sealed class IndexModel(JobDesk desk) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long? Job { get; set; }

    public JobView? View { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (Job is { } id && (View = await desk.Load(id)) is null)
            return NotFound();
        return Page();
    }

    /// <summary>Parts of the machine whose values a bench takes from the sheet.</summary>
    public IEnumerable<Part> PartsOf(FigureSheet figures)
    {
        ArgumentNullException.ThrowIfNull(figures);
        return View is null ? [] : View.Circuit.Parts.Where(p => figures.From(View.Circuit, p) is not null);
    }
}
