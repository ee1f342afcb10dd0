using System.Text;
using System.Text.Json.Nodes;

namespace Zoltric.Web.Tests;

/// <summary>
/// A database and a job file as version 0.10 wrote them (Assets/version-0.10.*, made by that version from two demo sheets, two open jobs
/// and two closed ones) still open, with every line and finding.
/// </summary>
public class OldVersionTests
{
    internal static string Asset(string name) => Path.Combine(AppContext.BaseDirectory, "Assets", name);

    [Fact]
    public void A_database_of_version_0_10_opens_with_its_jobs()
    {
        using var server = ServerProcess.On(Asset("version-0.10.sqlite"));
        string Page(string path) => server.Client.GetStringAsync(path).Result;
        Page("/").ShouldContain("pump stops when the start button is let go");
        Page("/logbook").ShouldContain("/jobs/3/report");
        // Its open jobs are gone on with, by the rules of today.
        Page("/jobs/2/trace").ShouldContain("pump keeps running");
        Page("/jobs/1/trace").ShouldContain("cutter runs");
        // What was found and written down stands on the report, and stays as it is from now on.
        var reports = new[] { 3, 4 }.Select(id => Page($"/jobs/{id}/report")).ToList();
        foreach (var (report, id) in reports.Zip([3, 4]))
        {
            var job = JsonNode.Parse(Page($"/api/v1/jobs/{id}/export"))!;
            job["lines"]!.AsArray().Count.ShouldBeGreaterThan(4);
            report.ShouldContain(job["finding"]!["cause"]!.GetValue<string>());
        }
        server.Kill();
        server.Start();
        Body(Page("/jobs/3/report")).ShouldBe(Body(reports[0]));

        // The token of the page's form is new with each page.
        static string Body(string page) => page[..page.IndexOf("__RequestVerificationToken", StringComparison.Ordinal)];
    }

    [Fact]
    public async Task A_job_file_of_version_0_10_comes_in_whole()
    {
        using var server = ServerProcess.Empty();
        var file = await File.ReadAllTextAsync(Asset("version-0.10-job.json"), TestContext.Current.CancellationToken);
        var stop = TestContext.Current.CancellationToken;
        using var sent = new StringContent(file, Encoding.UTF8, "application/json");
        using var response = await server.Client.PostAsync("/api/v1/jobs/import", sent, stop);
        var body = JsonNode.Parse(await response.Content.ReadAsStringAsync(stop))!;
        response.IsSuccessStatusCode.ShouldBeTrue(body.ToJsonString());
        var back = JsonNode.Parse(await server.Client.GetStringAsync($"/api/v1/jobs/{body["id"]}/export", stop))!;
        var was = JsonNode.Parse(file)!;
        // All that the file says is said again; later versions add to it.
        foreach (var (name, value) in was.AsObject().Where(x => x.Key is not "machine"))
            Says(back[name], value, name);

        static void Says(JsonNode? now, JsonNode? then, string at)
        {
            if (then is JsonObject o)
                foreach (var (name, value) in o)
                    Says(now?[name], value, $"{at}.{name}");
            else if (then is JsonArray a)
                for (var i = 0; i < a.Count; i++)
                    Says(now?[i], a[i], $"{at}[{i}]");
            else
                (now?.ToJsonString()).ShouldBe(then?.ToJsonString(), at);
        }
    }
}
