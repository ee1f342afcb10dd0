using System.Globalization;
using System.Text.Json;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;

namespace Zoltric.Bench;

/// <summary>
/// Makes the closed jobs of the demo: a year at the invented Saltmarrow Works, each job traced by following the advice on a machine with
/// that fault. The same program gives the same file.
/// </summary>
/// <remarks><c>closed scenario/sheets &gt; scenario/closed.json</c></remarks>
internal static class ClosedJobs
{
    private sealed record Story(string Sheet, string Fault, string Complaint, string Cause, string Repair, string Parts, string Author);

    private static readonly Story[] Year =
    [
        new(
            "PR-3",
            "S2 open",
            "engine does not crank, all lamps light",
            "plunger worn short",
            "neutral switch renewed and set",
            "1 neutral switch",
            "Orla Venn"
        ),
        new(
            "PR-3",
            "K1 contact 30-87 open",
            "clicks, does not turn",
            "contact burnt by a weak battery last winter",
            "start relay renewed",
            "1 relay 12 V",
            "Tamsin Reke"
        ),
        new(
            "PR-3",
            "w22 open",
            "does not crank after wash-down",
            "chafed at the bracket behind the seat",
            "wire spliced, loom moved and supported",
            "splice, conduit",
            "Iver Dunmore"
        ),
        new(
            "PR-3",
            "S3 open",
            "cranks only when the seat is hit",
            "seat switch full of salt",
            "seat switch renewed",
            "1 seat switch",
            "Orla Venn"
        ),
        new("QS-5", "Y1 open", "brush stands still", "coil lead broken at its boot", "clutch coil renewed", "1 clutch coil", "Tamsin Reke"),
        new(
            "QS-5",
            "S2 open",
            "brush does not turn, beacon does",
            "switch contact burnt",
            "brush switch renewed",
            "1 switch",
            "Tamsin Reke"
        ),
        new(
            "QS-5",
            "F1 blown",
            "everything behind the brush fuse dead",
            "not found: no short, no stiff clutch, watched for two days",
            "fuse renewed, current measured",
            "1 fuse",
            "Iver Dunmore"
        ),
        new(
            "BP-2",
            "K1 contact 13-14 open",
            "pump stops when start is let go",
            "auxiliary contact gummed with dust",
            "contact block renewed",
            "1 contact block",
            "Orla Venn"
        ),
        new("BP-2", "B1 open", "pump does not start", "float arm bent by a log", "float switch renewed", "1 float switch", "Iver Dunmore"),
        new("BP-2", "M1 open", "pump dead, contactor pulls", "brushes worn out", "motor changed, brushes ordered", "1 motor", "Orla Venn"),
        new(
            "BP-2",
            "X4:2 open",
            "pump dead after the sump was cleaned",
            "pin pushed out when the plug was forced",
            "pin seated, lock tested",
            "none",
            "Tamsin Reke"
        ),
        new(
            "RG-1",
            "B1 open",
            "travels right only",
            "end switch roller broken off",
            "end switch renewed",
            "1 limit switch",
            "Iver Dunmore"
        ),
        new(
            "RG-1",
            "K1 coil-open",
            "does not travel left",
            "coil burnt out, heat from the dryer beside it",
            "contactor renewed",
            "1 contactor 24 V",
            "Orla Venn"
        ),
        new(
            "RG-1",
            "F2 blown",
            "gantry dead, lamps light",
            "motor lead rubbed through at the cable chain",
            "lead renewed, chain clamp moved",
            "4 m cable, fuse",
            "Iver Dunmore"
        ),
        new("RG-1", "S1 open", "left button does nothing", "pendant dropped", "button element renewed", "1 contact element", "Tamsin Reke"),
        new(
            "GH-2",
            "B2 open",
            "hoist does not move, lamp dark",
            "door lock bent by a trolley",
            "lock straightened and set, tried ten times",
            "none",
            "Orla Venn"
        ),
        new("GH-2", "S2 open", "will not go down", "button cap stuck", "button renewed", "1 button", "Iver Dunmore"),
        new(
            "GH-2",
            "F2 blown",
            "hoist dead",
            "lamp holder shorted by water",
            "holder renewed, cover sealed",
            "1 holder, fuse",
            "Orla Venn"
        ),
        new(
            "GH-2",
            "K2 contact 21-22 open",
            "goes down, not up",
            "dust in the interlock contact",
            "contact block renewed",
            "1 contact block",
            "Tamsin Reke"
        ),
        new(
            "LT-1",
            "Y1 open",
            "engine cranks and does not fire",
            "coil open, seal let fuel in",
            "fuel valve renewed",
            "1 fuel valve",
            "Iver Dunmore"
        ),
        new("LT-1", "K2 coil-open", "lamps stay dark", "relay old", "lamp relay renewed", "1 relay 12 V", "Orla Venn"),
        new(
            "LT-1",
            "F3 blown",
            "left lamps dark",
            "loom pinched when the mast was lowered",
            "loom renewed at the foot, guide fitted",
            "2 m loom, fuse",
            "Iver Dunmore"
        ),
        new("LT-1", "S1 open 30-50", "no crank, lamps light", "key switch worn", "key switch renewed", "1 key switch", "Tamsin Reke"),
        new("TD-2", "B2 open", "tumbles, no heat", "duct blocked with lint", "duct cleaned, cut-out renewed", "1 cut-out", "Orla Venn"),
        new("TD-2", "E1 open", "tumbles, no heat", "element burnt through at the support", "heater renewed", "1 heater", "Iver Dunmore"),
        new("TD-2", "S3 open", "does not start", "start button worn", "button renewed", "1 button", "Tamsin Reke"),
        new("BL-1", "H1 open", "auto lamp dark", "filament", "lamp renewed", "1 lamp", "Tamsin Reke"),
        new(
            "DO-4",
            "E1 open",
            "low bank takes twice as long",
            "element burnt at the terminal",
            "element renewed, terminal cut back",
            "1 heater element",
            "Iver Dunmore"
        ),
        new(
            "DO-4",
            "B3 open",
            "oven stays cold, fan turns",
            "thermostat capillary broken",
            "thermostat renewed",
            "1 thermostat",
            "Orla Venn"
        ),
        new(
            "DO-4",
            "F5 blown",
            "oven dead",
            "door switch lead shorted to the frame",
            "lead rerouted, fuse renewed",
            "1 m wire, fuse",
            "Iver Dunmore"
        ),
        new(
            "BP-2",
            "F1 blown",
            "panel dead",
            "water in the start button",
            "button renewed, gland tightened",
            "1 button, fuse",
            "Tamsin Reke"
        ),
        new(
            "QS-5",
            "S3 open",
            "brush stops over bumps",
            "hood switch bracket loose",
            "bracket tightened, switch renewed",
            "1 limit switch",
            "Orla Venn"
        ),
    ];

    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    public static void Run(string folder)
    {
        var jobs = new List<object>();
        // From the first working day of the year before, eleven days apart, at working hours.
        var day = new DateTime(2025, 11, 3, 7, 40, 0, DateTimeKind.Utc);
        foreach (var (story, n) in Year.Select((s, n) => (s, n)))
        {
            var circuit = SheetReader.Read(File.ReadAllText(Path.Combine(folder, story.Sheet + ".sheet"))).Value!;
            var space = new FaultSpace(new Machine(circuit));
            var asked = FaultReader.Read(circuit, story.Fault).Value?[0]
                ?? throw new InvalidOperationException($"{story.Sheet}: {story.Fault}");
            var index = space
                .Suspects.ToList()
                .FindIndex(s =>
                    s.Template.Target == asked.Target
                    && (s.Template.Words == asked.Words || s.Template.Words.StartsWith(asked.Words, StringComparison.Ordinal))
                    && s.Together.Count == 0
                );
            var open = day.AddDays(11 * n).AddMinutes(37 * n % 400);
            if (index < 0 || FollowedJob.Run(space, index, 4100 + n) is not { Solved: true, Right: true } done)
            {
                Console.Error.WriteLine($"{story.Sheet} {story.Fault}: left out, {(index < 0 ? "no such suspect" : "not solved")}");
                continue;
            }
            var readings = done.Log.Take(done.Log.Count - 1).Select(l => ReadingReader.Read(circuit, l).Value!).ToList();
            var findings = Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Alternatives = 0 });
            var at = open;
            var lines = new List<object>();
            foreach (var (reading, i) in readings.Select((r, i) => (r, i)))
            {
                var minutes = i == 0 ? 0 : new JobMinutes(circuit, [.. readings.Take(i)]).Minutes(reading.Test);
                at = at.AddMinutes(Math.Max(1, minutes));
                var verdict = findings.Verdicts[i];
                lines.Add(
                    new
                    {
                        phase = "trace",
                        text = reading.ToString(),
                        author = story.Author,
                        at = Stamp(at),
                        minutes = Math.Round(minutes, 2),
                        struck = false,
                        judgement = verdict.Judgement.ToString().ToLowerInvariant(),
                        low = verdict.Expected.GoodSoFar?.Low,
                        high = verdict.Expected.GoodSoFar?.High,
                        meaning = verdict.Meaning,
                    }
                );
            }
            var mended = at.AddMinutes(25 + 13 * n % 70);
            var checks = Verification
                .Items(space.Machine, findings.Verdicts, findings.Function)
                .Select(
                    (v, i) =>
                        new
                        {
                            item = v.Name,
                            kind = v.Kind.ToString().ToLowerInvariant(),
                            result = v.Kind switch
                            {
                                VerificationKind.Interlock => "dead",
                                VerificationKind.Leads => "all back",
                                VerificationKind.Reading => Meter.Read(space.Machine, v.Test!).Text,
                                _ => "works",
                            },
                            passed = true,
                            author = story.Author,
                            at = Stamp(mended.AddMinutes(2 * i)),
                        }
                )
                .ToList();
            jobs.Add(
                new
                {
                    sheet = story.Sheet,
                    complaint = story.Complaint,
                    rules = "notation 1, defaults 2, odds 4, safety 2",
                    author = story.Author,
                    openedAt = Stamp(open),
                    closedAt = Stamp(mended.AddMinutes(2 * checks.Count + 5)),
                    outcome = "mended",
                    lines,
                    finding = new
                    {
                        fault = string.Join(" or ", findings.Suspects[0].Words),
                        share = Math.Round(findings.Suspects[0].Share, 4),
                        proof = readings[^1].ToString(),
                        cause = story.Cause,
                        repair = story.Repair,
                        parts = story.Parts,
                        author = story.Author,
                        at = Stamp(mended),
                    },
                    verified = checks,
                }
            );
        }
        Console.WriteLine(JsonSerializer.Serialize(jobs, Indented));
    }

    private static string Stamp(DateTime t) => t.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
}
