using System.Globalization;
using System.Text;
using CsvHelper;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.Trainer;

/// <summary>Each learner by skill, for who teaches them; and every ended run as a table.</summary>
public sealed class GroupModel(ExerciseStore exercises) : PageModel
{
    public IReadOnlyList<string> Skills { get; private set; } = [];

    /// <summary>By learner and skill: exercises solved at the last try, of those tried.</summary>
    public IReadOnlyList<(string Learner, IReadOnlyList<(int Solved, int Tried)> Each)> Learners { get; private set; } = [];

    /// <summary>In a workshop learners see their own progress only.</summary>
    private bool MaySee => !Author.IsProved(HttpContext) || User.IsInRole(Workshop.Lead) || User.IsInRole("instructor");

    public async Task<IActionResult> OnGetAsync()
    {
        if (!MaySee)
            return StatusCode(StatusCodes.Status403Forbidden);
        var all = await exercises.All();
        Skills = [.. all.SelectMany(e => e.SkillList).Distinct()];
        Learners =
        [
            .. (await exercises.Runs(null))
                .Where(r => r.EndedAt is not null)
                .GroupBy(r => r.Learner)
                .OrderBy(g => g.Key, StringComparer.OrdinalIgnoreCase)
                .Select(g =>
                {
                    var last = g.GroupBy(r => r.ExerciseId).ToDictionary(x => x.Key, x => x.Last());
                    return (
                        g.Key,
                        (IReadOnlyList<(int, int)>)
                            [
                                .. Skills.Select(s =>
                                    all.Where(e => e.SkillList.Contains(s) && last.ContainsKey(e.Id)).ToList() is var tried
                                        ? (tried.Count(e => last[e.Id].Right), tried.Count)
                                        : (0, 0)
                                ),
                            ]
                    );
                }),
        ];
        return Page();
    }

    public async Task<IActionResult> OnGetCsvAsync()
    {
        if (!MaySee)
            return StatusCode(StatusCodes.Status403Forbidden);
        var titles = (await exercises.All()).ToDictionary(e => e.Id);
        await using var text = new StringWriter(CultureInfo.InvariantCulture);
        await using (var csv = new CsvWriter(text, CultureInfo.InvariantCulture))
        {
            foreach (
                var head in new[]
                {
                    "learner",
                    "exercise",
                    "machine",
                    "started",
                    "ended",
                    "found",
                    "stopped",
                    "minutes",
                    "parts in vain",
                    "sure",
                }
            )
                csv.WriteField(head);
            await csv.NextRecordAsync();
            foreach (var r in (await exercises.Runs(null)).Where(r => r.EndedAt is not null && titles.ContainsKey(r.ExerciseId)))
            {
                csv.WriteField(r.Learner);
                csv.WriteField(titles[r.ExerciseId].Title);
                csv.WriteField(titles[r.ExerciseId].Machine);
                csv.WriteField(r.StartedAt);
                csv.WriteField(r.EndedAt);
                csv.WriteField(r.Right ? "yes" : "no");
                csv.WriteField(r.Stopped ? "yes" : "no");
                csv.WriteField(r.Minutes.ToString("0.#", CultureInfo.InvariantCulture));
                csv.WriteField(r.InVain.ToString("0.##", CultureInfo.InvariantCulture));
                csv.WriteField(r.Sure?.ToString("0.##", CultureInfo.InvariantCulture));
                await csv.NextRecordAsync();
            }
        }
        return File(Encoding.UTF8.GetBytes(text.ToString()), "text/csv", "exercises.csv");
    }
}
