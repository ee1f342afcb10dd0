using Dapper;

namespace Zoltric.Store;

public sealed class IntakeRow
{
    public string Hours { get; init; } = "";
    public string Since { get; init; } = "";

    /// <summary>Words joined by ", ": hot, wet, after a wash.</summary>
    public string Conditions { get; init; } = "";
    public string Sounds { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

public sealed class CodeRow
{
    public string Number { get; init; } = "";
    public string Status { get; init; } = "active";
    public long? Count { get; init; }
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>What was asked before the trace, and the codes that were read.</summary>
public sealed class IntakeStore(Database database, TimeProvider clock)
{
    public async Task<IntakeRow?> Find(long jobId)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<IntakeRow>(
            "SELECT hours, since, conditions, sounds, author, at FROM intake WHERE job_id = @jobId",
            new { jobId }
        );
    }

    public async Task Keep(long jobId, string hours, string since, string conditions, string sounds, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            INSERT INTO intake (job_id, hours, since, conditions, sounds, author, at) VALUES (@jobId, @hours, @since, @conditions,
            @sounds, @author, @at)
            ON CONFLICT (job_id) DO UPDATE SET hours = @hours, since = @since, conditions = @conditions, sounds = @sounds, author
            = @author, at = @at
            """,
            new
            {
                jobId,
                hours,
                since,
                conditions,
                sounds,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    public async Task<IReadOnlyList<CodeRow>> Codes(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<CodeRow>(
                "SELECT number, status, count, author, at FROM code WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    /// <summary>Keeps codes as they were read now; one read before takes its new status.</summary>
    public async Task KeepCodes(long jobId, IEnumerable<(string Number, string Status, int? Count)> codes, string author)
    {
        ArgumentNullException.ThrowIfNull(codes);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        foreach (var (number, status, count) in codes)
            await c.ExecuteAsync(
                """
                INSERT INTO code (job_id, number, status, count, author, at) VALUES (@jobId, @number, @status, @count, @author, @at)
                ON CONFLICT (job_id, number) DO UPDATE SET status = @status, count = @count, author = @author, at = @at
                """,
                new
                {
                    jobId,
                    number,
                    status,
                    count,
                    author,
                    at = MachineStore.Now(clock),
                },
                t
            );
        await t.CommitAsync();
    }
}
