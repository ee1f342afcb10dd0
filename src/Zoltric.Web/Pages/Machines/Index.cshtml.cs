using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Machines;

public sealed class IndexModel(MachineStore machines, JobStore jobs) : PageModel
{
    public IReadOnlyList<(MachineRow Machine, int Closed, int Open)> All { get; private set; } = [];

    public async Task OnGetAsync()
    {
        var all = (await jobs.All()).ToLookup(j => j.MachineId);
        All =
        [
            .. (await machines.All()).Select(m =>
                (m, all[m.Id].Count(j => j.ClosedAt is not null), all[m.Id].Count(j => j.ClosedAt is null))
            ),
        ];
    }
}
