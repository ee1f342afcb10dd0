using System.Text.RegularExpressions;
using Dapper;
using Microsoft.Data.Sqlite;

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
            b.Click(() => b.Find(button));
            b.Until(() => b.Has("#watch") || b.Has("#gate"), "nothing is watched");
        }
    }

    private static string Fuse(Browser b, string tag)
    {
        // In one go: the tables come anew now and then, and are locked while an answer is on its way.
        b.Until(
            () =>
                (bool)
                    b.Driver.ExecuteScript(
                        "var pull = document.querySelector('[name=what][value=pull]'); if (pull.disabled) return false;"
                            + "document.querySelector('[name=fuse]').value = arguments[0]; pull.click(); return true;",
                        tag
                    )!,
            "locked"
        );
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
        b.Until(() => b.Has("#strip canvas"), "no chart");
        // Ten minutes of the machine are one second: every word is listened to, and what is woken counts anew.
        b.Driver.ExecuteScript(
            "window.said = []; new MutationObserver(all => all.forEach(m => m.addedNodes.forEach(n => said.push(n.data))))"
                + ".observe(document.getElementById('say-words'), { childList: true });"
        );
        bool CountsDown() => (bool)b.Driver.ExecuteScript("return said.some(w => / sleeps in .* by the sheet/.test(w))")!;
        for (var i = 0; i < 10 && !CountsDown(); i++)
        {
            b.Click("[name=what][value=woke]");
            Thread.Sleep(1500);
        }
        CountsDown().ShouldBeTrue("no countdown");
        b.Click("[name=what][value=back]");
        b.Until(() => b.Says("#say-words").Contains("Now fuse after fuse", StringComparison.Ordinal), "never asleep");
        Fuse(b, "F1");
        Fuse(b, "F2").ShouldContain("F1 cab link pulled");
        b.Until(
            () => Regex.Match(b.Says("#spread"), @"(\d+) h ").Groups[1].Value is { Length: > 0 } h && int.Parse(h, null) >= 8,
            "no night"
        );
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
        line.ShouldMatch(@"^(after \d+min )?: A G1 = [\d.]+A$");
        b.Click("#seen .keep-lines button");
        b.Until(() => b.Has("#seen .receipt"), "not kept");
        b.Click(".watch-end button");
        b.Until(() => b.Driver.Url.Contains("/captures/", StringComparison.Ordinal), "not ended");
        b.Find(".marks-of").Text.ShouldContain("F2 body link pulled");
        b.Find(".capture-chart").FindElements(OpenQA.Selenium.By.CssSelector(".mark")).Count.ShouldBeGreaterThanOrEqualTo(3);
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
        b.Driver.ExecuteScript(
            "document.querySelector('[name=condition]').value = 'hot'; document.querySelector('[name=what][value=condition]').click()"
        );
        b.Until(() => b.All("#seen tbody th").Any(t => t.Text.EndsWith("hot", StringComparison.Ordinal)), "the condition is not marked");
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

    /// <summary>
    /// A meter has one reader; a job that is closed keeps nothing more of what is watched, and its meter is free again. What a dial that
    /// was
    /// turned by hand showed until that was noticed is no figure of the watch.
    /// </summary>
    [Fact]
    public void A_closed_job_ends_its_watch_and_frees_the_meter()
    {
        using var server = new ServerProcess();
        using var meter = new HandMeter { Shows = () => 12.4 };
        using var b = new Browser(1280, 800);
        var job = Open(b, server, "brush does not turn");
        void Watch(string on)
        {
            b.Fill("form[action*=Start] [name=on]", on);
            b.Fill("form[action*=Start] [name=address]", meter.Address);
            Start(b, "form[action*=Start] button.go");
        }
        Watch("V S3.2");
        b.Until(() => b.Says("#figure").StartsWith("12.4", StringComparison.Ordinal), "the figure does not come");
        // Longer than the dial is left unasked: what came before that stands.
        b.Until(
            () => Regex.Match(b.Says("#spread"), @"(\d+) s$").Groups[1].Value is { Length: > 0 } s && int.Parse(s, null) >= 3,
            "it does not go on"
        );
        (meter.Dial, meter.Shows) = ("RES", () => 4700);
        b.Until(() => b.Says("#say-words").Contains("Turn its dial", StringComparison.Ordinal), "the turned dial is not noticed");
        (meter.Dial, meter.Shows) = ("VOLT", () => 12.3);
        b.Until(() => b.Says("#figure").StartsWith("12.3", StringComparison.Ordinal), "it does not go on");
        b.Says("#spread").ShouldContain("most 12.4");
        using (var other = new Browser(1280, 800))
        {
            Open(other, server, "outlet valves stay shut");
            other.Fill("form[action*=Start] [name=on]", "V F1.2");
            other.Fill("form[action*=Start] [name=address]", meter.Address);
            other.Click("form[action*=Start] button.go");
            other.Until(() => other.Has(".problem") || other.Has("#gate"), "nothing is said");
            if (other.Has("#gate"))
            {
                other.Click("#gate button.go");
                other.Until(() => !other.Has("#gate"), "the gate stays");
                other.Click("form[action*=Start] button.go");
                other.Until(() => other.Has(".problem"), "nothing is said");
            }
            other.Find(".problem").Text.ShouldContain("on another screen");
        }
        // A watch is kept as it goes, so that on a slow machine some of it may stand before the job is closed; nothing may after.
        long kept;
        using (var c = new SqliteConnection($"Data Source={server.Data}"))
        {
            c.Execute("UPDATE job SET closed_at = '2026-01-02T03:04:05Z' WHERE id = @job", new { job }).ShouldBe(1);
            kept = Kept(c);
        }
        b.Until(() => b.Says("#say-words").Contains("This job is closed", StringComparison.Ordinal), "it goes on");
        // The screen asks once more after some seconds, is told that there is nothing, and keeps the reason.
        b.Until(() => b.Says("#say", "data-stage") == "ended", "it is asked for ever");
        b.Says("#say-words").ShouldContain("This job is closed");
        b.NothingOnTheConsole();
        using (var c = new SqliteConnection($"Data Source={server.Data}"))
            Kept(c).ShouldBe(kept, "a closed job is sealed");
        Open(b, server, "outlet valves stay shut");
        Watch("V F1.2");
        b.Until(() => b.Says("#figure").StartsWith("12.3", StringComparison.Ordinal), "the meter is not free");

        long Kept(SqliteConnection c) =>
            c.ExecuteScalar<long>("SELECT coalesce(sum(length(data)), 0) FROM capture WHERE job_id = @job", new { job });
    }

    /// <summary>Millivolts across one fuse after another, none pulled: each is amps by its rating, and a line of its own.</summary>
    [Fact]
    public void A_drain_is_followed_fuse_by_fuse_in_millivolts()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        Open(b, server, "batteries flat by morning");
        b.Fill("form[action*=Simulate] [name=on]", "drop F11");
        Start(b, "form[action*=Simulate] button.go");
        b.Until(() => b.Says("#figure").EndsWith(" mV", StringComparison.Ordinal), "no millivolts");
        b.Says("#spread").ShouldMatch(@"^≈ [\d.]+ m?A through F11 · ");
        b.Until(() => b.Says("#say-words").Contains("none pulled", StringComparison.Ordinal), "never asleep");
        // Four batteries of 12 V are two of 24 V side by side.
        b.Says("#say-words").ShouldContain("for 2 batteries, at most 0.10 A");
        var next = b.All("[name=fuse] option").First(o => o.GetAttribute("value") != "F11").GetAttribute("value")!;
        b.Driver.ExecuteScript(
            "document.querySelector('[name=fuse]').value = arguments[0]; document.querySelector('[name=what][value=at]').click()",
            next
        );
        b.Until(() => b.All("#seen tbody tr").Count == 2, "the next fuse is not marked");
        b.Until(
            () => b.All("#seen .keep-lines code").Any(c => c.Text.Contains($"drop {next} = ", StringComparison.Ordinal)),
            "no line of the next fuse"
        );
        b.Until(
            () => b.Says("#seen tbody tr:last-child td:nth-child(4)").Contains('≈', StringComparison.Ordinal),
            "no amps beside the next fuse's millivolts"
        );
        b.All("#seen .keep-lines code").ShouldContain(c => c.Text.Contains(": drop F11 = ", StringComparison.Ordinal));
        b.Click(() =>
            b.All("#seen .keep-lines form")
                .Single(f => f.Text.Contains($"drop {next}", StringComparison.Ordinal))
                .FindElement(OpenQA.Selenium.By.TagName("button"))
        );
        b.Until(() => b.Has("#seen .receipt") || b.Has("#seen .problem"), "not kept");
        b.Has("#seen .receipt").ShouldBeTrue();
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);
        b.Shot("watch-fuses-phone");
        b.NothingOnTheConsole();
    }

    [Fact]
    public void What_cannot_be_watched_is_said_and_what_was_typed_stays()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        Open(b, server, "brush does not turn");
        foreach (
            var (on, setup, per, address, says) in new[]
            {
                ("A K1", "", "", "192.168.4.20:5025", "Pull K1 first"),
                ("V S3.2", "key=RUM", "", "192.168.4.20:5025", "nothing that is watched"),
                ("V S3.2", "", "100", "192.168.4.20:5025", "Only a clamp gives volts"),
                ("clamp w1", "", "much", "192.168.4.20:5025", "is no factor"),
                ("V S3.2 min", "", "", "192.168.4.20:5025", "leave that word away"),
                ("V S3.2", "", "", "8.8.8.8:5025", "8.8.8.8"),
            }
        )
        {
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
            b.Until(() => b.Has(".problem") && b.Find(".problem").Text.Contains(says, StringComparison.Ordinal), $"not said: {says}");
            b.Find("form[action*=Start] [name=address]").GetAttribute("value").ShouldBe(address);
            b.Has("#watch").ShouldBeFalse();
        }
    }
}
