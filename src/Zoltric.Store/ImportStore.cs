using System.Data.Common;
using System.Security.Cryptography;
using System.Text.Json;
using Dapper;

namespace Zoltric.Store;

/// <summary>A job file that waits to be looked at.</summary>
public sealed record WaitingFile(string Id, string Name, byte[] Data, string Author, string At);

/// <summary>How a job came in: the file's name, who brought it and when.</summary>
public sealed record Brought(string Name, string Author, string At);

/// <summary>What a job file would meet here.</summary>
/// <param name="Machine">Machine that has this very sheet; null where the file brings one of its own.</param>
/// <param name="Version">The sheet's version there.</param>
/// <param name="SameName">True where a machine of that name is here with another sheet.</param>
/// <param name="Same">A job that is here and was opened at the same time on that machine, with the same complaint; null where there is
/// none.</param>
public sealed record Meets(string? Machine, long Version, bool SameName, long? Same);

/// <summary>Job files from elsewhere: kept waiting, brought in, taken out again while nothing was done on them here.</summary>
public sealed class ImportStore(Database database, JobArchive archive, TimeProvider clock)
{
    /// <summary>A file that nobody decided on is dropped after a day.</summary>
    private static readonly TimeSpan Waits = TimeSpan.FromDays(1);

    /// <summary>More files than these do not wait; the oldest goes.</summary>
    private const int MostWaiting = 20;

    private string Now => MachineStore.Now(clock);

    /// <summary>Keeps a file until it is decided on.</summary>
    /// <returns>Its id.</returns>
    public async Task<string> Keep(string name, byte[] data, string author)
    {
        var id = Guid.NewGuid().ToString("N");
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        await c.ExecuteAsync(
            "DELETE FROM waiting_file WHERE at < @old OR id IN (SELECT id FROM waiting_file ORDER BY at DESC LIMIT -1 OFFSET @most)",
            new { old = MachineStore.Text(clock.GetUtcNow() - Waits), most = MostWaiting - 1 },
            t
        );
        await c.ExecuteAsync(
            "INSERT INTO waiting_file (id, name, data, author, at) VALUES (@id, @name, @data, @author, @Now)",
            new
            {
                id,
                name,
                data,
                author,
                Now,
            },
            t
        );
        await t.CommitAsync();
        return id;
    }

    public async Task<WaitingFile?> Find(string id)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<WaitingFile>(
            "SELECT id, name, data, author, at FROM waiting_file WHERE id = @id",
            new { id }
        );
    }

    public async Task Drop(string id)
    {
        await using var c = database.Open();
        await c.ExecuteAsync("DELETE FROM waiting_file WHERE id = @id", new { id });
    }

    public async Task<Meets> WhatItMeets(JobFile file)
    {
        ArgumentNullException.ThrowIfNull(file);
        await using var c = database.Open();
        var here = await JobArchive.WhereItBelongs(c, file);
        var named = await c.ExecuteScalarAsync<long>("SELECT count(*) FROM machine WHERE name = @Machine", file) > 0;
        var same = await c.QueryFirstOrDefaultAsync<long?>(
            "SELECT j.id FROM job j JOIN machine m ON m.id = j.machine_id WHERE (m.name = @Machine OR m.name LIKE "
                + "@Machine || ', imported%') AND j.opened_at = @OpenedAt AND j.complaint = @Complaint LIMIT 1",
            file
        );
        return new Meets(here?.Name, here?.Version ?? 0, named && here is null, same);
    }

    /// <summary>Brings a job in, and writes down how it came.</summary>
    /// <param name="name">The file's name, or what sent it.</param>
    /// <param name="waiting">Id of the waiting file that is done with; null for none.</param>
    /// <returns>Id of the job.</returns>
    public async Task<long> Bring(string name, JobFile file, string author, string? waiting = null)
    {
        var id = await archive.Import(file);
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            INSERT INTO brought (job_id, name, author, at, hash) VALUES (@id, @name, @author, @Now, @hash);
            DELETE FROM waiting_file WHERE id = @waiting
            """,
            new
            {
                id,
                name,
                author,
                Now,
                hash = await HashOf(id),
                waiting,
            }
        );
        return id;
    }

    /// <summary>How a job came in; null for one that was opened here.</summary>
    public async Task<Brought?> Of(long jobId)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<Brought>("SELECT name, author, at FROM brought WHERE job_id = @jobId", new { jobId });
    }

    /// <summary>
    /// Takes a job out again that came from elsewhere, with the machine it brought where nothing else stands on it. Only while it is as it
    /// came: what was done on it here is nobody's to throw away.
    /// </summary>
    /// <returns>False where it did not come from elsewhere, or somebody has worked on it since.</returns>
    public async Task<bool> TakeOut(long jobId, string author)
    {
        await using var c = database.Open();
        var was = await c.QuerySingleOrDefaultAsync<(
            string Name,
            string Author,
            string Hash,
            long Machine,
            string MachineName,
            string Complaint
        )?>(
            "SELECT b.name, b.author, b.hash, j.machine_id, m.name, j.complaint FROM brought b "
                + "JOIN job j ON j.id = b.job_id JOIN machine m ON m.id = j.machine_id WHERE b.job_id = @jobId",
            new { jobId }
        );
        if (was is not { } job || job.Hash != await HashOf(jobId))
            return false;
        await using var t = await c.BeginTransactionAsync();
        try
        {
            foreach (var (table, column) in await ReferringTo(t, "job"))
                if (Own.Contains(table))
                    await c.ExecuteAsync($"DELETE FROM {table} WHERE {column} = @jobId", new { jobId }, t);
            await c.ExecuteAsync("DELETE FROM logbook WHERE rowid = @jobId; DELETE FROM job WHERE id = @jobId", new { jobId }, t);
        }
        catch (DbException)
        {
            // Something that is not in the file stands on it: a procedure that was run, a post that was answered.
            await t.RollbackAsync();
            return false;
        }
        var left = 0L;
        foreach (var (table, column) in (await ReferringTo(t, "machine")).Where(r => r.Table != "sheet"))
            left += await c.ExecuteScalarAsync<long>($"SELECT count(*) FROM {table} WHERE {column} = @Machine", new { job.Machine }, t);
        var versions = await c.ExecuteScalarAsync<long>("SELECT count(*) FROM sheet WHERE machine_id = @Machine", new { job.Machine }, t);
        if (left == 0 && versions == 1)
            await c.ExecuteAsync(
                "DELETE FROM sheet WHERE machine_id = @Machine; DELETE FROM machine WHERE id = @Machine",
                new { job.Machine },
                t
            );
        await c.ExecuteAsync(
            """
            INSERT INTO taken_out (machine, complaint, name, brought_by, author, at)
            VALUES (@MachineName, @Complaint, @Name, @By, @author, @Now)
            """,
            new
            {
                job.MachineName,
                job.Complaint,
                job.Name,
                By = job.Author,
                author,
                Now,
            },
            t
        );
        await t.CommitAsync();
        return true;
    }

    /// <summary>Tables whose rows a job file brings.</summary>
    private static readonly HashSet<string> Own = [.. JobArchive.Tables, "brought", "report"];

    private static async Task<List<(string Table, string Column)>> ReferringTo(DbTransaction t, string table) =>
        (
            await t.Connection!.QueryAsync<(string, string)>(
                """
                SELECT m.name, f."from" FROM sqlite_master m JOIN pragma_foreign_key_list(m.name) f
                WHERE m.type = 'table' AND f."table" = @table
                """,
                new { table },
                t
            )
        ).AsList();

    /// <summary>Hash over all that was said and done in a job; verdicts, which are computed anew, are left out.</summary>
    private async Task<string> HashOf(long jobId)
    {
        var file = (await archive.Export(jobId))!;
        var said = file with { Lines = [.. file.Lines.Select(l => l with { Judgement = null, Low = null, High = null, Meaning = null })] };
        return Convert.ToHexString(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(said)));
    }
}
