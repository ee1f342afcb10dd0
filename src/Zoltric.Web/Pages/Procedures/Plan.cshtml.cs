using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Procedures;
using Zoltric.Store;
using Zoltric.Web.Procedures;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Procedures;

/// <summary>The whole plan for a function that does not work, computed from the sheet; asked for again until it is there.</summary>
public sealed class PlanModel(MachineStore machines, SheetLibrary library, PlanDesk plans, ProcedureStore procedures) : PageModel
{
    /// <summary>Lengths to choose from, in steps.</summary>
    public static IReadOnlyList<(int Steps, string Said)> Lengths { get; } = [(30, "short"), (90, "usual"), (400, "whole")];

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Function { get; set; }

    [BindProperty(SupportsGet = true)]
    public int Steps { get; set; } = Lengths[1].Steps;

    public MachineRow Machine { get; private set; } = null!;
    public IReadOnlyList<string> Functions { get; private set; } = [];
    public MadePlan? Made { get; private set; }
    public bool Working { get; private set; }
    public string? Failed { get; private set; }

    /// <summary>This page's own address.</summary>
    public string Here => $"{Request.Path}{Request.QueryString}";

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill())
            return NotFound();
        // Asked again by the page that waits.
        if (Request.IsHtmx() && Made is not null)
            Response.Htmx(h => h.Refresh());
        return Page();
    }

    /// <summary>Keeps the plan as a procedure of the machine.</summary>
    public async Task<IActionResult> OnPostAsync()
    {
        if (!await Fill() || Made is not { } made)
            return NotFound();
        var id = await procedures.Keep(Id, made.Procedure.Title, ProcedureText.Write(made.Procedure), Author.Name(HttpContext));
        return RedirectToPage("/Procedures/One", new { id });
    }

    private async Task<bool> Fill()
    {
        if (await machines.Find(Id) is not { } machine || await machines.Sheet(machine.SheetId) is not { } kept)
            return false;
        Machine = machine;
        if (library.Get(kept.Text).Value is not { } sheet)
            return false;
        Functions = [.. sheet.Circuit.Functions.Where(f => FunctionSetups.SetupFor(sheet.Circuit, f) is not null).Select(f => f.Name)];
        if (Lengths.All(l => l.Steps != Steps))
            Steps = Lengths[1].Steps;
        if (Function is not { Length: > 0 } name || sheet.Circuit.FindFunction(name) is not { } function)
            return true;
        if (plans.Of(sheet, kept.Text, function, Steps) is not { } task)
            Failed = "Nothing sets the machine so that it should work: there is nothing to plan from.";
        else if (task.IsCompletedSuccessfully)
            Made = await task;
        else if (task.IsFaulted)
            Failed = "The plan could not be worked out: trace it instead.";
        else
            Working = true;
        return true;
    }
}
