using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Notation;
using Zoltric.Drawing.Schematic;
using Zoltric.Drawing.Symbols;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Circuit;

/// <summary>The drawing cut into sheets of paper.</summary>
public sealed class PrintModel(MachineStore machines, SheetLibrary library) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Steps { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Symbols { get; set; }

    /// <summary>a4 or letter.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Paper { get; set; }
    public MachineRow Machine { get; private set; } = null!;
    public IReadOnlyList<PrintedPage> Pages { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync()
    {
        if (await machines.Find(Id) is not { } machine || library.Get((await machines.Sheet(machine.SheetId))!.Text).Value is not { } sheet)
            return NotFound();
        Machine = machine;
        // Without a state the drawing is printed as it is wired, without ink.
        var ink =
            Steps is { Length: > 0 } && ReadingReader.ReadSetup(sheet.Circuit, Steps).Value is { } setup
                ? new Ink(sheet.Page, sheet.Machine.Run(setup))
                : null;
        Pages = PrintedPages.Cut(
            sheet.Page,
            new PageOptions { Ink = ink, Symbols = Symbols == "ieee" ? SymbolSet.Ieee : SymbolSet.Iec },
            Paper == "letter" ? PaperSize.Letter : PaperSize.A4
        );
        return Page();
    }
}
