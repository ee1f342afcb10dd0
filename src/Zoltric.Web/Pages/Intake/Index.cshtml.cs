using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Exchange;
using Zoltric.Core.Practice;
using Zoltric.Core.Routes;
using Zoltric.Core.Safety;
using Zoltric.Instruments;
using Zoltric.Instruments.Buses;
using Zoltric.Instruments.Links;
using Zoltric.Store;
using Zoltric.Web.Api;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Intake;

/// <summary>A function from one of the stations it is worked from, and what was seen of it.</summary>
public sealed record Station(MachineFunction Function, Setup Setup, int Number, int Of, string? Seen);

/// <summary>A code as it was read, decoded, with what the sheet ties it to.</summary>
public sealed record DecodedCode(CodeRow Row, TroubleCode Code, FaultCode? OnSheet);

public sealed class IndexModel(JobDesk desk, JobStore jobs, IntakeStore intake, SimulatedBench bench) : PageModel
{
    private const int MostText = 400,
        MostCodes = 20_000,
        MostFile = 16 * 1024 * 1024,
        MostSounds = 8;

    public static IReadOnlyList<string> Circumstances => IntakeCircumstances.All;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;
    public string Me { get; private set; } = "";
    public IntakeRow Facts { get; private set; } = new();
    public IReadOnlyList<Station> Stations { get; private set; } = [];
    public IReadOnlyList<(Part Part, Setup Setup, string? Heard)> Sounds { get; private set; } = [];
    public IReadOnlyList<DecodedCode> Codes { get; private set; } = [];
    public IReadOnlyList<string> Replaced { get; private set; } = [];
    public IReadOnlyList<Symptom> Symptoms { get; private set; } = [];
    public IReadOnlyList<MachineFunction> Working { get; private set; } = [];
    public IReadOnlyList<SharedCause> Shared { get; private set; } = [];

    /// <summary>Where selectors, doors and seats must be for the function complained of, by name and position.</summary>
    public IReadOnlyList<FunctionCondition> Selectors { get; private set; } = [];
    public IReadOnlyList<EasyCheck> Checks { get; private set; } = [];
    public IReadOnlyList<(string Line, int Left)> Told { get; private set; } = [];
    public IReadOnlyList<SafetyItem> Unsaid { get; private set; } = [];
    public string? Problem { get; private set; }
    public string CodeText { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    public async Task<IActionResult> OnPostFactsAsync(string? hours, string? since, string[]? conditions, string? sounds)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        if (new[] { hours, since, sounds }.Any(t => t?.Length > MostText))
            return Refuse($"Keep each answer under {MostText} characters.");
        await intake.Keep(
            Id,
            hours?.Trim() ?? "",
            since?.Trim() ?? "",
            string.Join(", ", (conditions ?? []).Where(Circumstances.Contains)),
            sounds?.Trim() ?? "",
            Me
        );
        return RedirectToPage(new { Id });
    }

    /// <summary>A reading line: what was seen or heard, a part already replaced, the result of an easy check.</summary>
    public async Task<IActionResult> OnPostLineAsync(string? line, string? result, string? anchor)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        var text = string.IsNullOrWhiteSpace(result) ? line ?? "" : $"{line} = {result.Trim()}";
        return (await desk.Add(View, text, Me)).Refusal is { Problem: var problem }
            ? Refuse($"{problem.Message} {Words.Sentence(problem.Suggestion)}")
            : Redirect($"{Url.Page("/Intake/Index", new { Id })}#{anchor}");
    }

    public async Task<IActionResult> OnPostCodesAsync(string? codes, IFormFile? file, bool again)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        CodeText = codes ?? "";
        if (file is { Length: > MostFile })
            return Refuse("A list of codes or a log of the bus is under 16 MB.");
        var text = CodeText;
        if (file is { Length: > 0 })
        {
            using var reader = new StreamReader(file.OpenReadStream());
            text = await reader.ReadToEndAsync();
        }
        var isLog = BusLog.IsLog(text);
        if (!isLog && text.Length > MostCodes)
            return Refuse("That is more than a list of codes.");
        if (!isLog)
            CodeText = text;
        var (read, problems) = isLog ? OfBus(text) : CodeList.Read(text);
        if (problems.Count > 0)
            return Refuse(string.Join(" ", problems.Take(5)));
        if (read.Count == 0 && !(again && string.IsNullOrWhiteSpace(CodeText)))
            return Refuse("There is no code in that.");
        return await KeepCodes(read, again);
    }

    /// <summary>Where the bus is given out, as it was last said.</summary>
    public string BusAddress { get; private set; } = "";

    /// <summary>True where the bus of a machine that is not there can be listened to.</summary>
    public bool MaySimulateBus => bench.IsThere && View.Circuit.Codes.Count > 0 && !View.Closed;

    /// <summary>Listens to the bus for some seconds; what its modules say is read in as a list would be.</summary>
    public async Task<IActionResult> OnPostListenAsync(string? address, bool again)
    {
        if (!await Fill())
            return NotFound();
        if (View.Closed)
            return RedirectToPage(new { Id });
        BusAddress = address?.Trim() ?? "";
        var (there, why) = InstrumentAddress.Read(BusAddress);
        return there is null ? Refuse(why!) : await Listen(there, again);
    }

    /// <summary>The demo: a simulated machine, worked as the complaint has it, says its codes.</summary>
    public async Task<IActionResult> OnPostListenSimulatedAsync(bool again)
    {
        if (!await Fill() || !MaySimulateBus)
            return NotFound();
        if (bench.Of(Id) is null && !bench.Take(View, null))
            return Refuse("The readings leave no fault to hide: there is no machine to simulate.");
        var works = Complaint.FunctionOf(View.Circuit, View.Readings) is { } f ? FunctionSetups.SetupFor(View.Circuit, f) : null;
        bench.Of(Id)!.Stand(works ?? Setup.Rest);
        return await Listen(InstrumentAddress.Read(bench.BusAddress).Address!, again);
    }

    private async Task<IActionResult> Listen(InstrumentAddress address, bool again)
    {
        HttpContext.WaitsOutside();
        try
        {
            var heard = await BusListener.Listen(address, BusListener.Usual, HttpContext.RequestAborted);
            var (read, problems) = Said(heard.Frames);
            // A module that says it has no code has answered too.
            if (problems.Count > 0 && !again)
                return Refuse($"{problems[0]}{(heard.CutShort is { } cut ? " " + cut : "")}");
            return await KeepCodes(read, again);
        }
        catch (InstrumentException e)
        {
            return Refuse(e.Message);
        }
    }

    private async Task<IActionResult> KeepCodes(IReadOnlyList<ReadCode> read, bool again)
    {
        // Of a machine whose codes were cleared, what does not come back was old.
        if (again)
            read =
            [
                .. read,
                .. Codes.Where(o => read.All(c => c.Code.Number != o.Row.Number)).Select(o => new ReadCode(o.Code, "absent", null)),
            ];
        foreach (var c in read.Where(c => View.Circuit.Codes.Any(k => k.Code == c.Code.Number)))
        {
            // Read again, a code has its new status; the older line stays, struck.
            foreach (
                var (row, reading) in View.Lines.Where(l =>
                    !l.Row.Struck && l.Reading?.Test.Probe is Probe.Code old && old.Number == c.Code.Number
                )
            )
                await jobs.Strike(Id, row.Id, true, Me);
            if ((await desk.Add((await desk.Load(Id))!, $": code {c.Code.Number} = {c.Status}", Me)).Refusal is { Problem: var problem })
                return Refuse(problem.Message);
        }
        await intake.KeepCodes(Id, read.Select(c => (c.Code.Number, c.Status, c.Count)), Me);
        return Redirect($"{Url.Page("/Intake/Index", new { Id })}#codes");
    }

    /// <summary>Codes that modules say on the bus, out of a log of it.</summary>
    private static (IReadOnlyList<ReadCode>, IReadOnlyList<string>) OfBus(string log)
    {
        using var lines = new StringReader(log);
        return Said(BusLog.Read(lines).Frames);
    }

    private static (IReadOnlyList<ReadCode>, IReadOnlyList<string>) Said(IReadOnlyList<BusFrame> frames)
    {
        var trouble = DiagnosticMessages.Read(frames);
        return trouble.Codes.Count > 0
            ? (trouble.AsRead, [])
            : (
                [],
                [
                    $"{frames.Count} frames of the bus were read, and no module says a code in them"
                        + (trouble.Broken > 0 ? $"; of {trouble.Broken} long messages a part is missing, so record it again." : "."),
                ]
            );
    }

    private PageResult Refuse(string why)
    {
        Problem = why;
        return Page();
    }

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        (View, Me, Facts) = (view, Author.Name(HttpContext), await intake.Find(Id) ?? new IntakeRow());
        var circuit = view.Circuit;
        var seen = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var r in view.Readings.Where(r => r is { Doubtful: false, Result: ReadingResult.Word }))
            seen[r.Test.ToString()] = ((ReadingResult.Word)r.Result!).Answer.Text();
        Stations =
        [
            .. circuit.Functions.SelectMany(f =>
                FunctionSetups.SetupsFor(circuit, f) is var ways
                    ? ways.Select(
                        (s, i) =>
                            new Station(
                                f,
                                s,
                                i + 1,
                                ways.Count,
                                seen.GetValueOrDefault(new Test(s, new Probe.Sees(f.Name, true)).ToString())
                            )
                    )
                    : []
            ),
        ];
        var working = Complaint.FunctionOf(circuit, view.Readings) is { } complained ? FunctionSetups.SetupFor(circuit, complained) : null;
        Sounds =
            working is null || working.IsRest
                ? []
                :
                [
                    .. circuit
                        .Parts.Where(p => p.Model.Clicks)
                        .Take(MostSounds)
                        .Select(p => (p, working, seen.GetValueOrDefault(new Test(working, new Probe.Hears(p.Tag)).ToString()))),
                ];
        Codes =
        [
            .. (await intake.Codes(Id)).Select(r => new DecodedCode(
                r,
                TroubleCode.Read(r.Number),
                circuit.Codes.FirstOrDefault(c => c.Code == r.Number)
            )),
        ];
        Replaced = [.. view.Readings.Select(r => r.Test.Probe).OfType<Probe.Replaced>().Select(p => p.Tag).Distinct()];
        var states = SeenFunctions.Last(view);
        Symptoms =
        [
            .. circuit
                .Functions.Where(f => states.TryGetValue(f.Name, out var s) && s is Answer.Dead or Answer.Weak)
                .Select(f => new Symptom(f.Name, f, null)),
            .. Codes
                .Where(c => c is { OnSheet: not null, Row.Status: "active" })
                .Select(c => new Symptom($"code {c.Row.Number}", null, c.OnSheet)),
        ];
        Working = [.. circuit.Functions.Where(f => states.TryGetValue(f.Name, out var s) && s == Answer.Works)];
        if (Symptoms.Count > 1)
            Shared = CommonCauses.Find(view.Sheet.Space, Symptoms, Working);
        if (Complaint.FunctionOf(circuit, view.Readings) is { } dead && working is not null)
            Selectors = [.. FunctionConditions.For(view.Sheet.Machine, dead, view.Sheet.Machine.Run(working)).Where(c => c.IsControl)];
        if (!view.Closed && !view.Findings.Solved)
            Checks = EasyChecks.List(view.Sheet.Space, view.Readings, view.Options.Limits);
        Told = [.. view.Readings.Select((r, i) => (r.ToString()!, EasyChecks.Left(view.Sheet.Space, [.. view.Readings.Take(i + 1)])))];
        Unsaid = view.Closed
            ? []
            :
            [
                .. view.SafetyFor(Me) is var safe
                    ? safe.Items.Where(i => i.Need is SafetyNeed.Any or SafetyNeed.Moving && !safe.IsSaid(i))
                    : [],
            ];
        return true;
    }
}
