using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Notation;
using Zoltric.Core.Patterns;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Start;

/// <summary>A machine that has no sheet yet: one spoken line, a pattern, a wire list, or an empty sheet.</summary>
public sealed class IndexModel(MachineStore machines, SheetLibrary library, JobDesk desk, TimeProvider clock) : PageModel
{
    [BindProperty]
    public string? Line { get; set; }

    [BindProperty]
    public string? Volts { get; set; } = "12";

    [BindProperty]
    public string? Machine { get; set; }

    /// <summary>Well under what is read of an address, 8 KB.</summary>
    private const int MostAddress = 6000;

    [BindProperty]
    public string? Complaint { get; set; }

    /// <summary>Pattern whose values are asked for.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Pattern { get; set; }
    public Pattern? Chosen { get; private set; }

    /// <summary>What was said of it, by key; it stands there again where it could not be taken.</summary>
    public IReadOnlyDictionary<string, string> Values { get; private set; } = new Dictionary<string, string>();
    public Problem? Problem { get; private set; }

    public void OnGet() => Chosen = Find(Pattern);

    private static Pattern? Find(string? name) => Core.Patterns.Pattern.All.FirstOrDefault(p => p.Name == name);

    /// <summary>The spoken line becomes a machine, a sheet and a job.</summary>
    public async Task<IActionResult> OnPostRouteAsync(bool look)
    {
        if (
            !double.TryParse(Volts?.Replace(',', '.').TrimEnd('V', 'v', ' '), CultureInfo.InvariantCulture, out var volts)
            || volts is <= 0 or > 1000
        )
        {
            Problem = new Problem(Severity.Error, 1, 1, "The supply is a number of volts between 1 and 1000.", Volts);
            return Page();
        }
        var name = string.IsNullOrWhiteSpace(Machine)
            ? $"Machine of {clock.GetLocalNow().ToString("d MMM, HH:mm:ss", CultureInfo.InvariantCulture)}"
            : Machine.Trim();
        var read = QuickRoute.Read(Line ?? "", volts, name);
        if (read.Value is not { } text)
        {
            Problem = read.Problems[0];
            return Page();
        }
        return look
            ? Look(
                new
                {
                    route = Line,
                    volts = volts.ToString(CultureInfo.InvariantCulture),
                    machine = name,
                }
            )
            : await Keep(name, text);
    }

    /// <summary>The pattern with its values becomes a machine and a sheet, and the job on its first function when asked.</summary>
    public async Task<IActionResult> OnPostPatternAsync(Dictionary<string, string> values, bool look)
    {
        if (Find(Pattern) is not { } pattern)
            return NotFound();
        (Chosen, Values) = (pattern, values);
        if (look)
            return Look(
                new RouteValueDictionary(
                    values
                        .Select(v => new KeyValuePair<string, object?>("v." + v.Key, v.Value))
                        .Append(new("pattern", pattern.Name))
                        .ToDictionary()
                )
            );
        var text = pattern.Fill(values);
        var parsed = SheetReader.Read(text);
        if (!parsed.Ok)
        {
            Problem = parsed.Problems[0];
            return Page();
        }
        return await Keep(parsed.Value!.Machine ?? pattern.Name, text);
    }

    /// <summary>The sheet of what was said, to look at before it is kept; it goes there as an address, which has an end.</summary>
    private IActionResult Look(object said)
    {
        var address = Url.Page("/Sheet/Index", said)!;
        if (address.Length <= MostAddress)
            return LocalRedirect(address);
        Problem = new Problem(Severity.Error, 1, 1, "That is too much to look at first. Trace at once, or write it as a sheet.", null);
        return Page();
    }

    private async Task<IActionResult> Keep(string name, string text)
    {
        if (library.Get(text).Value is not { } sheet)
        {
            Problem = SheetReader.Read(text).Problems[0];
            return Page();
        }
        if ((await machines.All()).Any(m => m.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
        {
            Problem = new Problem(
                Severity.Error,
                1,
                1,
                $"There is a machine “{name}” already.",
                name,
                null,
                "give this one another name, or correct the sheet of the other"
            );
            return Page();
        }
        var id = await machines.Keep(name, sheet.Circuit.Family, "Saltmarrow Works", text);
        var (job, problem) = await desk.Start(
            (await machines.Find(id))!,
            sheet,
            ComplaintMatch.Find(Complaint, sheet.Circuit) ?? sheet.Circuit.Functions[0],
            null,
            Complaint,
            Author.Name(HttpContext)
        );
        return problem is null ? RedirectToPage("/Trace/Index", new { id = job }) : RedirectToPage("/Sheet/Index", new { id });
    }
}
