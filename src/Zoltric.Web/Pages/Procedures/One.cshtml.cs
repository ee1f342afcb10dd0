using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Notation;
using Zoltric.Core.Procedures;
using Zoltric.Drawing;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Procedures;

/// <summary>One procedure: its text beside what was understood of it, what is wrong with it, and on paper.</summary>
[RequestFormLimits(ValueLengthLimit = 1024 * 1024)]
public sealed class OneModel(ProcedureStore procedures, MachineStore machines, SheetLibrary library) : PageModel
{
    /// <summary>A larger chart tells nobody anything.</summary>
    public const int MostCharted = 60;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty]
    public string? Text { get; set; }

    public ProcedureRow Row { get; private set; } = null!;

    /// <summary>Null where the text does not read.</summary>
    public Procedure? Procedure { get; private set; }
    public IReadOnlyList<Problem> Problems { get; private set; } = [];
    public IReadOnlyList<string> Mistakes { get; private set; } = [];
    public IReadOnlyDictionary<string, string> Expected { get; private set; } = new Dictionary<string, string>();
    public string Chart { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync()
    {
        if (await procedures.Find(Id) is not { } row)
            return NotFound();
        (Row, Text) = (row, row.Text);
        await Judge();
        return Page();
    }

    /// <summary>What is understood of the text as it is being mended; nothing is kept.</summary>
    public async Task<IActionResult> OnPostLookAsync()
    {
        if (await procedures.Find(Id) is not { } row)
            return NotFound();
        Row = row;
        await Judge();
        return Partial("_Understood", this);
    }

    /// <summary>Keeps the mended text, if it reads.</summary>
    public async Task<IActionResult> OnPostAsync()
    {
        if (await procedures.Find(Id) is not { } row)
            return NotFound();
        Row = row;
        await Judge();
        if (Procedure is not { } p)
            return Page();
        await procedures.Mend(Id, p.Title, ProcedureText.Write(p), Author.Name(HttpContext));
        return RedirectToPage(new { Id });
    }

    public async Task<IActionResult> OnGetFileAsync(string form)
    {
        if (await procedures.Find(Id) is not { } row || ProcedureText.Read(row.Text).Value is not { } p)
            return NotFound();
        return form == "json"
            ? File(System.Text.Encoding.UTF8.GetBytes(ProcedureJson.Write(p)), "application/json", $"procedure-{Id}.json")
            : File(System.Text.Encoding.UTF8.GetBytes(ProcedureText.Write(p)), "text/plain; charset=utf-8", $"procedure-{Id}.txt");
    }

    private async Task Judge()
    {
        var read = ProcedureText.Read(Text ?? "");
        (Procedure, Problems) = (read.Value, read.Problems);
        if (Procedure is not { } p)
            return;
        var sheet =
            Row.MachineId is { } id && await machines.Find(id) is { } m && await machines.Sheet(m.SheetId) is { } kept
                ? library.Get(kept.Text).Value
                : null;
        Mistakes = ProcedureCheck.Of(p, sheet?.Circuit);
        if (sheet is not null)
            Expected = p
                .Steps.Select(s => (s.Number, Shows: StepTies.Expected(s, sheet.Machine)))
                .Where(s => s.Shows is not null)
                .ToDictionary(s => s.Number, s => s.Shows!);
        Chart = p.Steps.Count <= MostCharted ? ProcedureChart.Svg(p) : "";
    }
}
