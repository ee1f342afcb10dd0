using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.Workshop;

namespace Zoltric.Web.Pages.Report;

public sealed class IndexModel(JobDesk desk, FindingStore findings) : PageModel
{
    public JobView View { get; private set; } = null!;
    public FindingRow? Finding { get; private set; }
    public IReadOnlyList<VerificationRow> Verified { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(long id)
    {
        if (await desk.Load(id) is not { } view) return NotFound();
        (View, Finding, Verified) = (view, await findings.Find(id), await findings.Verified(id));
        return Page();
    }
}
