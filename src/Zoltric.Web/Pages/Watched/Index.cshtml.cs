using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Watching;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Watched;

/// <summary>
/// One figure watched for long: a draw at rest until everything sleeps, or volts and ohms while something is moved. What is done meanwhile
/// is marked, and what came of it can be kept as readings.
/// </summary>
public sealed class IndexModel(JobDesk desk, WatchSessions sessions, SimulatedBench bench, TimeProvider clock) : PageModel
{
    /// <summary>Points that a chart begins with, and how much faster a machine that is not there goes by.</summary>
    private const int Columns = 900;
    public const double SimulatedSpeed = 600;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;

    /// <summary>Null where nothing is watched.</summary>
    public WatchSession? Session => sessions.Of(Id);

    /// <summary>True for who may mark and end it.</summary>
    public bool Mine => Session is { } s && s.Who == Me;

    public string Me => Author.Name(HttpContext);
    public string? Problem { get; private set; }

    /// <summary>What has to be said before what was asked for is begun.</summary>
    public IReadOnlyList<SafetyItem> Unsaid { get; private set; } = [];

    /// <summary>This page with what was typed on it.</summary>
    public string Here =>
        Url.Page(
            "/Watched/Index",
            new
            {
                Id,
                On,
                Setup,
                Per,
                Address,
                Supply,
            }
        )!;

    /// <summary>What was typed.</summary>
    public string On { get; private set; } = "";
    public string Setup { get; private set; } = "";
    public string Per { get; private set; } = "";
    public string Address { get; private set; } = "";
    public string Supply { get; private set; } = "";

    /// <summary>Of this page as it was sent: what is kept from it is kept once.</summary>
    public string Token { get; } = Guid.NewGuid().ToString("N");

    public bool MaySimulate => bench.IsThere && !View.Sheet.Machine.IsAlternating && !View.Closed;

    /// <summary>True where the machine that is watched is not there.</summary>
    public bool Simulated => Session is { } s && bench.IsThere && s.Address == bench.Address;

    public IReadOnlyList<WatchStretch> Stretches => Session?.Read(w => w.Stretches()) ?? [];
    public DrainWatch? Drain => Session?.Read(w => w.Drain());
    public IReadOnlyList<string> Lines => Session is { } s ? [.. s.Plan.Lines(View.Circuit, Stretches)] : [];
    public IEnumerable<Part> Fuses => View.Circuit.Parts.Where(p => p.Kind is Core.Circuits.Kinds.Fuse);

    /// <summary>Fuses that the tips may go across, those not read yet first.</summary>
    public IEnumerable<Part> Shunts
    {
        get
        {
            var read = Stretches.Select(s => s.Mark?.On ?? Session?.Plan.On).ToHashSet();
            return Fuses.Where(f => Session?.Plan.Shunts.ContainsKey($"drop {f.Tag}") == true).OrderBy(f => read.Contains($"drop {f.Tag}"));
        }
    }

    public async Task<IActionResult> OnGetAsync(string? on, string? setup, string? per, string? address, string? supply)
    {
        (On, Setup, Per, Address, Supply) = (on ?? "", setup ?? "", per ?? "", address ?? "", supply ?? "");
        return await Fill() ? Shown() : NotFound();
    }

    /// <summary>What has been seen so far, for a chart that begins.</summary>
    public IActionResult OnGetSeries()
    {
        if (Session is not { } s)
            return NotFound();
        var (seconds, values, supply) = s.Read(w => w.Shown(Columns));
        static double?[] Finite(double[] all) => Array.ConvertAll(all, v => double.IsFinite(v) ? v : (double?)null);
        var marks = s.Read(w => w.Marks.Select(m => new { m.At, m.What }).ToList());
        return new JsonResult(
            new
            {
                seconds,
                values = Finite(values),
                supply = Finite(supply),
                marks,
                unit = s.Plan.Unit,
                name = s.Plan.On,
            }
        );
    }

    public async Task<IActionResult> OnPostStartAsync(string? address, string? supply, string? on, string? setup, string? per)
    {
        if (!await Fill())
            return NotFound();
        (Address, Supply, On, Setup, Per) = (address ?? "", supply ?? "", on ?? "", setup ?? "", per ?? "");
        if (Refused() is { } refusal)
            return Said(refusal);
        var (plan, why) = WatchPlan.Read(View, Me, on, setup, per);
        return await Begin(plan, why, address, supply, 1);
    }

    /// <summary>The demo: a machine that is not there, by whose time hours go by in a minute.</summary>
    public async Task<IActionResult> OnPostSimulateAsync(string? on, string? setup)
    {
        if (!await Fill() || !MaySimulate)
            return NotFound();
        (On, Setup) = (on ?? "", setup ?? "");
        if (Refused() is { } refusal)
            return Said(refusal);
        var (plan, why) = WatchPlan.Read(
            View,
            Me,
            on,
            setup,
            on?.TrimStart().StartsWith("clamp ", StringComparison.Ordinal) == true ? "100" : ""
        );
        var speed = plan?.IsDraw == true ? SimulatedSpeed : 1;
        if (plan is not null && !bench.TakeForWatch(View, plan, clock, speed))
            (plan, why) = (null, "The readings leave no fault to hide: there is no machine to simulate.");
        return await Begin(plan, why, bench.Address, bench.SupplyAddress, speed);
    }

    private async Task<IActionResult> Begin(WatchPlan? plan, string? why, string? address, string? supply, double speed)
    {
        if (plan is not null)
            Unsaid = View.SafetyFor(Me).Unsaid(plan.Test);
        if (Unsaid.Count > 0)
            return Page();
        why = plan is null ? why : await sessions.Start(View, Me, Author.IsProved(HttpContext), plan, address, supply, speed);
        return why is null ? RedirectToPage(new { Id }) : Said(why);
    }

    /// <summary>How a place is while it is watched; what a figure is under each stands side by side.</summary>
    public static IReadOnlyList<string> Conditions { get; } = ["cold", "warm", "hot", "wet", "dry", "shaken"];

    /// <summary>Something was done just now.</summary>
    public async Task<IActionResult> OnPostMarkAsync(string? what, string? words, string? fuse, string? place, string? condition)
    {
        if (!await Fill() || Session is not { } s)
            return NotFound();
        if (!Mine)
            return StatusCode(StatusCodes.Status403Forbidden);
        switch (what)
        {
            case "pull" when View.Circuit.FindPart(fuse ?? "") is { } f:
                s.Mark($"{f.Spoken} pulled", $"pull {f.Tag}", false);
                if (Simulated && bench.Of(Id) is { } pulled)
                    pulled.Stand(Stood(s, $"pull {f.Tag}"));
                break;
            case "at" when View.Circuit.FindPart(fuse ?? "") is { } f && s.Plan.Shunts.ContainsKey($"drop {f.Tag}"):
                s.Mark($"across {f.Spoken}", "", false, on: $"drop {f.Tag}");
                if (Simulated && ReadingReader.Read(View.Circuit, $": drop {f.Tag} = 0V").Value is { Test.Probe: var probe })
                    bench.Of(Id)?.Touch(probe);
                break;
            case "back":
                s.Mark("put back", "", true, putsBack: true);
                if (Simulated && bench.Of(Id) is { } back)
                {
                    back.Stand(s.Plan.Test.Setup);
                    back.Wake();
                }
                break;
            case "move" when !string.IsNullOrWhiteSpace(place):
                s.Mark($"moved: {place.Trim()}", $"move \"{place.Trim().Replace("\"", "", StringComparison.Ordinal)}\"", false);
                if (Simulated && bench.Of(Id) is { } moved)
                    moved.Stand(Stood(s, $"move \"{place.Trim()}\""));
                break;
            case "condition" when Conditions.Contains(condition):
                s.Mark(condition!, "", false);
                break;
            case "woke":
                s.Mark(string.IsNullOrWhiteSpace(words) ? "woken" : words.Trim(), "", true);
                if (Simulated)
                    bench.Of(Id)?.Wake();
                break;
            default:
                Problem = "Say what was done.";
                break;
        }
        return Shown();
    }

    private Setup Stood(WatchSession s, string words) =>
        s.Plan.With(View.Circuit, bench.Of(Id)?.Setup ?? s.Plan.Test.Setup, words) ?? s.Plan.Test.Setup;

    /// <summary>Keeps one line of what was seen as a reading of the job.</summary>
    public async Task<IActionResult> OnPostKeepAsync(string? line, string? token)
    {
        if (!await Fill())
            return NotFound();
        if (Refused() is { } may)
            Problem = may;
        else if ((await desk.Add(View, line ?? "", Me, token: token)).Refusal is { } refusal)
            Problem = $"Not kept: {refusal.Problem.Message}";
        else
            Kept = line;
        await Fill();
        return Shown();
    }

    /// <summary>The line that was just kept.</summary>
    public string? Kept { get; private set; }

    /// <summary>Ends it; what was seen is a capture of the job.</summary>
    public async Task<IActionResult> OnPostStopAsync()
    {
        if (Session is not null && !Mine)
            return StatusCode(StatusCodes.Status403Forbidden);
        return await sessions.Stop(Id) is { } capture ? RedirectToPage("/Captures/One", new { Id, capture }) : RedirectToPage(new { Id });
    }

    /// <summary>Cautions of the test that is watched, or of the draw that is offered first.</summary>
    public IReadOnlyList<string> CautionsNow =>
        Session is { } s ? Cautions.For(View.Circuit, s.Plan.Test, View.Sheet.Machine.Run(s.Plan.Test.Setup), View.Options.Facts.Wet) : [];

    private string? Refused() => JobDesk.MayWrite(View, Me, Author.IsProved(HttpContext))?.Problem.Message;

    private PageResult Said(string why)
    {
        Problem = why;
        return Page();
    }

    private IActionResult Shown() => Request.IsHtmx() ? Partial("Watched/_Seen", this) : Page();

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        View = view;
        if (On.Length == 0)
            On = WatchPlan.Offered(view).Select(o => o.On).FirstOrDefault("");
        return true;
    }
}
