using Dapper;

namespace Zoltric.Store;

/// <summary>A closed job as learning counts it.</summary>
public sealed class ClosedJobRow
{
    public long Id { get; init; }
    public string? Family { get; init; }
    public string SheetText { get; init; } = "";
    public string Fault { get; init; } = "";
}

/// <summary>Whether closed jobs shift the odds, from when on they count, and which they are.</summary>
public sealed class LearningStore(Database database, TimeProvider clock)
{
    private const string On = "learning",
        Since = "learning since",
        Imported = "learning from imported";

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

    /// <summary>Jobs mended, with a finding, that count by the settings.</summary>
    public async Task<IReadOnlyList<ClosedJobRow>> Closed()
    {
        var (_, since, imported) = await Settings();
        await using var c = database.Open();
        return (
            await c.QueryAsync<ClosedJobRow>(
                """
                SELECT j.id, m.family, s.text AS sheet_text, f.fault FROM job j JOIN machine m ON m.id = j.machine_id JOIN sheet s
                ON s.id = j.sheet_id JOIN finding f ON f.job_id = j.id
                WHERE j.closed_at IS NOT NULL AND j.outcome = 'mended' AND j.closed_at > @since AND (@imported OR j.imported = 0)
                ORDER BY j.id
                """,
                new { since, imported }
            )
        ).AsList();
    }
}
