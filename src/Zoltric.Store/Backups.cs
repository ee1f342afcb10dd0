using System.Globalization;

namespace Zoltric.Store;

/// <summary>One copy of the whole store.</summary>
/// <param name="Name">Of its file, without a path.</param>
public sealed record BackupFile(string Name, DateTimeOffset At, long Bytes);

/// <summary>Copies of the store in a folder of their own; of those, the newest are kept.</summary>
/// <param name="keep">How many.</param>
public sealed class Backups(Database database, TimeProvider clock, string folder, int keep)
{
    private const string Begin = "zoltric-",
        End = ".db",
        Stamp = "yyyyMMdd-HHmmss";
    private readonly Lock _one = new();

    public string Folder { get; } = Path.GetFullPath(folder);

    /// <summary>The newest first.</summary>
    public IReadOnlyList<BackupFile> All() =>
        Directory.Exists(Folder)
            ?
            [
                .. new DirectoryInfo(Folder)
                    .EnumerateFiles($"{Begin}*{End}")
                    .Select(f => (File: f, At: AtOf(f.Name)))
                    .Where(f => f.At is not null)
                    .OrderByDescending(f => f.At)
                    .Select(f => new BackupFile(f.File.Name, f.At!.Value, f.File.Length)),
            ]
            : [];

    /// <summary>Writes one now, reads it through, and throws the oldest away.</summary>
    /// <returns>What went wrong, or null.</returns>
    public string? Make()
    {
        lock (_one)
        {
            try
            {
                Directory.CreateDirectory(Folder);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                return $"The folder of backups cannot be made: {e.Message}";
            }
            var name = Begin + clock.GetUtcNow().ToString(Stamp, CultureInfo.InvariantCulture) + End;
            if (File.Exists(Path.Combine(Folder, name)))
                return null;
            if (database.Backup(Path.Combine(Folder, name)) is { } problem)
                return problem;
            foreach (var old in All().Skip(keep))
                File.Delete(Path.Combine(Folder, old.Name));
            return null;
        }
    }

    /// <summary>The path of one that is there, by its name; null for anything else.</summary>
    public string? Find(string name) => All().Any(b => b.Name == name) ? Path.Combine(Folder, name) : null;

    private static DateTimeOffset? AtOf(string name) =>
        DateTimeOffset.TryParseExact(
            name[Begin.Length..^End.Length],
            Stamp,
            CultureInfo.InvariantCulture,
            DateTimeStyles.AssumeUniversal,
            out var at
        )
            ? at
            : null;
}
