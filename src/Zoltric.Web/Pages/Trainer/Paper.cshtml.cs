using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Training;
using Zoltric.Drawing.Schematic;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Trainer;

/// <summary>An exercise on paper: the case and its drawing, and on a page of its own what an instructor answers by.</summary>
public sealed class PaperModel(ExerciseStore exercises, SheetLibrary library) : PageModel
{
    private const int MostPoints = 60;

    public ExerciseRow Offered { get; private set; } = null!;
    public Exercise Exercise { get; private set; } = null!;
    public Core.Circuits.Circuit Circuit { get; private set; } = null!;
    public ExerciseRun Run { get; private set; } = null!;
    public string Drawing { get; private set; } = "";

    /// <summary>Volts at each point against the reference in the complaint's setting: with what is hidden, and sound.</summary>
    public IReadOnlyList<(string Point, string Shows, string Sound)> Points { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(long id)
    {
        if (
            await exercises.Find(id) is not { } row
            || ExerciseText.Read(row.Text).Value is not { } exercise
            || library.Get(row.SheetText).Value is not { } sheet
        )
            return NotFound();
        (Offered, Exercise, Circuit) = (row, exercise, sheet.Circuit);
        Run = ExerciseRun.Follow(exercise, sheet.Space, []);
        Drawing = PageSvg.Write(sheet.Page, new PageOptions { Id = "paper-svg" });
        if (Run.Complaint is { } complaint)
            Points = [.. PaperPoints.Of(sheet.Circuit, Run, complaint.Test.Setup).Take(MostPoints)];
        return Page();
    }
}
