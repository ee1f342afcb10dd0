using Dapper;

namespace Zoltric.Store;

/// <summary>Jobs and what was read on them.</summary>
public sealed class JobStore(Database database, TimeProvider clock)
{
    private const string Whole = """
        SELECT j.*, m.name AS machine, m.site, s.version AS sheet_version, s.text AS sheet_text, f.fault,
            (SELECT count(*) FROM line l WHERE l.job_id = j.id AND l.phase = 'trace' AND l.struck = 0) AS readings,
            (SELECT coalesce(sum(l.minutes), 0.0) FROM line l WHERE l.job_id = j.id) AS minutes
        FROM job j JOIN machine m ON m.id = j.machine_id JOIN sheet s ON s.id = j.sheet_id LEFT JOIN finding f ON f.job_id = j.id
        """;

    /// <summary>Every open job, the newest first.</summary>
    public async Task<IReadOnlyList<JobRow>> Opened()
    {
        await using var c = database.Open();
        return (await c.QueryAsync<JobRow>(Whole + " WHERE j.closed_at IS NULL ORDER BY j.opened_at DESC, j.id DESC")).AsList();
    }

    /// <summary>Jobs closed last, the newest first.</summary>
    public async Task<IReadOnlyList<JobRow>> Closed(int most)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<JobRow>(
                Whole + " WHERE j.closed_at IS NOT NULL ORDER BY j.closed_at DESC, j.id DESC LIMIT @most",
                new { most }
            )
        ).AsList();
    }

    /// <summary>Open and closed jobs by machine.</summary>
    public async Task<IReadOnlyDictionary<long, (int Open, int Closed)>> Counts()
    {
        await using var c = database.Open();
        var rows = await c.QueryAsync<(long Machine, long Open, long Closed)>(
            "SELECT machine_id, count(*) - count(closed_at), count(closed_at) FROM job GROUP BY machine_id"
        );
        return rows.ToDictionary(r => r.Machine, r => ((int)r.Open, (int)r.Closed));
    }

    /// <summary>All open and all closed jobs.</summary>
    public async Task<(long Open, long Closed)> CountAll()
    {
        await using var c = database.Open();
        return await c.QuerySingleAsync<(long, long)>("SELECT count(*) - count(closed_at), count(closed_at) FROM job");
    }

    /// <summary>True while the job that a change is meant for is open: what is closed stays as it is.</summary>
    internal const string IsOpen = "EXISTS (SELECT 1 FROM job WHERE id = @jobId AND closed_at IS NULL)";

    public async Task<JobRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<JobRow>(Whole + " WHERE j.id = @id", new { id });
    }

    /// <summary>A mark of what stands in a job: another one as soon as anything in it is. Null where there is no such job.</summary>
    public async Task<string?> Mark(long id)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<string>(
            """
            SELECT (SELECT COUNT(*) || '.' || COALESCE(MAX(id), 0) || '.' || TOTAL(struck) || '.' || TOTAL(LENGTH(text))
                      FROM line WHERE job_id = j.id)
                || '/' || (SELECT COUNT(*) FROM safety WHERE job_id = j.id)
                || '/' || (SELECT COUNT(*) || '.' || TOTAL(LENGTH(what)) FROM job_limit WHERE job_id = j.id)
                || '/' || (SELECT COUNT(*) FROM handover WHERE job_id = j.id)
                || '/' || (SELECT COUNT(*) || '.' || TOTAL(LENGTH(fault)) FROM finding WHERE job_id = j.id)
                || '/' || j.sheet_id || '/' || j.strategy || '/' || j.meter || '/' || COALESCE(j.closed_at, '')
              FROM job j WHERE j.id = @id
            """,
            new { id }
        );
    }

    /// <summary>Opens a job with its first line, the complaint as seen.</summary>
    public async Task<long> Open(
        long machineId,
        long sheetId,
        string complaint,
        string rules,
        string author,
        IEnumerable<string> lines,
        string odds = ""
    )
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var at = MachineStore.Now(clock);
        var id = await c.QuerySingleAsync<long>(
            "INSERT INTO job (machine_id, sheet_id, complaint, rules, author, holder, odds, opened_at) VALUES (@machineId, "
                + "@sheetId, @complaint, @rules, @author, @author, @odds, @at) RETURNING id",
            new
            {
                machineId,
                sheetId,
                complaint,
                rules,
                author,
                odds,
                at,
            },
            t
        );
        foreach (var text in lines)
            await c.ExecuteAsync(
                "INSERT INTO line (job_id, phase, text, author, at) VALUES (@id, 'trace', @text, @author, @at)",
                new
                {
                    id,
                    text,
                    author,
                    at,
                },
                t
            );
        await t.CommitAsync();
        return id;
    }

    public async Task<IReadOnlyList<LineRow>> Lines(long jobId)
    {
        await using var c = database.Open();
        return (await c.QueryAsync<LineRow>("SELECT * FROM line WHERE job_id = @jobId ORDER BY id", new { jobId })).AsList();
    }

    /// <summary>True where a page with that token has given its line.</summary>
    public async Task<bool> IsGiven(long jobId, string token)
    {
        await using var c = database.Open();
        return await c.ExecuteScalarAsync<bool>(
            "SELECT EXISTS (SELECT 1 FROM line WHERE job_id = @jobId AND token = @token)",
            new { jobId, token }
        );
    }

    /// <summary>
    /// Adds one line, given back as it stands; on the disk when this returns. Null where a line with that token stands already.
    /// </summary>
    /// <param name="taken">What the meter says of it that gave it by itself; null for what was typed.</param>
    /// <param name="given">When a phone without network was told it, by the phone; null for now.</param>
    public async Task<LineRow?> AddLine(
        long jobId,
        string phase,
        string text,
        string author,
        double minutes,
        string? token = null,
        TakenBy? taken = null,
        DateTimeOffset? given = null
    )
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<LineRow>(
            "INSERT INTO line (job_id, phase, text, author, at, minutes, token, meter, dial, span) VALUES (@jobId, @phase, @text, "
                + "@author, @at, @minutes, @token, @Meter, @Dial, @Span) ON CONFLICT DO NOTHING RETURNING *",
            new
            {
                jobId,
                phase,
                text,
                author,
                at = Moment(given),
                minutes,
                token,
                taken?.Meter,
                taken?.Dial,
                taken?.Span,
            }
        );
    }

    /// <summary>The moment that a phone says where it can be true, else now.</summary>
    private string Moment(DateTimeOffset? given)
    {
        var now = clock.GetUtcNow();
        return MachineStore.Text(given is { } at && at <= now && at > now.AddDays(-SubmissionStore.LongestWait) ? at : now);
    }

    /// <summary>Keeps the verdict that was shown with a line, once.</summary>
    public async Task KeepVerdict(long lineId, string judgement, double? low, double? high, string meaning)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE line SET judgement = @judgement, low = @low, high = @high, meaning = @meaning WHERE id = @lineId AND judgement IS NULL",
            new
            {
                lineId,
                judgement,
                low,
                high,
                meaning,
            }
        );
    }

    /// <summary>Strikes a line out, or takes it back in.</summary>
    public Task Strike(long jobId, long lineId, bool struck, string author) =>
        ChangeLine(jobId, lineId, "struck = @struck", new { struck }, author);

    /// <summary>Writes a line of an open job in other words that mean the same.</summary>
    public Task Reword(long jobId, long lineId, string text, string author) =>
        ChangeLine(jobId, lineId, "text = @text", new { text }, author);

    /// <summary>Marks a line as doubtful, or takes the mark back: its text with or without the question mark at its end.</summary>
    public Task Doubt(long jobId, long lineId, bool doubtful, string author) =>
        ChangeLine(jobId, lineId, "text = rtrim(text, '?') || @mark", new { mark = doubtful ? "?" : "" }, author);

    private async Task ChangeLine(long jobId, long lineId, string set, object values, string author)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var parameters = new DynamicParameters(values);
        parameters.AddDynamicParams(new { jobId, lineId });
        const string read =
            "SELECT text || CASE struck WHEN 1 THEN ' (struck)' ELSE '' END FROM line WHERE id = @lineId AND job_id = @jobId";
        var was = await c.QuerySingleOrDefaultAsync<string>(read, parameters, t);
        if (await c.ExecuteAsync($"UPDATE line SET {set} WHERE id = @lineId AND job_id = @jobId AND {IsOpen}", parameters, t) == 0)
            return;
        var now = await c.QuerySingleAsync<string>(read, parameters, t);
        var place = await c.ExecuteScalarAsync<long>(
            "SELECT count(*) FROM line WHERE job_id = @jobId AND id <= @lineId AND phase = (SELECT phase FROM line WHERE id = @lineId)",
            parameters,
            t
        );
        await JobHistory.Write(t, jobId, $"line {place}", was ?? "", now, author, clock);
        await t.CommitAsync();
    }

    public async Task<IReadOnlyList<LimitRow>> Limits(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<LimitRow>("SELECT kind, what FROM job_limit WHERE job_id = @jobId ORDER BY rowid", new { jobId })
        ).AsList();
    }

    public async Task SetLimit(long jobId, string kind, string what, bool limited, string author)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var changed = await c.ExecuteAsync(
            limited
                ? $"INSERT INTO job_limit (job_id, kind, what) SELECT @jobId, @kind, @what WHERE {IsOpen} ON CONFLICT DO NOTHING"
                : $"DELETE FROM job_limit WHERE job_id = @jobId AND kind = @kind AND what = @what AND {IsOpen}",
            new
            {
                jobId,
                kind,
                what,
            },
            t
        );
        if (changed > 0)
            await JobHistory.Write(t, jobId, $"{kind} not to be used", limited ? "" : what, limited ? what : "", author, clock);
        await t.CommitAsync();
    }

    public Task SetStrategy(long jobId, string strategy, string author) =>
        ChangeJob(jobId, "way of working", "strategy", "@value", strategy, author);

    public Task SetMeter(long jobId, string meter, string author) => ChangeJob(jobId, "meter", "meter", "@value", meter, author);

    /// <summary>Goes on with the machine's newest sheet; the readings stay.</summary>
    public Task UseNewestSheet(long jobId, string author) =>
        ChangeJob(
            jobId,
            "sheet, version",
            "sheet_id",
            "(SELECT s.id FROM sheet s WHERE s.machine_id = job.machine_id ORDER BY s.version DESC LIMIT 1)",
            "",
            author,
            "(SELECT version FROM sheet WHERE id = job.sheet_id)"
        );

    private async Task ChangeJob(long jobId, string what, string column, string to, string value, string author, string? shown = null)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var read = $"SELECT CAST({shown ?? column} AS TEXT) FROM job WHERE id = @jobId";
        var was = await c.QuerySingleOrDefaultAsync<string>(read, new { jobId }, t);
        if (await c.ExecuteAsync($"UPDATE job SET {column} = {to} WHERE id = @jobId AND closed_at IS NULL", new { jobId, value }, t) == 0)
            return;
        await JobHistory.Write(t, jobId, what, was ?? "", await c.QuerySingleAsync<string>(read, new { jobId }, t), author, clock);
        await t.CommitAsync();
    }

    /// <summary>Closes a job and seals what it holds; one that is closed stays as it is.</summary>
    public async Task Close(long jobId, string outcome)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var closed = await c.ExecuteAsync(
            "UPDATE job SET closed_at = @at, outcome = @outcome WHERE id = @jobId AND closed_at IS NULL",
            new
            {
                jobId,
                outcome,
                at = MachineStore.Now(clock),
            },
            t
        );
        if (closed > 0)
            await JobArchive.Seal(t, jobId);
        await t.CommitAsync();
    }
}
