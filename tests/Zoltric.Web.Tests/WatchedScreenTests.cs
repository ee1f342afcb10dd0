namespace Zoltric.Web.Tests;

/// <summary>
/// A figure watched for long in the browser: a night's draw of the simulated machine in under a minute, on a phone; a joint that opens
/// while
/// it is moved, by a meter of the test's own, whose dial stands wrong and whose cable comes out.
/// </summary>
public sealed class WatchedScreenTests
{
    private static string Open(Browser b, ServerProcess server, string complaint)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var link = b.All(".jobs a").First(a => a.Text.Contains(complaint, StringComparison.Ordinal)).GetAttribute("href")!;
        var job = new Uri(link).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/watch");
        return job;
    }

    /// <summary>What has to be said first is said, and what was typed stands still.</summary>
    private static void Start(Browser b, string button)
    {
        for (var i = 0; i < 4 && !b.Has("#watch"); i++)
        {
            if (b.Has("#gate"))
                b.Click("#gate button.go");
            b.Until(() => !b.Has("#gate"), "the gate stays");
            b.Click(b.Find(button));
            b.Until(() => b.Has("#watch") || b.Has("#gate"), "nothing is watched");
        }
    }

    private static string Fuse(Browser b, string tag)
    {
        b.Driver.ExecuteScript("document.querySelector('[name=fuse]').value = arguments[0]", tag);
        b.Click("[name=what][value=pull]");
        b.Until(() => b.Says("#seen table").Contains($"{tag} ", StringComparison.Ordinal), "not marked");
        return b.Says("#seen table");
    }

    [Fact]
    public void A_night_at_rest_is_watched_in_under_a_minute_on_a_phone()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var job = Open(b, server, "batteries flat by morning");
        Start(b, "form[action*=Simulate] button.go");
        b.Until(() => b.Says("#say-words").Contains("sleeps in", StringComparison.Ordinal), "no countdown");
        b.Until(() => b.Has("#strip canvas"), "no chart");
        b.Until(() => b.Says("#say-words").Contains("Now fuse after fuse", StringComparison.Ordinal), "never asleep");
        Fuse(b, "F1");
        Fuse(b, "F2").ShouldContain("F1 cab link pulled");
        b.Until(() => b.Says("#spread").Contains("8 h ", StringComparison.Ordinal), "no night went by");
        b.Until(
            () => b.All("#seen .keep-lines code").Any(c => c.Text.StartsWith("pull F1, pull F2, after ", StringComparison.Ordinal)),
            "no line of both fuses"
        );
        using (var desk = new Browser(1280, 800))
        {
            desk.Driver.Navigate().GoToUrl(server.Address);
            desk.As("Tamsin Reke");
            desk.Driver.Navigate().GoToUrl(b.Driver.Url);
            desk.Until(() => desk.Has("#strip canvas") && desk.Has("[name=what]"), "the desk does not follow");
            desk.Shot("watch");
            desk.NothingOnTheConsole();
        }
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);
        var line = b.All("#seen .keep-lines code")[0].Text;
        line.ShouldMatch(@"^after \d+min : A G1 = [\d.]+A$");
        b.Click(b.All("#seen .keep-lines button")[0]);
        b.Until(() => b.Has("#seen .receipt"), "not kept");
        b.Click(".watch-end button");
        b.Until(() => b.Driver.Url.Contains("/captures/", StringComparison.Ordinal), "not ended");
        b.Find(".marks-of").Text.ShouldContain("F2 body link pulled");
        b.Find(".capture-chart").FindElements(OpenQA.Selenium.By.CssSelector(".mark")).Count.ShouldBe(2);
        b.Find(".captures-page").Text.ShouldContain("The draw, stage by stage");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has(".log"), "no log");
        (b.Find(".log").GetAttribute("textContent") ?? "").ShouldContain(line.Split(" : ")[1].Split(" = ")[0]);
        b.NothingOnTheConsole();
    }

    /// <summary>
    /// The dial is not turned from here, a pulled cable loses nothing, another technician follows and may not mark, and what jumped while a
    /// place was moved is a line of that place.
    /// </summary>
    [Fact]
    public void A_joint_that_opens_while_it_is_moved_is_a_line_of_its_place()
    {
        using var server = new ServerProcess();
        using var meter = new HandMeter { Dial = "RES", Shows = () => 12.4 };
        using var b = new Browser(1280, 800);
        var job = Open(b, server, "brush does not turn");
        b.Fill("form[action*=Start] [name=on]", "V S3.2");
        b.Fill("form[action*=Start] [name=setup]", "key=RUN brush=ON");
        b.Fill("form[action*=Start] [name=address]", meter.Address);
        Start(b, "form[action*=Start] button.go");
        b.Until(
            () => b.Says("#say-words").Contains("Turn its dial to DC volts by hand", StringComparison.Ordinal),
            "a wrong dial is not said"
        );
        meter.Dial = "VOLT";
        b.Until(() => b.Says("#figure").StartsWith("12.4", StringComparison.Ordinal), "the figure does not come");
        meter.PullCable();
        b.Until(() => b.Says("#say", "data-stage") == "trouble", "a pulled cable is not said");
        b.Says("#say-words").ShouldContain("kept");
        meter.CableOut = false;
        b.Until(() => b.Says("#say", "data-stage") == "watching", "it does not come back");
        var jumps = 0;
        meter.Shows = () => ++jumps % 2 == 0 ? 12.4 : 1.1;
        b.Fill("#seen [name=place]", "under seat");
        b.Click("[name=what][value=move]");
        b.Until(
            () =>
                b.All("#seen .keep-lines code")
                    .Any(c => c.Text.Contains("move \"under seat\" : V S3.2 = 1.1..12.4V", StringComparison.Ordinal)),
            "no line of the place"
        );
        using (var other = new Browser(390, 844, phone: true))
        {
            other.Driver.Navigate().GoToUrl(server.Address);
            other.As("Ivo Marrack");
            other.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/watch");
            other.Until(() => other.Says("#figure").Contains('V', StringComparison.Ordinal), "the second screen shows nothing");
            other.Has("[name=what]").ShouldBeFalse();
            other.Has(".watch-end").ShouldBeFalse();
        }
        b.Click(".watch-end button");
        b.Until(() => b.Driver.Url.Contains("/captures/", StringComparison.Ordinal), "not ended");
        b.Find(".captures-page").Text.ShouldContain("moved: under seat");
        lock (meter.Heard)
            meter.Heard.Except(["*CLS", "*IDN?", "FUNC?", "READ?"]).ShouldBeEmpty("the dial is a hand's");
        b.NothingOnTheConsole();
    }

    [Theory]
    [InlineData("A K1", "", "", "192.168.4.20:5025", "Pull K1 first")]
    [InlineData("V S3.2", "key=RUM", "", "192.168.4.20:5025", "nothing that is watched")]
    [InlineData("V S3.2", "", "100", "192.168.4.20:5025", "Only a clamp gives volts")]
    [InlineData("clamp w1", "", "much", "192.168.4.20:5025", "is no factor")]
    [InlineData("V S3.2 min", "", "", "192.168.4.20:5025", "leave that word away")]
    [InlineData("V S3.2", "", "", "8.8.8.8:5025", "8.8.8.8")]
    public void What_cannot_be_watched_is_said(string on, string setup, string per, string address, string says)
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        Open(b, server, "brush does not turn");
        foreach (var (name, value) in new[] { ("on", on), ("setup", setup), ("per", per), ("address", address) })
            b.Fill($"form[action*=Start] [name={name}]", value);
        b.Click("form[action*=Start] button.go");
        if (b.Has("#gate"))
        {
            b.Click("#gate button.go");
            b.Until(() => !b.Has("#gate"), "the gate stays");
            b.Find("form[action*=Start] [name=on]").GetAttribute("value").ShouldBe(on);
            b.Click("form[action*=Start] button.go");
        }
        b.Until(() => b.Has(".problem"), "nothing is said");
        b.Find(".problem").Text.ShouldContain(says);
        b.Find("form[action*=Start] [name=address]").GetAttribute("value").ShouldBe(address);
        b.Has("#watch").ShouldBeFalse();
    }
}
