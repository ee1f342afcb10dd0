using System.Diagnostics;

namespace Zoltric.Web.Tests;

/// <summary>A disk that holds only what was flushed to it, by a shim in front of the C library (Assets/powercut.c).</summary>
public static class FrailDisk
{
    /// <summary>Path of the built shim, to be loaded before the C library.</summary>
    public static string Build()
    {
        var shim = Path.Combine(Directory.CreateTempSubdirectory("zoltric-powercut").FullName, "powercut.so");
        using var p = Process.Start(
            "gcc",
            ["-shared", "-fPIC", "-O1", "-o", shim, Path.Combine(AppContext.BaseDirectory, "Assets", "powercut.c"), "-ldl", "-lpthread"]
        );
        p.WaitForExit(60_000).ShouldBeTrue();
        p.ExitCode.ShouldBe(0, "the shim does not compile");
        return shim;
    }

    /// <summary>Puts a database that nobody has open into a state that a power cut may leave.</summary>
    public static void Lose(string data, Random chance)
    {
        File.Exists(data + ".durable").ShouldBeTrue("the shim saw no flush");
        foreach (var file in new[] { data, data + "-wal" })
        {
            var flushed = file + ".durable";
            if (chance.Next(2) == 0)
                Copy(file, flushed);
            else
                Copy(flushed, file);
        }
        // The index of the log is a map of memory.
        File.Delete(data + "-shm");
    }

    private static void Copy(string from, string to)
    {
        if (File.Exists(from))
            File.Copy(from, to, true);
        else
            File.Delete(to);
    }
}
