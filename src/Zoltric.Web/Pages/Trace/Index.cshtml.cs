using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Notation;
using Zoltric.Core.Routes;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Trace;

public sealed class IndexModel(JobDesk desk, JobStore jobs, PlaceStore places, WorkAhead ahead) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    /// <summary>Lane whose staircase is shown; the one that holds the suspicion when none is chosen.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Lane { get; set; }

    /// <summary>Shows every station of a long lane.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Unfold { get; set; }

    /// <summary>Shows the volts of the open stretch over the whole height.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Zoom { get; set; }

    /// <summary>Shows the ohms of the lane with everything off instead of its volts.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Ohms { get; set; }

    /// <summary>Version of a sheet corrected since this job began, or null.</summary>
    public long? Newer { get; private set; }

    /// <summary>Readings that the newer sheet would lose.</summary>
    public IReadOnlyList<Problem> Lost { get; private set; } = [];

    /// <summary>What the functions seen dead have in common.</summary>
    public SharedRoute? Shared { get; private set; }

    /// <summary>Address of this view with a lane, folded, zoomed or in ohms.</summary>
    public string Here(int? lane, bool? unfold = null, bool? zoom = null, bool? ohms = null) =>
        Url.Page(
            "/Trace/Index",
            null,
            new
            {
                Id,
                lane,
                unfold = (unfold ?? Unfold) ? "true" : null,
                zoom = (zoom ?? Zoom) ? "true" : null,
                ohms = (ohms ?? Ohms) ? "true" : null,
            }
        )!;

    /// <summary>Of this page as it was sent: the reading given on it is kept once, however often it arrives.</summary>
    public string Token { get; } = Guid.NewGuid().ToString("N");

    /// <summary>Mark of what stood in the job when this page was made.</summary>
    public string Mark { get; private set; } = "";

    /// <summary>Who looks at it.</summary>
    public string Me => Author.Name(HttpContext);

    public JobView View { get; private set; } = null!;

    /// <summary>The model of a view that is not that of the record, for its parts.</summary>
    internal IndexModel Of(JobView view) =>
        new(desk, jobs, places, ahead)
        {
            Id = Id,
            PageContext = PageContext,
            Url = Url,
            View = view,
            Pictures = Pictures,
        };

    /// <summary>Names of the pictures that are kept of the machine.</summary>
    public IReadOnlyList<string> Pictures { get; internal set; } = [];

    public string Text { get; private set; } = "";
    public Problem? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Shown();

    /// <summary>True where a line that was refused may be kept, marked, because it was done all the same.</summary>
    public bool MayBeKept { get; private set; }

    /// <summary>The probe of a line without a result, and what it would tell; null and empty elsewhere.</summary>
    public Test? Asked { get; private set; }
    public IReadOnlyList<Outcome> WouldTell { get; private set; } = [];

    public async Task<IActionResult> OnPostReadingAsync(string? text, bool done, string? asked, string? token, DateTimeOffset? given)
    {
        if (await desk.Load(Id) is not { } view)
            return NotFound();
        Text = text ?? "";
        var (after, refusal) = JobDesk.MayWrite(view, Me, Author.IsProved(HttpContext)) is { } may
            ? new Added(view, may)
            : await desk.Add(view, Text, Me, done, asked, token, given: given);
        (Problem, MayBeKept) = (refusal?.Problem, refusal?.MayBeKept == true);
        if (refusal?.Asked is { } test)
            (Asked, WouldTell) = (test, JobDesk.WouldTell(view, test));
        if (Problem is null)
            Text = "";
        // For a phone that sends what it kept without network: an answer that is no page of its own.
        Response.Headers["Zoltric-Kept"] = Problem is null ? "yes" : Uri.EscapeDataString(Problem.Message);
        return await Shown(after);
    }

    public async Task<IActionResult> OnPostTakeOverAsync(string? who)
    {
        if (await desk.Load(Id) is not { } view)
            return NotFound();
        var name = Author.Name(HttpContext, who);
        Author.Keep(HttpContext, name);
        if (!view.Closed && view.Job.Holder != name)
            await desk.TakeOver(view, name);
        // Who looks at it is read from the next request on.
        if (Request.IsHtmx())
        {
            Response.Htmx(h => h.Redirect(Url.Page("/Trace/Index", new { Id })!));
            return new EmptyResult();
        }
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostStrikeAsync(long line, bool struck)
    {
        return await Change(_ => jobs.Strike(Id, line, struck, Me));
    }

    /// <summary>Changes something of the job where whoever asks may, and shows it.</summary>
    private async Task<IActionResult> Change(Func<JobView, Task> change)
    {
        if (await desk.Load(Id) is not { } view)
            return NotFound();
        if (JobDesk.MayWrite(view, Me, Author.IsProved(HttpContext)) is { } may)
        {
            Problem = may.Problem;
            return await Shown(view);
        }
        await change(view);
        return await Shown();
    }

    public async Task<IActionResult> OnPostDoubtAsync(long line, bool doubtful)
    {
        return await Change(_ => jobs.Doubt(Id, line, doubtful, Me));
    }

    public async Task<IActionResult> OnPostNewestAsync()
    {
        return await Change(async view => Lost = await desk.TakeNewest(view, Me));
    }

    public async Task<IActionResult> OnPostLimitAsync(string? kind, string? what, bool limited)
    {
        return await Change(async _ =>
        {
            if (kind is "place" or "setup" && what is { Length: > 0 and < 500 })
                await jobs.SetLimit(Id, kind, what, limited, Me);
        });
    }

    public async Task<IActionResult> OnPostStrategyAsync(string? strategy)
    {
        return await Change(async _ =>
        {
            if (
                strategy is { Length: > 0 }
                && Core.Diagnosis.Planning.Strategies.TryParse(strategy, out Core.Diagnosis.Planning.Strategy _)
            )
                await jobs.SetStrategy(Id, strategy, Me);
        });
    }

    public async Task<IActionResult> OnPostMeterAsync(string? meter)
    {
        return await Change(async _ =>
        {
            if (Core.Metering.MeterClass.Find(meter ?? "") is { } known)
                await jobs.SetMeter(Id, known.Name, Me);
        });
    }

    public string FoundLines { get; private set; } = "";
    public string FoundWire { get; private set; } = "";
    public Problem? FoundProblem { get; private set; }

    public async Task<IActionResult> OnPostFoundAsync(string? wire, string? lines)
    {
        if (await desk.Load(Id) is not { } view)
            return NotFound();
        (FoundWire, FoundLines) = (wire ?? "", lines ?? "");
        FoundProblem = JobDesk.MayWrite(view, Me, Author.IsProved(HttpContext)) is { } may
            ? may.Problem
            : await desk.Found(view, FoundWire, FoundLines, Me);
        if (FoundProblem is null)
            (FoundWire, FoundLines) = ("", "");
        Problem = FoundProblem;
        var shown = await Shown();
        Problem = null;
        return shown;
    }

    private async Task<IActionResult> Shown() => await desk.Load(Id) is { } view ? await Shown(view) : NotFound();

    private async Task<IActionResult> Shown(JobView view)
    {
        View = view;
        if (!view.Closed)
            ahead.Soon(Id, Me);
        Mark = await jobs.Mark(Id) ?? "";
        Pictures = await places.Places(view.Job.MachineId);
        Newer = await desk.Newer(view);
        Shared = SeenFunctions.Shared(view);
        if (Request.IsHtmx())
            return Partial("Trace/_Trace", this);
        return Request.Method == "POST" && Problem is null ? RedirectToPage(new { Id, Lane }) : Page();
    }
}
