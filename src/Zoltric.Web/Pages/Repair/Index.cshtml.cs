using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Repair;

public sealed class IndexModel(
    JobDesk desk,
    JobStore jobs,
    FindingStore findings,
    PartStore parts,
    IntakeStore intake,
    LogbookStore logbook,
    Learning learning
) : PageModel
{
    /// <summary>Empty lines offered for parts.</summary>
    private const int PartLines = 4;
    private const double MostMoney = 1e7,
        MostHours = 1000;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public bool Edit { get; set; }

    /// <summary>How often this kind was found in the year before: on the machine, and in the workshop.</summary>
    public (string Kind, long Here, long All)? OfYear { get; private set; }

    [BindProperty]
    public string? Fault { get; set; }

    [BindProperty]
    public string? Proof { get; set; }

    [BindProperty]
    public string? Cause { get; set; }

    [BindProperty]
    public string? Method { get; set; }

    [BindProperty]
    public string? Repair { get; set; }

    [BindProperty]
    public string[] PartName { get; set; } = [];

    [BindProperty]
    public string[] PartPrice { get; set; } = [];

    [BindProperty]
    public string[] PartNeeded { get; set; } = [];

    [BindProperty]
    public string? Labour { get; set; }

    [BindProperty]
    public string? Rate { get; set; }

    public JobView View { get; private set; } = null!;
    public string Me => Author.Name(HttpContext);
    public FindingRow? Finding { get; private set; }
    public IReadOnlyList<PartRow> Parts { get; private set; } = [];
    public IReadOnlyList<FaultGroup> Choices { get; private set; } = [];

    /// <summary>For an aged string: ways to mend it, each run on the circuit.</summary>
    public IReadOnlyList<RepairOption> Options =>
        Choices.Count > 0 && Choices[0].Share >= 0.5 && View.Findings.Function is { } function
            ? StringRepair.Options(View.Sheet.Machine, function, Choices[0])
            : [];

    /// <summary>Tests on the likeliest part alone, before one is bought.</summary>
    public IReadOnlyList<BenchTest> Bench => Suspected is { } unit ? BenchTests.For(View.Sheet.Machine, unit) : [];

    /// <summary>What is found, or suspected most.</summary>
    public string? Suspected => Finding?.Fault.Split(' ', 2)[0] ?? (Choices.Count > 0 ? Choices[0].Unit : null);

    public IReadOnlyList<VerificationItem> Items { get; private set; } = [];
    public IReadOnlyList<VerificationRow> Done { get; private set; } = [];
    public string? Problem { get; private set; }

    /// <summary>Where on the page the refusal belongs: the name of an item or bench test, "close" or "leave".</summary>
    public string? ProblemAt { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill())
            return NotFound();
        if (Finding is { } f)
        {
            (Fault, Proof, Cause, Method, Repair) = (f.Fault, f.Proof, f.Cause, f.Method, f.Repair);
            (Labour, Rate) = (Money(f.Labour), Money(f.Rate));
        }
        else
        {
            Fault = Choices.Count > 0 && View.Findings.Solved ? Words.Finding(Choices[0]) : null;
            Proof = View.Findings.Verdicts.LastOrDefault(v => v.Judgement is Judgement.Low or Judgement.High)?.Reading.ToString();
        }
        return Page();
    }

    private static string? Money(double? v) => v?.ToString("0.##", CultureInfo.InvariantCulture);

    public async Task<IActionResult> OnPostFindingAsync()
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (string.IsNullOrWhiteSpace(Fault))
            ModelState.AddModelError("", "Say which it was.");
        if (string.IsNullOrWhiteSpace(Repair))
            ModelState.AddModelError("", "Say what was done.");
        if (string.IsNullOrWhiteSpace(Cause))
            ModelState.AddModelError(
                "",
                Fault is { } often && Causes.IsOftenVictim(often)
                    ? "A blown fuse or a burnt contact is often the victim: say what did it, or write “not found” if you "
                        + "looked and could not tell."
                    : "Say why it failed, or write “not found”."
            );
        var used = new List<(string Name, double? Price, bool Needed)>();
        for (var i = 0; i < PartName.Length; i++)
        {
            if (string.IsNullOrWhiteSpace(PartName[i]))
                continue;
            if (!Figure(PartPrice.ElementAtOrDefault(i), MostMoney, out var price))
                ModelState.AddModelError("", $"The price of {PartName[i]} is no number: {PartPrice[i]}.");
            used.Add((Clip(PartName[i]), price, PartNeeded.ElementAtOrDefault(i) != "no"));
        }
        if (!Figure(Labour, MostHours, out var labour))
            ModelState.AddModelError("", $"The hours are no number: {Labour}.");
        if (!Figure(Rate, MostMoney, out var rate))
            ModelState.AddModelError("", $"The price of an hour is no number: {Rate}.");
        if (!ModelState.IsValid)
        {
            Edit = true;
            Parts =
            [
                .. used.Select(u => new PartRow
                {
                    Name = u.Name,
                    Price = u.Price,
                    Needed = u.Needed,
                }),
            ];
            return Page();
        }
        var share = Choices.FirstOrDefault(g => Words.Finding(g) == Fault)?.Share ?? View.Findings.OffSheet;
        await findings.Keep(
            Id,
            new FindingRow
            {
                Fault = Fault!,
                Share = share,
                Proof = Clip(Proof),
                Cause = Clip(Cause),
                Repair = Clip(Repair),
                Method = Causes.Methods.Contains(Method) ? Method! : "",
                Parts = string.Join(", ", used.Where(u => u.Needed).Select(u => u.Name)),
                Labour = labour,
                Rate = rate,
            },
            Me
        );
        await parts.Keep(Id, used, Me);
        return RedirectToPage(new { Id });
    }

    private static string Clip(string? text) =>
        text is null ? ""
        : text.Trim() is { Length: > 400 } t ? t[..400]
        : text.Trim();

    /// <summary>A figure from nothing to a most, or none where the field is empty.</summary>
    private static bool Figure(string? text, double most, out double? value)
    {
        value = null;
        if (string.IsNullOrWhiteSpace(text))
            return true;
        if (
            !double.TryParse(text.Trim().Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var v)
            || !double.IsFinite(v)
            || v < 0
            || v > most
        )
            return false;
        value = v;
        return true;
    }

    /// <summary>A bench test as a reading of the job, or, where it is none, as something shown.</summary>
    public async Task<IActionResult> OnPostBenchAsync(string? line, string? name, string? result)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (!string.IsNullOrWhiteSpace(line))
        {
            if ((await desk.Add(View, $"{line} = {result}", Me)).Refusal is { Problem: var problem })
                return Refuse($"{problem.Message} {Words.Sentence(problem.Suggestion)}", name);
        }
        else if (Bench.FirstOrDefault(b => b.Line is null && b.Name == name) is { } test && result is "good" or "bad")
            await findings.Verify(Id, $"bench {Suspected}: {name}", "bench", result == "good" ? test.Good : "bad", result == "good", Me);
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostVerifyAsync(string item, string? result)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed || Finding is null || Items.FirstOrDefault(i => i.Name == item) is not { } asked)
            return RedirectToPage(new { Id });
        var kind = asked.Kind.ToString().ToLowerInvariant();
        if (asked.Test is not { } test)
        {
            var passed = asked.Kind switch
            {
                VerificationKind.Codes => result == "gone",
                VerificationKind.Interlock => result == "dead",
                _ => result == "out",
            };
            var said = asked.Kind switch
            {
                VerificationKind.Codes => passed ? "none came back" : "came back",
                VerificationKind.Interlock => passed ? "it stopped" : "it did not stop",
                _ => "all back",
            };
            await findings.Verify(Id, item, kind, said, passed, Me);
            return RedirectToPage(new { Id });
        }
        if (View.SafetyFor(Me).Unsaid(test) is [var unsaid, ..])
            return Refuse($"Before this: {unsaid.Say} Say so under “Safe”.", item);
        var parsed = ReadingReader.Read(View.Circuit, $"{(test.Setup.IsRest ? " " : "")}{test} = {result}");
        if (parsed.Value is not { } reading)
            return Refuse(parsed.Problems[0].Message, item);
        await jobs.AddLine(Id, "verify", reading.ToString(), Me, 0);
        await findings.Verify(Id, item, kind, reading.Result!.ToString()!, asked.Passes(reading), Me);
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnPostCloseAsync()
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        var locks = View.SafetyFor(Me).State.Locks;
        if (Finding is null)
            Problem = "The job cannot close: no finding is recorded.";
        else if (string.IsNullOrWhiteSpace(Finding.Cause))
            Problem = "The job cannot close: why it failed is not answered. Write “not found” if you looked and could not tell.";
        else if (StillOpen.Any())
            Problem = "The job cannot close yet. Still to be shown:";
        else if (locks.Count > 0)
            Problem =
                $"The job cannot close: locks are still on ({string.Join(", ", locks.Select(l => $"{l.Number}, {l.Who}"))}). "
                + $"Each takes off their own, under “Safe”.";
        ProblemAt = "close";
        return Problem is null ? await Closed("mended") : Page();
    }

    /// <summary>Leaves the machine out of service: leads out all the same, energy locked, tagged.</summary>
    public async Task<IActionResult> OnPostLeaveAsync(string? tag)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (Items.Any(i => i.Kind == VerificationKind.Leads && !IsPassed(i)))
            Problem = "Not left so: jumpers, feeds and lifted wires come out first, even out of service.";
        else if (View.SafetyFor(Me).State.Locks.Count == 0)
            Problem = "Not left so: its energy is not locked. Record the lock under “Safe”.";
        else if (string.IsNullOrWhiteSpace(tag))
            Problem = "Say what stands on the tag: why, who, since when.";
        ProblemAt = "leave";
        if (Problem is not null)
            return Page();
        await findings.Verify(Id, "tag", "tag", Clip(tag), true, Me);
        return await Closed("left out of service");
    }

    private async Task<IActionResult> Closed(string outcome)
    {
        await jobs.Close(Id, outcome);
        await logbook.Index(Id);
        return RedirectToPage("/Report/Index", new { Id });
    }

    /// <summary>What is still to be shown, in words, by its place in the list.</summary>
    public IEnumerable<(int Number, string Say)> StillOpen =>
        Items
            .Select((item, number) => (item, number))
            .Where(x => !IsPassed(x.item))
            .Select(x =>
                (
                    x.number,
                    x.item.Kind switch
                    {
                        VerificationKind.Reading => "the reading that was bad",
                        VerificationKind.Drop => "the drop across what was mended",
                        VerificationKind.Leads => Verification.PastGuards(View.Circuit, View.Readings) is { Count: > 0 } on
                            ? $"leads out, also {string.Join(", ", on)} past a guard"
                            : "leads out and plugs back",
                        VerificationKind.Codes => "codes cleared and read again",
                        _ => x.item.Name,
                    }
                )
            );

    public bool IsPassed(VerificationItem item) => Done.Any(d => d.Item == item.Name && d.Passed);

    private PageResult Refuse(string why, string? at)
    {
        (Problem, ProblemAt) = (why, at);
        return Page();
    }

    /// <summary>Lines of parts to fill in: those that stand, and some empty ones.</summary>
    public IEnumerable<PartRow> PartRows => Parts.Concat(Enumerable.Range(0, PartLines).Select(_ => new PartRow { Needed = true }));

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        View = view;
        (Finding, Parts) = (await findings.Find(Id), await parts.All(Id));
        OfYear = Finding is { } found ? await learning.OfYear(view.Job, view.Circuit, found) : null;
        if (Parts.Count == 0 && Finding is null)
            Parts =
            [
                .. view
                    .Readings.Select(r => r.Test.Probe)
                    .OfType<Core.Circuits.Probe.Replaced>()
                    .Select(p => new PartRow { Name = view.Circuit.FindPart(p.Tag)?.Spoken ?? p.Tag, Needed = false }),
            ];
        Choices = view.Findings.Suspects.Where(g => g.Share >= 0.01).Take(6).ToList();
        Items = Verification.Items(
            view.Sheet.Machine,
            view.Findings.Verdicts,
            view.Findings.Function,
            Finding?.Fault,
            (await intake.Codes(Id)).Count > 0
        );
        Done = await findings.Verified(Id);
        return true;
    }
}
