using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Training;
using Zoltric.Drawing;
using Zoltric.Store;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Pages.Trainer;

/// <summary>The learner at work on a hidden fault, and after it the bill and the review.</summary>
public sealed class RunModel(ExerciseStore exercises, SheetLibrary library, MachineStore machines, PlaceStore places) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public long Id { get; set; }

    public ExerciseRunRow Row { get; private set; } = null!;
    public ExerciseRow Offered { get; private set; } = null!;
    public ReadySheet Sheet { get; private set; } = null!;
    public ExerciseRun Run { get; private set; } = null!;

    /// <summary>What was typed and not done.</summary>
    public string Typed { get; private set; } = "";

    public string? Problem { get; private set; }

    /// <summary>Who may act: the learner.</summary>
    public bool Mine => Row.Learner == Author.Name(HttpContext);

    /// <summary>What each reading told; only once it has ended.</summary>
    public IReadOnlyList<ReviewedReading> Reviewed => Run.Ended ? _reviewed ??= ExerciseReview.Readings(Run) : [];
    private IReadOnlyList<ReviewedReading>? _reviewed;

    public ExerciseBill Bill => ExerciseBill.Of(Run);

    /// <summary>The machine whose pictures are shown; 0 where none of that name is kept.</summary>
    public long MachineId { get; private set; }

    /// <summary>Places of it that have a picture, with the points that a tip can reach there.</summary>
    public IReadOnlyList<(string Place, IReadOnlyList<string> Points)> Pictures { get; private set; } = [];

    /// <summary>What a tip that is laid on by touch reads.</summary>
    public IReadOnlyList<(string Kind, string Name)> Dials =>
        [
            .. Sheet.Machine.IsAlternating ? new[] { ("VAC", "Volts AC"), ("V", "Volts DC") } : [("V", "Volts")],
            .. Run.Exercise.Without.Contains("ohms") ? Array.Empty<(string, string)>() : [("ohm", "Ohms")],
            .. Run.Exercise.Without.Contains("lamp") ? Array.Empty<(string, string)>() : [("lamp", "Test lamp")],
        ];

    /// <summary>What can be done beside measuring, with a line of this machine for each.</summary>
    public IReadOnlyList<(string What, string Line)> Ways
    {
        get
        {
            var circuit = Sheet.Circuit;
            var (setup, sees) = (Run.Complaint?.Test.Setup.ToString() ?? "", $"sees \"{Run.Exercise.Function}\"");
            string With(string done) => setup.Length > 0 ? $"{done}, {setup} : {sees}" : $"{done} : {sees}";
            var ways = new List<(string, string)> { ("try it", $"{setup} : {sees}".Trim()) };
            if (circuit.Parts.Where(p => p.Kind is Relay).ToList() is [var a, var b, ..])
                ways.Add(("swap two relays and try it", With($"swap {a.Tag} {b.Tag}")));
            if (circuit.Parts.FirstOrDefault(p => p.Kind is Fuse) is { } fuse)
                ways.Add(("pull a fuse", $"pull {fuse.Tag} : ohm {fuse.Tag}"));
            if (circuit.Parts.FirstOrDefault(p => p.Kind is PinRow { ComesApart: true }) is { } plug)
                ways.Add(("part a plug", With($"unplug {plug.Tag}")));
            if (circuit.Parts.Select(p => p.Place).FirstOrDefault(p => p is not null) is { } place)
                ways.Add(("move a loom", With($"move \"{place}\"")));
            return ways;
        }
    }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!await Fill())
            return NotFound();
        if ((await machines.All()).FirstOrDefault(m => m.Name == Offered.Machine) is not { } machine)
            return Page();
        MachineId = machine.Id;
        Pictures = [.. (await places.Places(machine.Id)).Select(place => (place, Points: PointsAt(place))).Where(p => p.Points.Count > 0)];
        return Page();
    }

    private IReadOnlyList<string> PointsAt(string place) =>
        [
            .. Sheet
                .Circuit.Parts.Where(p => p.Place == place || PlacePictures.FaceOf(p) == place)
                .SelectMany(p => p.Model.Terminals.Select(t => new Terminal(p.Tag, t, p.Kind is PinRow).ToString()))
                .Take(MostPoints),
        ];

    private const int MostPoints = 40;

    /// <summary>The same fault by each way of working, once the run has ended.</summary>
    public async Task<IActionResult> OnGetSchoolsAsync()
    {
        if (!await Fill() || !Run.Ended)
            return NotFound();
        Schools =
        [
            .. new[] { Strategy.BestValue, Strategy.Forwards, Strategy.SplitMiddle }
                .Select(s => ExerciseReview.Play(Run, Sheet.Space, s))
                .OfType<PlayedSchool>(),
        ];
        return Partial("Trainer/_Schools", this);
    }

    public IReadOnlyList<PlayedSchool> Schools { get; private set; } = [];

    /// <summary>Reading that the replay stands at; 0 for the complaint alone.</summary>
    public int Step { get; private set; }

    /// <summary>The lane that held the suspicion then, as far as it was known; empty where no current flows for the complaint.</summary>
    public string Lane { get; private set; } = "";

    /// <summary>Acts of the run that read something, in their order.</summary>
    public IReadOnlyList<ExerciseAct> Steps => [.. Run.Acts.Where(a => a.Reading is not null)];

    /// <summary>Shares then, likeliest first.</summary>
    public IReadOnlyList<(string Words, double Share)> Left { get; private set; } = [];

    /// <summary>What was given to what is hidden then, 0 to 1.</summary>
    public double HiddenShare { get; private set; }

    /// <summary>How it stood after so many readings, once the run has ended.</summary>
    public async Task<IActionResult> OnGetReplayAsync(int step)
    {
        if (!await Fill() || !Run.Ended)
            return NotFound();
        Step = Math.Clamp(step, 0, Steps.Count);
        var findings = Run.Findings(
            Step > 0 ? Steps[Step - 1].Readings
            : Run.Complaint is null ? 0
            : 1
        );
        Left = [.. findings.Suspects.Where(g => g.Share > 0).Take(MostLeft).Select(g => (g.Words.First(), g.Share))];
        HiddenShare = ExerciseReview.ShareOf(findings, Run);
        var lanes = LaneMarks.Mark(Sheet.Space, findings);
        if (lanes.Count > 0)
            Lane = new LaneDrawing(Sheet.Circuit, lanes, null).Draw(LaneMarks.InHand(lanes, findings), staircase: true);
        return Partial("Trainer/_Replay", this);
    }

    /// <summary>What was hidden, in words, and where what is on no drawing stands.</summary>
    public static string HiddenIn(ExerciseRun run) =>
        run.Hidden.Count == 0
            ? "nothing"
            : string.Join(
                " and ",
                run.Hidden.Select(f =>
                    Words.Plain(run.Machine.Circuit, f.ToString()) + (run.IsUndrawn(f) ? $", on no drawing, in wire {run.PlaceOf(f)}" : "")
                )
            );

    private const int MostLeft = 4;

    /// <param name="after">Acts that stood on the page: a second tap finds one more and is dropped.</param>
    /// <param name="ask">True to be told what the reading would tell, and not to make it.</param>
    public async Task<IActionResult> OnPostDoAsync(string? what, int after, bool ask = false)
    {
        if (!await Fill())
            return NotFound();
        what = what?.Trim() ?? "";
        var line = what;
        if (ask && what.Length > 0)
            what = $"tell {what}";
        if (!Mine)
            Problem = $"This exercise is {Row.Learner}'s.";
        else if (what.Length is 0 or > 400)
            Problem = "Say what you do: a reading line without a result, or one of the buttons.";
        else if (after == Run.Acts.Count && Run.Acts.Count < ExerciseRun.MostActs && Run.Do(what) is { } act)
        {
            // What is not understood stays in its field and is no act.
            if (act.Kind == ActKind.Refused)
                (Problem, Typed) = (act.Shown, line);
            else if (await exercises.Do(Id, after, what) && Run.Ended)
                await exercises.End(Id, Run.Right, Run.Stopped is not null, Run.Minutes, Bill.PriceInVain, Run.Sure);
            if (ask)
                Typed = line;
            var (problem, typed) = (Problem, Typed);
            await Fill();
            (Problem, Typed) = (problem, typed);
        }
        if (Request.IsHtmx())
            return Partial("Trainer/_Work", this);
        return Problem is null ? RedirectToPage(new { Id }) : Page();
    }

    private async Task<bool> Fill()
    {
        if (
            await exercises.Run(Id) is not { } row
            || await exercises.Find(row.ExerciseId) is not { } offered
            || ExerciseText.Read(offered.Text).Value is not { } exercise
            || library.Get(offered.SheetText).Value is not { } sheet
        )
            return false;
        (Row, Offered, Sheet) = (row, offered, sheet);
        Run = ExerciseRun.Follow(exercise, sheet.Space, await exercises.Acts(Id));
        return true;
    }
}
