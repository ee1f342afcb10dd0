using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Safety;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.Safe;

public sealed class IndexModel(JobDesk desk, SafetyStore safety) : PageModel
{
    private const int MostText = 80,
        MostReason = 200;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;
    public JobSafety Safety { get; private set; } = null!;
    public string Me { get; private set; } = "";
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    public async Task<IActionResult> OnPostSaidAsync(string[] items, string? back)
    {
        if (!await Fill())
            return NotFound();
        if (!View.Closed)
            foreach (var i in Safety.Items.Where(i => i.Id != MakeSafe.LockedId && items.Contains(i.Id) && !Safety.IsSaid(i)))
                await safety.Add(Id, "said", i.Id, "", Me);
        return back is { Length: > 0 } && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostLockAsync(string? number, string? supply, bool off)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (off)
        {
            if (Safety.State.OwnLocks is { } on)
                await safety.Add(Id, "unlock", on, "", Me);
        }
        else if (string.IsNullOrWhiteSpace(number) || number.Length > MostText)
            return Refuse("Give the number that stands on the lock.");
        else
            await safety.Add(Id, "lock", number.Trim(), SupplyOf(supply), Me);
        return Back();
    }

    /// <summary>The supply that a lock is said to hold, the next one where none is said; empty where the machine has one.</summary>
    private string SupplyOf(string? said) =>
        Safety.State.Plan.Supplies is { Count: > 1 } several
            ? several.FirstOrDefault(s => s.Key == said)?.Key ?? Safety.State.NextSupply?.Key ?? several[0].Key
            : "";

    /// <summary>Who may take off another's lock: a lead who has signed in.</summary>
    public bool MayForce => User.IsInRole(Workshop.Lead);

    /// <summary>
    /// A lead takes off the lock of somebody who cannot: recorded, with the reason. It proves nothing and ends their proof.
    /// </summary>
    public async Task<IActionResult> OnPostForceAsync(string? whose, string? reason)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed || !MayForce || whose == Me || !Safety.State.Locks.Any(l => l.Who == whose))
            return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(reason) || reason.Length > MostReason)
            return Refuse($"Say why {whose} cannot take it off, and how it was made sure that nobody is at the machine.");
        await safety.Add(Id, "forced", whose!, reason.Trim(), Me);
        return Back();
    }

    public async Task<IActionResult> OnPostTesterAsync(string? result)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(result) || result.Length > MostText)
            return Refuse("Say what the tester showed and on what source.");
        if (Safety.State.Stage is not (IsolationStage.Locked or IsolationStage.ReadDead))
            return Refuse(Safety.State.Lock is null ? "Put your own lock on first." : "Read every pair dead first.");
        await safety.Add(Id, "tester", Safety.State.Stage == IsolationStage.Locked ? "before" : "after", result.Trim(), Me);
        return Back();
    }

    /// <summary>Volts of one pair of the sweep, typed, or said to be dead.</summary>
    public async Task<IActionResult> OnPostDeadAsync(string? pair, string? volts, bool dead)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed || Safety.State.Plan.Sweep.FirstOrDefault(c => c.Key == pair) is not { } check)
            return RedirectToPage(new { Id });
        if (Safety.State.TesterBefore is null)
            return Refuse("Show the tester live first: a dead tester proves nothing.");
        var v = 0.0;
        if (
            !dead
            && (
                !double.TryParse(
                    (volts ?? "").Trim().TrimEnd('V', 'v', ' ').Replace(',', '.'),
                    NumberStyles.Float,
                    CultureInfo.InvariantCulture,
                    out v
                ) || !double.IsFinite(v)
            )
        )
            return Refuse("Write the volts as a number.");
        await safety.Add(Id, "dead", check.Key, v.ToString("0.###", CultureInfo.InvariantCulture), Me);
        if (SafetyLimits.IsDead(v))
            return Back();
        await Fill();
        Problem = View.Findings.Stop
            ?? string.Create(
                CultureInfo.InvariantCulture,
                $"{v:0.#} V: it is live. Find out where it comes from before touching anything."
            );
        return Page();
    }

    /// <summary>A remark that energy is back: the proof ends.</summary>
    public async Task<IActionResult> OnPostEnergisedAsync()
    {
        if (!await Fill())
            return NotFound();
        if (!View.Closed)
            await safety.Add(Id, "energised", "Energy came back.", "", Me);
        return Back();
    }

    /// <summary>A part that is taken for a safety device, and a person says is none.</summary>
    public async Task<IActionResult> OnPostDenyAsync(string? tag, string? reason)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed || View.Circuit.FindPart(tag ?? "") is not { Safety: false } part)
            return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(reason) || reason.Length > MostReason)
            return Refuse($"Say why {part.Spoken} guards nobody.");
        await safety.Add(Id, "denied", part.Tag, reason.Trim(), Me);
        return RedirectToPage(new { Id });
    }

    private PageResult Refuse(string why)
    {
        Problem = why;
        return Page();
    }

    private RedirectResult Back() => Redirect(Url.Page("/Safe/Index", new { Id }) + "#lock-section");

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        (View, Me) = (view, Author.Name(HttpContext));
        Safety = view.SafetyFor(Me);
        return true;
    }
}
