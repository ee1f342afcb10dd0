using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Zoltric.Core.Circuits;
using Zoltric.Store;
using Zoltric.Web.Api;
using Zoltric.Web.Jobs;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Trace;

/// <summary>An order and what each answer to it leads to, for a phone that is about to have no network.</summary>
/// <param name="Line">The order as a reading line without its result; null where there is none.</param>
/// <param name="Unit">Of the value that is asked for; empty for words.</param>
/// <param name="Waits">True where an answer to it may be kept on the phone.</param>
/// <param name="Setup">The setup bar, as HTML.</param>
/// <param name="Order">The order card, as HTML.</param>
public sealed record AheadOrder(string? Line, string Unit, bool Waits, string Setup, string Order, IReadOnlyList<AheadAnswer> Answers);

/// <summary>One answer.</summary>
/// <param name="Line">As it would be kept.</param>
/// <param name="Then">The order after it; null where it would be refused.</param>
public sealed record AheadAnswer(string Line, AheadOrder? Then);

/// <summary>The next orders of a job, worked out before their answers are given. Nothing of it is kept.</summary>
[EnableRateLimiting(HeavyWork.Policy)]
public sealed class AheadModel(JobDesk desk, JobStore jobs, PlaceStore places, WorkAhead ahead, PartialRenderer renderer) : PageModel
{
    /// <summary>Answers given one after the other that are worked out: with the order on the screen, three orders.</summary>
    private const int Deep = 2;

    public async Task<IActionResult> OnGetAsync(long id)
    {
        if (await desk.Load(id) is not { } view)
            return NotFound();
        var page = new IndexModel(desk, jobs, places, ahead)
        {
            Id = id,
            PageContext = PageContext,
            Url = Url,
            Pictures = await places.Places(view.Job.MachineId),
        };
        return new JsonResult(new { Mark = await jobs.Mark(id) ?? "", Answers = await Answers(page, view, Deep) });
    }

    private async Task<List<AheadAnswer>> Answers(IndexModel page, JobView view, int deep)
    {
        var answers = new List<AheadAnswer>();
        if (deep == 0 || view.Next is not { } next || !WaitingReadings.MayWait(view, page.Me))
            return answers;
        foreach (var line in QuickAnswers.Lines(view.Circuit, next))
        {
            // Who has gone on meanwhile needs none of it.
            HttpContext.RequestAborted.ThrowIfCancellationRequested();
            answers.Add(new AheadAnswer(line, await After(page, JobDesk.Imagine(view, line, page.Me), deep)));
        }
        return answers;
    }

    private async Task<AheadOrder?> After(IndexModel page, JobView? view, int deep)
    {
        if (view is null)
            return null;
        var model = page.Of(view);
        return new AheadOrder(
            view.Next?.Test.ToString(),
            view.Next is { } next ? Units.Short(Words.DimensionOf(next.Test)) : "",
            WaitingReadings.MayWait(view, page.Me),
            await renderer.Render(PageContext, "/Pages/Trace/_Setup.cshtml", model),
            await renderer.Render(PageContext, "/Pages/Trace/_Order.cshtml", model),
            await Answers(page, view, deep - 1)
        );
    }
}
