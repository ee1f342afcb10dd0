using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Practice;
using Zoltric.Store;
using Zoltric.Web.Workshop;

namespace Zoltric.Web.Pages.Safe;

public sealed class IndexModel(JobDesk desk, SafetyStore safety) : PageModel
{
    private const int MostText = 80;

    [BindProperty(SupportsGet = true)] public long Id { get; set; }

    public JobView View { get; private set; } = null!;
    public JobSafety Safety { get; private set; } = null!;
    public string Me { get; private set; } = "";
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    public async Task<IActionResult> OnPostSaidAsync(string[] items, string? back)
    {
        if (!await Fill()) return NotFound();
        if (!View.Closed)
            foreach (var i in Safety.Items.Where(i => i.Id != "locked" && items.Contains(i.Id) && !Safety.IsSaid(i))) await safety.Add(Id, "said", i.Id, "", Me);
        return back is { Length: > 0 } && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostLockAsync(string? number, bool off)
    {
        if (!await Fill()) return NotFound();
        if (View.Closed) return RedirectToPage(new { Id });
        if (off) { if (Safety.Lock is { } on) await safety.Add(Id, "unlock", on, "", Me); }
        else if (string.IsNullOrWhiteSpace(number) || number.Length > MostText) return Refuse("Give the number that stands on the lock.");
        else await safety.Add(Id, "lock", number.Trim(), "", Me);
        return Back();
    }

    public async Task<IActionResult> OnPostTesterAsync(string? when, string? result)
    {
        if (!await Fill()) return NotFound();
        if (View.Closed || when is not ("before" or "after")) return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(result) || result.Length > MostText) return Refuse("Say what the tester showed and on what source.");
        if (when == "after" && !Safety.AllDead) return Refuse("Read every pair near zero first.");
        await safety.Add(Id, "tester", when, result.Trim(), Me);
        return Back();
    }

    public async Task<IActionResult> OnPostDeadAsync(string? pair, string? volts)
    {
        if (!await Fill()) return NotFound();
        if (View.Closed || !MakeSafe.ToProveDead(View.Circuit).Any(x => $"{x.P} {x.Q}" == pair)) return RedirectToPage(new { Id });
        if (!Safety.TesterBefore) return Refuse("Show the tester live first: a dead tester proves nothing.");
        if (!double.TryParse((volts ?? "").Trim().TrimEnd('V', 'v', ' ').Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var v) || !double.IsFinite(v)) return Refuse("Write the volts as a number.");
        await safety.Add(Id, "dead", pair!, v.ToString("0.###", CultureInfo.InvariantCulture), Me);
        return JobSafety.IsDead(v.ToString(CultureInfo.InvariantCulture)) ? Back() : await Live(pair!, v);
    }

    private async Task<IActionResult> Live(string pair, double v)
    {
        await Fill();
        Problem = string.Create(CultureInfo.InvariantCulture, $"{v:0.#} V from {pair}: it is live. Find out where it comes from before touching anything.");
        return Page();
    }

    private PageResult Refuse(string why)
    {
        Problem = why;
        return Page();
    }

    private RedirectResult Back() => Redirect(Url.Page("/Safe/Index", new { Id }) + "#lock-section");

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view) return false;
        (View, Me) = (view, Author.Of(HttpContext));
        Safety = view.SafetyFor(Me);
        return true;
    }
}
