using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Store;
using Zoltric.Web.Import;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Pages.Machines;

public sealed class MachineModel(MachineStore machines, JobStore jobs, LogbookStore logbook, PlaceStore places, SheetLibrary library)
    : PageModel
{
    private const int MostBytes = 8 * 1024 * 1024;

    public MachineRow Machine { get; private set; } = null!;
    public IReadOnlyList<(string Place, IReadOnlyList<Part> Parts, double Reach)> Places { get; private set; } = [];
    public IReadOnlyList<string> Pictures { get; private set; } = [];
    public IReadOnlyList<LogbookRow> History { get; private set; } = [];

    /// <summary>Closed jobs on it; <see cref="History"/> holds the newest of them.</summary>
    public int ClosedCount { get; private set; }
    public IReadOnlyList<JobRow> Open { get; private set; } = [];
    public IReadOnlyList<(string What, int Count)> Fails { get; private set; } = [];
    public IReadOnlyList<SheetRow> Sheets { get; private set; } = [];
    public IReadOnlyList<string> Functions { get; private set; } = [];
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync(long id) => await Fill(id) ? Page() : NotFound();

    public async Task<IActionResult> OnGetPictureAsync(long id, string place) =>
        await places.Read(id, place) is { } p && JobFileReader.Types.Contains(p.Type) ? File(p.Data, p.Type) : NotFound();

    public async Task<IActionResult> OnPostPictureAsync(long id, string? place, IFormFile? picture)
    {
        if (!await Fill(id))
            return NotFound();
        if (Places.All(p => p.Place != place))
            Problem = "There is no such place on the sheet.";
        else if (picture is not { Length: > 0 })
            Problem = "There is no picture.";
        else if (picture.Length > MostBytes)
            Problem = "The picture is larger than 8 MB.";
        else if (!picture.ContentType.StartsWith("image/", StringComparison.Ordinal) || !JobFileReader.Types.Contains(picture.ContentType))
            Problem = "Pictures are JPEG, PNG or WebP.";
        if (Problem is not null)
            return Page();
        using var bytes = new MemoryStream();
        await picture!.CopyToAsync(bytes);
        if (!JobFileReader.IsWhatItSays(picture.ContentType, bytes.ToArray()))
        {
            Problem = $"{Path.GetFileName(picture.FileName)} is no picture of the type that its name says.";
            return Page();
        }
        if (PictureCopy.Of(picture.ContentType, bytes.ToArray()) is not { } copy)
        {
            Problem = $"{Path.GetFileName(picture.FileName)} cannot be read as a picture, or has too many points.";
            return Page();
        }
        await places.Keep(id, place!, picture.ContentType, copy, Author.Name(HttpContext));
        return RedirectToPage(new { id });
    }

    private async Task<bool> Fill(long id)
    {
        if (await machines.Find(id) is not { } machine)
            return false;
        Machine = machine;
        Sheets = await machines.Sheets(id);
        if (library.Get(Sheets[0].Text).Value is { } sheet)
        {
            Functions = [.. sheet.Circuit.Functions.Select(f => f.Name)];
            Places =
            [
                .. sheet
                    .Circuit.Parts.GroupBy(p => p.Place ?? "place not said")
                    .Select(g => (g.Key, (IReadOnlyList<Part>)[.. g], g.Max(p => p.ReachMinutes)))
                    .OrderBy(p => p.Item3)
                    .ThenBy(p => p.Key),
                .. sheet
                    .Circuit.Parts.Where(p => p.Kind is PinRow { ComesApart: true })
                    .Select(p => (PlacePictures.FaceOf(p), (IReadOnlyList<Part>)[p], p.ReachMinutes)),
            ];
        }
        Pictures = await places.Places(id);
        History = await logbook.OfMachine(id);
        Open = [.. (await jobs.Opened()).Where(j => j.MachineId == id)];
        ClosedCount = (await jobs.Counts()).GetValueOrDefault(id).Closed;
        Fails =
        [
            .. History
                .Where(j => j.Fault.Length > 0)
                .GroupBy(j => j.Fault.Split(' ', 2)[0])
                .Select(g => (g.Key, g.Count()))
                .OrderByDescending(f => f.Item2)
                .ThenBy(f => f.Key)
                .Take(12),
        ];
        return true;
    }
}
