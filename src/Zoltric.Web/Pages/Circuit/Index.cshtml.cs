using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Circuit;

/// <summary>
/// The whole drawing of a machine, operated and probed. All of its state stands in the address, so that it can be sent to someone.
/// </summary>
public sealed class IndexModel(MachineStore machines, SheetLibrary library) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Steps { get; set; }

    [BindProperty(SupportsGet = true)]
    public string?[] Done { get; set; } = [];

    [BindProperty(SupportsGet = true)]
    public string?[] Fault { get; set; } = [];

    [BindProperty(SupportsGet = true)]
    public string? Meter { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Red { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Black { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Stops { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Symbols { get; set; }

    /// <summary>drawing or list.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Show { get; set; }

    [BindProperty(SupportsGet = true)]
    public bool Beside { get; set; }

    /// <summary>A control to move, once.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Move { get; set; }

    public MachineRow Machine { get; private set; } = null!;
    public CircuitState State { get; private set; } = null!;

    public async Task<IActionResult> OnGetAsync()
    {
        if (await machines.Find(Id) is not { } machine)
            return NotFound();
        Machine = machine;
        if (library.Get((await machines.Sheet(machine.SheetId))!.Text).Value is not { } sheet)
            return RedirectToPage("/Sheet/Index", new { Id });
        if (CircuitState.Meters.All(m => m.Word != Meter))
            Meter = sheet.Circuit.Alternating ? "VAC" : "V";
        var question = new CircuitQuestion
        {
            Steps = Steps,
            Done = [.. Done.OfType<string>()],
            Faults = [.. Fault.OfType<string>()],
            Meter = Meter!,
            Red = Red,
            Black = Black,
            Stops = Stops,
        };
        State = new CircuitState(sheet, question);
        if (Move is { Length: > 0 } move)
            State = new CircuitState(
                sheet,
                State.Asked with
                {
                    Steps = CircuitState.Moved(sheet.Circuit, State.Now, State.Asked.Steps, move),
                }
            );
        (Steps, Done, Fault) = (State.Asked.Steps, [.. State.Asked.Done], [.. State.Asked.Faults]);
        // The fields show what was understood, not what was sent.
        ModelState.Clear();
        Move = null;
        var here = Url.Page(
            "/Circuit/Index",
            new
            {
                Id,
                Steps = Text(Steps),
                Done,
                Fault,
                Meter,
                Red = Text(Red),
                Black = Text(Black),
                Stops = Text(Stops),
                Symbols = Text(Symbols),
                Show = Text(Show),
                Beside = Beside ? "true" : null,
            }
        )!;
        if (!Request.IsHtmx())
            return Request.Query.ContainsKey(nameof(Move)) ? Redirect(here) : Page();
        Response.Htmx(h => h.ReplaceUrl(here));
        return Partial("Circuit/_Circuit", this);

        static string? Text(string? s) => string.IsNullOrWhiteSpace(s) ? null : s;
    }
}
