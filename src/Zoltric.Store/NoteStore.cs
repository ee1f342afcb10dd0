using Dapper;

namespace Zoltric.Store;

public sealed class NoteRow
{
    public long Id { get; init; }
    public string Text { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>An attachment without its bytes.</summary>
public sealed class AttachmentRow
{
    public long Id { get; init; }
    public string Name { get; init; } = "";
    public string Type { get; init; } = "";
    public string Caption { get; init; } = "";

    /// <summary>before, after, or empty.</summary>
    public string Stage { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>Notes and pictures of jobs.</summary>
public sealed class NoteStore(Database database, TimeProvider clock)
{
    public async Task<IReadOnlyList<NoteRow>> Notes(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<NoteRow>("SELECT id, text, author, at FROM note WHERE job_id = @jobId ORDER BY id", new { jobId })
        ).AsList();
    }

    public async Task Add(long jobId, string text, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT INTO note (job_id, text, author, at) VALUES (@jobId, @text, @author, @at)",
            new
            {
                jobId,
                text,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    public async Task<IReadOnlyList<AttachmentRow>> Attachments(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<AttachmentRow>(
                "SELECT id, name, type, caption, stage, author, at FROM attachment WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    public async Task Attach(long jobId, string name, string type, string caption, string stage, byte[] data, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT INTO attachment (job_id, name, type, caption, stage, data, author, at) VALUES (@jobId, @name, @type, "
                + "@caption, @stage, @data, @author, @at)",
            new
            {
                jobId,
                name,
                type,
                caption,
                stage,
                data,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>Name, media type and bytes of an attachment of that job.</summary>
    public async Task<(string Name, string Type, byte[] Data)?> Read(long jobId, long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<(string, string, byte[])?>(
            "SELECT name, type, data FROM attachment WHERE job_id = @jobId AND id = @id",
            new { jobId, id }
        );
    }
}
