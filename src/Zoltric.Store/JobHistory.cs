using System.Data.Common;
using Dapper;

namespace Zoltric.Store;

/// <summary>Something on a job that was changed after it was written.</summary>
/// <param name="What">In words: line 3, cause, meter.</param>
/// <param name="Was">Empty for what was not there.</param>
/// <param name="Now">Empty for what is there no more.</param>
/// <param name="At">UTC, ISO 8601.</param>
public sealed record JobChange(string What, string Was, string Now, string Author, string At);

/// <summary>The changes of a job: read as a whole, written together with what they change. None is ever altered or removed.</summary>
public sealed class JobHistory(Database database)
{
    public async Task<IReadOnlyList<JobChange>> Of(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<JobChange>(
                "SELECT what, was, now, author, at FROM job_change WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    /// <summary>Writes down a change of the running transaction; nothing where it is none.</summary>
    internal static async Task Write(DbTransaction t, long jobId, string what, string was, string now, string author, TimeProvider clock)
    {
        if (was == now)
            return;
        await t.Connection!.ExecuteAsync(
            "INSERT INTO job_change (job_id, what, was, now, author, at) VALUES (@jobId, @what, @was, @now, @author, @at)",
            new
            {
                jobId,
                what,
                was,
                now,
                author,
                at = MachineStore.Now(clock),
            },
            t
        );
    }
}
