using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Core.Metering;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Pins;

/// <summary>Pin by pin what a plug or module should show, in the state of a function or at rest; to be printed and ticked off.</summary>
public sealed class IndexModel(MachineStore machines, SheetLibrary library) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Tag { get; set; } = "";

    /// <summary>Name of the function in whose state it is read; at rest without.</summary>
    [BindProperty(SupportsGet = true)]
    public string? When { get; set; }

    public MachineRow Machine { get; private set; } = null!;
    public Core.Circuits.Circuit Circuit { get; private set; } = null!;
    public Part Part { get; private set; } = null!;
    public Setup Setup { get; private set; } = Setup.Rest;
    public IReadOnlyList<PinLine> Pins { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync()
    {
        if (await machines.Find(Id) is not { } machine || (await machines.Sheet(machine.SheetId)) is not { } kept)
            return NotFound();
        if (library.Get(kept.Text).Value is not { } sheet || sheet.Circuit.FindPart(Tag) is not { } part)
            return NotFound();
        (Machine, Circuit, Part) = (machine, sheet.Circuit, part);
        if (When is { Length: > 0 } && Circuit.FindFunction(When) is { } f && FunctionState.SetupFor(Circuit, f) is { } setup)
            Setup = setup;
        else
            When = null;
        Pins = PinTable.Of(sheet.Machine, part, Setup);
        return Page();
    }
}
