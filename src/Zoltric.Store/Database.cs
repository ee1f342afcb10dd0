using System.Data.Common;
using Dapper;
using DbUp;
using DbUp.Engine;
using Microsoft.Data.Sqlite;

namespace Zoltric.Store;

/// <summary>
/// One SQLite file. Every commit is on the disk before it is acknowledged; migrations run at start, in the order of their numbers.
/// </summary>
public sealed class Database
{
    private readonly string _connection;

    public Database(string file)
    {
        DefaultTypeMap.MatchNamesWithUnderscores = true;
        _connection = new SqliteConnectionStringBuilder
        {
            DataSource = file,
            ForeignKeys = true,
            DefaultTimeout = 10,
        }.ToString();
    }

    /// <summary>Brings the file to the newest shape.</summary>
    /// <exception cref="InvalidOperationException">When a migration fails; nothing of it stays.</exception>
    public void Migrate()
    {
        using (var c = Open())
            c.Execute("PRAGMA journal_mode = WAL");
        var result = DeployChanges
            .To.SqliteDatabase(_connection)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, n => n.EndsWith(".sql", StringComparison.Ordinal))
            .WithVariablesDisabled()
            .WithTransactionPerScript()
            .LogToNowhere()
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"Migration {Name(result.ErrorScript)} failed: {result.Error.Message}", result.Error);
    }

    private static string Name(SqlScript? script) => script?.Name ?? "";

    internal DbConnection Open()
    {
        var c = new SqliteConnection(_connection);
        c.Open();
        // A reading that was acknowledged survives a pulled plug: the log is flushed at every commit.
        c.Execute("PRAGMA synchronous = FULL");
        return c;
    }
}
