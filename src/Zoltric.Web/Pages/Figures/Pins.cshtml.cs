using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Figures;

/// <summary>Pin lists as they are pasted: one drawn as a face, two compared. The first may come from a machine's sheet.</summary>
[RequestFormLimits(ValueLengthLimit = 256 * 1024)]
public sealed class PinsModel(MachineStore machines, SheetLibrary library) : PageModel
{
    [BindProperty]
    public string? First { get; set; }

    [BindProperty]
    public string? Second { get; set; }

    [BindProperty]
    public int? Rows { get; set; }

    [BindProperty]
    public PinCount Count { get; set; }

    [BindProperty]
    public string? Side { get; set; }

    public IReadOnlyList<ListedPin> Pins { get; private set; } = [];
    public IReadOnlyList<PinPlace> Face { get; private set; } = [];
    public IReadOnlyList<PinDifference>? Differences { get; private set; }
    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>How many pins of both say the same.</summary>
    public int Alike { get; private set; }

    public void OnPost() => Compare();

    /// <summary>The pins of a part of a machine's sheet as the first list.</summary>
    public async Task<IActionResult> OnPostFromAsync(long machine, string? tag)
    {
        if (await machines.Find(machine) is not { } row || await machines.Sheet(row.SheetId) is not { } kept)
            return NotFound();
        if (library.Get(kept.Text).Value is not { } sheet || sheet.Circuit.FindPart(tag ?? "") is not { } part)
            return NotFound();
        First = string.Join(
            '\n',
            PinTable
                .Of(sheet.Machine, part, Setup.Rest)
                .GroupBy(p => PinTable.Number(p.Pin.Name))
                .Select(p =>
                    string.Join(
                        '\t',
                        p.SelectMany(x => x.Wires.SelectMany(w => w.Split(' ', 2))).Where(w => w.Length > 0).Distinct().Prepend(p.Key)
                    )
                )
        );
        Compare();
        return Page();
    }

    private void Compare()
    {
        var (first, wrong) = PinList.Read(First ?? "");
        var (second, also) = PinList.Read(Second ?? "");
        Pins = first;
        Problems = [.. wrong.Select(w => $"First list. {w}"), .. also.Select(w => $"Second list. {w}")];
        Face = PinFace.Of([.. first.Select(p => p.Pin)], Rows ?? PinFace.LikelyRows(first.Count), Count, Side == "wire");
        if (second.Count == 0)
            return;
        Differences = PinList.Compare(first, second);
        Alike = first.Count - Differences.Count(d => d.First is not null);
    }
}
