using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Pins;

/// <summary>
/// Pin by pin what a plug or module should show, in the state of a function or at rest, with its face; to be printed, or read pin by pin
/// into a job.
/// </summary>
public sealed class IndexModel(MachineStore machines, SheetLibrary library, JobDesk desk) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Tag { get; set; } = "";

    /// <summary>Name of the function in whose state it is read; at rest without.</summary>
    [BindProperty(SupportsGet = true)]
    public string? When { get; set; }

    /// <summary>Rows of the face; what is likely without.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Rows { get; set; }

    /// <summary>How its pins are counted.</summary>
    [BindProperty(SupportsGet = true)]
    public PinCount Count { get; set; }

    /// <summary>wire: the side that the wires go in. Anything else: the mating side.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Side { get; set; }

    /// <summary>Number, colour or function of a pin that is looked for.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Find { get; set; }

    /// <summary>Job into which pins are read.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Job { get; set; }

    public string MachineName { get; private set; } = "";
    public JobView? View { get; private set; }
    public Core.Circuits.Circuit Circuit { get; private set; } = null!;
    public Part Part { get; private set; } = null!;
    public Setup Setup { get; private set; } = Setup.Rest;
    public IReadOnlyList<PinLine> Pins { get; private set; } = [];
    public IReadOnlyList<PinPlace> Face { get; private set; } = [];
    public bool WireSide => Side == "wire";

    /// <summary>Why a value was not kept, and at which pin.</summary>
    public (string Pin, string Value, string Why)? NotKept { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    /// <summary>Keeps what a pin shows as a reading of the job.</summary>
    public async Task<IActionResult> OnPostReadAsync(string? pin, string? value)
    {
        if (!await Fill() || View is not { } view || Pins.FirstOrDefault(p => p.Pin.Name == pin) is not { } line)
            return NotFound();
        var me = Author.Name(HttpContext);
        var text = $"{Test(line)} = {FigureReader.Result(Dimension.Volt, value ?? "")}";
        var (after, refusal) = JobDesk.MayWrite(view, me, Author.IsProved(HttpContext)) is { } may
            ? new Added(view, may)
            : await desk.Add(view, text, me);
        if (refusal is null)
            return Redirect(Here(null) + $"#pin-{pin}");
        (View, NotKept) = (after, (line.Pin.Name, value ?? "", refusal.Problem.Message));
        return Page();
    }

    /// <summary>The reading of a pin's volts, as a line of the job without its result.</summary>
    public string Test(PinLine pin)
    {
        ArgumentNullException.ThrowIfNull(pin);
        var nets = Nets.Of(Circuit);
        return new Test(Setup, new Probe.Volts(pin.Pin, nets.CommonOf(pin.Pin), nets.FunctionAt(pin.Pin))).ToString();
    }

    /// <summary>What was read at a pin in the job, the newest first.</summary>
    public IEnumerable<string> ReadAt(PinLine pin) =>
        (View?.Lines ?? [])
            .Where(l => l.Reading is { } r && r.Test.Probe.Tips is { Count: > 0 } tips && tips[0].Bare == pin.Pin.Bare)
            .Select(l => l.Row.Text)
            .Reverse()
            .Take(2);

    /// <summary>This page's address with all that is chosen.</summary>
    public string Here(string? handler) =>
        $"/machines/{Id}/pins/{Uri.EscapeDataString(Tag)}"
        + QueryString.Create(
            new Dictionary<string, string?>
            {
                ["handler"] = handler,
                ["job"] = Job?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                ["when"] = When,
                ["rows"] = Rows?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                ["count"] = Count == PinCount.Rows ? null : $"{Count}",
                ["side"] = Side,
                ["find"] = Find,
            }.Where(q => !string.IsNullOrEmpty(q.Value))
        );

    private async Task<bool> Fill()
    {
        ReadySheet? sheet;
        if (Job is { } job)
        {
            if ((View = await desk.Load(job)) is not { } view || view.Job.MachineId != Id)
                return false;
            (sheet, MachineName) = (view.Sheet, view.Job.Machine);
        }
        else if (await machines.Find(Id) is { } machine && await machines.Sheet(machine.SheetId) is { } kept)
            (sheet, MachineName) = (library.Get(kept.Text).Value, machine.Name);
        else
            return false;
        if (sheet?.Circuit.FindPart(Tag) is not { } part)
            return false;
        (Circuit, Part) = (sheet.Circuit, part);
        if (When is { Length: > 0 } && Circuit.FindFunction(When) is { } f && FunctionSetups.SetupFor(Circuit, f) is { } setup)
            Setup = setup;
        else
            When = null;
        Pins = PinTable.Of(sheet.Machine, part, Setup);
        var body = PinTable.Body(part);
        Face = PinFace.Of(body, Rows ?? PinFace.LikelyRows(body.Count), Count, WireSide);
        return true;
    }
}
