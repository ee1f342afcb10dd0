using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>
/// A job leaves as a file and comes in again without loss; a file that is broken or meant to harm is refused with a reason.
/// </summary>
public partial class JobFileTests
{
    private static JsonObject Export(ServerProcess server, long id) =>
        JsonNode.Parse(Page(server, $"/api/v1/jobs/{id}/export"))!.AsObject();

    private static string Page(ServerProcess server, string path) => server.Client.GetStringAsync(path).Result;

    private static byte[] Bytes(ServerProcess server, string path) => server.Client.GetByteArrayAsync(path).Result;

    private static int Status(ServerProcess server, string path) => (int)server.Client.GetAsync(path).Result.StatusCode;

    private static (int Status, JsonNode Body) Import(ServerProcess server, string text)
    {
        using var response = server
            .Client.PostAsync("/api/v1/jobs/import", new StringContent(text, Encoding.UTF8, "application/json"))
            .Result;
        return ((int)response.StatusCode, JsonNode.Parse(response.Content.ReadAsStringAsync().Result)!);
    }

    /// <summary>
    /// A closed job shows its seal, here and where its file is brought in; a picture added since leaves it whole, a line that was changed
    /// breaks
    /// it, in the file and in the database alike.
    /// </summary>
    [Fact]
    public void A_closed_job_is_sealed_and_shows_what_was_changed_since()
    {
        using var server = new ServerProcess();
        var id = Enumerable
            .Range(1, 60)
            .First(n => Status(server, $"/api/v1/jobs/{n}/export") == 200 && Export(server, n)["closedAt"] is not null);
        const string Whole = "is what was sealed",
            Broken = "is NOT what was sealed";
        string Report(long job) => Page(server, $"/jobs/{job}/report");
        Report(id).ShouldContain(Whole);
        long Brought(Action<JsonObject> change)
        {
            var job = Export(server, id);
            change(job);
            var (status, body) = Import(server, job.ToJsonString());
            status.ShouldBeInRange(200, 201, body.ToJsonString());
            return body["id"]!.GetValue<long>();
        }
        Report(Brought(_ => { })).ShouldContain(Whole);
        Report(
                Brought(j =>
                    j["attachments"]!
                        .AsArray()
                        .Add(
                            new JsonObject
                            {
                                ["name"] = "later.png",
                                ["type"] = "image/png",
                                ["caption"] = "a year on",
                                ["stage"] = "",
                                ["data"] = Convert.ToBase64String([137, 80, 78, 71, 1, 2, 3]),
                                ["author"] = "A. Tester",
                                ["at"] = "2026-11-02T03:04:05Z",
                            }
                        )
                )
            )
            .ShouldContain(Whole);
        Report(Brought(j => j["lines"]![0]!["author"] = "Somebody Else")).ShouldContain(Broken);
        Report(Brought(j => j["outcome"] = "not found")).ShouldContain(Broken);
        Report(Brought(j => j.Remove("seal"))).ShouldContain("Not sealed");
        var odd = Export(server, id);
        odd["seal"] = "<b>none</b>";
        Import(server, odd.ToJsonString()).Status.ShouldBe(400);
        using (var c = new SqliteConnection($"Data Source={server.Data}"))
        {
            c.Open();
            using var change = c.CreateCommand();
            change.CommandText = "UPDATE line SET text = replace(text, '=', ' =') WHERE id = (SELECT min(id) FROM line WHERE job_id = $id)";
            change.Parameters.AddWithValue("$id", id);
            change.ExecuteNonQuery().ShouldBe(1);
        }
        Report(id).ShouldContain(Broken);
    }

    [Fact]
    public void A_job_that_went_out_comes_in_without_loss()
    {
        using var server = new ServerProcess();
        foreach (var id in new long[] { 1, 4 })
        {
            var job = Export(server, id);
            job["notes"] = new JsonArray(
                new JsonObject
                {
                    ["text"] = "plug was wet, left side",
                    ["author"] = "A. Tester",
                    ["at"] = "2026-01-02T03:04:05Z",
                }
            );
            job["attachments"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = "plug.png",
                    ["type"] = "image/png",
                    ["caption"] = "wet plug",
                    ["stage"] = "before",
                    ["data"] = Convert.ToBase64String([137, 80, 78, 71, 1, 2, 3]),
                    ["author"] = "A. Tester",
                    ["at"] = "2026-01-02T03:04:05Z",
                }
            );
            const string at = "2026-01-02T03:04:05Z";
            job["holder"] = "B. Second";
            job["odds"] = "\tfuse\t3\t14\t1.4\t1.25";
            job["intake"] = new JsonObject
            {
                ["hours"] = "4120 h",
                ["since"] = "two days",
                ["conditions"] = "in the wet, now and then",
                ["sounds"] = "one click",
                ["author"] = "A. Tester",
                ["at"] = at,
            };
            job["codes"] = new JsonArray(
                new JsonObject
                {
                    ["number"] = "168-1",
                    ["status"] = "active",
                    ["count"] = 3,
                    ["author"] = "A. Tester",
                    ["at"] = at,
                },
                new JsonObject
                {
                    ["number"] = "P0335",
                    ["status"] = "stored",
                    ["count"] = null,
                    ["author"] = "A. Tester",
                    ["at"] = at,
                }
            );
            job["safety"] = new JsonArray(
                new JsonObject
                {
                    ["kind"] = "lock",
                    ["item"] = "14",
                    ["result"] = "",
                    ["author"] = "A. Tester",
                    ["at"] = at,
                }
            );
            job["handovers"] = new JsonArray(
                new JsonObject
                {
                    ["fromAuthor"] = "A. Tester",
                    ["author"] = "B. Second",
                    ["repeats"] = "",
                    ["at"] = at,
                }
            );
            job["parts"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = "fuse 15 A",
                    ["price"] = 1.2,
                    ["needed"] = true,
                    ["author"] = "A. Tester",
                    ["at"] = at,
                },
                new JsonObject
                {
                    ["name"] = "relay",
                    ["price"] = null,
                    ["needed"] = false,
                    ["author"] = "A. Tester",
                    ["at"] = at,
                }
            );
            var (status, body) = Import(server, job.ToJsonString());
            status.ShouldBe(201, body.ToJsonString());
            var back = Export(server, body["id"]!.GetValue<long>());
            back.ToJsonString().ShouldBe(job.ToJsonString());
            Bytes(server, $"/api/v1/jobs/{body["id"]}/attachments/{(id == 1 ? 1 : 2)}").ShouldBe(new byte[] { 137, 80, 78, 71, 1, 2, 3 });
            Page(server, $"/jobs/{body["id"]}/trace").ShouldContain("id=\"order\"");
        }
        // On an empty database it comes in with its machine, and goes out the same.
        using var empty = ServerProcess.Empty();
        var whole = Export(server, 4);
        var (made, at2) = Import(empty, whole.ToJsonString());
        made.ShouldBe(201, at2.ToJsonString());
        Export(empty, at2["id"]!.GetValue<long>()).ToJsonString().ShouldBe(whole.ToJsonString());
        Page(server, "/api/v1/jobs/1/readings.csv").ShouldStartWith("line,phase,reading");
    }

    [Fact]
    public void A_closed_job_is_found_by_its_words_and_a_changed_sheet_brings_a_machine_of_its_own()
    {
        using var server = new ServerProcess();
        var job = Export(server, 1);
        job["closedAt"] = "2026-02-03T04:05:06Z";
        job["outcome"] = "mended";
        job["finding"] = new JsonObject
        {
            ["fault"] = "S2 open",
            ["share"] = 0.97,
            ["proof"] = "ohm S2 = OL",
            ["cause"] = "zzplunger worn",
            ["repair"] = "renewed",
            ["parts"] = "1 switch",
            ["author"] = "A",
            ["at"] = "2026-02-03T04:05:06Z",
        };
        job["sheet"] = job["sheet"]!.GetValue<string>() + "\n# as seen at the other yard\n";
        var name = job["machine"]!.GetValue<string>();
        var (status, body) = Import(server, job.ToJsonString());
        status.ShouldBe(201, body.ToJsonString());
        Export(server, body["id"]!.GetValue<long>())["machine"]!.GetValue<string>().ShouldBe($"{name}, imported");
        Page(server, "/logbook?Words=zzplung").ShouldContain("S2 open");
        Page(server, "/logbook?Words=zzplung&From=2026-02-03&To=2026-02-03").ShouldContain("S2 open");
        Page(server, "/logbook?Words=zzplung&From=2026-02-04").ShouldNotContain("S2 open");
        Page(server, "/logbook?Words=zzplung&To=9999-12-31").ShouldContain("S2 open");
        Page(server, "/logbook?Words=zzplung%20nowhere").ShouldNotContain("S2 open");
        Page(server, "/logbook?Words=%22%20OR%20*%20NEAR(").ShouldContain("No closed job");
    }

    /// <summary>An upgrade changes what would be computed: the report of a closed job says what it said.</summary>
    [Fact]
    public void The_report_of_a_closed_job_never_changes()
    {
        using var server = new ServerProcess();
        var open = Page(server, "/jobs/1/report");
        open.ShouldNotContain("Kept as it stood");
        var job = Export(server, 1);
        job["closedAt"] = "2026-02-03T04:05:06Z";
        job["outcome"] = "mended";
        var (status, body) = Import(server, job.ToJsonString());
        status.ShouldBe(201, body.ToJsonString());
        var id = body["id"]!.GetValue<long>();
        var (workshop, customer) = ($"/jobs/{id}/report", $"/jobs/{id}/report?for=customer");
        var before = Page(server, workshop);
        before.ShouldContain("Kept as it stood at closing, as version");
        before.ShouldContain("cutter");
        using (var c = new SqliteConnection($"Data Source={server.Data}"))
        {
            c.Open();
            using var change = c.CreateCommand();
            change.CommandText =
                "UPDATE line SET meaning = 'zzchanged' WHERE job_id = $id; UPDATE job SET rules = 'zzrules' WHERE id = $id";
            change.Parameters.AddWithValue("$id", id);
            change.ExecuteNonQuery().ShouldBeGreaterThan(0);
        }
        // Whole words: two letters turn up in a form's token by chance.
        string[] changed = ["zzchanged", "zzrules"];
        foreach (var word in changed)
            Page(server, workshop).ShouldNotContain(word);
        // The customer's copy was written in the same moment, before it was ever asked for.
        foreach (var word in changed)
            Page(server, customer).ShouldNotContain(word);
        Kept(Page(server, workshop)).ShouldBe(Kept(before));
        // Notes are added to a closed job, beside what is kept.
        Page(server, workshop).ShouldContain("note-form");

        static string Kept(string page) => page[page.IndexOf("<dl class=\"record\">")..page.IndexOf("class=\"judged\"")];
    }

    /// <summary>Each field of a closed job, and of two rows of each list, without a value in turn: taken or told.</summary>
    [Fact]
    public void Whatever_stands_empty_in_a_file_is_told()
    {
        using var server = new ServerProcess();
        var good = Export(server, 14);
        var (broken, refused) = (new List<string>(), 0);
        foreach (var path in Places(good).Select(p => p.GetPath()).ToList())
        {
            var file = good.DeepClone();
            var at = Places(file).First(p => p.GetPath() == path);
            if (at.Parent is JsonArray list)
                list[at.GetElementIndex()] = null;
            else
                at.Parent!.AsObject()[at.GetPropertyName()] = null;
            var (status, _) = Import(server, file.ToJsonString());
            if (status == 400)
                refused++;
            else if (status != 201)
                broken.Add($"{status} {path}");
        }
        broken.ShouldBeEmpty();
        refused.ShouldBeGreaterThan(10);

        static IEnumerable<JsonNode> Places(JsonNode of) => (
                of is JsonObject o ? o.Select(x => x.Value)
                : of is JsonArray a ? a.Take(2)
                : []
            ).OfType<JsonNode>().SelectMany(n => Places(n).Prepend(n));
    }

    [Fact]
    public void Files_that_are_broken_or_hostile_are_refused_and_nothing_is_kept()
    {
        using var server = new ServerProcess();
        var good = Export(server, 1);
        string With(Action<JsonObject> change)
        {
            var copy = JsonNode.Parse(good.ToJsonString())!.AsObject();
            change(copy);
            return copy.ToJsonString();
        }

        var line = (JsonObject)good["lines"]![0]!.DeepClone();
        (string Text, string Word)[] bad =
        [
            ("", "job file"),
            ("{", "job file"),
            ("null", "empty"),
            ("[]", "job file"),
            ("{}", "no name"),
            (new string('[', 5000), "job file"),
            (With(j => j["zoltricJob"] = 2), "shape"),
            (With(j => j["sheet"] = "part G1 batery 12V"), "sheet"),
            (With(j => j["lines"] = null), "missing"),
            (With(j => j["lines"] = new JsonArray((JsonNode?)null)), "empty entry"),
            (
                With(j =>
                {
                    var l = line.DeepClone();
                    l["text"] = "key=START : V K99.1 = 3V";
                    ((JsonArray)j["lines"]!).Add(l);
                }),
                "K99"
            ),
            (
                With(j =>
                {
                    var l = line.DeepClone();
                    l["minutes"] = -4;
                    ((JsonArray)j["lines"]!).Add(l);
                }),
                "no possible time"
            ),
            (
                With(j =>
                {
                    var l = line.DeepClone();
                    l["at"] = "'); DROP TABLE job; --";
                    ((JsonArray)j["lines"]!).Add(l);
                }),
                "no time"
            ),
            (With(j => j["strategy"] = "guess"), "way of working"),
            (With(j => j["complaint"] = new string('x', 5000)), "longer"),
            (With(j => j["author"] = null), "missing"),
            (
                With(j =>
                    j["attachments"] = new JsonArray(
                        new JsonObject
                        {
                            ["name"] = "x.html",
                            ["type"] = "text/html",
                            ["caption"] = "",
                            ["data"] = "AAAA",
                            ["author"] = "",
                            ["at"] = "2026-01-01T00:00:00Z",
                        }
                    )
                ),
                "not a JPEG"
            ),
            (With(j => j["closedAt"] = "2026-01-01T00:00:00Z"), "outcome"),
            (With(j => j["odds"] = "fuse times three"), "odds"),
            (With(j => j["codes"] = null), "missing"),
            (
                With(j =>
                    j["safety"] = new JsonArray(
                        new JsonObject
                        {
                            ["kind"] = "trust me",
                            ["item"] = "x",
                            ["result"] = "",
                            ["author"] = "A",
                            ["at"] = "2026-01-01T00:00:00Z",
                        }
                    )
                ),
                "safety entry"
            ),
            (
                With(j =>
                    j["codes"] = new JsonArray(
                        new JsonObject
                        {
                            ["number"] = "1-1",
                            ["status"] = "maybe",
                            ["author"] = "A",
                            ["at"] = "2026-01-01T00:00:00Z",
                        }
                    )
                ),
                "status"
            ),
            (
                With(j =>
                    j["parts"] = new JsonArray(
                        new JsonObject
                        {
                            ["name"] = "fuse",
                            ["price"] = 1e300,
                            ["needed"] = true,
                            ["author"] = "A",
                            ["at"] = "2026-01-01T00:00:00Z",
                        }
                    )
                ),
                "price"
            ),
        ];
        foreach (var (text, word) in bad)
        {
            var (status, body) = Import(server, text);
            status.ShouldBe(400, text.Length > 300 ? text[..300] : text);
            body["detail"]!.GetValue<string>().ShouldContain(word, Case.Insensitive);
        }
        Status(server, "/api/v1/jobs/500/export").ShouldBe(404, "something of a refused file was kept");
        Page(server, "/").ShouldNotContain("imported");
        // Words that would run in a page stand there as words.
        var (ok, made) = Import(server, With(j => j["complaint"] = "<script>alert(1)</script>"));
        ok.ShouldBe(201);
        Page(server, $"/jobs/{made["id"]}/trace").ShouldNotContain("<script>alert");
        server.Said.ShouldNotContain("Exception");
    }

    [Fact]
    public void An_address_that_makes_no_sense_is_answered_and_not_an_error_of_the_server()
    {
        using var server = new ServerProcess();
        foreach (
            var path in new[]
            {
                "/circuit/1?Meter=zzz",
                "/circuit/1?Steps=garbage%3D%3D&Move=nothing",
                "/circuit/1?Fault=nonsense&Fault=F1%20blown&Fault=F1%20blown",
                "/circuit/1?Red=Q9.9&Black=%3Cscript%3E&Stops=none",
                "/circuit/1?Done=unplug%20ZZ&Done=jumper%20A%20B&Done=off&Done=",
                "/circuit/1/print?Steps=bad&Paper=zzz",
                "/sheet/1/versions?From=99&To=77",
                "/sheet?route=%22%22%22&volts=abc",
                "/start?pattern=none",
                "/jobs/1/trace?lane=99&zoom=true&unfold=true",
                "/logbook?Words=%00%22(&Family=%27",
                "/circuit/999",
                "/api/v1/jobs/1/attachments/5",
            }
        )
            Status(server, path).ShouldBeLessThan(500, path);
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>What is looked at first goes on as an address: 64 KB of it were an answer that no browser takes.</summary>
    [Theory]
    [InlineData(20, "name=\"Text\"")]
    [InlineData(80_000, "That is too much to look at first.")]
    public async Task What_is_too_long_to_look_at_first_is_told_and_stands_there_still(int length, string says)
    {
        var stop = TestContext.Current.CancellationToken;
        using var server = new ServerProcess();
        var page = await server.Client.GetStringAsync("/start?pattern=Cranking%20string", stop);
        var name = new string('x', length);
        using var form = new FormUrlEncodedContent(
            new Dictionary<string, string>
            {
                ["Pattern"] = "Cranking string",
                ["look"] = "true",
                [FieldOfAPattern().Match(page).Groups[1].Value] = name,
                ["__RequestVerificationToken"] = ServerProcess.FormToken(page),
            }
        );
        using var answer = await server.Client.PostAsync("/start?handler=Pattern", form, stop);
        answer.IsSuccessStatusCode.ShouldBeTrue();
        var shown = await answer.Content.ReadAsStringAsync(stop);
        shown.ShouldContain(says);
        shown.ShouldContain(name);
    }

    [GeneratedRegex("name=\"(values[^\"]+)\"")]
    private static partial Regex FieldOfAPattern();
}
