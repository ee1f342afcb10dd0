using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests;

/// <summary>A faulty machine that the diagnosis does not know, and how to tell a right answer.</summary>
/// <param name="Machine">The machine as it is; its sheet may differ from the one diagnosed.</param>
/// <param name="Right">Whether the end of a job names what is wrong and nothing sound.</param>
internal sealed record HiddenMachine(string Name, Machine Machine, IReadOnlyList<Fault> Faults, Func<Findings, bool> Right)
{
    /// <summary>How often it is met, as the diagnosis takes it to be; for calibration.</summary>
    public double Odds { get; init; } = 1;

    /// <summary>True for a joint that stays as it is five times of six, and is open four times of five while its place is moved.</summary>
    public bool ComesAndGoes { get; init; }

    /// <summary>True when the job ends with the proof done, and not before it.</summary>
    public bool ToTheProof { get; init; }

    /// <summary>
    /// The machine with one fault of the space, at any value of its range and not only those the diagnosis keeps on its grid.
    /// </summary>
    public static HiddenMachine Single(FaultSpace space, int suspect, Random random)
    {
        var fault = Draw(space.Suspects[suspect], random);
        var site = space.Sites[suspect];
        // A fuse that it blows in some use of the machine is not sound either.
        var blown = space
            .Circuit.Functions.Select(f => FunctionSetups.SetupFor(space.Circuit, f))
            .OfType<Setup>()
            .SelectMany(s => space.Machine.Run(s, [fault]).Blown.Select(b => b.Tag))
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        bool IsIt(FaultGroup g) =>
            g.Site == site
            || g.Site.Each.Contains(site) && g.Also.Count > 0 && g.Also.All(a => a.Kind == FaultKind.Blown && blown.Contains(a.Target));
        return new HiddenMachine(fault.ToString(), space.Machine, [fault], f => !f.NotAsDrawn && IsIt(f.Suspects[0]))
        {
            Odds = space.Suspects[suspect].Odds,
        };
    }

    public static Fault Draw(Suspect suspect, Random random) =>
        suspect.Values.Count == 0 ? suspect.Template
        : suspect.Continuous ? suspect.With(suspect.Values[0] * Math.Pow(suspect.Values[^1] / suspect.Values[0], random.NextDouble()))
        : suspect.With(suspect.Values[random.Next(suspect.Values.Count)]);
}

/// <summary>
/// A job done by following the advice to the letter, on a machine whose part tolerances, supply and lead resistance are drawn at random
/// and unknown to the diagnosis, with a meter of 0.5 % and two digits.
/// </summary>
/// <param name="Leads">Share of the leader and whether it was right, after every reading.</param>
internal sealed record FollowedJob(
    string Fault,
    bool Solved,
    bool Right,
    int Readings,
    double Minutes,
    FaultGroup Leader,
    double OffSheet,
    IReadOnlyList<string> Log,
    IReadOnlyList<(double Share, bool Right)> Leads
)
{
    /// <summary>How often what was hidden is met.</summary>
    public double Odds { get; init; } = 1;

    public const int MostReadings = 30;

    /// <summary>Null when the fault shows in no function of the sheet.</summary>
    public static FollowedJob? Run(
        FaultSpace space,
        int suspect,
        int seed,
        Strategy strategy = Strategy.BestValue,
        double slips = 0,
        double drift = 0,
        string? about = null
    )
    {
        var random = new Random(seed);
        return Run(space, HiddenMachine.Single(space, suspect, random), random, strategy, slips, drift, about);
    }

    /// <summary>Null when what is hidden shows in no function of the sheet.</summary>
    /// <param name="slips">Share of voltages that are anything up to 1.1 of nominal.</param>
    /// <param name="drift">By how much the supply falls from one reading to the next, as a share: a battery that is tested with the key on
    /// runs down.</param>
    /// <param name="about">Only jobs that begin with a complaint about this function; null for all.</param>
    public static FollowedJob? Run(
        FaultSpace space,
        HiddenMachine hidden,
        Random random,
        Strategy strategy = Strategy.BestValue,
        double slips = 0,
        double drift = 0,
        string? about = null
    )
    {
        var circuit = space.Circuit;
        var battery = circuit.Sources.First().Kind is Circuits.Kinds.Battery;
        var spread = ToleranceDraw.Draw(hidden.Machine, random, battery ? 0.96 : 0.99, battery ? 1.02 : 1.01);
        var leads = 0.1 + 0.2 * random.NextDouble();

        var (open, measured) = (true, 0);
        // A short blows its fuse once: from then on it is blown in whatever setting.
        var fuses = new BlownFuses(hidden.Machine);

        // A wire's own lug that is elsewhere on the machine as it is: the tip goes to the terminal that the sheet names.
        ProbePoint Lug(ProbePoint p) =>
            p.WireId is { } id && hidden.Machine.Circuit.FindWire(id) is var w && (w is null || (p.WireStart ? w.From : w.To) != p.Terminal)
                ? new ProbePoint(p.Terminal)
                : p;
        Test AsIs(Test t) =>
            hidden.Machine == space.Machine
                ? t
                : t.Probe switch
                {
                    Probe.Drop d => t with { Probe = new Probe.Drop(d.X with { P = Lug(d.X.P), Q = Lug(d.X.Q) }) },
                    Probe.Ohms o => t with { Probe = new Probe.Ohms(o.X with { P = Lug(o.X.P), Q = Lug(o.X.Q) }) },
                    _ => t,
                };

        ReadingResult Measure(Test test)
        {
            if (hidden.ComesAndGoes)
                open =
                    test.Setup.Moved.Count > 0 ? random.NextDouble() < 0.8
                    : random.NextDouble() < 1 / 6.0 ? !open
                    : open;
            var shown = fuses.Read(AsIs(test), open ? hidden.Faults : [], spread with { Emf = spread.Emf * (1 - drift * measured++) });
            if (shown.Refused)
                throw new InvalidOperationException($"refused: {test}: {shown.Text}");
            if (shown.Value is not { } v)
                return shown.Answer == Answer.OverLimit ? new ReadingResult.OverLimit() : new ReadingResult.Word(shown.Answer!.Value);
            if (slips > 0 && random.NextDouble() < slips && shown.Dimension == Dimension.Volt)
                v = random.NextDouble() * 1.1 * circuit.NominalVolts;
            if (shown.Dimension == Dimension.Ohm)
                v += leads;
            double Within(double most) => most * (2 * random.NextDouble() - 1);
            // A clamp: 2 % and 0.05 A.
            if (shown.Dimension == Dimension.Ampere)
                return new ReadingResult.Number(Math.Round(v * (1 + Within(0.02)) + Within(0.05), 2), shown.Dimension);
            v *= 1 + Within(0.005);
            v += (shown.Dimension == Dimension.Volt ? 0.01 : 0.05) * random.Next(-2, 3);
            return new ReadingResult.Number(Math.Round(v, 2), shown.Dimension);
        }

        Reading? complaint = null;
        foreach (var f in circuit.Functions)
        {
            if (FunctionSetups.SetupFor(circuit, f) is not { } setup)
                continue;
            var test = new Test(setup, new Probe.Sees(f.Name, true));
            // What the sound machine of this spread would not do either is no complaint.
            if (Meter.Read(hidden.Machine, test, [], spread).Text != "works" && hidden.Faults.Count > 0)
                continue;
            if (Measure(test) is ReadingResult.Word { Answer: not Answer.Works } w)
            {
                complaint = new Reading(test, w);
                break;
            }
        }
        // Nothing is dead; perhaps something runs that should not.
        foreach (var f in circuit.Functions.Where(f => complaint is null && f.Test is FunctionTest.LoadWorks))
        {
            var test = new Test(Setup.Rest, new Probe.Sees(f.Name, true));
            if (
                Meter.Read(hidden.Machine, test, [], spread).Text != "stuck-on"
                && Measure(test) is ReadingResult.Word { Answer: Answer.StuckOn } w
            )
                complaint = new Reading(test, w);
        }
        if (complaint is null || about is not null && complaint.Test.Probe is Probe.Sees s && s.What != about)
            return null;
        var readings = new List<Reading> { complaint };
        var (costs, counted) = (0.0, 0);
        RepairSite? proved = null;
        var along = new List<(double, bool)>();
        var options = new DiagnosisOptions
        {
            Strategy = strategy,
            Alternatives = 0,
            Verdicts = false,
        };
        while (true)
        {
            var findings = Diagnostician.Diagnose(space, readings, options);
            along.Add((findings.Suspects[0].Share, hidden.Right(findings)));
            var found = findings.Solved && (!hidden.ToTheProof || proved == findings.Suspects[0].Site || findings.Next.Count == 0);
            // Where no reading tells any more, a new fuse is put in when that is what is said.
            var put = !found && findings is { NotAsDrawn: false, Next.Count: 0 } ? findings.PutIn : null;
            if (found || findings.NotAsDrawn || findings.Next.Count == 0 && put is null || counted > MostReadings)
            {
                var log = readings
                    .Select(r => r.ToString())
                    .Append(
                        $"=> "
                            + string.Join("; ", findings.Suspects.Take(4).Select(g => $"{string.Join(" / ", g.Words)} {g.Share:0.000}"))
                            + "; "
                            + $"off sheet {findings.OffSheet:0.000}"
                    )
                    .ToList();
                return new FollowedJob(
                    hidden.Name,
                    findings.Solved || findings.NotAsDrawn,
                    hidden.Right(findings),
                    counted,
                    costs,
                    findings.Suspects[0],
                    findings.OffSheet,
                    log,
                    along
                )
                {
                    Odds = hidden.Odds,
                };
            }
            if (put is not null)
            {
                costs += new TestCosts(circuit, readings).Minutes(put);
                counted++;
                Measure(put);
                readings.Add(new Reading(put, null));
                continue;
            }
            if (findings.Next[0].Kind == AdviceKind.Proof)
                proved = findings.Suspects[0].Site;
            costs += findings.Next[0].Minutes;
            // Proving dead belongs to the step it makes safe.
            if (findings.Next[0].Kind != AdviceKind.ProveDead)
                counted++;
            readings.Add(new Reading(findings.Next[0].Test, Measure(findings.Next[0].Test)));
        }
    }
}
