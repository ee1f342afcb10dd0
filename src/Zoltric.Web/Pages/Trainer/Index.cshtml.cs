using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Training;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Trainer;

/// <summary>An exercise with how this learner stands with it.</summary>
public sealed record OfferedExercise(ExerciseRow Row, IReadOnlyList<ExerciseRunRow> Ended, long? Open, bool Due);

/// <summary>The exercises, what is due, and how far one has got.</summary>
public sealed class IndexModel(ExerciseStore exercises, TimeProvider clock) : PageModel
{
    public IReadOnlyList<OfferedExercise> Offered { get; private set; } = [];

    /// <summary>By skill: exercises that teach it, and those whose last run was right.</summary>
    public IReadOnlyList<(string Skill, int All, int Solved)> Skills { get; private set; } = [];
    public string? Problem { get; private set; }

    public string Me => Author.Name(HttpContext);

    public Task OnGetAsync() => Fill();

    /// <summary>The exercise that an instructor gave the code of.</summary>
    public async Task<IActionResult> OnPostCodeAsync(string? code)
    {
        if (await exercises.Find(code?.Trim() ?? "") is { } row)
            return await OnPostStartAsync(row.Id);
        Problem = $"There is no exercise “{code}”.";
        await Fill();
        return Page();
    }

    public async Task<IActionResult> OnPostStartAsync(long exercise) =>
        await exercises.Find(exercise) is null
            ? NotFound()
            : RedirectToPage("/Trainer/Run", new { id = await exercises.Start(exercise, Me) });

    private async Task Fill()
    {
        var (all, runs, now) = (await exercises.All(), (await exercises.Runs(Me)).ToLookup(r => r.ExerciseId), clock.GetUtcNow());
        Offered =
        [
            .. all.Select(e =>
            {
                var ended = runs[e.Id].Where(r => r.EndedAt is not null).ToList();
                return new OfferedExercise(
                    e,
                    ended,
                    runs[e.Id].LastOrDefault(r => r.EndedAt is null)?.Id,
                    Progress.DaysUntilDue([.. ended.Select(r => r.Right)]) is { } days && EndOf(ended[^1]).AddDays(days) <= now
                );
            }),
        ];
        Skills =
        [
            .. Offered
                .SelectMany(o => o.Row.SkillList.Select(s => (Skill: s, Solved: o.Ended is [.., { Right: true }])))
                .GroupBy(x => x.Skill)
                .Select(g => (g.Key, g.Count(), g.Count(x => x.Solved))),
        ];
    }

    private static DateTimeOffset EndOf(ExerciseRunRow run) => DateTimeOffset.Parse(run.EndedAt!, CultureInfo.InvariantCulture);
}
