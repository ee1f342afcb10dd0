using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Procedures;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Procedures;

/// <summary>Procedures of one machine side by side: each followed to its end on every fault that leaves a function dead.</summary>
public sealed class CompareModel(ProcedureStore procedures, MachineStore machines, SheetLibrary library) : PageModel
{
    private const int MostCompared = 8;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Function { get; set; }

    public MachineRow Row { get; private set; } = null!;
    public Core.Circuits.Circuit Circuit { get; private set; } = null!;
    public IReadOnlyList<ProcedureRow> Kept { get; private set; } = [];

    /// <summary>What came of each; none until a function is chosen.</summary>
    public IReadOnlyList<(ProcedureRow Row, TrialSum Sum)> Compared { get; private set; } = [];
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync(CancellationToken gone)
    {
        if (
            await machines.Find(Id) is not { } row
            || await machines.Sheet(row.SheetId) is not { } kept
            || library.Get(kept.Text).Value is not { } sheet
        )
            return NotFound();
        (Row, Circuit) = (row, sheet.Circuit);
        Kept = [.. (await procedures.All(Id)).Take(MostCompared)];
        if (Function is null)
            return Page();
        if (Circuit.FindFunction(Function) is not { } function || FunctionSetups.SetupFor(Circuit, function) is not { } setup)
        {
            Problem = $"The sheet has no function “{Function}” that a setting of the controls makes due.";
            return Page();
        }
        var complaint = new Test(setup, new Probe.Sees(function.Name, true));
        Compared = await Task.Run(() => Tried(sheet.Space, complaint, gone), gone);
        return Page();
    }

    private List<(ProcedureRow, TrialSum)> Tried(FaultSpace space, Test complaint, CancellationToken gone)
    {
        var compared = new List<(ProcedureRow, TrialSum)>();
        foreach (var row in Kept)
            if (ProcedureText.Read(row.Text).Value is { } p)
                compared.Add((row, ProcedureTrial.OverAll(p, space, complaint, gone)));
        return compared;
    }
}
