using DiffPlex.DiffBuilder;
using DiffPlex.DiffBuilder.Model;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Sheet;

/// <summary>The versions of a machine's sheet and what differs between two of them.</summary>
public sealed class VersionsModel(MachineStore machines) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public long? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public long? To { get; set; }
    public MachineRow Machine { get; private set; } = null!;
    public IReadOnlyList<SheetRow> Versions { get; private set; } = [];
    public IReadOnlyList<DiffPiece> Lines { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync()
    {
        if (await machines.Find(Id) is not { } machine)
            return NotFound();
        (Machine, Versions) = (machine, await machines.Sheets(Id));
        To ??= Versions[0].Version;
        From ??= Versions.Select(v => v.Version).FirstOrDefault(v => v < To, Versions[^1].Version);
        if (Versions.FirstOrDefault(v => v.Version == From) is { } a && Versions.FirstOrDefault(v => v.Version == To) is { } b)
            Lines = InlineDiffBuilder.Diff(a.Text, b.Text).Lines;
        return Page();
    }

    /// <summary>True for a line that changed or stands within two lines of one that did.</summary>
    public bool Near(int i) => Enumerable.Range(Math.Max(0, i - 2), 5).Any(k => k < Lines.Count && Lines[k].Type != ChangeType.Unchanged);
}
