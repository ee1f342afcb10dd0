using Dapper;

namespace Zoltric.Store;

public sealed class PartRow
{
    public string Name { get; init; } = "";

    /// <summary>In the currency of the workshop; null where not given.</summary>
    public double? Price { get; init; }

    /// <summary>False for a part that turned out not to be needed.</summary>
    public bool Needed { get; init; }
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>Parts used on jobs, and parts that turned out not to be needed.</summary>
public sealed class PartStore(Database database, TimeProvider clock)
{
    public async Task<IReadOnlyList<PartRow>> All(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<PartRow>(
                "SELECT name, price, needed, author, at FROM part_used WHERE job_id = @jobId ORDER BY id",
                new { jobId }
            )
        ).AsList();
    }

    /// <summary>Keeps the parts of a job as they are listed now, in the place of what stood there.</summary>
    public async Task Keep(long jobId, IEnumerable<(string Name, double? Price, bool Needed)> parts, string author)
    {
        ArgumentNullException.ThrowIfNull(parts);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var list = parts.ToList();
        var was = (
            await c.QueryAsync<PartRow>("SELECT name, price, needed FROM part_used WHERE job_id = @jobId ORDER BY id", new { jobId }, t)
        ).AsList();
        if (was.Count > 0)
            await JobHistory.Write(t, jobId, "parts", Text(was.Select(p => (p.Name, p.Price, p.Needed))), Text(list), author, clock);
        await c.ExecuteAsync("DELETE FROM part_used WHERE job_id = @jobId", new { jobId }, t);
        foreach (var (name, price, needed) in list)
            await c.ExecuteAsync(
                "INSERT INTO part_used (job_id, name, price, needed, author, at) VALUES (@jobId, @name, @price, @needed, @author, @at)",
                new
                {
                    jobId,
                    name,
                    price,
                    needed,
                    author,
                    at = MachineStore.Now(clock),
                },
                t
            );
        await t.CommitAsync();
    }

    private static string Text(IEnumerable<(string Name, double? Price, bool Needed)> parts) =>
        string.Join(
            "; ",
            parts.Select(p =>
                p.Name
                + (p.Price is { } price ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $" {price:0.##}") : "")
                + (p.Needed ? "" : ", not needed")
            )
        );
}
