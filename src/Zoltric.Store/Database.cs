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
    private readonly string _file;

    public Database(string file)
    {
        DefaultTypeMap.MatchNamesWithUnderscores = true;
        _file = file;
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

    /// <summary>
    /// Writes everything that was acknowledged into one new file, while others go on writing, and reads the copy through.
    /// </summary>
    /// <returns>What went wrong, or null.</returns>
    public string? Backup(string copy)
    {
        if (!File.Exists(_file))
            return $"There is no database {_file}.";
        if (File.Exists(copy))
            return $"{copy} is there already: it is not written over.";
        try
        {
            using (var c = Open())
                c.Execute("VACUUM INTO @copy", new { copy });
            using var check = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = copy,
                    Mode = SqliteOpenMode.ReadOnly,
                    Pooling = false,
                }.ToString()
            );
            return check.QuerySingle<string>("PRAGMA integrity_check") is not "ok" and var said ? $"The copy is broken: {said}" : null;
        }
        catch (SqliteException e)
        {
            return $"The copy could not be written: {e.Message}";
        }
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
