using System.Diagnostics;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>What keeps a server well for years: backups put back, the old shape kept before it is changed, logs, metrics, a quick
/// stop.</summary>
public sealed class UpkeepTests
{
    private static string Get(ServerProcess server, string path) =>
        server.Client.GetStringAsync(path, TestContext.Current.CancellationToken).Result;

    private static void Import(ServerProcess server)
    {
        using var file = new StringContent(
            File.ReadAllText(OldVersionTests.Asset("version-0.10-job.json")),
            Encoding.UTF8,
            "application/json"
        );
        using var answer = server.Client.PostAsync("/api/v1/jobs/import", file).Result;
        ((int)answer.StatusCode).ShouldBe(201);
    }

    private static int Restore(ServerProcess server, string file) =>
        ServerProcess.Command("--Zoltric:Data", server.Data, "--restore", file);

    [Fact]
    public async Task A_backup_by_the_button_is_put_back_by_one_command()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-backups").FullName;
        using var server = ServerProcess.With("--Zoltric:Backups", folder);
        Import(server);
        using (var b = new Browser(390, 844))
        {
            b.Driver.Navigate().GoToUrl(server.Address + "/upkeep");
            b.Says("[aria-labelledby=backups] code").ShouldBe(folder);
            b.Click("[aria-labelledby=backups] .go");
            b.Until(() => b.Has("a[download]"), "no backup stands on the page");
        }
        var copy = Directory.GetFiles(folder).ShouldHaveSingleItem();
        // It can be taken away as a file, byte for byte, and nothing else of the disk can.
        var name = Path.GetFileName(copy);
        var stop = TestContext.Current.CancellationToken;
        (await server.Client.GetByteArrayAsync($"/upkeep/backups/{name}", stop)).ShouldBe(await File.ReadAllBytesAsync(copy, stop));
        using (var other = await server.Client.GetAsync("/upkeep/backups/..%2Fzoltric.db", stop))
            ((int)other.StatusCode).ShouldBe(404);
        Import(server);
        Get(server, "/api/v1/jobs/2/export").ShouldContain("lines");
        Restore(server, copy).ShouldNotBe(0, "a server has the file in hand");
        server.Kill();
        Restore(server, OldVersionTests.Asset("version-0.10-job.json")).ShouldNotBe(0, "that is no database");
        Restore(server, copy).ShouldBe(0);
        server.Start();
        Get(server, "/api/v1/jobs/1/export").ShouldContain("lines");
        using var gone = await server.Client.GetAsync("/api/v1/jobs/2/export", stop);
        ((int)gone.StatusCode).ShouldBe(404);
        // What was there is kept beside it, with what still stood in its log.
        var aside = Directory
            .GetFiles(Path.GetDirectoryName(server.Data)!, "*.replaced-*")
            .First(f => !f.EndsWith("-wal") && !f.EndsWith("-shm"));
        await using var c = new SqliteConnection($"Data Source={aside}");
        await c.OpenAsync(stop);
        await using var count = new SqliteCommand("SELECT count(*) FROM job", c);
        (await count.ExecuteScalarAsync(stop)).ShouldBe(2L);
        Directory.Delete(folder, true);
    }

    [Fact]
    public void Backups_come_by_themselves_and_the_oldest_go()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-backups").FullName;
        using (ServerProcess.With("--Zoltric:Backups", folder, "--Zoltric:BackupHours", "0.0003", "--Zoltric:KeepBackups", "2"))
        {
            var seen = new HashSet<string>();
            for (var i = 0; i < 100 && seen.Count < 4; i++)
            {
                seen.UnionWith(Directory.GetFiles(folder));
                Thread.Sleep(200);
            }
            seen.Count.ShouldBeGreaterThanOrEqualTo(4);
            Directory.GetFiles(folder).Length.ShouldBeLessThanOrEqualTo(3);
        }
        Directory.Delete(folder, true);
    }

    [Fact]
    public void A_file_of_an_older_shape_is_kept_before_it_is_changed()
    {
        using var server = ServerProcess.On(OldVersionTests.Asset("version-0.10.sqlite"));
        var kept = Directory.GetFiles(Path.GetDirectoryName(server.Data)!, "*.before-*").ShouldHaveSingleItem();
        using var was = new SqliteConnection($"Data Source={OldVersionTests.Asset("version-0.10.sqlite")};Mode=ReadOnly");
        using var now = new SqliteConnection($"Data Source={kept};Mode=ReadOnly");
        Tables(now).ShouldBe(Tables(was));

        static string Tables(SqliteConnection c)
        {
            c.Open();
            using var q = new SqliteCommand("SELECT group_concat(sql, ';') FROM (SELECT sql FROM sqlite_master ORDER BY name)", c);
            return (string)q.ExecuteScalar()!;
        }
    }

    [Fact]
    public void A_monitoring_program_reads_how_it_is_and_logs_go_to_files()
    {
        var logs = Directory.CreateTempSubdirectory("zoltric-logs").FullName;
        using (var server = ServerProcess.With("--Zoltric:Logs", logs))
        {
            Get(server, "/");
            var figures = Get(server, "/metrics");
            figures.ShouldContain("zoltric_ready 1");
            figures.ShouldContain("zoltric_backup_age_seconds -1");
            figures.ShouldContain("http_requests_received_total");
            figures.ShouldMatch(@"zoltric_store_bytes [1-9]");
            File.Exists(Directory.GetFiles(logs).ShouldHaveSingleItem()).ShouldBeTrue();
        }
        Directory.Delete(logs, true);
    }

    /// <summary>It used to wait half a minute for what was under way.</summary>
    [Fact]
    public async Task It_stops_soon_while_it_computes()
    {
        using var server = ServerProcess.Empty();
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "LT-1.sheet"));
        var asked = Enumerable
            .Range(0, 2 * Environment.ProcessorCount)
            .Select(i =>
                server.Client.PostAsJsonAsync(
                    "/api/v1/diagnose",
                    new { sheet = $"{sheet}# {i}\n", readings = Array.Empty<string>() },
                    TestContext.Current.CancellationToken
                )
            )
            .ToList();
        var since = Stopwatch.StartNew();
        server.Stop().ShouldBe(0);
        since.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(15));
        foreach (var a in asked)
            await a.ContinueWith(
                static t => t.Exception,
                TestContext.Current.CancellationToken,
                TaskContinuationOptions.None,
                TaskScheduler.Default
            );
        server.Start();
        JsonNode.Parse(Get(server, "/openapi/v1.json")).ShouldNotBeNull();
    }
}
