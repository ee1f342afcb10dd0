using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>
/// One server for years: what comes from elsewhere breaks nothing, what is closed stays as it is, lists say how many there are.
/// </summary>
public sealed class WorkshopServerTests
{
    private static HttpResponseMessage Import(ServerProcess server, string text, string type = "application/json") =>
        server.Client.PostAsync("/api/v1/jobs/import", new StringContent(text, Encoding.UTF8, type)).Result;

    private static string Get(ServerProcess server, string path) => server.Client.GetStringAsync(path).Result;

    private static HttpResponseMessage Page(ServerProcess server, string path) => server.Client.GetAsync(path).Result;

    private static string Body(HttpResponseMessage response) => response.Content.ReadAsStringAsync().Result;

    private static int Status(ServerProcess server, HttpRequestMessage request) => (int)server.Client.SendAsync(request).Result.StatusCode;

    private static string Export(ServerProcess server, long id) => Get(server, $"/api/v1/jobs/{id}/export");

    private static void Execute(ServerProcess server, string sql)
    {
        using var c = new SqliteConnection($"Data Source={server.Data}");
        c.Execute(sql);
    }

    /// <summary>Programs that ask for more than can be computed are sent away at once, and pages are answered beside them.</summary>
    [Fact]
    public void Programs_wait_their_turn_or_are_sent_away()
    {
        using var server = ServerProcess.With("--Zoltric:MostWaiting", "2");
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PH-1.sheet"));
        var asked = Enumerable.Range(0, 4 + 4 * Environment.ProcessorCount).Select(i => Diagnose(server, $"{sheet}# {i}\n")).ToList();
        Status(server, new HttpRequestMessage(HttpMethod.Get, "/")).ShouldBe(200);
        var codes = Answers(asked).Select(a => (int)a.StatusCode).ToList();
        codes.ShouldContain(429);
        codes.Count(c => c == 200).ShouldBeGreaterThanOrEqualTo(3);
        codes.ShouldAllBe(c => c == 200 || c == 429);
        Answers(asked).First(a => (int)a.StatusCode == 429).Headers.RetryAfter.ShouldNotBeNull();
        using var later = Answers([Diagnose(server, sheet)]).Single();
        ((int)later.StatusCode).ShouldBe(200);
    }

    /// <summary>A request ends by its steps, with a word for programs and a page for people; the next one is answered.</summary>
    [Fact]
    public void What_is_too_much_for_one_request_is_said()
    {
        using var server = ServerProcess.With("--Zoltric:MostSteps", "60000");
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "BS-8.sheet"));
        using var large = Answers([Diagnose(server, sheet)]).Single();
        ((int)large.StatusCode).ShouldBe(422);
        Body(large).ShouldContain("the part of the sheet that the complaint is about");
        // Half worked out, it takes no room of what is at work.
        KeptBytes(server).ShouldBe(0);
        using var small = Answers([
                Diagnose(server, File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "QS-5.sheet"))),
            ])
            .Single();
        ((int)small.StatusCode).ShouldBe(200);
        KeptBytes(server).ShouldBeGreaterThan(0);
    }

    private static long KeptBytes(ServerProcess server) =>
        long.Parse(
            System.Text.RegularExpressions.Regex.Match(Get(server, "/metrics"), "(?m)^zoltric_computed_bytes (\\d+)").Groups[1].Value,
            System.Globalization.CultureInfo.InvariantCulture
        );

    /// <summary>A plan takes minutes: the budget of the page that asked first ended it, for all who came after.</summary>
    [Fact]
    public void A_plan_is_made_on_no_budget_of_a_request()
    {
        using var server = ServerProcess.DemoWith("--Zoltric:MostSteps", "2000");
        using var c = new SqliteConnection($"Data Source={server.Data}");
        var (machine, text) = c.QuerySingle<(long, string)>(
            "SELECT m.id, s.text FROM machine m JOIN sheet s ON s.machine_id = m.id WHERE m.name LIKE '%QS-5'"
        );
        var function = System.Text.RegularExpressions.Regex.Match(text, "(?m)^function \"([^\"]+)\"").Groups[1].Value;
        var page = "";
        for (var i = 0; i < 600 && !page.Contains("of 100 jobs", StringComparison.Ordinal); i++)
        {
            page = Get(server, $"/machines/{machine}/plan?Function={Uri.EscapeDataString(function)}&Steps=30");
            page.ShouldNotContain("could not be worked out");
            Thread.Sleep(200);
        }
        page.ShouldContain("of 100 jobs");
    }

    private static Task<HttpResponseMessage> Diagnose(ServerProcess server, string sheet) =>
        server.Client.PostAsJsonAsync("/api/v1/diagnose", new { sheet, readings = Array.Empty<string>() });

    private static HttpResponseMessage[] Answers(List<Task<HttpResponseMessage>> asked) => Task.WhenAll(asked).Result;

    [Theory]
    [InlineData("closedAt", "9:00")]
    [InlineData("openedAt", "2026-01-02")]
    [InlineData("openedAt", "yesterday")]
    public void A_time_that_is_none_is_refused_and_breaks_no_list(string field, string time)
    {
        using var server = new ServerProcess();
        var job = JsonNode.Parse(Export(server, 36))!.AsObject();
        job[field] = time;
        using var refused = Import(server, job.ToJsonString());
        ((int)refused.StatusCode).ShouldBe(400);
        Body(refused).ShouldContain("2026-08-05T09:45:00Z");
        // A time with a zone of its own is the same moment in ours.
        job[field] = "2026-08-05T12:45:00+03:00";
        using var kept = Import(server, job.ToJsonString());
        ((int)kept.StatusCode).ShouldBe(201);
        var again = JsonNode.Parse(Get(server, kept.Headers.Location!.ToString()))!;
        again[field]!.GetValue<string>().ShouldBe("2026-08-05T09:45:00Z");
        // What an older version let in shows as it stands.
        Execute(server, "UPDATE job SET closed_at = '9:00', opened_at = '9:00' WHERE id = 37; UPDATE line SET at = '' WHERE job_id = 37");
        foreach (var page in new[] { "/logbook", "/jobs/37/report", "/", "/machines", "/machines/1" })
            (Status(server, new HttpRequestMessage(HttpMethod.Get, page))).ShouldBe(200, page);
    }

    [Fact]
    public void Another_site_cannot_write_here_and_no_other_name_is_ours()
    {
        using var server = new ServerProcess();
        // What a form of any page can send without asking.
        ((int)Import(server, Export(server, 36), "text/plain").StatusCode).ShouldBe(415);
        using var foreign = new HttpRequestMessage(HttpMethod.Post, "/api/v1/check") { Content = JsonContent.Create(new { sheet = "" }) };
        foreign.Headers.Add("Origin", "http://elsewhere.example");
        Status(server, foreign).ShouldBe(403);
        using var own = new HttpRequestMessage(HttpMethod.Post, "/api/v1/check") { Content = JsonContent.Create(new { sheet = "" }) };
        own.Headers.Add("Origin", server.Address);
        Status(server, own).ShouldBe(200);
        // No script but ours, in nobody's frame.
        using var page = Page(server, "/");
        var policy = page.Headers.GetValues("Content-Security-Policy").Single();
        policy.ShouldContain("script-src 'self';");
        policy.ShouldContain("frame-ancestors 'none'");
        page.Headers.GetValues("Referrer-Policy").Single().ShouldBe("same-origin");
        // A name that somebody else points at this machine.
        using var rebound = new HttpRequestMessage(HttpMethod.Get, "/");
        rebound.Headers.Host = "elsewhere.example";
        Status(server, rebound).ShouldBe(421);
        foreach (
            var host in new[]
            {
                "localhost",
                "127.0.0.1",
                "192.168.1.20",
                "[::1]",
                "van-laptop",
                "van-laptop.local",
                Environment.MachineName,
            }
        )
        {
            using var known = new HttpRequestMessage(HttpMethod.Get, "/healthz");
            known.Headers.Host = host;
            Status(server, known).ShouldBe(200, host);
        }
    }

    [Fact]
    public void A_closed_job_takes_no_change()
    {
        using var server = new ServerProcess();
        var before = Export(server, 36);
        var line = JsonNode.Parse(before)!["lines"]!.AsArray().Count;
        line.ShouldBeGreaterThan(0);
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var token = b.Driver.ExecuteScript(
            "return fetch('/jobs/1/trace').then(r => r.text()).then(t => t.match(/__RequestVerificationToken[^>]*value=\"([^\"]+)/)[1])"
        );
        using var c = new SqliteConnection($"Data Source={server.Data}");
        var id = c.QuerySingle<long>("SELECT min(id) FROM line WHERE job_id = 36");
        foreach (
            var (handler, fields) in new[]
            {
                ("Strike", $"line={id}&struck=true"),
                ("Limit", "kind=place&what=console&limited=true"),
                ("Strategy", "strategy=half-split"),
                ("Meter", "meter=bench"),
            }
        )
            b.Driver.ExecuteScript(
                "return fetch('/jobs/36/trace?handler=' + arguments[0], { method: 'POST', headers: { 'Content-Type': "
                    + "'application/x-www-form-urlencoded' }, body: arguments[1] + '&__RequestVerificationToken=' + "
                    + "encodeURIComponent(arguments[2]) }).then(r => r.status)",
                handler,
                fields,
                token!
            );
        Export(server, 36).ShouldBe(before);
    }

    /// <summary>Who struck what, and when, stands in the report; nobody takes it out again, not by the database itself.</summary>
    [Fact]
    public void What_was_changed_is_written_down_and_stays()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl(server.Address + "/jobs/1/trace");
        b.Click(() => b.All(".log li button").Last(x => x.Text == "strike"));
        b.Until(() => b.Has(".log li.struck"), "not struck");
        b.Driver.Navigate().GoToUrl(server.Address + "/jobs/1/report");
        b.Click(() => b.Find(".changes summary"));
        var entry = b.Find(".changes li").Text;
        entry.ShouldContain("(struck)");
        entry.ShouldContain("Tamsin Reke");
        using var c = new SqliteConnection($"Data Source={server.Data}");
        Should.Throw<SqliteException>(() => c.Execute("UPDATE job_change SET author = 'nobody'")).Message.ShouldContain("stays");
        Should.Throw<SqliteException>(() => c.Execute("DELETE FROM job_change")).Message.ShouldContain("stays");
    }

    [Fact]
    public void Lists_hold_every_open_job_and_say_how_many_are_closed()
    {
        using var server = new ServerProcess();
        using var c = new SqliteConnection($"Data Source={server.Data}");
        var (all, here) = c.QuerySingle<(long, long)>(
            "SELECT count(closed_at), sum(closed_at IS NOT NULL AND machine_id = (SELECT machine_id FROM job WHERE id = 36)) FROM job"
        );
        Execute(
            server,
            """
            WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 450)
            INSERT INTO job (machine_id, sheet_id, complaint, rules, author, holder, odds, opened_at, closed_at, outcome)
            SELECT j.machine_id, j.sheet_id, 'many ' || i, j.rules, j.author, j.holder, '', '2026-01-01T00:00:00Z',
              CASE WHEN i > 220 THEN '2026-02-01T00:00:00Z' END, CASE WHEN i > 220 THEN 'mended' END
            FROM n, job j WHERE j.id = 36
            """
        );
        var bench = Get(server, "/");
        bench.ShouldContain("many 1<");
        bench.ShouldContain("many 220<");
        bench.ShouldContain($"all {all + 230} in the logbook");
        Get(server, "/machines").ShouldContain($"{here + 230} closed");
        Get(server, "/logbook").ShouldContain($"the newest 200 of {all + 230}");
    }

    [Fact]
    public void A_table_cell_is_text_and_a_picture_is_one()
    {
        using var server = new ServerProcess();
        var job = JsonNode.Parse(Export(server, 36))!.AsObject();
        job["lines"]![0]!["meaning"] = "=HYPERLINK(\"http://elsewhere.example\")";
        using var kept = Import(server, job.ToJsonString());
        var csv = Get(server, kept.Headers.Location!.ToString().Replace("export", "readings.csv", StringComparison.Ordinal));
        csv.ShouldContain("'=HYPERLINK");
        csv.ShouldNotContain(",=HYPERLINK");
        job["attachments"] = new JsonArray(
            new JsonObject
            {
                ["name"] = "plug.png",
                ["type"] = "image/png",
                ["caption"] = "",
                ["stage"] = "",
                ["data"] = Convert.ToBase64String(Encoding.ASCII.GetBytes("<svg onload='1'>")),
                ["author"] = "A. Tester",
                ["at"] = "2026-01-02T03:04:05Z",
            }
        );
        using var refused = Import(server, job.ToJsonString());
        ((int)refused.StatusCode).ShouldBe(400);
        Body(refused).ShouldContain("is no");
    }

    [Fact]
    public void A_backup_of_a_running_server_is_one_whole_file()
    {
        using var server = new ServerProcess();
        var file = Path.Combine(Path.GetDirectoryName(server.Data)!, "copy.db");
        ServerProcess.Command("--Zoltric:Data", server.Data, "--backup", file).ShouldBe(0);
        using var c = new SqliteConnection($"Data Source={file};Mode=ReadOnly");
        c.QuerySingle<string>("PRAGMA integrity_check").ShouldBe("ok");
        using var live = new SqliteConnection($"Data Source={server.Data}");
        c.QuerySingle<long>("SELECT count(*) FROM line").ShouldBe(live.QuerySingle<long>("SELECT count(*) FROM line"));
        // It is not written over.
        ServerProcess.Command("--Zoltric:Data", server.Data, "--backup", file).ShouldNotBe(0);
    }

    [Fact]
    public void A_start_finds_what_was_cut_off_and_refuses_what_it_must_not_touch()
    {
        using var server = new ServerProcess();
        Get(server, "/readyz").ShouldBe("ready");
        // A second server on the same file.
        ServerProcess.Command("--Zoltric:Data", server.Data, "--urls", "http://127.0.0.1:0").ShouldBe(1);
        var found = System.Text.RegularExpressions.Regex.Match(Get(server, "/logbook?Words=button"), "/jobs/(\\d+)/report");
        found.Success.ShouldBeTrue();
        server.Kill();
        Execute(server, $"DELETE FROM logbook WHERE rowid = {found.Groups[1].Value}");
        server.Start();
        Get(server, "/logbook?Words=button").ShouldContain(found.Value);
        server.Kill();
        Execute(
            server,
            "INSERT INTO SchemaVersions (ScriptName, Applied) VALUES ('Zoltric.Store.Migrations.9999_later.sql', '2030-01-01')"
        );
        ServerProcess.Command("--Zoltric:Data", server.Data, "--urls", "http://127.0.0.1:0").ShouldBe(1);
    }

    [Fact]
    public void Two_people_save_a_sheet_and_neither_is_lost()
    {
        using var server = new ServerProcess();
        using var first = new Browser(1280, 800);
        using var second = new Browser(1280, 800);
        foreach (var b in new[] { first, second })
        {
            b.Driver.Navigate().GoToUrl($"{server.Address}/sheet/1");
            b.Until(() => b.Has("#sheet-counts"), "no editor");
            b.Settle();
        }
        Save(first, "# from the first\n");
        first.Until(() => first.Driver.Url.Contains("/circuit/", StringComparison.Ordinal), "the first was not kept");
        Save(second, "# from the second\n");
        second.Until(() => second.Driver.PageSource.Contains("Not kept yet", StringComparison.Ordinal), "the second was not told");
        Get(server, "/sheet/1").ShouldContain("# from the first");
        // Told, the second may go on; the first stays among the versions.
        Save(second, "");
        second.Until(() => second.Driver.Url.Contains("/circuit/", StringComparison.Ordinal), "the second was not kept");
        Get(server, "/sheet/1").ShouldContain("# from the second");
        Get(server, "/sheet/1/versions?From=2&To=3").ShouldContain("# from the first");
        // A new sheet does not become a version of a machine that has its name.
        second.Driver.Navigate().GoToUrl($"{server.Address}/sheet");
        second.Settle();
        second.Driver.ExecuteScript(
            "document.querySelector('textarea[name=Text]').value = document.querySelector('textarea[name=Text]').value"
                + ".replace('name of the machine', 'Bagging line BL-1')"
        );
        Save(second, "");
        second.Until(() => second.Driver.PageSource.Contains("already", StringComparison.Ordinal), "a namesake was taken");
        Get(server, "/sheet/1").ShouldContain("# from the second");

        static void Save(Browser b, string before) =>
            b.Driver.ExecuteScript(
                "const t = document.querySelector('textarea[name=Text]'), f = t.form; t.value = arguments[0] + t.value;"
                    + "const k = f.querySelector('button.go'); f.action = k.formAction; HTMLFormElement.prototype.submit.call(f)",
                before
            );
    }
}
