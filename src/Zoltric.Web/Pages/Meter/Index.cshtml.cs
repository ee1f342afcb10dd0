using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Safety;
using Zoltric.Core.Simulation;
using Zoltric.Store;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Meter;

/// <summary>A job read hands-free: the order, a large figure, and the pedal. Whoever else looks sees the same, live.</summary>
public sealed class IndexModel(JobDesk desk, JobStore jobs, MeterSessions sessions, SimulatedBench bench) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;

    /// <summary>Null where no meter is read.</summary>
    public MeterSession? Session => sessions.Of(Id);

    /// <summary>The simulated machine of this job; null where there is none on the bench.</summary>
    public SimulatedMachine? Simulated => bench.Of(Id);

    public SimulatedBench Bench => bench;

    /// <summary>True for who may press the pedal.</summary>
    public bool Mine => Session is { } s && s.Who == Me;

    /// <summary>Who looks at it.</summary>
    public string Me => Author.Name(HttpContext);

    /// <summary>Of this page as it was sent: the answer given on it is kept once.</summary>
    public string Token { get; } = Guid.NewGuid().ToString("N");

    /// <summary>True where the next order is answered by a thumb and not by the meter.</summary>
    public bool ByHand =>
        View.Next is { } next
        && (
            next.Kind == AdviceKind.ProveDead
            || HandsFree.WhyByHand(View.Circuit, next.Test, View.SafetyFor(Me).State, View.Options.Facts.Wet) is not null
        );

    /// <summary>What is seen, heard or clamped at the simulated machine, where the order asks for that and it stands so.</summary>
    public string? Seen =>
        Simulated is { } machine && ByHand && View.Next is { } next && machine.Setup.Equals(next.Test.Setup)
            ? machine.Observe(next.Test.Probe).Text
            : null;

    /// <summary>The meter's address as it was given.</summary>
    public string Address { get; private set; } = "";

    /// <summary>Why it was not begun.</summary>
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Shown() : NotFound();

    /// <summary>The second meter's, on the supply.</summary>
    public string Supply { get; private set; } = "";

    public async Task<IActionResult> OnPostStartAsync(string? address, string? supply)
    {
        if (!await Fill())
            return NotFound();
        (Address, Supply) = (address ?? "", supply ?? "");
        var proved = Author.IsProved(HttpContext);
        Problem = JobDesk.MayWrite(View, Me, proved)?.Problem.Message ?? await sessions.Start(Id, Me, proved, address, supply);
        return Problem is null ? RedirectToPage(new { Id }) : Page();
    }

    /// <summary>The demo: its machine on the bench and its meter on the lead, in one tap.</summary>
    public async Task<IActionResult> OnPostSimulateAsync(string? fault)
    {
        if (!await Fill() || !bench.IsThere)
            return NotFound();
        if (!bench.Take(View, string.IsNullOrEmpty(fault) ? null : fault))
        {
            Problem = "The readings leave nothing that could be hidden in a machine.";
            return Page();
        }
        return await OnPostStartAsync(bench.Address, View.Sheet.Machine.IsAlternating ? null : bench.SupplyAddress);
    }

    /// <summary>
    /// The hand at the simulated machine: sets it as the order says and puts the tips on, lifts them, or leaves them in the air.
    /// </summary>
    public async Task<IActionResult> OnPostHandAsync(string? what)
    {
        if (!await Fill() || Simulated is not { } machine)
            return NotFound();
        if (what == "lift")
            machine.LiftTips();
        else if (View.Next is { } next)
        {
            machine.Stand(next.Test.Setup);
            if (what == "tips")
                machine.Touch(next.Test.Probe);
        }
        return Shown();
    }

    /// <summary>A new fuse in the simulated machine.</summary>
    public async Task<IActionResult> OnPostFuseAsync(string? tag)
    {
        if (!await Fill() || Simulated is not { } machine || !machine.Renew(tag ?? ""))
            return NotFound();
        Put = tag;
        return Shown();
    }

    /// <summary>The fuse that was put in just now.</summary>
    public string? Put { get; private set; }

    /// <summary>An order that the meter does not take, answered by a thumb.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(string? text, string? token)
    {
        if (!await Fill())
            return NotFound();
        Problem =
            JobDesk.MayWrite(View, Me, Author.IsProved(HttpContext)) is { } may ? may.Problem.Message
            : (await desk.Add(View, text ?? "", Me, token: token)).Refusal is { } refusal ? $"Not kept: {refusal.Problem.Message}"
            : null;
        await Fill();
        return Shown();
    }

    public async Task<IActionResult> OnPostStopAsync()
    {
        await sessions.Stop(Id);
        return RedirectToPage(new { Id });
    }

    public IActionResult OnPostPress(string? key)
    {
        if (Session is not { } session)
            return NotFound();
        if (!Mine)
            return StatusCode(StatusCodes.Status403Forbidden);
        session.Press(
            key switch
            {
                "reject" => MeterSession.Key.Reject,
                "back" => MeterSession.Key.Back,
                _ => MeterSession.Key.Pedal,
            }
        );
        return new NoContentResult();
    }

    private IActionResult Shown() => Request.IsHtmx() ? Partial("Meter/_Hands", this) : Page();

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        View = view;
        Mark = await jobs.Mark(Id) ?? "";
        return true;
    }

    /// <summary>Mark of what stood in the job when this was made.</summary>
    public string Mark { get; private set; } = "";
}
