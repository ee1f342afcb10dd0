using System.Text.Json.Nodes;

namespace Zoltric.Web.Tests;

/// <summary>A job file that somebody sent, through the real screen: looked at first, brought in, taken out again while nothing was done
/// on it.</summary>
public class BroughtInTests
{
    [Fact]
    public async Task A_file_is_looked_at_before_it_is_kept_and_can_be_taken_out_again()
    {
        using var server = new ServerProcess();
        var end = TestContext.Current.CancellationToken;
        Task<string> Get(string path) => server.Client.GetStringAsync(path, end);
        async Task<int> Status(string path) => (int)(await server.Client.GetAsync(path, end)).StatusCode;
        var job = JsonNode.Parse(await Get("/api/v1/jobs/1/export"))!.AsObject();
        var machines = await Get("/machines");
        job["machine"] = "Lime kiln LK-3";
        job["openedAt"] = "2026-03-04T05:06:07Z";
        job["safety"] = new JsonArray(
            new JsonObject
            {
                ["kind"] = "lock",
                ["item"] = "G1",
                ["result"] = "",
                ["author"] = "E. Elsewhere",
                ["at"] = "2026-03-04T05:07:00Z",
            }
        );
        job["changes"] = new JsonArray(
            new JsonObject
            {
                ["what"] = "line 1",
                ["was"] = "V K1.86 = 3V",
                ["now"] = "struck",
                ["author"] = "E. Elsewhere",
                ["at"] = "2026-03-04T05:08:00Z",
            }
        );
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.json");
        await File.WriteAllTextAsync(file, job.ToJsonString(), end);
        try
        {
            using var b = new Browser(1280, 800);
            void Choose()
            {
                b.Driver.Navigate().GoToUrl(server.Address + "/logbook");
                b.Find("input[type=file]").SendKeys(file);
                b.Click(() => b.All("button").Single(x => x.Text == "Look at it"));
                b.Until(() => b.Has(".bring"), "not looked at");
            }

            Choose();
            var said = b.Find(".bring").Text;
            said.ShouldContain("Lime kiln LK-3");
            said.ShouldContain("not here yet");
            said.ShouldContain("E. Elsewhere");
            said.ShouldContain("None is in force here");
            b.Shot("job-file");
            (await Get("/machines")).ShouldNotContain("Lime kiln");
            b.Click(() => b.All("button").Single(x => x.Text == "Leave it"));
            b.Until(() => b.Driver.Url.EndsWith("/logbook", StringComparison.Ordinal), "not left");
            (await Get("/machines")).ShouldNotContain("Lime kiln");

            // Brought in, and out again: the machine it brought goes with it.
            Choose();
            b.Click(() => b.All("button").Single(x => x.Text == "Bring it in"));
            b.Until(() => b.Driver.Url.Contains("/trace", StringComparison.Ordinal), "not brought in");
            var id = b.Driver.Url.Split('/')[^2];
            b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{id}/report");
            // What was changed on it elsewhere came along.
            JsonNode.Parse(await Get($"/api/v1/jobs/{id}/export"))!["changes"]![0]!["was"]!.GetValue<string>().ShouldBe("V K1.86 = 3V");
            (await Get($"/jobs/{id}/report")).ShouldContain("V K1.86 = 3V");
            b.Find(".brought").Text.ShouldContain(Path.GetFileName(file));
            b.Click(() => b.All("button").Single(x => x.Text == "Take it out again"));
            b.Until(() => b.Driver.Url.EndsWith("/logbook", StringComparison.Ordinal), "not taken out");
            (await Status($"/jobs/{id}/report")).ShouldBe(404);
            (await Get("/machines")).ShouldNotContain("Lime kiln");

            // Worked on, it stays; the same file once more says that it is here.
            Choose();
            b.Click(() => b.All("button").Single(x => x.Text == "Bring it in"));
            b.Until(() => b.Driver.Url.Contains("/trace", StringComparison.Ordinal), "not brought in");
            id = b.Driver.Url.Split('/')[^2];
            b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{id}/report");
            b.Find("textarea[name=text]").SendKeys("seen at the kiln");
            b.Click(() => b.All(".note-form button").Single());
            b.Until(() => b.Find(".report").Text.Contains("seen at the kiln", StringComparison.Ordinal), "no note");
            b.Click(() => b.All("button").Single(x => x.Text == "Take it out again"));
            b.Until(() => b.Has(".brought .problem"), "nothing said");
            (await Status($"/jobs/{id}/report")).ShouldBe(200);
            Choose();
            b.Find(".bring .problem").Text.ShouldContain($"job {id}");
            machines.ShouldNotContain("Lime kiln");
        }
        finally
        {
            File.Delete(file);
        }
    }
}
