using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Faults;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Logbook;

public sealed class LearningModel(LearningStore store, Learning learning) : PageModel
{
    public bool On { get; private set; }
    public bool Imported { get; private set; }
    public string Since { get; private set; } = "";
    public IEnumerable<LearntKind> Kinds { get; private set; } = [];

    public async Task OnGetAsync()
    {
        (On, Since, Imported) = await store.Settings();
        Kinds = (await learning.Counted()).Kinds;
    }

    public async Task<IActionResult> OnPostSwitchAsync(bool on)
    {
        await store.Switch(on);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostImportedAsync(bool on)
    {
        await store.CountImported(on);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostResetAsync()
    {
        await store.Reset();
        return RedirectToPage();
    }
}
