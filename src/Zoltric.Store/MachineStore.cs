using Dapper;

namespace Zoltric.Store;

/// <summary>Machines and the versions of their sheets.</summary>
public sealed class MachineStore(Database database, TimeProvider clock)
{
    private const string Newest = """
        SELECT m.id, m.name, m.family, m.site, s.id AS sheet_id, s.version, s.functions
        FROM machine m JOIN sheet s ON s.machine_id = m.id
            AND s.version = (SELECT max(version) FROM sheet WHERE machine_id = m.id)
        """;

    public async Task<IReadOnlyList<MachineRow>> All()
    {
        await using var c = database.Open();
        return (await c.QueryAsync<MachineRow>(Newest + " ORDER BY m.name")).AsList();
    }

    /// <summary>Machines whose name, kind or place holds every word, by name; where there are too many, those worked on last.</summary>
    /// <returns>At most so many, and how many there are.</returns>
    public async Task<(IReadOnlyList<MachineRow> Found, long Count)> Search(string? words, int most)
    {
        var parameters = new DynamicParameters(new { most });
        var holds = "";
        foreach (var (i, word) in (words ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(MostWords).Index())
        {
            parameters.Add($"w{i}", word);
            holds += $" AND instr(lower(m.name || ' ' || coalesce(m.family, '') || ' ' || m.site), lower(@w{i})) > 0";
        }
        await using var c = database.Open();
        var count = await c.QuerySingleAsync<long>($"SELECT count(*) FROM machine m WHERE true {holds}", parameters);
        var found = await c.QueryAsync<MachineRow>(
            $"{Newest} WHERE true {holds} ORDER BY (SELECT max(id) FROM job WHERE machine_id = m.id) DESC NULLS LAST, m.name LIMIT @most",
            parameters
        );
        return ([.. found.OrderBy(m => m.Name, StringComparer.OrdinalIgnoreCase)], count);
    }

    /// <summary>More words of a search are not looked at.</summary>
    private const int MostWords = 8;

    /// <summary>Keeps the names of a sheet's functions, as they were read from its text.</summary>
    public async Task KeepFunctions(long sheetId, string functions)
    {
        await using var c = database.Open();
        await c.ExecuteAsync("UPDATE sheet SET functions = @functions WHERE id = @sheetId", new { sheetId, functions });
    }

    public async Task<MachineRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<MachineRow>(Newest + " WHERE m.id = @id", new { id });
    }

    public async Task<SheetRow?> Sheet(long sheetId)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<SheetRow>("SELECT * FROM sheet WHERE id = @sheetId", new { sheetId });
    }

    /// <summary>All versions of a machine's sheet, the newest first.</summary>
    public async Task<IReadOnlyList<SheetRow>> Sheets(long machineId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<SheetRow>("SELECT * FROM sheet WHERE machine_id = @machineId ORDER BY version DESC", new { machineId })
        ).AsList();
    }

    /// <summary>
    /// Keeps a sheet as the machine's next version, and the machine with it when the name is new. The same text again adds none.
    /// </summary>
    /// <returns>Id of the machine.</returns>
    public async Task<long> Keep(string name, string? family, string site, string text) =>
        (await KeepOn(name, family, site, text, null))!.Value;

    /// <summary>
    /// The same for a text that was made out of one version of the machine's sheet: null, and nothing kept, where that is not the newest.
    /// </summary>
    /// <param name="basis">That version; 0 for a machine that is new; null where it does not matter.</param>
    public async Task<long?> KeepOn(string name, string? family, string site, string text, long? basis)
    {
        await using var c = database.Open();
        // Nobody writes between the look and the change.
        await using var t = await c.BeginTransactionAsync(System.Data.IsolationLevel.Serializable);
        var newest = await c.QuerySingleOrDefaultAsync<SheetRow>(
            "SELECT s.* FROM sheet s JOIN machine m ON m.id = s.machine_id WHERE m.name = @name ORDER BY s.version DESC LIMIT 1",
            new { name },
            t
        );
        if (basis is { } from && from != (newest?.Version ?? 0))
            return null;
        await c.ExecuteAsync(
            "INSERT INTO machine (name, family, site) VALUES (@name, @family, @site) ON CONFLICT (name) DO UPDATE SET family = @family",
            new
            {
                name,
                family,
                site,
            },
            t
        );
        var id = await c.QuerySingleAsync<long>("SELECT id FROM machine WHERE name = @name", new { name }, t);
        if (newest?.Text != text)
            await c.ExecuteAsync(
                "INSERT INTO sheet (machine_id, version, text, created_at) VALUES (@id, @version, @text, @at)",
                new
                {
                    id,
                    version = (newest?.Version ?? 0) + 1,
                    text,
                    at = Now(clock),
                },
                t
            );
        await t.CommitAsync();
        return id;
    }

    /// <summary>UTC, sortable.</summary>
    internal static string Now(TimeProvider clock) => Text(clock.GetUtcNow());

    internal static string Text(DateTimeOffset at) =>
        at.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", System.Globalization.CultureInfo.InvariantCulture);
}
