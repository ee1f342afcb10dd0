using System.Globalization;
using System.Text.RegularExpressions;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>Thousands of closed jobs: found after an upgrade, and counted once for what they teach.</summary>
public sealed class YearsTests
{
    private static string Get(ServerProcess server, string path) =>
        server.Client.GetStringAsync(path, TestContext.Current.CancellationToken).Result;

    private static void Execute(string file, string sql)
    {
        using var c = new SqliteConnection($"Data Source={file};Pooling=False");
        c.Execute(sql);
    }

    /// <summary>Closed jobs that found a kind, and closed jobs that count, over all machines; none yet gives zeros.</summary>
    private static (int Found, int Jobs) Counted(ServerProcess server, string kind)
    {
        var row = Regex.Match(
            Get(server, "/logbook/learning"),
            $"<th scope=\"row\">{kind}</th><td>(\\d+) of (\\d+) jobs",
            RegexOptions.CultureInvariant
        );
        return row.Success ? (Number(row.Groups[1].Value), Number(row.Groups[2].Value)) : (0, 0);

        static int Number(string s) => int.Parse(s, CultureInfo.InvariantCulture);
    }

    private static void Until(Func<bool> done, string what)
    {
        for (var i = 0; i < 300 && !done(); i++)
            Thread.Sleep(100);
        done().ShouldBeTrue(what);
    }

    [Fact]
    public void Two_thousand_jobs_that_version_0_10_closed_are_found_and_counted()
    {
        const int jobs = 2000;
        var file = Path.Combine(Directory.CreateTempSubdirectory("zoltric-years").FullName, "old.db");
        File.Copy(OldVersionTests.Asset("version-0.10.sqlite"), file);
        // Two of three found the float switch, as job 4 did; the third an auxiliary contact.
        Execute(
            file,
            $"""
            WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {jobs})
            INSERT INTO job (id, machine_id, sheet_id, complaint, rules, author, holder, opened_at, closed_at, outcome)
            SELECT 1000 + i, machine_id, sheet_id, 'year' || i || ' stops', rules, author, holder, opened_at, closed_at, 'mended'
            FROM n, job j WHERE j.id = CASE i % 3 WHEN 0 THEN 3 ELSE 4 END;
            INSERT INTO finding (job_id, fault, share, proof, cause, repair, parts, author, at)
            SELECT j.id, f.fault, f.share, f.proof, f.cause, f.repair, f.parts, f.author, f.at
            FROM job j, finding f WHERE j.id > 1000 AND f.job_id = CASE (j.id - 1000) % 3 WHEN 0 THEN 3 ELSE 4 END
            """
        );
        using var server = ServerProcess.On(file);
        foreach (var i in new[] { 1, 2, 3, 999, 1500, jobs })
            Get(server, $"/logbook?Words=year{i}").ShouldContain($"/jobs/{1000 + i}/report");
        using (var c = new SqliteConnection($"Data Source={server.Data}"))
            c.QuerySingle<long>("SELECT count(*) FROM job WHERE closed_at IS NOT NULL AND id NOT IN (SELECT rowid FROM logbook)")
                .ShouldBe(0);
        // Two more stood there before, one of each kind.
        Until(() => Counted(server, "limit").Jobs == jobs + 2, "they are not counted");
        Counted(server, "limit").Found.ShouldBe(jobs - jobs / 3 + 1);
        Counted(server, "contactor").Found.ShouldBe(jobs / 3 + 1);
    }

    [Fact]
    public void A_job_is_counted_once_until_another_version_counts()
    {
        using var server = new ServerProcess();
        var (fuses, all) = Counted(server, "fuse");
        (fuses, all).ShouldBe((6, 32));
        // A count that was made stands: nothing of old jobs is worked out again.
        Execute(server.Data, "UPDATE learnt_job SET kind = '' WHERE job_id = (SELECT job_id FROM learnt_job WHERE kind = 'fuse' LIMIT 1)");
        Counted(server, "fuse").ShouldBe((5, 31));
        server.Kill();
        server.Start();
        Counted(server, "fuse").ShouldBe((5, 31));
        server.Kill();
        Execute(server.Data, "UPDATE setting SET value = '0.1' WHERE name = 'learning counted by'");
        server.Start();
        Until(() => Counted(server, "fuse") == (6, 32), "another version does not count anew");
    }

    /// <summary>A ring of relays that never comes to rest, closed as mended: counted as nothing, and nobody waits for it.</summary>
    [Fact]
    public void A_sheet_that_cannot_be_worked_out_teaches_nothing_and_stops_nothing()
    {
        using var server = new ServerProcess();
        server.Kill();
        var ring = Zoltric.Core.Tests.Solving.RelayRing.Sheet(101);
        using (var c = new SqliteConnection($"Data Source={server.Data};Pooling=False"))
            c.Execute(
                """
                INSERT INTO sheet (id, machine_id, version, text, created_at) SELECT 900, machine_id, 99, @ring, '2026-01-01T00:00:00Z'
                FROM job WHERE closed_at IS NOT NULL LIMIT 1;
                UPDATE job SET sheet_id = 900 WHERE id = (SELECT f.job_id FROM finding f JOIN job j ON j.id = f.job_id
                WHERE j.outcome = 'mended' AND f.fault LIKE 'S2%' LIMIT 1);
                DELETE FROM learnt_job; DELETE FROM learnt_share
                """,
                new { ring }
            );
        server.Start();
        Until(() => Counted(server, "fuse").Jobs == 31, "the other jobs are not counted");
        Get(server, "/readyz").ShouldBe("ready");
    }

    [Fact]
    public void Of_many_machines_those_worked_on_last_are_offered_and_the_others_found_by_a_word()
    {
        using var server = new ServerProcess();
        var before = Machines(Get(server, "/"));
        Execute(
            server.Data,
            """
            WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 300)
            INSERT INTO machine (id, name, family, site) SELECT 1000 + i, 'Barge ' || i, 'marine', 'north quay' FROM n;
            INSERT INTO sheet (machine_id, version, text, created_at)
            SELECT m.id, 1, (SELECT text FROM sheet WHERE id = 1), '2026-01-01T00:00:00Z' FROM machine m WHERE m.id > 1000
            """
        );
        var bench = Get(server, "/");
        Machines(bench).ShouldBe(60);
        // Those with jobs come before those that nobody has worked on.
        bench.ShouldMatch("<optgroup label=\"[^\"]*PR-3");
        bench.ShouldContain($"Find the machine among {before + 300}");
        var found = Get(server, "/?handler=Machines&Machine=quay+BARGE+277");
        Machines(found).ShouldBe(1);
        found.ShouldContain("value=\"1277|");
        Machines(Get(server, "/?handler=Machines&Machine=no+such+barge")).ShouldBe(0);
        var register = Get(server, "/machines");
        register.ShouldContain($"the 200 of {before + 300}");
        Get(server, "/machines?Words=Barge+277").ShouldContain("/machines/1277");
        Get(server, "/machines?Words=%25").ShouldContain("No machine holds all of these words");

        static int Machines(string page) => Regex.Count(page, "<optgroup ", RegexOptions.CultureInvariant);
    }
}
