using System.Security.Cryptography;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Training;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Trainer;

/// <summary>An exercise written from any machine's sheet, given out by a code.</summary>
public sealed class WriteModel(ExerciseStore exercises, MachineStore machines, SheetLibrary library) : PageModel
{
    /// <summary>Letters and figures that are not taken for one another.</summary>
    private const string Letters = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";

    private const int CodeLength = 6;

    public IReadOnlyList<MachineRow> Machines { get; private set; } = [];

    [BindProperty]
    public long Machine { get; set; }

    [BindProperty]
    public string Text { get; set; } = "";

    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>What was kept, with its code.</summary>
    public ExerciseRow? Kept { get; private set; }

    public async Task OnGetAsync()
    {
        Machines = await machines.All();
        Text = """
            exercise "A joint behind the plug"
            sheet QS-5
            level 2
            teaches "drop under load"
            complaint "brush turns" weak
            story "What the operator says."
            fault X2:1 resists 5ohm
            lesson "What was to be learnt."
            """;
    }

    public async Task<IActionResult> OnPostAsync()
    {
        Machines = await machines.All();
        Text ??= "";
        var parsed = ExerciseText.Read(Text);
        Problems = [.. parsed.Problems.Select(p => $"Line {p.Line}: {p.Message} {p.Suggestion}".Trim())];
        if (parsed.Value is not { } exercise)
            return Page();
        if (
            await machines.Find(Machine) is not { } machine
            || await machines.Sheet(machine.SheetId) is not { } row
            || library.Get(row.Text).Value is not { } sheet
        )
        {
            Problems = ["Choose the machine that it happens on."];
            return Page();
        }
        Problems = [.. ExerciseText.Against(exercise, sheet.Circuit), .. NotShown(exercise, sheet)];
        if (Problems.Count > 0)
            return Page();
        var kept = new ExerciseRow
        {
            Code = RandomNumberGenerator.GetString(Letters, CodeLength),
            Title = exercise.Title,
            Machine = machine.Name,
            Level = exercise.Level,
            Skills = string.Join('\n', exercise.Skills),
            Text = ExerciseText.Write(exercise),
            SheetText = row.Text,
            Author = Author.Name(HttpContext),
        };
        if (await exercises.Add(kept) is null)
            Problems = ["Try once more: that code was taken."];
        else
            Kept = kept;
        return Page();
    }

    /// <summary>Said where the machine, with what is hidden in it, does not show what is complained of.</summary>
    private static IEnumerable<string> NotShown(Exercise exercise, ReadySheet sheet)
    {
        if (exercise.Faults.Count == 0)
            yield break;
        var run = ExerciseRun.Follow(exercise, sheet.Space, []);
        if (run.Complaint is not { } complaint)
            yield return $"No setting of the controls makes “{exercise.Function}” due.";
        else if (Core.Metering.Meter.Read(run.Machine, complaint.Test, run.Hidden).Text is var shown && shown != Wanted(exercise))
            yield return $"With that fault “{exercise.Function}” is {shown}, and not {exercise.Seen}.";
    }

    private static string Wanted(Exercise e) =>
        e.Seen switch
        {
            "stuck-on" => "works",
            "flickers" => "dead",
            _ => e.Seen,
        };
}
