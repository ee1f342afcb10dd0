using Dapper;

namespace Zoltric.Store;

/// <summary>A closed job that is not counted yet.</summary>
public sealed class UncountedJobRow
{
    public long Id { get; init; }
    public long SheetId { get; init; }
    public string SheetText { get; init; } = "";

    /// <summary>Whether the shares of its sheet are known.</summary>
    public bool Known { get; init; }
    public string Fault { get; init; } = "";
}

/// <summary>Closed jobs of a family by kind: that found it, or that the base odds of their sheets would have found it in.</summary>
public sealed class KindCountRow
{
    public string Family { get; init; } = "";
    public string Kind { get; init; } = "";
    public double Jobs { get; init; }
}

/// <summary>Whether closed jobs shift the odds, from when on they count, and which they are.</summary>
public sealed class LearningStore(Database database, TimeProvider clock)
{
    private const string On = "learning",
        Since = "learning since",
        Imported = "learning from imported",
        Version = "learning counted by";

    public async Task<(bool On, string Since, bool Imported)> Settings()
    {
        await using var c = database.Open();
        var all = (await c.QueryAsync<(string Name, string Value)>("SELECT name, value FROM setting")).ToDictionary(
            s => s.Name,
            s => s.Value
        );
        return (all.GetValueOrDefault(On) == "on", all.GetValueOrDefault(Since, ""), all.GetValueOrDefault(Imported) == "on");
    }

    public Task Switch(bool on) => Set(On, on ? "on" : "off");

    public Task CountImported(bool on) => Set(Imported, on ? "on" : "off");

    /// <summary>Jobs closed before now count no more.</summary>
    public Task Reset() => Set(Since, MachineStore.Now(clock));

    private async Task Set(string name, string value)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT INTO setting (name, value) VALUES (@name, @value) ON CONFLICT (name) DO UPDATE SET value = @value",
            new { name, value }
        );
    }

    /// <summary>Jobs mended, with a finding, that are not counted yet; jobs of one sheet together, the oldest sheet first.</summary>
    public async Task<IReadOnlyList<UncountedJobRow>> Uncounted(int most)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<UncountedJobRow>(
                """
                SELECT j.id, j.sheet_id, s.text AS sheet_text, f.fault, EXISTS (SELECT 1 FROM learnt_share l WHERE l.sheet_id = s.id)
                AS known FROM job j JOIN sheet s ON s.id = j.sheet_id JOIN finding f ON f.job_id = j.id
                WHERE j.closed_at IS NOT NULL AND j.outcome = 'mended' AND NOT EXISTS (SELECT 1 FROM learnt_job d WHERE d.job_id = j.id)
                ORDER BY j.sheet_id, j.id LIMIT @most
                """,
                new { most }
            )
        ).AsList();
    }

    /// <summary>Keeps what jobs of one sheet taught: their kinds, and the shares of the sheet where they were not known.</summary>
    public async Task Keep(long sheetId, IReadOnlyList<(long Job, string Kind)> jobs, IReadOnlyDictionary<string, double>? shares)
    {
        ArgumentNullException.ThrowIfNull(jobs);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        // A job that was taken out meanwhile, or counted by another request, is passed over.
        await c.ExecuteAsync(
            "INSERT OR IGNORE INTO learnt_share (sheet_id, kind, share) SELECT id, @Key, @Value FROM sheet WHERE id = @sheetId",
            (shares ?? new Dictionary<string, double>()).Select(s => new
            {
                sheetId,
                s.Key,
                s.Value,
            }),
            t
        );
        await c.ExecuteAsync(
            "INSERT OR IGNORE INTO learnt_job (job_id, kind) SELECT id, @Kind FROM job WHERE id = @Job",
            jobs.Select(j => new { j.Job, j.Kind }),
            t
        );
        await t.CommitAsync();
    }

    /// <summary>Where another version of the program has counted, all is counted anew.</summary>
    public async Task CountedBy(string version)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        const string read = "SELECT value FROM setting WHERE name = @Version";
        if (await c.QuerySingleOrDefaultAsync<string>(read, new { Version }, t) != version)
            await c.ExecuteAsync(
                """
                DELETE FROM learnt_job;
                DELETE FROM learnt_share;
                INSERT INTO setting (name, value) VALUES (@Version, @version) ON CONFLICT (name) DO UPDATE SET value = @version
                """,
                new { Version, version },
                t
            );
        await t.CommitAsync();
    }

    /// <summary>Closed jobs that found a kind in the twelve months before a time: on a machine, and on all.</summary>
    /// <param name="before">As the store writes times.</param>
    public async Task<(long Here, long All)> OfYear(long machineId, string kind, string before, long butJob)
    {
        await using var c = database.Open();
        return await c.QuerySingleAsync<(long, long)>(
            """
            SELECT coalesce(sum(j.machine_id = @machineId), 0), count(*) FROM learnt_job d JOIN job j ON j.id = d.job_id
            WHERE d.kind = @kind AND j.id <> @butJob AND j.closed_at < @before
            AND j.closed_at >= strftime('%Y-%m-%dT%H:%M:%SZ', @before, '-1 year')
            """,
            new
            {
                machineId,
                kind,
                before,
                butJob,
            }
        );
    }

    /// <summary>What the jobs that count by the settings found, and what was to be expected.</summary>
    public async Task<(IReadOnlyList<KindCountRow> Found, IReadOnlyList<KindCountRow> Expected)> Counted()
    {
        var (_, since, imported) = await Settings();
        const string counting = """
            WITH counting AS (SELECT COALESCE(m.family, '') AS family, j.sheet_id, d.kind, COUNT(*) AS jobs
            FROM learnt_job d JOIN job j ON j.id = d.job_id JOIN machine m ON m.id = j.machine_id
            WHERE d.kind <> '' AND j.closed_at > @since AND (@imported OR j.imported = 0) GROUP BY 1, 2, 3)

            """;
        await using var c = database.Open();
        var found = await c.QueryAsync<KindCountRow>(
            counting + "SELECT family, kind, SUM(jobs) AS jobs FROM counting GROUP BY family, kind",
            new { since, imported }
        );
        var expected = await c.QueryAsync<KindCountRow>(
            counting
                + "SELECT n.family, l.kind, SUM(n.jobs * l.share) AS jobs FROM counting n JOIN learnt_share l ON l.sheet_id = n.sheet_id "
                + "GROUP BY n.family, l.kind",
            new { since, imported }
        );
        return (found.AsList(), expected.AsList());
    }
}
