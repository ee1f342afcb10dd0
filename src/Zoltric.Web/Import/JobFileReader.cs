using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Store;

namespace Zoltric.Web.Import;

/// <summary>Reads a job file that someone sent: everything in it is checked before any of it is kept.</summary>
public static class JobFileReader
{
    public const int MostBytes = 40 * 1024 * 1024;
    private const int MostText = 4000,
        MostRows = 5000,
        MostAttachments = 60,
        MostAttachmentBytes = 8 * 1024 * 1024;
    private const double MostMoney = 1e9;

    /// <summary>What an attachment may be; nothing that a browser would run.</summary>
    public static IReadOnlySet<string> Types { get; } = new HashSet<string> { "image/jpeg", "image/png", "image/webp", "application/pdf" };

    public static JsonSerializerOptions Json { get; } = new(JsonSerializerDefaults.Web) { WriteIndented = true, MaxDepth = 12 };

    /// <summary>What must have a value has one: the store would refuse it row by row.</summary>
    private static readonly JsonSerializerOptions Reading = new(Json) { RespectNullableAnnotations = true };

    /// <summary>The job, or the first thing that is wrong with the file.</summary>
    public static (JobFile? Job, string? Problem) Read(ReadOnlySpan<byte> bytes)
    {
        if (bytes.Length > MostBytes)
            return (null, $"The file is larger than {MostBytes / 1024 / 1024} MB.");
        JobFile? job;
        try
        {
            var file = JsonNode.Parse(bytes, null, new JsonDocumentOptions { MaxDepth = Json.MaxDepth });
            WriteTimesAlike(file);
            job = file.Deserialize<JobFile>(Reading);
        }
        catch (Exception e) when (HalfCharacter.Is(e))
        {
            // Or a name that stands twice.
            return (null, $"This is not a job file: {e.Message}");
        }
        catch (JsonException e) when (e.Path is { Length: > 1 } path)
        {
            return (null, $"This is not a job file: at {path[2..]} a value is missing, or is of another kind.");
        }
        catch (JsonException e)
        {
            return (null, $"This is not a job file: {e.Message}");
        }
        return job is null ? (null, "The file is empty.")
            : Wrong(job) is { } problem ? (null, problem)
            : (job, null);
    }

    /// <summary>Times that have a zone of their own become those of the store, whole seconds in UTC.</summary>
    private static void WriteTimesAlike(JsonNode? node)
    {
        if (node is JsonArray list)
            foreach (var item in list)
                WriteTimesAlike(item);
        if (node is not JsonObject o)
            return;
        foreach (var (name, value) in o.ToList())
            if (name is "at" or "openedAt" or "closedAt" && value is JsonValue v && v.TryGetValue<string>(out var text))
                o[name] = Canonical(text) ?? text;
            else
                WriteTimesAlike(value);
    }

    private static string? Wrong(JobFile job)
    {
        if (job.ZoltricJob != 1)
            return $"The file has shape {job.ZoltricJob}; this version reads shape 1.";
        // A null in a list or a name is as bad as one too many.
        if (
            job.Lines is null
            || job.Limits is null
            || job.Verified is null
            || job.Notes is null
            || job.Attachments is null
            || job.Captures is null
            || job.Changes is null
            || job.Codes is null
            || job.Safety is null
            || job.Handovers is null
            || job.Parts is null
            || job.Codes.Any(x => x is null)
            || job.Safety.Any(x => x is null)
            || job.Handovers.Any(x => x is null)
            || job.Parts.Any(x => x is null)
            || job.Lines.Any(x => x is null)
            || job.Limits.Any(x => x is null)
            || job.Verified.Any(x => x is null)
            || job.Notes.Any(x => x is null)
            || job.Attachments.Any(x => x is null)
            || job.Captures.Any(x => x is null)
            || job.Changes.Any(x => x is null)
        )
            return "A list of the file is missing, or has an empty entry.";
        if (string.IsNullOrWhiteSpace(job.Machine) || job.Machine.Length > 200)
            return "The machine has no name, or one of more than 200 characters.";
        if (
            job.Lines.Count > MostRows
            || job.Notes.Count > MostRows
            || job.Verified.Count > MostRows
            || job.Limits.Count > MostRows
            || job.Codes.Count > MostRows
            || job.Safety.Count > MostRows
            || job.Handovers.Count > MostRows
            || job.Parts.Count > MostRows
            || job.Changes.Count > MostRows
        )
            return $"More than {MostRows} entries in one list.";
        var sheet = SheetReader.Read(job.Sheet ?? "");
        if (!sheet.Ok)
            return $"Its sheet cannot be read: {sheet.Problems.First(p => p.Severity == Severity.Error)}";
        foreach (var (line, i) in job.Lines.Select((l, i) => (l, i)))
        {
            if (line.Phase is not ("trace" or "verify"))
                return $"Line {i + 1} is of no phase that is known: {line.Phase}.";
            if (line.Phase == "trace" && ReadingReader.Read(sheet.Value!, line.Text ?? "") is { Value: null } bad)
                return $"Line {i + 1}, {line.Text}: {bad.Problems[0].Message}";
            if (line.Span is { } span && !(double.IsFinite(span) && span >= 0))
                return $"Line {i + 1} moved by no possible figure: {span}.";
            if (!double.IsFinite(line.Minutes) || line.Minutes is < 0 or > 100_000)
                return $"Line {i + 1} has no possible time: {line.Minutes} min.";
        }
        if (job.Limits.FirstOrDefault(l => l.Kind is not ("place" or "setup")) is { } limit)
            return $"There is no limit of the kind {limit.Kind}.";
        if (
            job.Verified.FirstOrDefault(v =>
                v.Kind is not ("reading" or "drop" or "function" or "unloaded" or "interlock" or "codes" or "leads" or "bench" or "tag")
            ) is
            { } check
        )
            return $"There is no check of the kind {check.Kind}.";
        if (
            job.Safety.FirstOrDefault(s =>
                s.Kind is not ("said" or "lock" or "unlock" or "forced" or "tester" or "dead" or "denied" or "energised")
            ) is
            { } entry
        )
            return $"There is no safety entry of the kind {entry.Kind}.";
        if (job.Codes.FirstOrDefault(c => c.Status is not ("active" or "stored" or "absent") || c.Count < 0) is { } code)
            return $"The code {code.Number} has no status that is known, or a count below nothing.";
        if (job.Codes.Select(c => c.Number).Distinct().Count() != job.Codes.Count)
            return "A code stands twice.";
        if (job.Parts.FirstOrDefault(p => p.Price is { } price && (!double.IsFinite(price) || Math.Abs(price) > MostMoney)) is { } dear)
            return $"The part {dear.Name} has no possible price.";
        if (
            job.Finding is { } done
            && (
                new[] { done.Labour, done.Rate }.OfType<double>().Any(x => !double.IsFinite(x) || x is < 0 or > MostMoney)
                || !double.IsFinite(done.Share)
            )
        )
            return "The finding has no possible share, hours or rate.";
        if (
            job.Odds is null
            || job.Holder is null
            || job.Odds.Length > 20 * MostText
            || job.Odds.Length > 0 && LearntOdds.Read(job.Odds) == LearntOdds.None
        )
            return "What its odds had learnt cannot be read.";
        if (job.Attachments.FirstOrDefault(a => a.Stage is not ("" or "before" or "after")) is { } odd)
            return $"There is no stage {odd.Stage} of an attachment.";
        if (job.Verified.Select(v => v.Item).Distinct().Count() != job.Verified.Count)
            return "A check stands twice.";
        if (!Strategies.TryParse(job.Strategy, out _))
            return $"There is no way of working {job.Strategy}.";
        if (MeterClass.Find(job.Meter) is null)
            return $"There is no meter class {job.Meter}.";
        if (job.Seal is { } seal && !JobSeal.IsSeal(seal))
            return "What stands for its seal is none.";
        if (job.ClosedAt is not null && job.Outcome is null)
            return "The job is closed and has no outcome.";
        if (Moments(job).FirstOrDefault(m => Canonical(m) is null) is { } moment)
            return $"This is no time: {moment}. Write it as 2026-08-05T09:45:00Z.";
        if (
            Texts(job).FirstOrDefault(t => t is null || t.Length > MostText) is var text
            && Texts(job).Any(t => t is null || t.Length > MostText)
        )
            return text is null ? "A text of the file is missing." : $"A text of the file is longer than {MostText} characters.";
        if (job.Attachments.Count > MostAttachments)
            return $"More than {MostAttachments} attachments.";
        if (
            job.Attachments.FirstOrDefault(a => a.Data is null || a.Data.Length > MostAttachmentBytes || !Types.Contains(a.Type)) is { } big
        )
            return $"The attachment {big.Name} is larger than {MostAttachmentBytes / 1024 / 1024} MB or not a JPEG, PNG, WebP or PDF.";
        if (job.Captures.Count > MostAttachments)
            return $"More than {MostAttachments} captures.";
        if (
            job.Captures.FirstOrDefault(c => c.Data is null || c.Channels is null || !CaptureStore.IsKept(c.Data, c.Channels)) is
            { } capture
        )
            return $"The capture {capture.Name} cannot be read.";
        if (job.Attachments.FirstOrDefault(a => !IsWhatItSays(a.Type, a.Data)) is { } other)
            return $"The attachment {other.Name} is no {other.Type}.";
        return null;
    }

    /// <summary>True where a file begins as its type does.</summary>
    public static bool IsWhatItSays(string type, ReadOnlySpan<byte> data) =>
        type switch
        {
            "image/jpeg" => data.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8, 0xFF]),
            "image/png" => data.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G']),
            "image/webp" => data.StartsWith("RIFF"u8) && data.Length > 12 && data[8..].StartsWith("WEBP"u8),
            "application/pdf" => data.StartsWith("%PDF-"u8),
            _ => false,
        };

    private static readonly string[] TimeForms = ["yyyy-MM-dd'T'HH:mm:ssK", "yyyy-MM-dd'T'HH:mm:ss.FFFFFFFK"];

    /// <summary>A time as the store writes it, whole seconds in UTC; null for what is no time with a day, an hour and a zone.</summary>
    private static string? Canonical(string text) =>
        text is [.., 'Z'] or [.., _, ':', _, _]
        && DateTimeOffset.TryParseExact(text, TimeForms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var at)
            ? at.ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)
            : null;

    private static IEnumerable<string> Moments(JobFile job) =>
        [
            job.OpenedAt,
            .. job.ClosedAt is { } closed ? new[] { closed } : [],
            .. job.Lines.Select(l => l.At),
            .. job.Verified.Select(v => v.At),
            .. job.Notes.Select(n => n.At),
            .. job.Attachments.Select(a => a.At),
            .. job.Captures.Select(c => c.At),
            .. job.Finding is { } f ? new[] { f.At } : [],
            .. job.Codes.Select(c => c.At),
            .. job.Safety.Select(s => s.At),
            .. job.Handovers.Select(h => h.At),
            .. job.Parts.Select(p => p.At),
            .. job.Changes.Select(c => c.At),
            .. job.Intake is { } i ? new[] { i.At } : [],
        ];

    private static IEnumerable<string?> Texts(JobFile job) =>
        [
            job.Site,
            job.Complaint,
            job.Rules,
            job.Author,
            .. job.Lines.SelectMany(l => new[] { l.Text, l.Author, l.Meaning ?? "", l.Judgement ?? "", l.Meter ?? "", l.Dial ?? "" }),
            .. job.Limits.Select(l => l.What),
            .. job.Verified.SelectMany(v => new[] { v.Item, v.Result, v.Author }),
            .. job.Notes.SelectMany(n => new[] { n.Text, n.Author }),
            .. job.Attachments.SelectMany(a => new[] { a.Name, a.Caption, a.Author }),
            .. job.Captures.SelectMany(c => new[] { c.Name, c.Setup, c.Channels, c.Author }),
            .. job.Finding is { } f ? new[] { f.Fault, f.Proof, f.Cause, f.Repair, f.Parts, f.Method, f.Author } : [],
            job.Holder,
            .. job.Codes.SelectMany(c => new[] { c.Number, c.Author }),
            .. job.Safety.SelectMany(s => new[] { s.Item, s.Result, s.Author }),
            .. job.Handovers.SelectMany(h => new[] { h.FromAuthor, h.Author, h.Repeats }),
            .. job.Parts.SelectMany(p => new[] { p.Name, p.Author }),
            .. job.Changes.SelectMany(c => new[] { c.What, c.Was, c.Now, c.Author }),
            .. job.Intake is { } i ? new[] { i.Hours, i.Since, i.Conditions, i.Sounds, i.Author } : [],
        ];
}
