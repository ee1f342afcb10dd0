using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Store;
using Zoltric.Web.Sheets;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Jobs;

/// <summary>A job with everything its screens show.</summary>
public sealed record JobView(
    JobRow Job,
    ReadySheet Sheet,
    IReadOnlyList<(LineRow Row, Reading? Reading)> Lines,
    IReadOnlyList<Reading> Readings,
    Findings Findings,
    DiagnosisOptions Options,
    IReadOnlyList<LimitRow> Limits,
    IReadOnlyList<SafetyRow> Safety,
    IReadOnlyList<HandoverRow> Handovers,
    IntakeRow? Told
)
{
    public Circuit Circuit => Sheet.Circuit;
    private IReadOnlyList<FeedDraw>? _feeds;

    /// <summary>Feed by feed, where it is drawn; none where the complaint is not of a draw.</summary>
    public IReadOnlyList<FeedDraw> Feeds => _feeds ??= FeedDraw.Of(Findings);

    public IReadOnlyList<MarkedLane> Lanes => Sheet.Lanes(Findings);
    public Advice? Next => Findings.Next.Count > 0 ? Findings.Next[0] : null;
    public bool Closed => Job.ClosedAt is not null;

    /// <summary>The setup that a short reading is taken in: what the next probe asks for, else where the last one was.</summary>
    public Setup InHand => Next?.Test.Setup ?? (Readings.Count > 0 ? Readings[^1].Test.Setup : Setup.Rest);

    /// <summary>What the last reading left unplugged, pulled, lifted, jumpered or off.</summary>
    public IReadOnlyList<string> AsLeft =>
        Readings.Count == 0 ? [] : Readings[^1].Test.Setup.Interventions.Select(i => i.ToString()!).ToList();

    public double MinutesSoFar => Lines.Sum(l => l.Row.Minutes);

    /// <summary>What was said, locked and proved dead, as it counts for this person.</summary>
    public JobSafety SafetyFor(string who) => new(Circuit, Safety, Lines, Told, who);

    /// <summary>Why a line was against the rules, or null: a lead past a guard, or at dangerous volts.</summary>
    public string? AgainstRules(Reading reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        return Bridges.Forbidden(Sheet.Machine, reading.Test, Options.Facts)?.Why;
    }

    /// <summary>Of a job taken over: the tests that this person has still to read again before going on.</summary>
    public IReadOnlyList<string> ToRepeat(string who) =>
        Handovers is [.., var last] && last.Author == who && !Closed
            ?
            [
                .. last
                    .Repeats.Split('\n', StringSplitOptions.RemoveEmptyEntries)
                    .Where(test =>
                        !Lines.Any(l =>
                            l.Row.Author == who && string.CompareOrdinal(l.Row.At, last.At) >= 0 && l.Reading?.Test.ToString() == test
                        )
                    ),
            ]
            : [];

    /// <summary>A lane as it is shown: by volts, or by ohms with everything off.</summary>
    public MarkedLane Shown(int lane, bool ohms) =>
        ohms
            ? _ohms.TryGetValue(lane, out var known)
                ? known
                : _ohms[lane] = LaneMarks.Ohms(Sheet.Space, Findings, Lanes[lane])
            : Lanes[lane];

    private readonly Dictionary<int, MarkedLane> _ohms = [];

    /// <summary>Minutes likely still to come: what is not yet known over what the next test tells a minute, give or take half.</summary>
    public (double Low, double High)? MinutesLikely
    {
        get
        {
            if (Findings.Solved || Findings.NotAsDrawn || Next is not { Gain: > 0 } next)
                return null;
            if (Findings.Forecast is { } f)
                return (Math.Max(1, Math.Floor(f[Options.Strategy] * 0.7)), Math.Max(2, Math.Ceiling(f[Options.Strategy] * 1.4)));
            var bits = Findings.Suspects.Where(g => g.Share > 0).Sum(g => -g.Share * Math.Log2(g.Share));
            var minutes = Math.Max(1, bits / next.Gain * next.Minutes);
            return (Math.Ceiling(minutes * 0.5), Math.Ceiling(minutes * 1.5));
        }
    }
}

/// <summary>Loads a job and keeps what is done on it.</summary>
public sealed class JobDesk(
    JobStore jobs,
    MachineStore machines,
    SheetLibrary library,
    SafetyStore safety,
    IntakeStore intake,
    FindingStore findings,
    Learning learning
)
{
    /// <summary>Version of the notation, defaults and odds that verdicts are made with; kept with each job.</summary>
    public const string Rules = "notation 3, defaults 4, odds 7, safety 2";

    public async Task<JobView?> Load(long id)
    {
        if (await jobs.Find(id) is not { } job || library.Get(job.SheetText, job.Odds).Value is not { } sheet)
            return null;
        var view = ViewOf(
            job,
            sheet,
            [.. (await jobs.Lines(id)).Select(r => (r, ReadingReader.Read(sheet.Circuit, r.Text).Value))],
            await jobs.Limits(id),
            await safety.All(id),
            await safety.Handovers(id),
            await intake.Find(id)
        );
        await KeepLost(view);
        return view;
    }

    /// <summary>A server that was cut off between a line and its verdict keeps that when the job is opened next.</summary>
    private async Task KeepLost(JobView view)
    {
        var given = view.Lines.Where(l => l is { Row: { Phase: "trace", Struck: false }, Reading: not null }).Select(l => l.Row);
        foreach (var (row, verdict) in given.Zip(view.Findings.Verdicts))
            if (row.Judgement is null && !view.Closed)
                await Keep(row, verdict);
    }

    private Task Keep(LineRow row, Verdict verdict) =>
        jobs.KeepVerdict(
            row.Id,
            Words.For(verdict.Judgement),
            verdict.Expected.GoodSoFar?.Low,
            verdict.Expected.GoodSoFar?.High,
            verdict.Meaning
        );

    /// <summary>What was loaded of a job, diagnosed.</summary>
    private static JobView ViewOf(
        JobRow job,
        ReadySheet sheet,
        IReadOnlyList<(LineRow Row, Reading? Reading)> lines,
        IReadOnlyList<LimitRow> limits,
        IReadOnlyList<SafetyRow> rows,
        IReadOnlyList<HandoverRow> handovers,
        IntakeRow? told
    )
    {
        var readings = lines.Where(l => l.Row.Phase == "trace" && !l.Row.Struck && l.Reading is not null).Select(l => l.Reading!).ToList();
        // The order is for the one at the machine.
        var holder = new JobSafety(
            sheet.Circuit,
            rows,
            lines,
            told,
            AtTheMachine(job.Holder, lines.Count > 0 ? lines[^1].Row : null, rows, handovers)
        );
        var options = new DiagnosisOptions
        {
            Strategy = Strategies.TryParse(job.Strategy, out var strategy) ? strategy : Strategy.BestValue,
            Meter = MeterClass.Find(job.Meter) ?? MeterClass.Service,
            Limits = new Core.Diagnosis.Planning.Limits(
                limits.Where(l => l.Kind == "place").Select(l => l.What).ToHashSet(),
                limits.Where(l => l.Kind == "setup").Select(l => l.What).ToHashSet()
            ),
            Facts = holder.Facts,
            Circumstances = IntakeCircumstances.Of(told?.Conditions),
            Isolation = holder.State,
        };
        return new JobView(job, sheet, lines, readings, sheet.Diagnose(readings, options), options, limits, rows, handovers, told);
    }

    /// <summary>
    /// Who did something last: the holder, or who lends a hand without having taken over. Only their own lock and proof stand for them.
    /// </summary>
    private static string AtTheMachine(string holder, LineRow? line, IReadOnlyList<SafetyRow> rows, IReadOnlyList<HandoverRow> handovers)
    {
        var row = rows.LastOrDefault(r => !r.Imported && (line is null || r.AfterLine >= line.Id));
        var (who, at) =
            row is not null ? (row.Author, row.At)
            : line is not null ? (line.Author, line.At)
            : (holder, "");
        return handovers.Count > 0 && string.CompareOrdinal(handovers[^1].At, at) >= 0 || who.Length == 0 ? holder : who;
    }

    /// <summary>Said where something is to be written into a job that is sealed.</summary>
    public const string IsClosed = "This job is closed; its lines stand as they are.";

    /// <summary>Why somebody may not add lines to a job; null where they may.</summary>
    /// <param name="proved">True where people prove who they are: then only the holder writes.</param>
    public static Refusal? MayWrite(JobView view, string who, bool proved)
    {
        ArgumentNullException.ThrowIfNull(view);
        var message =
            view.Closed ? IsClosed
            : proved && view.Job.Holder != who ? $"{view.Job.Holder} has this job in hand. Take it over first, and say so to them."
            : null;
        return message is null ? null : new Refusal(new Problem(Severity.Error, 1, 1, message));
    }

    /// <summary>
    /// Reads a line in the setup shown and keeps it with its verdict. The job with the line, diagnosed; or the refusal, when it cannot be
    /// read or must not be done, and nothing is kept then.
    /// </summary>
    /// <param name="done">True where the technician says that it was done all the same: the record must be true.</param>
    /// <param name="asked">The order that was on the screen: a bare value is of that, whatever is asked for now.</param>
    /// <param name="token">Of the page it was given on: what comes twice from one page is one line.</param>
    /// <param name="taken">What the meter says of it that gave it by itself.</param>
    /// <param name="given">When it was given, where it waited on a phone; null for now.</param>
    public async Task<Added> Add(
        JobView view,
        string text,
        string author,
        bool done = false,
        string? asked = null,
        string? token = null,
        TakenBy? taken = null,
        DateTimeOffset? given = null
    )
    {
        token = token is { Length: > 0 and <= 64 } ? token : null;
        if (token is not null && await jobs.IsGiven(view.Job.Id, token))
            return new Added(view, null);
        // A bare value is what the meter shows at the probe that is asked for.
        if (
            (string.IsNullOrWhiteSpace(asked) ? view.Next?.Test.ToString() : asked) is { } order
            && (QuantityText.TryParse(text.Trim().TrimEnd('?').Replace(',', '.'), out _) || text.Trim() is "OL")
        )
            text = $"{order} = {text.Trim()}";
        var parsed = ReadingReader.Read(view.Circuit, text, view.InHand);
        if (parsed.Value is not { } reading)
            return Refuse(parsed.Problems[0]);
        // What is weighed is what is kept: a figure of many digits is written with fewer.
        reading = ReadingReader.Read(view.Circuit, reading.ToString()).Value ?? reading;
        if (reading.Result is null && reading.Test.Probe is not Probe.Replaced)
            return new Added(
                view,
                new Refusal(
                    new Problem(
                        Severity.Error,
                        1,
                        text.Length + 1,
                        "There is no result yet.",
                        "the end of the line",
                        "= and what the meter shows",
                        $"write {reading.Test} = …"
                    )
                )
                {
                    Asked = reading.Test,
                }
            );
        if (Refused(view, reading, author) is { } refusal && !(done && refusal.MayBeKept))
            return new Added(view, refusal);
        if (Unsaid(view, reading, author) is { } unsaid)
            return new Added(view, unsaid);
        var minutes = new JobMinutes(view.Circuit, view.Readings).Minutes(reading.Test);
        // On the disk before anything is computed from it.
        if (await jobs.AddLine(view.Job.Id, "trace", reading.ToString(), author, minutes, token, taken, given) is not { } row)
            return new Added((await Load(view.Job.Id))!, null);
        if (reading.Test.Setup.Interventions.Count > 0)
            await findings.Reopen(view.Job.Id, "leads", "fitted again", author);
        var after = ViewOf(view.Job, view.Sheet, [.. view.Lines, (row, reading)], view.Limits, view.Safety, view.Handovers, view.Told);
        if (after.Findings.Verdicts is [.., var verdict])
            await Keep(row, verdict);
        return new Added(after, null);

        Added Refuse(Problem why) => new(view, new Refusal(why));
    }

    /// <summary>What has to be said, locked or proved dead before a reading is made; null where nothing has.</summary>
    private static Refusal? Unsaid(JobView view, Reading reading, string author) =>
        view.SafetyFor(author).Unsaid(reading.Test) is not [var first, ..]
            ? null
            : new Refusal(
                new Problem(
                    Severity.Error,
                    1,
                    1,
                    $"Before this test: {first.Say}",
                    reading.Test.ToString(),
                    null,
                    first.Id == MakeSafe.LockedId
                        ? "record the lock and prove it dead under “Safe”"
                        : "say that it is understood and done, above the order or under “Safe”"
                )
            );

    /// <summary>Why a line would not be kept; null where it would.</summary>
    public static Refusal? WhyNot(JobView view, string line, string author)
    {
        ArgumentNullException.ThrowIfNull(view);
        var parsed = ReadingReader.Read(view.Circuit, line, view.InHand);
        return parsed.Value is not { } reading
            ? new Refusal(parsed.Problems[0])
            : Refused(view, reading, author) ?? Unsaid(view, reading, author);
    }

    /// <summary>What a probe would tell that has not been made: its likely answers, and what each would leave.</summary>
    public static IReadOnlyList<Outcome> WouldTell(JobView view, Test test)
    {
        ArgumentNullException.ThrowIfNull(view);
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe is Probe.Code || Core.Metering.Meter.Read(view.Sheet.Machine, test).Refused
            ? []
            : Diagnostician.WouldTell(view.Sheet.Space, view.Readings, test, view.Options);
    }

    /// <summary>Number of a line that is not in the record.</summary>
    public const long Imagined = long.MaxValue;

    /// <summary>The job as it would stand with one more line, of which nothing is kept; null where the line would be refused.</summary>
    /// <param name="said">True where what has to be said before it counts as said.</param>
    public static JobView? Imagine(JobView view, string line, string author, bool said = false)
    {
        ArgumentNullException.ThrowIfNull(view);
        if (
            ReadingReader.Read(view.Circuit, line, view.InHand).Value is not { Result: not null } reading
            || Refused(view, reading, author) is not null
            || !said && Unsaid(view, reading, author) is not null
        )
            return null;
        var row = new LineRow
        {
            Id = Imagined,
            Text = reading.ToString(),
            Author = author,
        };
        return ViewOf(view.Job, view.Sheet, [.. view.Lines, (row, reading)], view.Limits, view.Safety, view.Handovers, view.Told);
    }

    /// <summary>
    /// Puts a found part into a wire of the job's sheet, as the machine's next version, and goes on with it. The problem when it does not
    /// fit, or when a reading of the job would no longer be understood; nothing is changed then.
    /// </summary>
    public async Task<Problem?> Found(JobView view, string wire, string lines, string author)
    {
        var sheet = FoundPart.Insert(view.Job.SheetText, wire, lines);
        if (sheet.Value is not { } text)
            return sheet.Problems[0];
        var circuit = SheetReader.Read(text).Value!;
        if (Lost(view, circuit) is [var lost, ..])
            return lost;
        // What was read along the whole wire was read between its ends: half of it bears its name from now on.
        foreach (var (row, reading) in view.Lines)
            if (reading is not null && ByEnds(reading, wire) is { } same)
                await jobs.Reword(view.Job.Id, row.Id, same.ToString(), author);
        await machines.Keep(view.Job.Machine, circuit.Family, view.Job.Site, text);
        await jobs.UseNewestSheet(view.Job.Id, author);
        return null;
    }

    /// <summary>A reading along a wire as one between the terminals at its ends; null for any other.</summary>
    private static Reading? ByEnds(Reading reading, string wire)
    {
        static Across Ends(Across x) => new($"{x.P.Terminal} {x.Q.Terminal}", new ProbePoint(x.P.Terminal), new ProbePoint(x.Q.Terminal));
        Probe? probe = reading.Test.Probe switch
        {
            Probe.Drop { X: var x } when x.Text == wire => new Probe.Drop(Ends(x)),
            Probe.Ohms { X: var x } when x.Text == wire => new Probe.Ohms(Ends(x)),
            Probe.Beep { X: var x } when x.Text == wire => new Probe.Beep(Ends(x)),
            _ => null,
        };
        return probe is null ? null : reading with { Test = reading.Test with { Probe = probe } };
    }

    /// <summary>Readings of the job that another sheet would no longer understand, with the reason.</summary>
    private static List<Problem> Lost(JobView view, Circuit circuit) =>
        [
            .. view
                .Lines.Where(l => l.Reading is not null)
                .Select(l => ReadingReader.Read(circuit, l.Row.Text))
                .Where(r => r.Value is null)
                .Select(r => r.Problems[0]),
        ];

    /// <summary>Version of the machine's newest sheet when it is newer than the job's; null when the job works on it.</summary>
    public async Task<long?> Newer(JobView view) =>
        !view.Closed && await machines.Find(view.Job.MachineId) is { } machine && machine.Version > view.Job.SheetVersion
            ? machine.Version
            : null;

    /// <summary>
    /// Goes on with the machine's newest sheet when it understands every reading of the job; else says which it would lose, and stays.
    /// </summary>
    public async Task<IReadOnlyList<Problem>> TakeNewest(JobView view, string author)
    {
        if (
            await machines.Find(view.Job.MachineId) is not { } machine
            || library.Get((await machines.Sheet(machine.SheetId))!.Text).Value is not { } sheet
        )
            return [];
        var lost = Lost(view, sheet.Circuit);
        if (lost.Count == 0)
            await jobs.UseNewestSheet(view.Job.Id, author);
        return lost;
    }

    /// <summary>Opens a job on a function that is dead, weak or stuck on; the problem when nothing can make the function due.</summary>
    public async Task<(long Id, string? Problem)> Start(
        MachineRow machine,
        ReadySheet sheet,
        MachineFunction function,
        string? state,
        string? complaint,
        string author
    )
    {
        if (FunctionSetups.SetupFor(sheet.Circuit, function) is not { } setup)
            return (0, $"No setting of the controls makes “{function.Name}” due: mend the sheet first.");
        var seen = AnswerText.TryParse(state ?? "", out var said) && said is Answer.Weak or Answer.StuckOn ? said : Answer.Dead;
        var reading = new Reading(
            new Test(seen == Answer.StuckOn ? Setup.Rest : setup, new Probe.Sees(function.Name, true)),
            new ReadingResult.Word(seen)
        );
        var words = string.IsNullOrWhiteSpace(complaint) ? $"“{function.Name}” is {seen.Text()}" : complaint.Trim();
        return (await jobs.Open(machine.Id, machine.SheetId, words, Rules, author, [reading.ToString()], await learning.Odds()), null);
    }

    /// <summary>
    /// Puts the job into this person's hands, with two readings to be made again: the last good one and the last bad one.
    /// </summary>
    public async Task TakeOver(JobView view, string who)
    {
        var measured = view
            .Findings.Verdicts.Where(v =>
                v.Reading is { Doubtful: false, Result: ReadingResult.Number or ReadingResult.Range or ReadingResult.OverLimit }
            )
            .ToList();
        var (good, bad) = (
            measured.LastOrDefault(v => v.Judgement == Judgement.Ok),
            measured.LastOrDefault(v => v.Judgement is Judgement.Low or Judgement.High)
        );
        var repeats = new[] { good, bad }
            .OfType<Verdict>()
            .Concat(Enumerable.Reverse(measured))
            .Select(v => v.Reading.Test.ToString())
            .Distinct()
            .Take(2);
        await safety.TakeOver(view.Job.Id, who, string.Join('\n', repeats));
    }

    /// <summary>A test that must not have been made in that setup is answered before it counts.</summary>
    private static Refusal? Refused(JobView view, Reading reading, string author)
    {
        var (circuit, test) = (view.Circuit, reading.Test);
        if (test.Probe is Probe.Code or Probe.Replaced)
            return null;
        Problem Because(string why, string instead) => new(Severity.Error, 1, 1, why, test.ToString(), null, instead);
        if (Bridges.Forbidden(view.Sheet.Machine, test, view.Options.Facts) is { } bridge)
            return new Refusal(Because(bridge.Why, "measure it instead"), MayBeKept: true);
        var state = view.SafetyFor(author).State;
        if (state.IsLockedOut && state.Energises(test))
            return new Refusal(
                Because(
                    $"A lock is on: {string.Join(", ", state.Locks.Select(l => $"{l.Number}, {l.Who}"))}. Nothing is worked "
                        + $"or read live until each has taken off their own.",
                    "take your own lock off under “Safe”"
                )
            );
        if (test.Probe is Probe.Sees)
            return null;
        if (TestRules.IsForbidden(circuit, test) is { } never)
            return new Refusal(Because(never, "read volts there with the sources off first"));
        if (TestRules.WrongDial(circuit, test) is { } dial)
            return new Refusal(Because(dial, "turn the dial and read it again"));
        var shown = Meter.Read(view.Sheet.Machine, test);
        return shown.Refused ? new Refusal(Because(shown.Text, "read volts there with the sources off first")) : null;
    }
}

/// <summary>A job after a line was given.</summary>
/// <param name="View">With the line, or as it was where the line was refused.</param>
public sealed record Added(JobView View, Refusal? Refusal);

/// <summary>Why a line was not kept.</summary>
/// <param name="MayBeKept">True where it is a thing that must not be done, and is kept, marked, when it was done all the same.</param>
public sealed record Refusal(Problem Problem, bool MayBeKept = false)
{
    /// <summary>The probe of a line without a result: what it would tell can be asked.</summary>
    public Test? Asked { get; init; }
}
