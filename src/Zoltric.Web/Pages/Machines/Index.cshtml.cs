using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Machines;

public sealed class IndexModel(MachineStore machines, JobStore jobs) : PageModel
{
    public IReadOnlyList<(MachineRow Machine, int Closed, int Open)> All { get; private set; } = [];

    public async Task OnGetAsync()
    {
        var counts = await jobs.Counts();
        All = [.. (await machines.All()).Select(m => (m, counts.GetValueOrDefault(m.Id).Closed, counts.GetValueOrDefault(m.Id).Open))];
    }
}
