using System.Text.Json;
using Zoltric.Core.Notation;
using Zoltric.Core.Training;
using Zoltric.Store;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Demo;

/// <summary>
/// Loads the invented Saltmarrow Works once: its machines from the sheets, its closed jobs from closed.json, its open ones from jobs.json.
/// </summary>
public sealed class DemoWorks(
    MachineStore machines,
    JobStore jobs,
    JobArchive archive,
    LogbookStore logbook,
    IntakeStore intake,
    FindingStore findings,
    CaptureStore captures,
    ExerciseStore exercises
)
{
    /// <summary>An open job, as far as it has got: its lines, what was asked, the codes that were read, what was found.</summary>
    private sealed record DemoJob(string Sheet, string Complaint, string Author, IReadOnlyList<string> Lines)
    {
        public IntakeRow? Intake { get; init; }
        public IReadOnlyList<CodeRow> Codes { get; init; } = [];
        public FindingRow? Finding { get; init; }

        /// <summary>Files below captures/, how the machine stood, and what their channels lay on.</summary>
        public IReadOnlyList<DemoCapture> Captures { get; init; } = [];
    }

    private sealed record DemoCapture(string File, string Setup, IReadOnlyList<ChannelSaid> Channels);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public async Task Load(string folder)
    {
        if ((await machines.All()).Count > 0)
            return;
        var ids = new Dictionary<string, (long Machine, string Text)>();
        foreach (var file in Directory.EnumerateFiles(Path.Combine(folder, "sheets"), "*.sheet").Order(StringComparer.Ordinal))
        {
            var text = await File.ReadAllTextAsync(file);
            var parsed = SheetReader.Read(text);
            if (parsed.Value is not { } circuit)
                throw new InvalidDataException($"Demo sheet {Path.GetFileName(file)}: {parsed.Problems[0]}");
            ids[Path.GetFileNameWithoutExtension(file)] = (
                await machines.Keep(circuit.Machine ?? circuit.Title, circuit.Family, "Saltmarrow Works", text),
                text
            );
        }
        var list = JsonSerializer.Deserialize<List<DemoJob>>(await File.ReadAllTextAsync(Path.Combine(folder, "jobs.json")), Json) ?? [];
        foreach (var job in list)
        {
            var machine = await machines.Find(ids[job.Sheet].Machine);
            var id = await jobs.Open(machine!.Id, machine.SheetId, job.Complaint, JobDesk.Rules, job.Author, job.Lines);
            if (job.Intake is { } i)
                await intake.Keep(id, i.Hours, i.Since, i.Conditions, i.Sounds, job.Author);
            if (job.Codes.Count > 0)
                await intake.KeepCodes(id, job.Codes.Select(c => (c.Number, c.Status, (int?)c.Count)), job.Author);
            foreach (var capture in job.Captures)
                await captures.Add(
                    id,
                    Path.GetFileNameWithoutExtension(capture.File),
                    capture.Setup,
                    KeptCapture.Write(capture.Channels),
                    await File.ReadAllTextAsync(Path.Combine(folder, "captures", capture.File)),
                    job.Author
                );
            if (job.Finding is { } f)
                await findings.Keep(id, f, job.Author);
        }
        foreach (var file in Directory.EnumerateFiles(Path.Combine(folder, "exercises"), "*.exercise").Order(StringComparer.Ordinal))
        {
            var parsed = ExerciseText.Read(await File.ReadAllTextAsync(file));
            if (parsed.Value is not { } exercise || !ids.TryGetValue(exercise.Sheet, out var on))
                throw new InvalidDataException($"Demo exercise {Path.GetFileName(file)}: {string.Join(" ", parsed.Problems)}");
            await exercises.Add(
                new ExerciseRow
                {
                    Code = Path.GetFileNameWithoutExtension(file)[..2],
                    Title = exercise.Title,
                    Machine = (await machines.Find(on.Machine))!.Name,
                    Level = exercise.Level,
                    Skills = string.Join('\n', exercise.Skills),
                    Text = ExerciseText.Write(exercise),
                    SheetText = on.Text,
                    Author = "Saltmarrow Works",
                }
            );
        }
        // The closed jobs name their sheet; everything else of them is as in a job file.
        if (File.Exists(Path.Combine(folder, "closed.json")))
            foreach (
                var closed in JsonSerializer.Deserialize<List<JobFile>>(
                    await File.ReadAllTextAsync(Path.Combine(folder, "closed.json")),
                    Json
                ) ?? []
            )
            {
                var (machineId, text) = ids[closed.Sheet];
                await logbook.Index(
                    await archive.Import(
                        closed with
                        {
                            Machine = (await machines.Find(machineId))!.Name,
                            Site = "Saltmarrow Works",
                            Sheet = text,
                        },
                        imported: false
                    )
                );
            }
    }
}
