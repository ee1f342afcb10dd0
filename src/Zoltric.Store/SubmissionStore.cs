using System.Globalization;
using Dapper;

namespace Zoltric.Store;

/// <summary>What forms have sent: whoever sends the same once more is answered and nothing is done again.</summary>
public sealed class SubmissionStore(Database database, TimeProvider clock)
{
    /// <summary>Longer than any phone goes on trying.</summary>
    private const int DaysKept = 14;

    /// <summary>True for the first of its kind, which is to be done now.</summary>
    public async Task<bool> Take(string id)
    {
        await using var c = database.Open();
        return await c.ExecuteAsync("INSERT OR IGNORE INTO submission (id, at) VALUES (@id, @now)", new { id, now = At(0) }) == 1;
    }

    /// <summary>After it was not done.</summary>
    public async Task Release(string id)
    {
        await using var c = database.Open();
        await c.ExecuteAsync("DELETE FROM submission WHERE id = @id", new { id });
    }

    /// <summary>Forgets what nobody will send again.</summary>
    public async Task Forget()
    {
        await using var c = database.Open();
        await c.ExecuteAsync("DELETE FROM submission WHERE at < @before", new { before = At(-DaysKept) });
    }

    private string At(int days) => clock.GetUtcNow().AddDays(days).ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture);
}
