using Dapper;

namespace Zoltric.Store;

/// <summary>What forms have sent: whoever sends the same once more is answered and nothing is done again.</summary>
public sealed class SubmissionStore(Database database, TimeProvider clock)
{
    /// <summary>The longest that a phone keeps what could not be sent, days.</summary>
    internal const int LongestWait = 14;

    /// <summary>True for the first of its kind, which is to be done now.</summary>
    public async Task<bool> Take(string id)
    {
        await using var c = database.Open();
        return await c.ExecuteAsync(
                "INSERT OR IGNORE INTO submission (id, at) VALUES (@id, @now)",
                new { id, now = MachineStore.Now(clock) }
            ) == 1;
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
        await c.ExecuteAsync(
            "DELETE FROM submission WHERE at < @before",
            new { before = MachineStore.Text(clock.GetUtcNow().AddDays(-LongestWait)) }
        );
    }
}
