using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Training;

/// <summary>What a reading told.</summary>
public enum Told
{
    /// <summary>It left clearly less to look for.</summary>
    Useful,

    /// <summary>It was known already.</summary>
    Known,

    /// <summary>It pointed away from what is hidden.</summary>
    Misleading,
}

/// <summary>One reading of a run, looked back at.</summary>
/// <param name="Bits">By how much what was not known shrank; negative where it grew.</param>
/// <param name="Share">What the readings up to here gave to what is hidden, 0 to 1.</param>
/// <param name="Left">What led after it, with its share.</param>
public sealed record ReviewedReading(
    ExerciseAct Act,
    Told Told,
    double Bits,
    double Share,
    IReadOnlyList<(string Words, double Share)> Left
);

/// <summary>A way of working, played to its end on the same hidden fault.</summary>
/// <param name="Right">True where it ended in what is hidden.</param>
public sealed record PlayedSchool(Strategy Strategy, double Minutes, int Readings, bool Right);

/// <summary>What an exercise came to.</summary>
/// <param name="InVain">Parts bought that mended nothing.</param>
/// <param name="PriceInVain">Of those.</param>
public sealed record ExerciseBill(
    double Minutes,
    int Readings,
    IReadOnlyList<string> InVain,
    double PriceInVain,
    double Price,
    int Hints,
    string? Unsafe,
    bool Right,
    double? Sure
)
{
    public static ExerciseBill Of(ExerciseRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var vain = run.Acts.Where(a => a.Kind == ActKind.Repair && !a.Mended).ToList();
        return new ExerciseBill(
            run.Minutes,
            run.Acts.Count(a => a.Kind == ActKind.Reading),
            [.. vain.Select(a => a.Text)],
            vain.Sum(a => a.Cost),
            run.Cost,
            run.Acts.Count(a => a.Kind == ActKind.Hint),
            run.Stopped,
            run.Right,
            run.Sure
        );
    }
}

/// <summary>Looks back at a run: what each reading told, and how the schools would have done.</summary>
public static class ExerciseReview
{
    /// <summary>From this many bits on a reading was of use; under them it was known.</summary>
    private const double Useful = 0.15;

    /// <summary>A fall of what is hidden by this share of all suspicion misleads.</summary>
    private const double Misleads = 0.1;

    private const int MostReadings = 30;

    public static IReadOnlyList<ReviewedReading> Readings(ExerciseRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var reviewed = new List<ReviewedReading>();
        var before = run.Findings(run.Complaint is null ? 0 : 1);
        foreach (var act in run.Acts.Where(a => a.Reading is not null))
        {
            // The same once more, with nothing mended in between, says nothing new.
            var again = run
                .Readings.Take(act.Readings - 1)
                .Reverse()
                .TakeWhile(r => r.Test.Probe is not Probe.Replaced)
                .Contains(act.Reading!);
            var after = run.Findings(act.Readings);
            var bits = Unknown(before) - Unknown(after);
            var (was, now) = (ShareOf(before, run), ShareOf(after, run));
            reviewed.Add(
                new ReviewedReading(
                    act,
                    again ? Told.Known
                        : was - now > Misleads ? Told.Misleading
                        : bits >= Useful || now - was > Misleads ? Told.Useful
                        : Told.Known,
                    bits,
                    now,
                    [.. after.Suspects.Where(g => g.Share > 0).Take(3).Select(g => (g.Words.First(), g.Share))]
                )
            );
            before = after;
        }
        return reviewed;
    }

    /// <summary>Bits of what is not known: over the groups and what is not on the drawing.</summary>
    private static double Unknown(Findings f) =>
        f.Suspects.Select(g => g.Share).Append(f.OffSheet).Where(s => s > 0).Sum(s => -s * Math.Log2(s));

    /// <summary>What the findings give to what is hidden, 0 to 1.</summary>
    public static double ShareOf(Findings f, ExerciseRun run)
    {
        ArgumentNullException.ThrowIfNull(f);
        ArgumentNullException.ThrowIfNull(run);
        return f.Suspects.Where(g => Names(g, run)).Sum(g => g.Share);
    }

    private static bool Names(FaultGroup g, ExerciseRun run) => g.Faults.Any(f => run.Hidden.Any(h => run.PlaceOf(h) == f.Target));

    /// <summary>
    /// Plays one way of working to its end on the same machine: orders followed to the letter, readings without stray. Null where what is
    /// hidden cannot be met so: nothing hidden, or something that comes and goes.
    /// </summary>
    public static PlayedSchool? Play(ExerciseRun run, FaultSpace space, Strategy strategy)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(space);
        if (run.Complaint is not { } complaint || run.Hidden.Count == 0 || run.Exercise.ComesAndGoes)
            return null;
        var readings = new List<Reading> { complaint };
        double minutes = 0;
        var fuses = new BlownFuses(run.Machine);
        fuses.Run(complaint.Test.Setup, run.Hidden);
        while (true)
        {
            var findings = Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Strategy = strategy });
            if (findings.Solved || findings.NotAsDrawn || findings.Next is not [var next, ..] || readings.Count > MostReadings)
                return new PlayedSchool(
                    strategy,
                    minutes,
                    readings.Count - 1,
                    findings is { Solved: true, NotAsDrawn: false } && Names(findings.Suspects[0], run)
                );
            minutes += new JobMinutes(space.Circuit, readings).Minutes(next.Test);
            var shown = fuses.Read(next.Test, run.Hidden);
            var line = ExerciseRun.Line(next.Test, shown);
            if (shown.Refused || ReadingReader.Read(space.Circuit, line).Value is not { } reading)
                return new PlayedSchool(strategy, minutes, readings.Count - 1, false);
            readings.Add(reading);
        }
    }
}
