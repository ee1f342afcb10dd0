using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Instruments;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Scopes;
using Zoltric.Instruments.StandIns;
using Zoltric.Store;
using Zoltric.Web.Api;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Captures;

/// <summary>What instruments wrote over time for a job: files brought in.</summary>
[RequestSizeLimit(IndexModel.MostBytes + (1 << 20))]
[RequestFormLimits(MultipartBodyLengthLimit = IndexModel.MostBytes + (1 << 20))]
public sealed class IndexModel(JobDesk desk, CaptureStore captures, SimulatedBench bench) : PageModel
{
    /// <summary>Two million instants of four channels stay under this.</summary>
    public const long MostBytes = 96L << 20;

    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public JobView View { get; private set; } = null!;
    public IReadOnlyList<CaptureRow> Kept { get; private set; } = [];
    public string? Problem { get; private set; }
    public string Setup { get; private set; } = "";

    /// <summary>Where the instrument is, as it was last said.</summary>
    public string Address { get; private set; } = "";

    /// <summary>True where a machine that is not there can be watched: the demo is served, and the sheet is of direct current.</summary>
    public bool MaySimulate => bench.IsThere && !View.Sheet.Machine.IsAlternating;

    /// <summary>What is proposed to be watched: the supply while the job's function is asked for.</summary>
    public WatchForm Watched { get; private set; } = WatchForm.Nothing;

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
        return id is null ? Said(JobDesk.IsClosed) : RedirectToPage("/Captures/One", new { Id, capture = id });
    }

    /// <summary>Fetches what an instrument for waveforms holds.</summary>
    public async Task<IActionResult> OnPostFetchAsync(string? address, string? setup)
    {
        if (!await Fill())
            return NotFound();
        (Address, Setup) = (address?.Trim() ?? "", setup?.Trim() ?? "");
        if (JobDesk.MayWrite(View, Author.Name(HttpContext), Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (Setup.Length > 0 && WhyNoSetup(View, Setup) is { } wrong)
            return Said(wrong);
        return await Fetch(Address, Setup, null);
    }

    /// <summary>Lets the simulated machine go through it with the stand-in's channels on, and fetches that.</summary>
    public async Task<IActionResult> OnPostWatchAsync(WatchForm form)
    {
        if (!await Fill())
            return NotFound();
        Watched = form ?? WatchForm.Nothing;
        if (JobDesk.MayWrite(View, Author.Name(HttpContext), Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (!MaySimulate)
            return Said("Over time only machines of direct current are simulated, and only where the demo is served.");
        var (watch, why) = Watched.Read(View.Circuit);
        if (watch is null)
            return Said(why!);
        if (bench.Of(Id) is null && !bench.Take(View, null))
            return Said("The readings leave no fault to hide: there is no machine to simulate.");
        bench.Lay(watch);
        return await Fetch(bench.DigitizerAddress, Watched.Then ?? "", watch);
    }

    /// <param name="watch">What the channels lie on, where it is known; then the instrument is armed first.</param>
    private async Task<IActionResult> Fetch(string address, string setup, Watch? watch)
    {
        var (there, why) = InstrumentAddress.Read(address);
        if (there is null)
            return Said(why!);
        var stop = HttpContext.RequestAborted;
        HttpContext.WaitsOutside();
        try
        {
            await using var scope = await ScpiDigitizer.Open(await there.Open(stop), stop);
            if (watch is not null)
                await scope.Arm(stop);
            var capture = await scope.Fetch(stop);
            var id = await captures.Add(
                Id,
                $"{scope.Name}, {(setup.Length > 0 ? setup : "at rest")}" is var name && name.Length > 80 ? name[..80] : name,
                setup,
                KeptCapture.Write(capture.Channels.Select((c, i) => SaidOf(c, watch?.Channels.ElementAtOrDefault(i)))),
                CaptureFile.Write(capture),
                Author.Name(HttpContext)
            );
            return id is null ? Said(JobDesk.IsClosed) : RedirectToPage("/Captures/One", new { Id, capture = id });
        }
        catch (InstrumentException e)
        {
            return Said($"Not kept. {e.Message}");
        }
    }

    private static ChannelSaid SaidOf(CaptureChannel channel, Probe? on) =>
        on is null ? new ChannelSaid(channel.Name, "", 1)
        : on is Probe.Clamp ? new ChannelSaid(channel.Name, on.ToString()!, 1 / ScpiDigitizerStandIn.ClampVoltsPerAmp)
        : new ChannelSaid(channel.Name, on.ToString()!, 1);

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
        Watched = WatchForm.For(view.Circuit, Complaint.FunctionOf(view.Circuit, view.Readings));
        return true;
    }
}
