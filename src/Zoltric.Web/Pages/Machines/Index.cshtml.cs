using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Machines;

public sealed class IndexModel(MachineStore machines, JobStore jobs) : PageModel
{
    private const int Most = 200;

    /// <summary>Words by which machines are looked for.</summary>
    [BindProperty(SupportsGet = true), StringLength(200)]
    public string? Words { get; set; }

    public IReadOnlyList<(MachineRow Machine, int Closed, int Open)> Found { get; private set; } = [];
    public long Count { get; private set; }

    public async Task OnGetAsync()
    {
        var counts = await jobs.Counts();
        (var found, Count) = await machines.Search(Words, Most);
        Found = [.. found.Select(m => (m, counts.GetValueOrDefault(m.Id).Closed, counts.GetValueOrDefault(m.Id).Open))];
    }
}
