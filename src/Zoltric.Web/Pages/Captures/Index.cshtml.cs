using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Notation;
using Zoltric.Instruments.Captures;
using Zoltric.Store;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Captures;

/// <summary>What instruments wrote over time for a job: files brought in.</summary>
[RequestSizeLimit(IndexModel.MostBytes + (1 << 20))]
[RequestFormLimits(MultipartBodyLengthLimit = IndexModel.MostBytes + (1 << 20))]
public sealed class IndexModel(JobDesk desk, CaptureStore captures) : PageModel
{
    /// <summary>Two million instants of four channels stay under this.</summary>
    public const long MostBytes = 96L << 20;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;
    public IReadOnlyList<CaptureRow> Kept { get; private set; } = [];
    public string? Problem { get; private set; }
    public string Setup { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync(IFormFile? file, string? setup)
    {
        if (!await Fill())
            return NotFound();
        Setup = setup?.Trim() ?? "";
        if (JobDesk.MayWrite(View, Author.Name(HttpContext), Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (file is not { Length: > 0 })
            return Said("Choose the file that the instrument wrote: CSV, time and channels in columns.");
        if (file.Length > MostBytes)
            return Said($"That file has {file.Length >> 20} MB; a capture is under {MostBytes >> 20} MB. Save a shorter stretch.");
        if (Setup.Length > 0 && WhyNoSetup(View, Setup) is { } wrong)
            return Said(wrong);
        using var reader = new StreamReader(file.OpenReadStream());
        var text = await reader.ReadToEndAsync();
        var (capture, why) = CaptureFile.Read(text);
        if (capture is null)
            return Said($"Not kept. {why}");
        var id = await captures.Add(
            Id,
            Path.GetFileNameWithoutExtension(file.FileName) is { Length: > 0 } n ? n[..Math.Min(n.Length, 80)] : "capture",
            Setup,
            KeptCapture.Write(capture.Channels.Select(c => new ChannelSaid(c.Name, "", 1))),
            text,
            Author.Name(HttpContext)
        );
        return RedirectToPage("/Captures/One", new { Id, capture = id });
    }

    /// <summary>What is wrong with a setup; null where it is understood.</summary>
    internal static string? WhyNoSetup(JobView view, string setup)
    {
        var read = ReadingReader.Read(view.Circuit, $"{setup} : V {view.Circuit.ReferencePoint} = 0V");
        return read.Value is null ? $"“{setup}” is no setup: {read.Problems[0].Message}" : null;
    }

    private PageResult Said(string why)
    {
        Problem = why;
        return Page();
    }

    private async Task<bool> Fill()
    {
        if (await desk.Load(Id) is not { } view)
            return false;
        (View, Kept) = (view, await captures.All(Id));
        Setup = view.InHand.ToString();
        return true;
    }
}
