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

    /// <summary>Held open while this process writes to the file: no second one does.</summary>
    private FileStream? _held;

    /// <summary>Brings the file to the newest shape.</summary>
    /// <exception cref="InvalidOperationException">
    /// When a migration fails, of which nothing stays; when another server has the file in hand; when a newer version has written it.
    /// </exception>
    public void Migrate()
    {
        try
        {
            _held ??= new FileStream(_file + ".lock", FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException e)
        {
            throw new InvalidOperationException($"Another server has {_file} in hand. Stop it first.", e);
        }
        using (var c = Open())
            c.Execute("PRAGMA journal_mode = WAL");
        var engine = DeployChanges
            .To.SqliteDatabase(_connection)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, n => n.EndsWith(".sql", StringComparison.Ordinal))
            .WithVariablesDisabled()
            .WithTransactionPerScript()
            .LogToNowhere()
            .Build();
        if (engine.GetExecutedButNotDiscoveredScripts() is [var newer, ..])
            throw new InvalidOperationException($"{_file} was written by a newer version ({newer}). Start that one, or take a backup.");
        var result = engine.PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"Migration {Name(result.ErrorScript)} failed: {result.Error.Message}", result.Error);
    }

    /// <summary>What keeps the store from taking a reading now, or null: the file cannot be written, or the disk is nearly full.</summary>
    public string? WhyNotReady()
    {
        try
        {
            using var c = Open();
            c.Execute("BEGIN IMMEDIATE; ROLLBACK");
        }
        catch (SqliteException e)
        {
            return $"The database cannot be written: {e.Message}";
        }
        var free = new DriveInfo(Path.GetFullPath(_file)).AvailableFreeSpace;
        return free < LeastFree ? $"Only {free >> 20} MB are free on the disk." : null;
    }

    /// <summary>Bytes on the disk below which no more is taken on; an estimate.</summary>
    private const long LeastFree = 64L << 20;

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
