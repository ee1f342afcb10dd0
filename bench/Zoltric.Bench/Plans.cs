using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Procedures;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>
/// Plans that are computed for every function of the sheets, followed from their printed text on every single fault that leaves the
/// function dead, beside the live advice on the same machines; every fault counts as often as its odds have it.
/// </summary>
/// <remarks>
/// <c>plans [about="function"] [live=3] [steps=400] [log] [minutes] [print] sheets…</c>; live is every how manieth fault the advice is
/// followed on, 0 for none.
/// </remarks>
internal static class Plans
{
    private sealed record Case(Fault Fault, double Odds, TrialEnd End, double? Live);

    /// <summary>Lines of a printed page, A4 at the size that plans are printed in; counted on one, an estimate.</summary>
    private const int LinesOfAPage = 60;

    public static void Run(string[] arguments)
    {
        string? Setting(string name) =>
            arguments.FirstOrDefault(a => a.StartsWith(name + "=", StringComparison.Ordinal))?[(name.Length + 1)..];
        var live = int.Parse(Setting("live") ?? "3", CultureInfo.InvariantCulture);
        var steps = int.Parse(Setting("steps") ?? $"{new PlanLimits().Steps}", CultureInfo.InvariantCulture);
        var about = Setting("about");
        var all = new List<Case>();
        foreach (var file in arguments.Where(File.Exists))
        {
            var machine = new Machine(SheetReader.Read(File.ReadAllText(file)).Value!);
            var space = new FaultSpace(machine);
            foreach (var f in machine.Circuit.Functions.Where(f => about is null || f.Name == about))
            {
                var watch = Stopwatch.StartNew();
                if (FunctionSetups.SetupFor(machine.Circuit, f) is not { } setup)
                    continue;
                var complaint = new Reading(new Test(setup, new Probe.Sees(f.Name, true)), new ReadingResult.Word(Answer.Dead));
                var made = PlanMaker.Make(space, $"{f.Name}: dead", [complaint], new PlanLimits(steps));
                var text = ProcedureText.Write(made.Procedure);
                if (arguments.Contains("print"))
                    Console.WriteLine(text);
                var printed = ProcedureText.Read(text).Value!;
                var done = Followed(space, printed, complaint, live);
                all.AddRange(done);
                if (arguments.Contains("minutes"))
                    foreach (var c in done.Where(c => c.Live is not null))
                        Console.WriteLine($"    {c.Fault} ({c.Odds:0.00}): {c.End.Minutes:0.0} min on paper, {c.Live:0.0} live");
                if (arguments.Contains("log"))
                    foreach (var c in done.Where(c => !c.End.Names))
                        Console.WriteLine(
                            $"    {c.Fault} ({c.Odds:0.00}): {c.End.End} {c.End.Trouble}\n      "
                                + string.Join(
                                    "\n      ",
                                    c.End.Walked.Select(w => $"{w.Step}. {printed.Find(w.Step)?.Reading} = {w.Answer}")
                                )
                        );
                Console.WriteLine(
                    $"{Path.GetFileNameWithoutExtension(file)} {f.Name}: {printed.Steps.Count} steps, {Met(done)} met, "
                        + $"about {Math.Ceiling(text.Split('\n').Length / (double)LinesOfAPage):0} pages, {Line(done)}; "
                        + $"said {made.Settles:P0} and {made.Minutes:0.0} min ({watch.Elapsed.TotalSeconds:0} s)"
                );
            }
        }
        Console.WriteLine($"ALL: {Line(all)}");
    }

    private static Case[] Followed(FaultSpace space, Procedure printed, Reading complaint, int live)
    {
        var faults = ProcedureTrial.Singles(space, complaint.Test);
        var done = new Case[faults.Count];
        Parallel.For(0, done.Length, i =>
        {
            var (suspect, fault, odds) = faults[i];
            done[i] = new Case(
                fault,
                odds,
                ProcedureTrial.Run(printed, space.Machine, fault, space.Sites[suspect].Unit, complaint.Test.Setup),
                live > 0 && i % live == 0 ? Minutes(space, complaint, fault) : null
            );
        });
        return done;
    }

    /// <summary>Minutes of the advice, given anew after each reading, on the same machine by the same meter.</summary>
    private static double Minutes(FaultSpace space, Reading complaint, Fault fault)
    {
        var (known, minutes) = (new List<Reading> { complaint }, 0.0);
        var options = new DiagnosisOptions { Alternatives = 0, Verdicts = false };
        var fuses = new BlownFuses(space.Machine);
        fuses.Run(complaint.Test.Setup, [fault]);
        while (known.Count <= MostReadings)
        {
            var findings = Diagnostician.Diagnose(space, known, options);
            if (findings.Solved || findings.NotAsDrawn || findings.Next.Count == 0)
                break;
            var next = findings.Next[0];
            minutes += next.Minutes;
            var shown = fuses.Read(next.Test, [fault]);
            if (shown.Refused)
                break;
            known.Add(
                new Reading(
                    next.Test,
                    shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension)
                        : shown.Answer == Answer.OverLimit ? new ReadingResult.OverLimit()
                        : new ReadingResult.Word(shown.Answer!.Value)
                )
            );
        }
        return minutes;
    }

    /// <summary>Steps that any of the faults leads through.</summary>
    private static int Met(IEnumerable<Case> done) => done.SelectMany(c => c.End.Walked.Select(w => w.Step)).Distinct().Count();

    private const int MostReadings = 60;

    private static string Line(IReadOnlyList<Case> done)
    {
        var odds = done.Sum(c => c.Odds);
        if (odds == 0)
            return "no fault leaves it dead";
        double Share(Func<Case, bool> which) => done.Where(which).Sum(c => c.Odds) / odds;
        var both = done.Where(c => c.Live is not null).ToList();
        var (onPaper, live) = (both.Sum(c => c.Odds * c.End.Minutes), both.Sum(c => c.Odds * c.Live!.Value));
        var beside =
            both.Count == 0
                ? ""
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"; beside live on {both.Count}: {onPaper / both.Sum(c => c.Odds):0.0} against {live / both.Sum(c => c.Odds):0.0} min "
                        + $"({100 * (onPaper / live - 1):+0;-0} %)"
                );
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{done.Count} faults, right {100 * Share(c => c.End.Names):0.0} %, wrong "
                + $"{100 * Share(c => !c.End.Names && c.End.End is StepLead.Repair):0.0} %, "
                + $"{done.Sum(c => c.Odds * c.End.Minutes) / odds:0.0} min{beside}"
        );
    }
}
