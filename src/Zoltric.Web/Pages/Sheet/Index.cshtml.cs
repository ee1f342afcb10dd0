using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Checking;
using Zoltric.Core.Figures;
using Zoltric.Core.Notation;
using Zoltric.Core.Patterns;
using Zoltric.Drawing.Schematic;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Sheet;

[RequestFormLimits(ValueLengthLimit = 8 * 1024 * 1024)]
public sealed class IndexModel(MachineStore machines, JobDesk desk) : PageModel
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

    [BindProperty(SupportsGet = true)]
    public long? Id { get; set; }

    [BindProperty]
    public string? Text { get; set; }

    /// <summary>Version of the machine's sheet that the text was made out of; 0 for a new machine.</summary>
    [BindProperty]
    public long Basis { get; set; }

    /// <summary>True when somebody else has kept a version meanwhile: the text here is not kept yet.</summary>
    public bool Overtaken { get; private set; }

    /// <summary>The version that both texts were made out of.</summary>
    public long Common { get; private set; }

    /// <summary>A job that waits for the corrected sheet.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Job { get; set; }

    /// <summary>A spoken line, or a pattern's name, to start from.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Route { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Pattern { get; set; }

    /// <summary>A bench of figures whose proposal for a part is drawn in, to be looked at and kept.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Draft { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Part { get; set; }
    public string Drawing { get; private set; } = "";
    public MachineRow? Machine { get; private set; }
    public IReadOnlyList<Problem> Problems { get; private set; } = [];
    public string? Said { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill())
            return NotFound();
        Text = Machine is not null ? (await machines.Sheet(Machine.SheetId))!.Text : StartText();
        Basis = Machine?.Version ?? 0;
        if (
            SheetReader.Read(Text).Value is { } circuit
            && FigureSheet.All.TryGetValue(Draft ?? "", out var figures)
            && circuit.FindPart(Part ?? "") is { } part
            && figures.Drawn(circuit, part, Text) is { Sheet: { } with } draft
        )
            (Text, Said) = (with, $"Drawn in, not kept yet: {draft.Does}. {draft.Says}");
        Draw(SheetReader.Read(Text).Value);
        return Page();
    }

    private string StartText()
    {
        if (
            Route is { Length: > 0 } line
            && QuickRoute
                .Read(
                    line,
                    double.TryParse(Request.Query["volts"], System.Globalization.CultureInfo.InvariantCulture, out var v) ? v : 12,
                    Request.Query["machine"]
                )
                .Value
                is { } route
        )
            return route;
        if (Core.Patterns.Pattern.All.FirstOrDefault(p => p.Name == Pattern) is { } pattern)
            return pattern.Fill(
                Request
                    .Query.Where(q => q.Key.StartsWith("v.", StringComparison.Ordinal))
                    .ToDictionary(q => q.Key[2..], q => q.Value.ToString())
            );
        return Start;
    }

    private void Draw(Core.Circuits.Circuit? circuit) =>
        Drawing = circuit is null ? "" : PageSvg.Write(PageLayout.Of(circuit), new PageOptions { Id = "sheet-svg" });

    /// <summary>Problems and drawing of the text as it stands, while it is typed.</summary>
    public IActionResult OnPostLive()
    {
        var circuit = Judge();
        var parsed = circuit ?? SheetReader.Read(Text ?? "").Value;
        Draw(parsed);
        return new JsonResult(
            new
            {
                problems = Problems
                    .Take(200)
                    .Select(p => new
                    {
                        line = p.Line,
                        column = p.Column,
                        severity = p.Severity == Severity.Error ? "error" : "warning",
                        message = p.Message,
                        found = p.Found?.Trim('“', '”'),
                        suggestion = p.Suggestion,
                        replacement = Replacement(p),
                    }),
                svg = Drawing,
                counts = parsed is null
                    ? null
                    : $"{parsed.Parts.Count} parts, {parsed.Wires.Count} wires, {parsed.Functions.Count} "
                        + $"function{(parsed.Functions.Count == 1 ? "" : "s")}{(circuit is null ? "" : ": reads well")}",
            }
        );
    }

    /// <summary>The word itself that a suggestion offers in the place of what was found.</summary>
    private static string? Replacement(Problem p) =>
        p.Replacement is { } given ? given
        : p.Suggestion is { } s && p.Found is not null && s.StartsWith("did you mean ", StringComparison.Ordinal)
            ? s["did you mean ".Length..].TrimEnd('?', '.', ' ')
        : null;

    public IActionResult OnPostComplete(int at)
    {
        var found = Completion.At((Text ?? "").ReplaceLineEndings("\n"), at);
        return new JsonResult(new { from = found.From, options = found.Items.Select(i => new { label = i.Word, detail = i.Detail }) });
    }

    public async Task<IActionResult> OnPostCheckAsync()
    {
        if (!await Fill())
            return NotFound();
        if (Judge() is { } drawn)
            Draw(drawn);
        if (Problems.All(p => p.Severity != Severity.Error))
            Said =
                Problems.Count == 0
                    ? "Reads well, and every function works in its own state."
                    : "It can be used as it is; look at the warnings.";
        return Page();
    }

    public async Task<IActionResult> OnPostKeepAsync()
    {
        if (!await Fill())
            return NotFound();
        if (Judge() is not { } circuit)
            return Page();
        var name = Machine?.Name ?? circuit.Machine ?? circuit.Title;
        if (await machines.KeepOn(name, circuit.Family, Machine?.Site ?? "Saltmarrow Works", Text!, Basis) is not { } id)
        {
            Draw(circuit);
            if (Machine is null)
            {
                Said = $"There is a machine “{name}” already. Give this one another name on its machine line, or correct that one's sheet.";
                return Page();
            }
            (Overtaken, Said) = (
                true,
                $"Not kept yet: version {Machine.Version} was kept by somebody else while this one was written out of version {Basis}. "
                    + "Look at what they changed. Keeping again puts this text over it; theirs stays among the versions."
            );
            (Common, Basis) = (Basis, Machine.Version);
            ModelState.Remove(nameof(Basis));
            return Page();
        }
        if (Job is { } job && await desk.Load(job) is { } view)
        {
            // The job goes on with what was corrected, unless one of its readings would no longer be understood.
            var lost = await desk.TakeNewest(view, Author.Name(HttpContext));
            if (lost.Count == 0)
                return RedirectToPage("/Trace/Index", new { id = job });
            await Fill();
            Basis = Machine?.Version ?? 0;
            ModelState.Remove(nameof(Basis));
            Said =
                $"The sheet is kept. The job stays on its own version, because {lost.Count} of its readings would be lost: "
                + $"{string.Join(" ", lost.Select(l => l.Message).Distinct())}";
            Draw(circuit);
            return Page();
        }
        return RedirectToPage("/Circuit/Index", new { id });
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
        if (Id is not { } id)
            return true;
        Machine = await machines.Find(id);
        return Machine is not null;
    }
}
