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
        KeepAsItWas(engine);
        var result = engine.PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"Migration {Name(result.ErrorScript)} failed: {result.Error.Message}", result.Error);
    }

    /// <summary>
    /// Before a file of an older shape is changed, a copy of it is kept beside it, named by the first script that it has not seen.
    /// </summary>
    private void KeepAsItWas(UpgradeEngine engine)
    {
        if (engine.GetExecutedScripts().Count == 0 || engine.GetScriptsToExecute() is not [var first, ..])
            return;
        var copy = $"{_file}.before-{Number(first.Name)}";
        if (!File.Exists(copy) && Backup(copy) is { } problem)
            throw new InvalidOperationException($"Nothing was changed, because the old shape could not be kept first. {problem}");
    }

    /// <summary>0013 of <c>Zoltric.Store.Migrations.0013_seal.sql</c>.</summary>
    private static string Number(string script) => new([.. script.SkipWhile(c => !char.IsAsciiDigit(c)).TakeWhile(char.IsAsciiDigit)]);

    /// <summary>Where the store lies.</summary>
    public string Path => System.IO.Path.GetFullPath(_file);

    /// <summary>Bytes of the file and of its log.</summary>
    public long Bytes => new[] { _file, _file + "-wal" }.Select(f => new FileInfo(f)).Where(f => f.Exists).Sum(f => f.Length);

    /// <summary>Bytes that are left on its disk.</summary>
    public long FreeBytes => new DriveInfo(Path).AvailableFreeSpace;

    /// <summary>
    /// Puts a backup in the place of the store while no server runs. What stood there is kept beside it, with its log.
    /// </summary>
    /// <param name="now">Names what is kept.</param>
    /// <returns>What went wrong, in which case nothing was changed; or null.</returns>
    public string? Restore(string copy, DateTimeOffset now)
    {
        if (!File.Exists(copy))
            return $"There is no {copy}.";
        try
        {
            using var held = new FileStream(_file + ".lock", FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
            if (WhyBroken(copy) is { } broken)
                return broken;
            var brought = _file + ".restoring";
            File.Copy(copy, brought, true);
            var aside = FormattableString.Invariant($"{_file}.replaced-{now:yyyyMMdd-HHmmss}");
            foreach (var end in new[] { "", "-wal", "-shm" })
                if (File.Exists(_file + end))
                    File.Move(_file + end, aside + end);
            File.Move(brought, _file);
            return null;
        }
        catch (IOException e)
        {
            return $"{_file} is in a server's hands, or cannot be written: {e.Message}";
        }
    }

    /// <summary>What keeps a file from being a store of ours, read through page by page; or null.</summary>
    private static string? WhyBroken(string file)
    {
        try
        {
            using var c = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = file,
                    Mode = SqliteOpenMode.ReadOnly,
                    Pooling = false,
                }.ToString()
            );
            if (c.QuerySingle<string>("PRAGMA integrity_check") is not "ok" and var said)
                return $"{file} is broken: {said}";
            return c.ExecuteScalar<long>("SELECT COUNT(*) FROM sqlite_master WHERE name = 'job'") == 0
                ? $"{file} holds no jobs: it is no backup of this store."
                : null;
        }
        catch (SqliteException e)
        {
            return $"{file} cannot be read: {e.Message}";
        }
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
        return FreeBytes < LeastFree ? $"Only {FreeBytes >> 20} MB are free on the disk." : null;
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
            return WhyBroken(copy);
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
