using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Bench;

public sealed class IndexModel(JobStore jobs, MachineStore machines, MachineChoices choices, SheetLibrary library, JobDesk desk) : PageModel
{
    [BindProperty, Required(ErrorMessage = "Choose the machine and what it does not do.")]
    public string? Function { get; set; }

    [BindProperty]
    public string? State { get; set; }

    [BindProperty, StringLength(200, ErrorMessage = "Keep the complaint under 200 characters; there is room for more in the job.")]
    public string? Complaint { get; set; }

    [BindProperty]
    public string? Who { get; set; }

    /// <summary>Stands for the function that the words of the complaint are about.</summary>
    public const string ByComplaint = "*";

    public IReadOnlyList<JobRow> Open { get; private set; } = [];
    private const int MostClosed = 5;
    public IReadOnlyList<JobRow> Closed { get; private set; } = [];
    public int ClosedCount { get; private set; }
    public IReadOnlyList<MachineChoice> Choices { get; private set; } = [];

    /// <summary>Machines there are, of which <see cref="Choices"/> may hold the last worked on.</summary>
    public long MachineCount { get; private set; }

    /// <summary>Words by which a machine is looked for.</summary>
    [BindProperty(SupportsGet = true), StringLength(200)]
    public string? Machine { get; set; }

    public async Task OnGetAsync()
    {
        Who = Author.Name(HttpContext);
        await Fill();
    }

    /// <summary>The machines that hold the words, as choices.</summary>
    public async Task<IActionResult> OnGetMachinesAsync()
    {
        (Choices, MachineCount) = await choices.Find(Machine);
        return Partial("Bench/_Choices", this);
    }

    public async Task<IActionResult> OnPostAsync()
    {
        var parts = (Function ?? "").Split('|', 2);
        if (
            ModelState.IsValid
            && parts.Length == 2
            && long.TryParse(parts[0], out var machineId)
            && await machines.Find(machineId) is { } machine
            && library.Get((await machines.Sheet(machine.SheetId))!.Text).Value is { } sheet
            && (
                parts[1] == ByComplaint
                    ? ComplaintMatch.Find(Complaint, sheet.Circuit) ?? UnknownByComplaint(sheet.Circuit)
                    : sheet.Circuit.FindFunction(parts[1])
            )
                is { } function
        )
        {
            Author.Keep(HttpContext, Who);
            var (id, problem) = await desk.Start(machine, sheet, function, State, Complaint, Author.Name(HttpContext, Who));
            if (problem is null)
                return RedirectToPage("/Intake/Index", new { id });
            ModelState.AddModelError("", problem);
        }
        else if (ModelState.IsValid)
            ModelState.AddModelError("", "That machine or function is not on the bench any more. Choose again.");
        await Fill();
        return Page();
    }

    private MachineFunction? UnknownByComplaint(Core.Circuits.Circuit circuit)
    {
        ModelState.AddModelError(
            "",
            "The complaint does not say which of these it is: " + $"{string.Join(", ", circuit.Functions.Select(f => f.Name))}. Choose one."
        );
        return null;
    }

    private async Task Fill()
    {
        (Open, Closed, ClosedCount) = (await jobs.Opened(), await jobs.Closed(MostClosed), (await jobs.Counts()).Values.Sum(c => c.Closed));
        (Choices, MachineCount) = await choices.Find(Machine);
    }
}
