using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Notation;
using Zoltric.Core.Procedures;
using Zoltric.Store;
using Zoltric.Web.Import;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Procedures;

/// <summary>All procedures, and the place where one is pasted or read out of a file.</summary>
[RequestFormLimits(ValueLengthLimit = 1024 * 1024)]
public sealed class IndexModel(ProcedureStore procedures, MachineStore machines, SheetLibrary library) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long? Machine { get; set; }

    /// <summary>A job in which one is to be run.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Job { get; set; }

    [BindProperty]
    public string? Title { get; set; }

    [BindProperty]
    public string? Text { get; set; }

    public IReadOnlyList<ProcedureRow> All { get; private set; } = [];
    public IReadOnlyList<MachineRow> Machines { get; private set; } = [];
    public IReadOnlyList<Problem> Problems { get; private set; } = [];

    public async Task OnGetAsync() => await Fill();

    /// <summary>Reads what was pasted or uploaded and keeps it as a proposal, to be looked at and mended.</summary>
    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        await Fill();
        var text = Text ?? "";
        if (file is { Length: > TableFile.MostBytes })
            return Refused("The file is too large: at most 4 MB are read.");
        if (file is { Length: > 0 })
            try
            {
                await using var stream = file.OpenReadStream();
                text = string.Join(
                    '\n',
                    TableFile.Read(stream, file.FileName).Select(r => string.Join('\t', r.Select(c => c.ReplaceLineEndings(" "))))
                );
            }
            catch (InvalidDataException e)
            {
                return Refused(e.Message);
            }
        if (text.Trim().Length == 0)
            return Refused("Paste the procedure, or choose a file.");
        var circuit =
            Machine is { } id && await machines.Find(id) is { } m && await machines.Sheet(m.SheetId) is { } sheet
                ? library.Get(sheet.Text).Value?.Circuit
                : null;
        var read = ProcedureReader.Propose(text, Title ?? "", circuit);
        if (read.Value is not { } proposed)
        {
            Problems = read.Problems;
            return Page();
        }
        var not = proposed.NotUnderstood.Select(l => $"Line {l.Line} was not understood: {l.Text.Trim()}").Take(50);
        var p = proposed.Procedure with { Notes = [.. proposed.Procedure.Notes, .. not] };
        var kept = await procedures.Keep(circuit is null ? null : Machine, p.Title, ProcedureText.Write(p), Author.Name(HttpContext));
        return RedirectToPage("/Procedures/One", new { id = kept });
    }

    private PageResult Refused(string message)
    {
        Problems = [new Problem(Severity.Error, 1, 1, message)];
        return Page();
    }

    private async Task Fill() => (All, Machines) = (await procedures.All(Machine), await machines.All());
}
