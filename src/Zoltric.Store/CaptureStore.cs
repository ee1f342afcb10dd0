using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Dapper;

namespace Zoltric.Store;

/// <summary>A capture of a job, without its figures.</summary>
public sealed record CaptureRow
{
    public long Id { get; init; }
    public long JobId { get; init; }

    /// <summary>Of the file it came as, or what was written.</summary>
    public string Name { get; init; } = "";

    /// <summary>How the machine stood, as in a reading line before the colon.</summary>
    public string Setup { get; init; } = "";

    /// <summary>What each channel lay on, and by what it is multiplied: JSON.</summary>
    public string Channels { get; init; } = "[]";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>What instruments wrote over time, kept with the job as the file came.</summary>
public sealed class CaptureStore(Database database, TimeProvider clock)
{
    private const string Columns = "id, job_id AS JobId, name, setup, channels, author, at";

    public async Task<IReadOnlyList<CaptureRow>> All(long jobId)
    {
        await using var c = database.Open();
        return (await c.QueryAsync<CaptureRow>($"SELECT {Columns} FROM capture WHERE job_id = @jobId ORDER BY id", new { jobId })).AsList();
    }

    /// <summary>Those of every job on the same machine, but this job's own; the newest first.</summary>
    public async Task<IReadOnlyList<CaptureRow>> OfMachine(long machineId, long butJob)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<CaptureRow>(
                "SELECT c.id, c.job_id AS JobId, c.name, c.setup, c.channels, c.author, c.at FROM capture c JOIN job j ON j.id = c.job_id "
                    + "WHERE j.machine_id = @machineId AND c.job_id <> @butJob ORDER BY c.id DESC LIMIT 50",
                new { machineId, butJob }
            )
        ).AsList();
    }

    public async Task<CaptureRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<CaptureRow>($"SELECT {Columns} FROM capture WHERE id = @id", new { id });
    }

    /// <summary>The file as it came; null where there is no such capture.</summary>
    public async Task<string?> Text(long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<byte[]>("SELECT data FROM capture WHERE id = @id", new { id }) is { } packed
            ? Unpacked(packed)
            : null;
    }

    /// <summary>Keeps a capture; its id, or null where the job is closed: it is sealed, and asked in the same step, so that none slips in
    /// beside the close.</summary>
    public async Task<long?> Add(long jobId, string name, string setup, string channels, string text, string author)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<long?>(
            "INSERT INTO capture (job_id, name, setup, channels, data, author, at) SELECT @jobId, @name, @setup, @channels, @data, "
                + $"@author, @at WHERE {JobStore.IsOpen} RETURNING id",
            new
            {
                jobId,
                name,
                setup,
                channels,
                data = Packed(text),
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>Puts more of the same in its place: a watch that goes on. A closed job is sealed, and stays as it is.</summary>
    public async Task Replace(long jobId, long id, string name, string channels, string text)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE capture SET name = @name, channels = @channels, data = @data WHERE id = @id AND job_id = @jobId AND " + JobStore.IsOpen,
            new
            {
                jobId,
                id,
                name,
                channels,
                data = Packed(text),
            }
        );
    }

    /// <summary>Says of a capture how the machine stood and what its channels lay on; the figures stay as they came.</summary>
    /// <returns>False where the job is closed.</returns>
    public async Task<bool> Say(long jobId, long id, string setup, string channels)
    {
        await using var c = database.Open();
        var said = await c.ExecuteAsync(
            "UPDATE capture SET setup = @setup, channels = @channels WHERE id = @id AND job_id = @jobId AND " + JobStore.IsOpen,
            new
            {
                jobId,
                id,
                setup,
                channels,
            }
        );
        return said > 0;
    }

    /// <summary>The most that a capture's file may have once it is unpacked, bytes.</summary>
    public const long MostBytes = 128L << 20;

    /// <summary>True for bytes that are a packed file of a size that may be, and channels that are a list.</summary>
    public static bool IsKept(byte[] data, string channels)
    {
        try
        {
            using var list = JsonDocument.Parse(channels, new JsonDocumentOptions { MaxDepth = 4 });
            using var zip = new GZipStream(new MemoryStream(data), CompressionMode.Decompress);
            var buffer = new byte[1 << 16];
            long bytes = 0;
            for (int n; (n = zip.Read(buffer)) > 0 && bytes <= MostBytes; )
                bytes += n;
            return list.RootElement.ValueKind == JsonValueKind.Array && bytes is > 0 and <= MostBytes;
        }
        catch (Exception e) when (e is JsonException or InvalidDataException)
        {
            return false;
        }
    }

    private static byte[] Packed(string text)
    {
        using var packed = new MemoryStream();
        using (var zip = new GZipStream(packed, CompressionLevel.Fastest))
            zip.Write(Encoding.UTF8.GetBytes(text));
        return packed.ToArray();
    }

    private static string Unpacked(byte[] packed)
    {
        using var zip = new GZipStream(new MemoryStream(packed), CompressionMode.Decompress);
        using var reader = new StreamReader(zip, Encoding.UTF8);
        return reader.ReadToEnd();
    }
}
