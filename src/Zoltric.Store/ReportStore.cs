using Dapper;

namespace Zoltric.Store;

/// <summary>The computed part of a closed job's report, as it stood when it was closed.</summary>
public sealed class FrozenReport
{
    public string Html { get; init; } = "";

    /// <summary>Version of Zoltric that computed it.</summary>
    public string Version { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>Reports of closed jobs: written once for each reader and never again.</summary>
public sealed class ReportStore(Database database, TimeProvider clock)
{
    public async Task<FrozenReport?> Find(long jobId, string reader)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<FrozenReport>(
            "SELECT html, version, at FROM report WHERE job_id = @jobId AND reader = @reader",
            new { jobId, reader }
        );
    }

    /// <summary>Keeps a report unless there is one or the job is open.</summary>
    public async Task Keep(long jobId, string reader, string html, string version)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT OR IGNORE INTO report (job_id, reader, html, version, at) "
                + "SELECT id, @reader, @html, @version, @at FROM job WHERE id = @jobId AND closed_at IS NOT NULL",
            new
            {
                jobId,
                reader,
                html,
                version,
                at = MachineStore.Now(clock),
            }
        );
    }
}
