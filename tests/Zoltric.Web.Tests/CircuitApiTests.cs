using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace Zoltric.Web.Tests;

/// <summary>The HTTP interface to its contract: shapes, values, and problem details with line and column.</summary>
public class CircuitApiTests(ServerProcess server) : IClassFixture<ServerProcess>
{
    private static readonly string Pr3 = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PR-3.sheet"));

    private async Task<(HttpStatusCode Status, JsonElement Body)> Post(string path, object body)
    {
        using var response = await server.Client.PostAsJsonAsync("/api/v1/" + path, body, TestContext.Current.CancellationToken);
        return (response.StatusCode, await response.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken));
    }

    [Fact]
    public async Task Check_passes_the_demo_sheet_without_a_word()
    {
        var (status, body) = await Post("check", new { sheet = Pr3 });
        status.ShouldBe(HttpStatusCode.OK);
        body.GetProperty("ok").GetBoolean().ShouldBeTrue();
        body.GetProperty("problems").GetArrayLength().ShouldBe(0, body.ToString());
        body.GetProperty("parts").GetInt32().ShouldBe(17);
    }

    [Theory]
    [InlineData("part K2   relay 12V 85ohm", "part K2   rellay 12V 85ohm", "error", "relay")]
    [InlineData("- S1.B\n", "- S9.B\n", "error", "S1")]
    [InlineData("key=START : ", "key=STRT : ", null, null)]
    [InlineData("gear=ENGAGED stops", "gear=ENGAGD stops", "error", "ENGAGED")]
    [InlineData("reach 15min", "reach 15V", "error", "time")]
    public async Task Check_places_what_is_wrong_and_says_what_was_meant(string right, string wrong, string? severity, string? suggestion)
    {
        var text = Pr3.Replace(right, wrong, StringComparison.Ordinal);
        var (_, body) = await Post("check", new { sheet = text });
        if (severity is null)
        {
            body.GetProperty("ok").GetBoolean().ShouldBeTrue();
            return;
        }
        body.GetProperty("ok").GetBoolean().ShouldBeFalse();
        var problem = body.GetProperty("problems")[0];
        problem.GetProperty("severity").GetString().ShouldBe(severity);
        var lines = text.Split('\n');
        var line = lines[problem.GetProperty("line").GetInt32() - 1];
        line[(problem.GetProperty("column").GetInt32() - 1)..]
            .ShouldContain(wrong.Trim().Split(' ')[^1].Split('=')[^1].TrimStart('-', ' ')[..2]);
        problem.ToString().ShouldContain(suggestion!);
    }

    [Fact]
    public async Task Simulate_gives_numbers_words_and_refusals()
    {
        var (status, body) = await Post(
            "simulate",
            new
            {
                sheet = Pr3,
                faults = new[] { "S2 open" },
                lines = new[]
                {
                    "key=START : V K1.86",
                    "key=START : hears K1",
                    " : V G1.+ G1.-",
                    "off G1, unplug S2 : ohm S2",
                    "key=START : ohm S2",
                    "key=START : sees \"engine cranks\"",
                    "key=START : drop S2",
                },
            }
        );
        status.ShouldBe(HttpStatusCode.OK);
        var r = body.GetProperty("results");
        r[0].GetProperty("value").GetDouble().ShouldBe(0, 0.01);
        r[0].GetProperty("unit").GetString().ShouldBe("V");
        r[1].GetProperty("value").ValueKind.ShouldBe(JsonValueKind.Null);
        r[1].GetProperty("text").GetString().ShouldBe("silent");
        r[2].GetProperty("value").GetDouble().ShouldBe(12.6, 0.01);
        r[3].GetProperty("text").GetString().ShouldBe("OL");
        r[4].GetProperty("value").ValueKind.ShouldBe(JsonValueKind.Null);
        r[4].GetProperty("text").GetString()!.ShouldContain("Live");
        r[5].GetProperty("text").GetString().ShouldBe("dead");
        r[6].GetProperty("value").GetDouble().ShouldBeGreaterThan(12);
    }

    [Fact]
    public async Task Expect_holds_the_nominal_between_low_and_high()
    {
        var (_, body) = await Post("expect", new { sheet = Pr3, lines = new[] { "key=START : V K1.86", "key=START : hears K1" } });
        var r = body.GetProperty("results")[0];
        r.GetProperty("low").GetDouble().ShouldBeLessThan(r.GetProperty("nominal").GetDouble());
        r.GetProperty("high").GetDouble().ShouldBeGreaterThan(r.GetProperty("nominal").GetDouble());
        // A cranking machine sags: the healthy value is not the battery's.
        r.GetProperty("nominal").GetDouble().ShouldBeInRange(10, 11.8);
        body.GetProperty("results")[1].GetProperty("text").GetString().ShouldBe("clicks");
    }

    [Fact]
    public async Task Diagnose_answers_to_the_contract_and_its_shares_add_to_one()
    {
        var (status, body) = await Post(
            "diagnose",
            new
            {
                sheet = Pr3,
                readings = new[]
                {
                    "key=START : sees \"engine cranks\" = dead",
                    "key=START : V S1.S = 12.4V",
                    "key=START : V K1.86 = 0.02V",
                },
            }
        );
        status.ShouldBe(HttpStatusCode.OK);
        var shares = body.GetProperty("suspects").EnumerateArray().Sum(s => s.GetProperty("share").GetDouble());
        (shares + body.GetProperty("offSheet").GetDouble()).ShouldBe(1, 1e-6);
        body.GetProperty("verdicts").GetArrayLength().ShouldBe(3);
        // The trap: a good 12.4 V upstream of a machine that is not cranking is not high.
        body.GetProperty("verdicts")[1].GetProperty("judgement").GetString().ShouldBe("ok");
        body.GetProperty("verdicts")[2].GetProperty("judgement").GetString().ShouldBe("low");
        var next = body.GetProperty("next")[0];
        next.GetProperty("line").GetString()!.ShouldContain(" : ");
        next.GetProperty("outcomes").GetArrayLength().ShouldBeGreaterThanOrEqualTo(2);
        var stretch = body.GetProperty("stretch");
        stretch.GetProperty("parts").EnumerateArray().Select(p => p.GetString()).ShouldContain("S2");
        body.GetProperty("solved").GetBoolean().ShouldBeFalse();
    }

    [Theory]
    [InlineData("simulate", "{\"sheet\":\"\"}", "sheet")]
    [InlineData("simulate", "{\"sheet\":\"nonsense here\"}", "sheet")]
    [InlineData("expect", "{}", "sheet")]
    [InlineData("diagnose", "{\"sheet\":null,\"readings\":null}", "sheet")]
    // Half a character: RFC 8259, section 8.2.
    [InlineData("check", "{\"sheet\":\"a \\ud800 b\"}", "sheet")]
    [InlineData("diagnose", "{\"sheet\":{\"title\":\"x\",\"parts\":[{\"tag\":\"\\udc00\",\"kind\":\"fuse\"}]}}", "sheet")]
    [InlineData("expect", "{\"sheet\":{\"\\ud800\":\"x\",\"title\":\"t\"}}", "sheet")]
    public async Task What_cannot_be_used_is_refused_with_its_place(string path, string json, string where)
    {
        using var response = await server.Client.PostAsync(
            "/api/v1/" + path,
            new StringContent(json, Encoding.UTF8, "application/json"),
            TestContext.Current.CancellationToken
        );
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        response.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        var body = await response.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken);
        body.GetProperty("in").GetString().ShouldBe(where);
        body.GetProperty("line").GetInt32().ShouldBe(1);
        body.GetProperty("column").GetInt32().ShouldBeGreaterThan(0);
    }

    [Theory]
    [InlineData("lines", "key=START : V K1.68", "K1.86")]
    [InlineData("lines", "key=STRT : V K1.86", "START")]
    [InlineData("lines", "V K1.86", ":")]
    [InlineData("faults", "S99 open", "S9")]
    [InlineData("faults", "S2 melted", "open")]
    [InlineData("faults", "S2 resists", "Ω")]
    public async Task A_bad_line_or_fault_is_placed(string where, string text, string word)
    {
        var (status, body) = await Post(
            "simulate",
            new
            {
                sheet = Pr3,
                faults = where == "faults" ? [text] : Array.Empty<string>(),
                lines = where == "lines" ? new[] { " : V G1.+", text } : [" : V G1.+"],
            }
        );
        status.ShouldBe(HttpStatusCode.BadRequest);
        body.GetProperty("in").GetString().ShouldBe(where);
        body.GetProperty("line").GetInt32().ShouldBe(where == "lines" ? 2 : 1);
        body.ToString()
            .ShouldContain(
                word == "S9" ? "no part"
                : word == "Ω" ? "needs a value"
                : word
            );
    }

    [Fact]
    public async Task Noise_and_broken_json_are_answered_not_crashed_on()
    {
        var noise = new byte[2_000_000];
        new Random(5).NextBytes(noise);
        var text = Encoding.Latin1.GetString(noise);
        foreach (var path in new[] { "simulate", "expect", "diagnose" })
            (await Post(path, new { sheet = text })).Status.ShouldBe(HttpStatusCode.BadRequest);
        var (status, body) = await Post("check", new { sheet = text });
        status.ShouldBe(HttpStatusCode.OK);
        body.GetProperty("ok").GetBoolean().ShouldBeFalse();
        foreach (var json in new[] { "{", "[]", "{\"sheet\": 3}", "" })
        {
            using var response = await server.Client.PostAsync(
                "/api/v1/check",
                new StringContent(json, Encoding.UTF8, "application/json"),
                TestContext.Current.CancellationToken
            );
            response.StatusCode.ShouldBe(HttpStatusCode.BadRequest, json);
            response.Content.Headers.ContentType?.MediaType.ShouldBe("application/problem+json", json);
        }
        server.Said.ShouldNotContain("Unhandled");
    }

    [Fact]
    public async Task The_interface_describes_itself()
    {
        var document = await server.Client.GetFromJsonAsync<JsonElement>("/openapi/v1.json", TestContext.Current.CancellationToken);
        foreach (var path in new[] { "check", "simulate", "expect", "diagnose" })
            document.GetProperty("paths").TryGetProperty("/api/v1/" + path, out _).ShouldBeTrue(path);
    }

    [Theory]
    [InlineData("/jobs/99/trace")]
    [InlineData("/jobs/99/repair")]
    [InlineData("/sheet/99")]
    [InlineData("/nowhere")]
    public async Task What_is_not_there_is_not_found(string path) =>
        (await server.Client.GetAsync(path, TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

    /// <summary>A person reads a page with a way on, a program problem details (RFC 9457), each with the same status.</summary>
    [Theory]
    [InlineData("/jobs/99/trace", "text/html,application/xhtml+xml", "text/html")]
    [InlineData("/jobs/99/trace", "application/json", "application/problem+json")]
    [InlineData("/api/v1/nowhere", "text/html,*/*", "application/problem+json")]
    public async Task What_cannot_be_shown_is_said_to_a_person_in_a_page(string path, string accepts, string type)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, path);
        request.Headers.Add("Accept", accepts);
        using var answer = await server.Client.SendAsync(request, TestContext.Current.CancellationToken);
        answer.StatusCode.ShouldBe(HttpStatusCode.NotFound);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe(type);
        var body = await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
        if (type == "text/html")
        {
            body.ShouldContain("There is nothing at this address");
            body.ShouldContain("To the open jobs");
        }
        else
            body.ShouldContain("\"status\":404");
    }

    [Fact]
    public async Task The_JSON_twin_is_taken_wherever_the_text_is()
    {
        var twin = JsonSerializer.Deserialize<JsonElement>(Core.Exchange.JsonSheet.Write(Core.Notation.SheetReader.Read(Pr3).Value!));
        var (status, body) = await Post(
            "simulate",
            new
            {
                sheet = twin,
                faults = Array.Empty<string>(),
                lines = new[] { "key=START : V K1.86" },
            }
        );
        status.ShouldBe(HttpStatusCode.OK);
        var (_, text) = await Post(
            "simulate",
            new
            {
                sheet = Pr3,
                faults = Array.Empty<string>(),
                lines = new[] { "key=START : V K1.86" },
            }
        );
        body.ToString().ShouldBe(text.ToString());
        var (refused, problem) = await Post(
            "simulate",
            new { sheet = new { title = "x", parts = new[] { new { tag = "G1", kind = "batery" } } }, lines = Array.Empty<string>() }
        );
        refused.ShouldBe(HttpStatusCode.BadRequest);
        problem.GetProperty("message").GetString().ShouldNotBeNull().ShouldContain("batery");
        (await server.Client.GetStringAsync("/schema/sheet.json", TestContext.Current.CancellationToken)).ShouldContain("Circuit sheet");
    }

    [Fact]
    public async Task A_note_says_race_history_and_fuses()
    {
        var rg1 = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "RG-1.sheet"));
        var (_, body) = await Post(
            "simulate",
            new
            {
                sheet = rg1,
                faults = Array.Empty<string>(),
                lines = new[] { "left=PRESSED right=PRESSED : hears K1", "left=PRESSED : hears K1" },
            }
        );
        body.GetProperty("results")[0].GetProperty("note").GetString().ShouldNotBeNull().ShouldContain("race between K1 and K2");
        body.GetProperty("results")[1].GetProperty("note").ValueKind.ShouldBe(JsonValueKind.Null);
        var (_, blown) = await Post(
            "simulate",
            new
            {
                sheet = Pr3,
                faults = new[] { "w21 grounded 0.1ohm" },
                lines = new[] { "key=START : V K1.86" },
            }
        );
        blown.GetProperty("results")[0].GetProperty("note").GetString().ShouldNotBeNull().ShouldContain("F1 opened at");
    }

    [Theory]
    [InlineData("sheet", "nominal 24V dc")]
    [InlineData("json", "\"parts\"")]
    [InlineData("csv", "wire,from,to,colour")]
    [InlineData("cir", ".op")]
    public async Task A_kept_sheet_comes_as_a_file(string extension, string holds)
    {
        using var response = await server.Client.GetAsync(
            $"/api/v1/sheets/{await AnySheet()}.{extension}",
            TestContext.Current.CancellationToken
        );
        response.StatusCode.ShouldBe(HttpStatusCode.OK);
        (await response.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(holds);
        using var none = await server.Client.GetAsync($"/api/v1/sheets/99999.{extension}", TestContext.Current.CancellationToken);
        none.StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_netlist_is_of_the_setup_asked_for()
    {
        using var response = await server.Client.GetAsync(
            $"/api/v1/sheets/{await AnySheet()}.cir?setup=nothing%3DHERE",
            TestContext.Current.CancellationToken
        );
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await response.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken))
            .GetProperty("column")
            .GetInt32()
            .ShouldBe(1);
    }

    /// <summary>Id of a sheet of the demo, taken from the page of the first machine.</summary>
    private async Task<string> AnySheet()
    {
        var page = await server.Client.GetStringAsync("/sheet/1", TestContext.Current.CancellationToken);
        var at = page.IndexOf("/api/v1/sheets/", StringComparison.Ordinal) + "/api/v1/sheets/".Length;
        return page[at..page.IndexOf('.', at)];
    }
}
