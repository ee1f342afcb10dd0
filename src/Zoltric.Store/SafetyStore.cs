using System.Text.Json.Serialization;
using Dapper;

namespace Zoltric.Store;

public sealed class SafetyRow
{
    /// <summary>said, lock, unlock, tester, dead, denied or energised.</summary>
    public string Kind { get; init; } = "said";
    public string Item { get; init; } = "";
    public string Result { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";

    /// <summary>Id of the last line of the job before it; 0 for none.</summary>
    [JsonIgnore]
    public long AfterLine { get; init; }

    /// <summary>True for what an imported file brought: history, never in force.</summary>
    [JsonIgnore]
    public bool Imported { get; init; }
}

public sealed class HandoverRow
{
    public string FromAuthor { get; init; } = "";
    public string Author { get; init; } = "";

    /// <summary>The two tests to be read again, a line each, without their results.</summary>
    public string Repeats { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>What was said, locked and proved dead on a job, and who took it over. Entries are added, never changed.</summary>
public sealed class SafetyStore(Database database, TimeProvider clock)
{
    public async Task<IReadOnlyList<SafetyRow>> All(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<SafetyRow>(
                "SELECT kind, item, result, author, at, after_line, imported FROM safety WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    public async Task Add(long jobId, string kind, string item, string result, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            INSERT INTO safety (job_id, kind, item, result, author, at, after_line)
            VALUES (@jobId, @kind, @item, @result, @author, @at, (SELECT COALESCE(MAX(id), 0) FROM line WHERE job_id = @jobId))
            """,
            new
            {
                jobId,
                kind,
                item,
                result,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    public async Task<IReadOnlyList<HandoverRow>> Handovers(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<HandoverRow>(
                "SELECT from_author, author, repeats, at FROM handover WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    /// <summary>Puts a job into other hands.</summary>
    public async Task TakeOver(long jobId, string author, string repeats)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        await c.ExecuteAsync(
            "INSERT INTO handover (job_id, from_author, author, repeats, at) SELECT id, holder, @author, @repeats, @at "
                + "FROM job WHERE id = @jobId AND closed_at IS NULL",
            new
            {
                jobId,
                author,
                repeats,
                at = MachineStore.Now(clock),
            },
            t
        );
        await c.ExecuteAsync("UPDATE job SET holder = @author WHERE id = @jobId AND closed_at IS NULL", new { jobId, author }, t);
        await t.CommitAsync();
    }
}
