using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Checking;
using Zoltric.Core.Notation;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Sheet;

[RequestFormLimits(ValueLengthLimit = 8 * 1024 * 1024)]
public sealed class IndexModel(MachineStore machines) : PageModel
{
    private const string Start = """
        sheet "what this circuit does"
        machine "name of the machine"
        nominal 12V dc
        drawn from traced

        control key: OFF*, RUN

        part G1 battery 12V
        part F1 fuse 10A at "fuse panel"
        part S1 switch "key switch" at "dash"
          closed 1-2 when key=RUN
        part H1 lamp 12V 21W at "roof"

        path G1.+ - F1 - S1 - H1 - G1.-

        function "lamp lights": H1 when key=RUN
        """;

    [BindProperty(SupportsGet = true)] public long? Id { get; set; }
    [BindProperty] public string? Text { get; set; }
    public MachineRow? Machine { get; private set; }
    public IReadOnlyList<Problem> Problems { get; private set; } = [];
    public string? Said { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill()) return NotFound();
        Text = Machine is null ? Start : (await machines.Sheet(Machine.SheetId))!.Text;
        return Page();
    }

    public async Task<IActionResult> OnPostCheckAsync()
    {
        if (!await Fill()) return NotFound();
        if (Judge() is not null) Said = Problems.Count == 0 ? "Reads well, and every function works in its own state." : "It can be used as it is; look at the warnings.";
        return Page();
    }

    public async Task<IActionResult> OnPostKeepAsync()
    {
        if (!await Fill()) return NotFound();
        if (Judge() is not { } circuit) return Page();
        var name = Machine?.Name ?? circuit.Machine ?? circuit.Title;
        var id = await machines.Keep(name, circuit.Family, Machine?.Site ?? "Saltmarrow Works", Text!);
        return Machine is null ? RedirectToPage(new { id }) : RedirectToPage("/Bench/Index");
    }

    /// <summary>The circuit when nothing stands against it; else null with the problems.</summary>
    private Core.Circuits.Circuit? Judge()
    {
        Text = (Text ?? "").ReplaceLineEndings("\n");
        var parsed = SheetReader.Read(Text);
        Problems = parsed.Ok ? [.. parsed.Problems, .. SheetChecker.Check(parsed.Value!, Text)] : parsed.Problems;
        return Problems.Any(p => p.Severity == Severity.Error) ? null : parsed.Value;
    }

    private async Task<bool> Fill()
    {
        if (Id is not { } id) return true;
        Machine = await machines.Find(id);
        return Machine is not null;
    }
}
