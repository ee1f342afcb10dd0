using Dapper;

namespace Zoltric.Store;

public sealed class LogbookRow
{
    public long Id { get; init; }
    public string Machine { get; init; } = "";
    public string? Family { get; init; }
    public string Complaint { get; init; } = "";
    public string Fault { get; init; } = "";
    public string Cause { get; init; } = "";
    public string ClosedAt { get; init; } = "";
    public string? Outcome { get; init; }
    public long Readings { get; init; }
    public double Minutes { get; init; }

    /// <summary>Parts that turned out not to be needed.</summary>
    public long NotNeeded { get; init; }
}

/// <summary>Closed jobs, searched by any word of them (SQLite FTS5).</summary>
public sealed class LogbookStore(Database database)
{
    private const string Columns = """
        SELECT j.id, m.name AS machine, m.family, j.complaint, coalesce(f.fault, '') AS fault, coalesce(f.cause, '') AS cause,
        j.closed_at, j.outcome,
            (SELECT count(*) FROM part_used p WHERE p.job_id = j.id AND NOT p.needed) AS not_needed,
            (SELECT count(*) FROM line l WHERE l.job_id = j.id AND l.phase = 'trace' AND NOT l.struck) AS readings,
            (SELECT coalesce(sum(minutes), 0.0) FROM line l WHERE l.job_id = j.id AND l.phase = 'trace') AS minutes
        FROM job j JOIN machine m ON m.id = j.machine_id LEFT JOIN finding f ON f.job_id = j.id
        """;

    /// <summary>Closed jobs as they stand in the full text; a condition on j follows.</summary>
    private const string Write = """
        INSERT INTO logbook (rowid, machine, complaint, fault, cause, repair, parts, readings, notes)
        SELECT j.id, m.name, j.complaint, coalesce(f.fault, ''), coalesce(f.cause, ''), coalesce(f.repair, ''), coalesce(f.parts, ''),
            (SELECT coalesce(group_concat(text, ' '), '') FROM line WHERE job_id = j.id), (SELECT coalesce(group_concat(text,
            ' '), '') FROM note WHERE job_id = j.id)
        FROM job j JOIN machine m ON m.id = j.machine_id LEFT JOIN finding f ON f.job_id = j.id WHERE j.closed_at IS NOT NULL AND
        """;

    /// <summary>Writes a closed job into the full text, over what stood there.</summary>
    public async Task Index(long jobId)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        await c.ExecuteAsync("DELETE FROM logbook WHERE rowid = @jobId", new { jobId }, t);
        await c.ExecuteAsync(Write + " j.id = @jobId", new { jobId }, t);
        await t.CommitAsync();
    }

    /// <summary>
    /// Writes into the full text what was closed and is not in it: cut off between the two, or closed by an older version.
    /// </summary>
    /// <returns>How many there were.</returns>
    public async Task<int> IndexMissing()
    {
        await using var c = database.Open();
        return await c.ExecuteAsync(Write + " j.id NOT IN (SELECT rowid FROM logbook)");
    }

    /// <summary>Closed jobs of a machine, the newest first.</summary>
    public async Task<IReadOnlyList<LogbookRow>> OfMachine(long machineId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<LogbookRow>(
                Columns + " WHERE j.closed_at IS NOT NULL AND j.machine_id = @machineId ORDER BY j.closed_at DESC LIMIT 200",
                new { machineId }
            )
        ).AsList();
    }

    /// <summary>
    /// Closed jobs that hold every word, the newest first; all of them without words. Words may be cut short: "neut" finds neutral.
    /// </summary>
    /// <returns>The newest of them, and how many there are.</returns>
    public async Task<(IReadOnlyList<LogbookRow> Found, long Count)> Find(
        string? words,
        string? family,
        DateOnly? from = null,
        DateOnly? to = null
    )
    {
        // Each word in quotes, so that no sign in it is taken for a search operator.
        var query = string.Join(
            ' ',
            string.Concat((words ?? "").Where(c => !char.IsControl(c)))
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Take(20)
                .Select(w => $"\"{w.Replace("\"", "\"\"", StringComparison.Ordinal)}\"*")
        );
        await using var c = database.Open();
        var where =
            " WHERE j.closed_at IS NOT NULL AND (@family = '' OR m.family = @family) AND (@from = '' OR j.closed_at >= "
            + "@from) AND (@to = '' OR j.closed_at < @to)"
            + (query.Length == 0 ? "" : " AND j.id IN (SELECT rowid FROM logbook WHERE logbook MATCH @query)");
        var asked = new
        {
            query,
            family = family ?? "",
            from = Day(from),
            to = Day(to < DateOnly.MaxValue ? to?.AddDays(1) : null),
        };
        return (
            (await c.QueryAsync<LogbookRow>(Columns + where + " ORDER BY j.closed_at DESC LIMIT 200", asked)).AsList(),
            await c.ExecuteScalarAsync<long>("SELECT count(*) FROM job j JOIN machine m ON m.id = j.machine_id" + where, asked)
        );
    }

    private static string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture) ?? "";
}
