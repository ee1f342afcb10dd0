using System.Text.Json.Nodes;

namespace Zoltric.Web.Tests;

/// <summary>A phone that has no network for a while: answers wait on it and are kept in their order, once each.</summary>
public sealed class NoNetworkTests
{
    private static string Export(ServerProcess server, long job) =>
        server.Client.GetStringAsync($"/api/v1/jobs/{job}/export", TestContext.Current.CancellationToken).Result;

    private static List<string> Lines(ServerProcess server, long job) =>
        [.. JsonNode.Parse(Export(server, job))!["lines"]!.AsArray().Select(l => l!["text"]!.GetValue<string>())];

    /// <summary>On a job of a machine of 12 V, with everything said that comes before its order.</summary>
    private static Browser OnTrace(ServerProcess server, int job)
    {
        var b = new Browser(390, 844);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        Technician.MakeSafe(b);
        b.Until(() => b.Has("body[data-ahead]"), "the next orders are not fetched");
        return b;
    }

    /// <summary>The second answer, low or dead, whatever is asked: every one has to be kept as it was given.</summary>
    private static string Answer(Browser b)
    {
        var line = b.Says("#order", "data-line");
        b.Click("[data-answer='1']");
        b.Until(
            () => b.Says("#waiting", "data-count") != "" && b.Says("#order", "data-line") != line,
            $"the phone does not go on from {line}"
        );
        return line;
    }

    [Fact]
    public void Three_answers_without_network_are_kept_once_each_and_in_order()
    {
        using var server = new ServerProcess();
        using var b = OnTrace(server, 2);
        var before = Lines(server, 2);
        b.Network(offline: true);
        var given = new List<string> { Answer(b), Answer(b) };
        b.Says("#waiting").ShouldContain("2 readings wait on this phone");
        b.Says(".receipt .kicker").ShouldBe("Waits on this phone");
        // The third is as deep as it was worked out: it waits too, and the next order comes with the network.
        given.Add(b.Says("#order", "data-line"));
        b.Click("[data-answer='1']");
        b.Until(() => b.Says("#waiting", "data-count") == "3", "the third does not wait");
        b.Says("#order-column").ShouldContain("The next order comes with the network");
        // One is taken back, and given again.
        b.Click("#waiting .quiet");
        b.Says("#waiting", "data-count").ShouldBe("2");
        b.Click("[data-answer='1']");
        b.Until(() => b.Says("#waiting", "data-count") == "3", "it does not wait again");
        Lines(server, 2).ShouldBe(before);
        Thread.Sleep(2100);
        var back = DateTimeOffset.UtcNow;
        b.Network(offline: false);
        b.Until(() => b.Says("#waiting", "data-count") == "0", "what waited is not sent");
        b.Says("#waiting").ShouldContain("3 readings that waited are kept");
        var after = Lines(server, 2);
        after.Count.ShouldBe(before.Count + 3);
        // Each has the time at which it was read, and not that of its arrival.
        JsonNode.Parse(Export(server, 2))!["lines"]!
            .AsArray()
            .TakeLast(3)
            .ShouldAllBe(l => l!["at"]!.GetValue<DateTimeOffset>() < back.AddSeconds(-1));
        after[^3..].Select(l => l[..l.LastIndexOf(" = ", StringComparison.Ordinal)]).ShouldBe(given);
        b.Until(() => b.Has("#order") && b.Says(".receipt .kicker") == "Kept", "the page does not go on");
    }

    [Fact]
    public void What_waits_outlives_a_server_that_is_started_again_and_a_refusal_is_said()
    {
        using var server = new ServerProcess();
        using var b = OnTrace(server, 2);
        var before = Lines(server, 2);
        server.Kill();
        var first = Answer(b);
        // Somebody closed the job meanwhile would be refused as this is: a line that nobody can read.
        b.Driver.ExecuteScript(
            "const w = JSON.parse(localStorage['zoltric-waiting']); w.push({...w[0], text: 'V NOWHERE.9 = 3V', token: 'other'}); "
                + "localStorage['zoltric-waiting'] = JSON.stringify(w)"
        );
        server.Start();
        b.Until(() => b.Says("#waiting", "data-count") == "0", "what waited is not sent");
        b.Says("#waiting").ShouldContain("Not kept: V NOWHERE.9 = 3V");
        var after = Lines(server, 2);
        after.Count.ShouldBe(before.Count + 1);
        after[^1].ShouldStartWith(first);
    }

    /// <summary>A proof of dead and a live test on mains are of no worth before the server has them.</summary>
    [Fact]
    public void On_mains_nothing_waits()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/4/trace");
        b.Says("#order-column", "data-waits").ShouldBe("false");
        b.Says("#order-column", "data-low").ShouldBe("false");
        b.Network(offline: true);
        b.Driver.FindElement(OpenQA.Selenium.By.Id("text")).SendKeys("VAC F1.1 = 230V\n");
        b.Until(() => b.Driver.FindElement(OpenQA.Selenium.By.Id("not-sent")).Displayed, "nothing is said");
        b.Says("#waiting", "data-count").ShouldBe("0");
        b.Driver.FindElement(OpenQA.Selenium.By.Id("text")).GetAttribute("value").ShouldBe("VAC F1.1 = 230V");
    }
}
