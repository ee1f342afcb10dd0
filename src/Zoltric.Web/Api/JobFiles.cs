using System.Globalization;
using System.Text.Json;
using Zoltric.Store;
using Zoltric.Web.Import;

namespace Zoltric.Web.Api;

/// <summary>Whole jobs as files, their readings as a table, their pictures.</summary>
public static class JobFiles
{
    public static void MapJobFiles(this WebApplication app)
    {
        var api = app.MapGroup("/api/v1/jobs").WithTags("jobs");
        api.MapGet("/{id:long}/export", async (long id, JobArchive archive) =>
                await archive.Export(id) is { } job
                    ? Results.File(JsonSerializer.SerializeToUtf8Bytes(job, JobFileReader.Json), "application/json", $"job-{id}.json")
                    : Results.Problem(title: $"There is no job {id}.", statusCode: 404)
            )
            .WithSummary("A whole job as one JSON file");
        api.MapPost("/import", Import).WithSummary("Puts a whole job in from its JSON file");
        api.MapGet("/{id:long}/readings.csv", async (long id, JobArchive archive) =>
                await archive.Export(id) is { } job
                    ? Results.File(System.Text.Encoding.UTF8.GetBytes(Csv(job)), "text/csv; charset=utf-8", $"job-{id}-readings.csv")
                    : Results.Problem(title: $"There is no job {id}.", statusCode: 404)
            )
            .WithSummary("The reading lines of a job as a table");
        api.MapGet("/{id:long}/attachments/{attachment:long}", async (long id, long attachment, NoteStore notes) =>
                await notes.Read(id, attachment) is { } a && JobFileReader.Types.Contains(a.Type)
                    ? Results.File(a.Data, a.Type)
                    : Results.NotFound()
            )
            .WithSummary("A picture or document of a job");
    }

    private static async Task<IResult> Import(HttpRequest request, ImportStore imports, LogbookStore logbook)
    {
        // Any page may make a browser post text; JSON it has to ask for first.
        if (!request.HasJsonContentType())
            return Results.Problem(title: "The job cannot be used.", detail: "It has to be sent as application/json.", statusCode: 415);
        if (request.ContentLength > JobFileReader.MostBytes)
            return Results.Problem(title: "The job cannot be used.", detail: "The file is too large.", statusCode: 413);
        using var body = new MemoryStream();
        await request.Body.CopyToAsync(body);
        var (job, problem) = JobFileReader.Read(body.ToArray());
        if (job is null)
            return Results.Problem(title: "The job cannot be used.", detail: problem, statusCode: 400);
        var id = await imports.Bring("HTTP interface", job, request.HttpContext.User.Identity?.Name ?? "a program");
        if (job.ClosedAt is not null)
            await logbook.Index(id);
        return Results.Created($"/api/v1/jobs/{id}/export", new { id });
    }

    private static string Csv(JobFile job) =>
        TableFile.Csv([
            ["line", "phase", "reading", "judgement", "low", "high", "meaning", "struck", "minutes", "by", "at"],
            .. job.Lines.Select(
                (l, i) =>
                    (IReadOnlyList<string>)
                        [
                            (i + 1).ToString(CultureInfo.InvariantCulture),
                            l.Phase,
                            l.Text,
                            l.Judgement ?? "",
                            Number(l.Low),
                            Number(l.High),
                            l.Meaning ?? "",
                            l.Struck ? "struck" : "",
                            Number(l.Minutes),
                            l.Author,
                            l.At,
                        ]
            ),
        ]);

    private static string Number(double? v) => v?.ToString("0.###", CultureInfo.InvariantCulture) ?? "";
}
