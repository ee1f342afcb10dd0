using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Drawing;
using Zoltric.Instruments.Captures;
using Zoltric.Store;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Captures;

/// <summary>One capture: drawn, measured, laid over an earlier one, and its figures kept as readings.</summary>
public sealed class OneModel(JobDesk desk, CaptureStore captures) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public long Capture { get; set; }

    /// <summary>A capture laid under this one for comparison.</summary>
    [BindProperty(SupportsGet = true)]
    public long? With { get; set; }

    /// <summary>Dropouts are looked for below so many volts, longer than so many milliseconds.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Below { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Longer { get; set; }

    public JobView View { get; private set; } = null!;
    public KeptCapture Kept { get; private set; } = null!;
    public KeptCapture? Earlier { get; private set; }
    public IReadOnlyList<CaptureRow> Others { get; private set; } = [];
    public string? Problem { get; private set; }
    public double Level { get; private set; }
    public double Milliseconds { get; private set; } = 10;

    public string Chart =>
        CaptureChart.Svg(
            [
                .. Traces(Kept, false),
                .. Earlier is null ? [] : Traces(Earlier, true).Where(t => Kept.Capture.Channels.Any(c => c.Unit == t.Unit)),
            ],
            Kept.ChartMarks
        );

    private static IEnumerable<ChartTrace> Traces(KeptCapture kept, bool earlier) =>
        kept.Capture.Channels.Select(c => new ChartTrace(c.Name, c.Unit, kept.Capture.Seconds, c.Values, earlier));

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    /// <summary>The file as it came.</summary>
    public async Task<IActionResult> OnGetFileAsync() =>
        await captures.Find(Capture) is { } row && row.JobId == Id && await captures.Text(Capture) is { } text
            ? File(System.Text.Encoding.UTF8.GetBytes(text), "text/csv", row.Name + ".csv")
            : NotFound();

    /// <param name="on">Probe of each channel.</param>
    /// <param name="per">Factor of each.</param>
    public async Task<IActionResult> OnPostSayAsync(string? setup, string[] on, string[] per)
    {
        if (!await Fill())
            return NotFound();
        if (JobDesk.MayWrite(View, Author.Name(HttpContext), Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        setup = setup?.Trim() ?? "";
        if (setup.Length > 0 && IndexModel.WhyNoSetup(View, setup) is { } wrong)
            return Said(wrong);
        var said = new List<ChannelSaid>();
        for (var i = 0; i < Kept.Said.Count; i++)
        {
            var probe = i < on.Length ? on[i]?.Trim() ?? "" : "";
            if (probe.Length > 0 && WhyNoProbe(probe) is { } why)
                return Said(why);
            var written = (i < per.Length ? per[i] ?? "" : "").Trim().Replace(',', '.');
            if (
                !double.TryParse(written, NumberStyles.Float, CultureInfo.InvariantCulture, out var factor)
                || !double.IsFinite(factor)
                || factor == 0
            )
                return Said($"“{written}” is no factor: 1 for volts as they are, 10 for a clamp of 100 mV an ampere.");
            said.Add(Kept.Said[i] with { On = probe, Per = factor });
        }
        return await captures.Say(Id, Capture, setup, KeptCapture.Write(said))
            ? RedirectToPage(new { Id, Capture })
            : Said(JobDesk.IsClosed);
    }

    /// <summary>Keeps one figure as a reading line of the job.</summary>
    public async Task<IActionResult> OnPostKeepAsync(string? line)
    {
        if (!await Fill())
            return NotFound();
        var me = Author.Name(HttpContext);
        if (JobDesk.MayWrite(View, me, Author.IsProved(HttpContext)) is { } may)
            return Said(may.Problem.Message);
        if (Kept.Lines(View.Circuit).FirstOrDefault(l => l.Line == line) is not { } figure)
            return Said("That figure is none of this capture.");
        if ((await desk.Add(View, figure.Line, me)).Refusal is { } refusal)
            return Said($"Not kept: {refusal.Problem.Message}");
        return RedirectToPage("/Trace/Index", new { Id });
    }

    private string? WhyNoProbe(string probe)
    {
        var read = ReadingReader.Read(View.Circuit, $": {probe} mean = 0{(probe.StartsWith('V') ? "V" : "A")}");
        return read.Value is null
            ? $"“{probe}” is nothing that a channel lies on: {read.Problems[0].Message} Write V and a point, or clamp and a wire."
            : null;
    }

    private PageResult Said(string why)
    {
        Problem = why;
        return Page();
    }

    private async Task<bool> Fill()
    {
        if (
            await desk.Load(Id) is not { } view
            || await captures.Find(Capture) is not { } row
            || row.JobId != Id
            || await Opened(row) is not { } kept
        )
            return false;
        (View, Kept) = (view, kept);
        Others = [.. (await captures.All(Id)).Where(c => c.Id != Capture), .. await captures.OfMachine(view.Job.MachineId, Id)];
        if (With is { } with && Others.FirstOrDefault(o => o.Id == with) is { } other)
            Earlier = await Opened(other);
        Level = Read(Below) ?? Math.Round(Sagged * Usual(view.Circuit.NominalVolts), 1);
        Milliseconds = Read(Longer) is { } ms and >= 0 ? ms : 10;
        return true;

        static double? Read(string? text) =>
            double.TryParse(text?.Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && double.IsFinite(v)
                ? v
                : null;
    }

    /// <summary>A supply that falls below this share of what it usually is has dropped out, until another level is said.</summary>
    private const double Sagged = 0.8;

    /// <summary>V: the machine's own volts, or what stands at most where a channel lies on less, as on one battery of two.</summary>
    private double Usual(double nominal)
    {
        var volts = Kept
            .Capture.Channels.Where(c => c.Unit == "V")
            .SelectMany(c => c.Values)
            .Where(double.IsFinite)
            .DefaultIfEmpty(nominal);
        return volts.Max() is > 0 and var most ? Math.Min(nominal, most) : nominal;
    }

    private async Task<KeptCapture?> Opened(CaptureRow row) => await captures.Text(row.Id) is { } text ? KeptCapture.Of(row, text) : null;

    /// <summary>Modules of the sheet that fall asleep within a minute of where a stage begins.</summary>
    public IEnumerable<string> AsleepAt(DrainStage stage)
    {
        ArgumentNullException.ThrowIfNull(stage);
        return View
            .Circuit.Parts.Where(p =>
                p.ModuleLines.OfType<ModuleLine.Sleeps>().Any(s => Math.Abs(s.AfterSeconds - stage.From) <= AboutThen && stage.From > 0)
            )
            .Select(p => p.Spoken);
    }

    private const double AboutThen = 60;

    /// <summary>False for what never comes up to the level, as a clamp's millivolts: it does not drop out.</summary>
    public bool Reaches(CaptureChannel channel)
    {
        ArgumentNullException.ThrowIfNull(channel);
        return Array.Exists(channel.Values, v => v >= Level);
    }

    /// <summary>Stretches of a channel of volts below the level.</summary>
    public IReadOnlyList<Dropout> Dropouts(CaptureChannel channel)
    {
        ArgumentNullException.ThrowIfNull(channel);
        return channel.Unit == "V" ? Measures.Below(Kept.Capture.Seconds, channel.Values, Level, Milliseconds / 1000) : [];
    }
}
