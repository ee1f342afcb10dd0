using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Store;
using Zoltric.Web.Workshop;

namespace Zoltric.Web.Pages.Repair;

public sealed class IndexModel(JobDesk desk, JobStore jobs, FindingStore findings, LogbookStore logbook) : PageModel
{
    [BindProperty(SupportsGet = true)] public long Id { get; set; }
    [BindProperty(SupportsGet = true)] public bool Edit { get; set; }
    [BindProperty] public string? Fault { get; set; }
    [BindProperty] public string? Proof { get; set; }
    [BindProperty] public string? Cause { get; set; }
    [BindProperty] public string? Repair { get; set; }
    [BindProperty] public string? Parts { get; set; }

    public JobView View { get; private set; } = null!;
    public FindingRow? Finding { get; private set; }
    public IReadOnlyList<FaultGroup> Choices { get; private set; } = [];
    /// <summary>For an aged string: ways to mend it, each run on the circuit.</summary>
    public IReadOnlyList<RepairOption> Options =>
        Choices.Count > 0 && Choices[0].Share >= 0.5 && View.Findings.Function is { } function ? StringRepair.Options(View.Sheet.Machine, function, Choices[0]) : [];

    public IReadOnlyList<VerificationItem> Items { get; private set; } = [];
    public IReadOnlyList<VerificationRow> Done { get; private set; } = [];
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill()) return NotFound();
        (Fault, Proof, Cause, Repair, Parts) = Finding is { } f
            ? (f.Fault, f.Proof, f.Cause, f.Repair, f.Parts)
            : (Choices.Count > 0 && View.Findings.Solved ? Words.Finding(Choices[0]) : null, View.Findings.Verdicts.LastOrDefault(v => v.Judgement is Judgement.Low or Judgement.High)?.Reading.ToString(), null, null, null);
        return Page();
    }

    public async Task<IActionResult> OnPostFindingAsync()
    {
        if (!await Fill()) return NotFound();
        if (View.Closed) return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(Fault)) ModelState.AddModelError("", "Say which it was.");
        if (string.IsNullOrWhiteSpace(Repair)) ModelState.AddModelError("", "Say what was done.");
        if (string.IsNullOrWhiteSpace(Cause)) ModelState.AddModelError("", "Say why it failed, or write “not found”.");
        if (!ModelState.IsValid) { Edit = true; return Page(); }
        var share = Choices.FirstOrDefault(g => Words.Finding(g) == Fault)?.Share ?? View.Findings.OffSheet;
        await findings.Keep(Id, Fault!, share, Proof ?? "", Cause!.Trim(), Repair!.Trim(), Parts?.Trim() ?? "", Author.Of(HttpContext));
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostVerifyAsync(string item, string? result)
    {
        if (!await Fill()) return NotFound();
        if (View.Closed || Finding is null || Items.FirstOrDefault(i => i.Name == item) is not { } asked) return RedirectToPage(new { Id });
        if (asked.Test is not { } test)
        {
            await findings.Verify(Id, item, "leads", "all back", result == "out", Author.Of(HttpContext));
            return RedirectToPage(new { Id });
        }
        var parsed = ReadingReader.Read(View.Circuit, $"{(test.Setup.IsRest ? " " : "")}{test} = {result}");
        if (parsed.Value is not { } reading)
        {
            Problem = parsed.Problems[0].Message;
            return Page();
        }
        await jobs.AddLine(Id, "verify", reading.ToString(), Author.Of(HttpContext), 0);
        await findings.Verify(Id, item, asked.Kind.ToString().ToLowerInvariant(), reading.Result!.ToString()!, asked.Passes(reading), Author.Of(HttpContext));
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostCloseAsync()
    {
        if (!await Fill()) return NotFound();
        var open = Items.Where(i => Done.FirstOrDefault(d => d.Item == i.Name) is not { Passed: true }).ToList();
        if (Finding is null) Problem = "The job cannot close: no finding is recorded.";
        else if (open.Count > 0) Problem = "The job cannot close yet. Still to be shown: " + string.Join("; ", open.Select(i => i.Kind switch
        {
            VerificationKind.Reading => "the reading that was bad",
            VerificationKind.Interlock => i.Name,
            VerificationKind.Function => i.Name,
            _ => "leads out and plugs back",
        })) + ".";
        if (Problem is not null) return Page();
        await jobs.Close(Id, "mended");
        await logbook.Index(Id);
        return RedirectToPage("/Report/Index", new { Id });
    }

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view) return false;
        View = view;
        Finding = await findings.Find(Id);
        Choices = view.Findings.Suspects.Where(g => g.Share >= 0.01).Take(6).ToList();
        Items = Verification.Of(view.Sheet.Machine, view.Findings.Verdicts, view.Findings.Function);
        Done = await findings.Verified(Id);
        return true;
    }
}
