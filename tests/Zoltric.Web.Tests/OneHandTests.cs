using System.Globalization;
using Dapper;
using Microsoft.Data.Sqlite;
using OpenQA.Selenium;
using Zoltric.Core.Notation;

namespace Zoltric.Web.Tests;

/// <summary>The trace with one hand free: nothing jumps, nothing is kept twice or at another point, every key does what it shows.</summary>
public sealed class OneHandTests
{
    private static Browser OpenJob(ServerProcess server, string complaint)
    {
        var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains(complaint, StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        return b;
    }

    private static object? Run(Browser b, string script, params object[] args) => b.Driver.ExecuteScript(script, args);

    private static int Lines(Browser b) => b.All(".log li:not(.struck)").Count;

    private static double Top(Browser b, string css) =>
        Convert.ToDouble(Run(b, $"return document.querySelector('{css}').getBoundingClientRect().top"), CultureInfo.InvariantCulture);

    [Fact]
    public void Stations_chips_and_pins_write_a_line_that_can_be_kept()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "brush does not turn");
        var station = b.Find(".stations [data-station]");
        var point = station.GetAttribute("data-station")!;
        b.Click(station);
        b.Find("#text").GetAttribute("value")!.ShouldEndWith($": V {point} = ");
        // A pin's own colon is no end of the setup.
        Run(b, "document.getElementById('text').dataset.next = 'brush=ON : V X2:1b'");
        b.Click(station);
        b.Find("#text").GetAttribute("value").ShouldBe($"brush=ON : V {point} = ");
        Run(
            b,
            "var c = document.querySelector('[data-chip=brush]'); c.value = 'ON'; c.dispatchEvent(new Event('change', { bubbles: true }))"
        );
        b.Find("#text").GetAttribute("value")!.ShouldEndWith("brush=ON : V X2:1b = ");
    }

    /// <summary>A probe without a value is a question: what it would tell is shown, nothing is kept, and it is gone at a tap.</summary>
    [Fact]
    public void A_probe_without_a_value_is_asked_what_it_would_tell()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "brush does not turn");
        var lines = Lines(b);
        b.Fill("#text", "key=RUN brush=ON : V S3.2");
        b.Click(".reading-bar > .keep");
        b.Until(() => b.Has(".would-tell li"), "it does not say");
        var told = b.All(".would-tell li").Select(l => l.Text).ToList();
        told.ShouldContain(t => t.StartsWith("good (", StringComparison.Ordinal) && t.Contains("leaves", StringComparison.Ordinal));
        told.ShouldContain(t => t.StartsWith("dead (", StringComparison.Ordinal) && t.Contains("S3", StringComparison.Ordinal));
        Lines(b).ShouldBe(lines);
        b.Click(".would-tell [data-repeat]");
        b.Find("#text").GetAttribute("value").ShouldBe("key=RUN brush=ON : V S3.2 = ");
        b.Find("#problem").Displayed.ShouldBeFalse();
        b.NothingOnTheConsole();
    }

    /// <summary>A picture of one pixel for each of these places of a machine.</summary>
    internal static void KeepPictures(ServerProcess server, string machine, params string[] at)
    {
        var pixel = Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
        );
        using var c = new SqliteConnection($"Data Source={server.Data}");
        foreach (var place in at)
            c.Execute(
                    "INSERT INTO place_picture (machine_id, place, type, data, author, at) "
                        + "SELECT id, @place, 'image/png', @pixel, 'x', '2026-01-01' FROM machine WHERE name LIKE '%' || @machine",
                    new
                    {
                        place,
                        pixel,
                        machine,
                    }
                )
                .ShouldBe(1);
    }

    /// <summary>Where a picture of the place is kept it stands small beside the order, and fills the screen at a tap until the
    /// next.</summary>
    [Fact]
    public void A_picture_of_the_place_stands_beside_the_order_and_grows_at_a_tap()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "engine does not crank");
        b.Has(".place-picture").ShouldBeFalse();
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PR-3.sheet"));
        KeepPictures(
            server,
            "PR-3",
            [.. SheetReader.Read(sheet).Value!.Parts.Select(p => p.Place).OfType<string>().Distinct(), "face of X5"]
        );
        for (var i = 0; i < 12 && !b.Has(".place-picture"); i++)
        {
            var order = b.Has("#order") ? b.Find("#order").GetAttribute("data-line") : "";
            b.Click("[data-answer='1']");
            b.Until(() => !b.Has("#order") || b.Find("#order").GetAttribute("data-line") != order, "no next order");
            Technician.MakeSafe(b);
        }
        double Wide() =>
            Convert.ToDouble(Run(b, "return document.querySelector('.place-picture img').getBoundingClientRect().width"), null);
        b.Until(() => b.Has(".place-picture img"), "no picture beside any order");
        Wide().ShouldBe(60);
        double Natural() => Convert.ToDouble(Run(b, "return document.querySelector('.place-picture img').naturalWidth"), null);
        b.Until(() => Natural() > 0, "the picture is not loaded");
        Natural().ShouldBe(1);
        Convert
            .ToDouble(
                Run(b, "return Math.max(...[...document.querySelectorAll('.answer')].map(a => a.getBoundingClientRect().bottom))"),
                null
            )
            .ShouldBeLessThanOrEqualTo(844);
        b.Click(".place-picture summary");
        Wide().ShouldBe(390);
        b.Click(".place-picture img");
        Wide().ShouldBe(60);
        b.NothingOnTheConsole();
    }

    [Fact]
    public void Two_taps_while_the_first_is_on_its_way_keep_one_reading()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "brush does not turn");
        b.Network(latency: 400);
        var before = Lines(b);
        // The order as it stood, to be posted once more as a phone does that heard no answer.
        var again = (string)
            Run(
                b,
                "var f = document.querySelector('[data-answer=\"1\"]').form;"
                    + "return new URLSearchParams(new FormData(f)).toString() + '|' + f.action"
            )!;
        Run(b, "var a = document.querySelectorAll('.answer'); a[0].click(); a[0].click(); a[1].click()");
        b.Find("#trace").GetAttribute("aria-busy").ShouldBe("true");
        b.Until(() => Lines(b) > before, "the reading was not kept");
        b.Settle();
        Lines(b).ShouldBe(before + 1);
        var (body, action) = (again.Split('|')[0], again.Split('|')[1]);
        Run(
            b,
            "var done = false; window.done = false; fetch(arguments[1], { method: 'POST', body: arguments[0], headers: "
                + "{ 'Content-Type': 'application/x-www-form-urlencoded' } }).then(function () { window.done = true; })",
            body,
            action
        );
        b.Until(() => Run(b, "return window.done") is true, "no answer to the second");
        b.Driver.Navigate().Refresh();
        Lines(b).ShouldBe(before + 1, "one page gave two readings");
    }

    [Fact]
    public void A_bare_value_is_of_the_order_that_was_on_the_screen()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "brush does not turn");
        // On to an order that is answered with volts.
        while (b.Find("#text").GetAttribute("data-unit") != "V")
        {
            var line = b.Find("#order").GetAttribute("data-line")!;
            b.Click(() => b.All(".answer").First());
            b.Until(() => b.Find("#order").GetAttribute("data-line") != line, $"no new order after {line}");
            b.Settle();
            Technician.MakeSafe(b);
        }
        var asked = b.Find("#order").GetAttribute("data-line")!;
        // Meanwhile somebody answers it elsewhere, and another order stands on the server.
        using (var other = OpenJob(server, "brush does not turn"))
        {
            other.Click(() => other.All(".answer").First());
            other.Until(() => !other.Has("#order") || other.Find("#order").GetAttribute("data-line") != asked, "no new order");
        }
        var before = Lines(b);
        b.Find("#text").SendKeys("12,4" + Keys.Enter);
        b.Until(() => Lines(b) == before + 2, "the value was not kept");
        b.All(".log .line")[^1].Text.ShouldBe($"{asked} = 12.4V");
    }

    [Fact]
    public void The_page_stays_where_it_is_and_says_what_it_kept()
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, "brush does not turn");
        for (var n = 0; n < 4 && b.Has("#order"); n++)
        {
            Technician.MakeSafe(b);
            var line = b.Find("#order").GetAttribute("data-line")!;
            var (value, text) = Technician.Simulate(
                server,
                File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "QS-5.sheet")),
                line,
                "S2 open"
            );
            var answers = b.All(".answer");
            var answer = value is null ? answers.Single(a => a.FindElement(By.TagName("strong")).Text == text) : answers[0];
            b.Click(answer);
            b.Until(
                () => !b.Has("#order") || b.Find("#order").GetAttribute("data-line") != line || b.Has(".order .found"),
                $"no new order after {line}"
            );
            b.Settle();
            // Order and receipt are on the screen without a swipe.
            Top(b, "#order-head").ShouldBeInRange(0, 422);
            if (b.Has(".receipt"))
                b.Find(".receipt").Text.ShouldContain(line.Split(" : ")[^1] + ":");
        }
        b.Shot("one-hand");
    }

    /// <summary>What of the order or of its answers is out of view or under something else, without a swipe.</summary>
    private const string Hidden = """
        const bar = document.querySelector('.reading-bar').getBoundingClientRect().top;
        const what = '.setup-bar .chip, .order .do, .order .name, .order .dial, .order .black, .order .where, '
          + '.expected dd, .answers .answer';
        return [...document.querySelectorAll(what)]
          .filter(e => e.offsetParent !== null && !e.closest('details:not([open])'))
          .filter(e => {
            const r = e.getBoundingClientRect();
            if (r.top < 0 || r.left < 0 || r.right > innerWidth || r.bottom > bar + 1) return true;
            const at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
            return !(at && (e.contains(at) || at.contains(e)));
          })
          .map(e => `${e.className}: ${e.textContent.trim().replace(/\s+/g, ' ')}`);
        """;

    /// <summary>What of the order does not begin on the first screen, and what of the answers is more than one screen below it.</summary>
    private const string Far = """
        const bar = document.querySelector('.reading-bar').getBoundingClientRect().top;
        const below = (css, limit) => [...document.querySelectorAll(css)]
          .filter(e => e.offsetParent !== null && !e.closest('details:not([open])'))
          .filter(e => e.getBoundingClientRect().bottom > limit)
          .map(e => `${e.className} at ${Math.round(e.getBoundingClientRect().bottom)} of ${Math.round(limit)}: ${e.textContent.trim()}`);
        return [...below('.order .do', bar + 1), ...below('.answers .answer', 2 * bar)];
        """;

    [Theory]
    [InlineData("brush does not turn", "QS-5", "S2 open")]
    [InlineData("engine does not crank", "PR-3", "w22 resists 4ohm")]
    [InlineData("left bar does not spray", "BS-8", "Y1 open")]
    public void Order_and_answers_stand_in_view_at_every_step_upright_sideways_and_on_a_desk(string complaint, string sheet, string fault)
    {
        using var server = new ServerProcess();
        using var b = OpenJob(server, complaint);
        var text = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", sheet + ".sheet"));
        var seen = 0;
        for (var n = 0; n < 12 && b.Has("#order") && !b.Has(".order .found"); n++)
        {
            Technician.MakeSafe(b);
            b.Settle();
            foreach (var (width, height, size) in new[] { (1280, 800, 100), (844, 390, 100), (390, 844, 130), (390, 844, 100) })
            {
                b.Size(width, height, phone: width < 900);
                Run(b, "document.documentElement.style.fontSize = arguments[0]; scrollTo({ top: 0, behavior: 'instant' })", $"{size}%");
                var hidden = ((IEnumerable<object>)Run(b, Hidden)!).Select(x => $"{x}").ToList();
                hidden.ShouldBeEmpty($"{width} x {height} at {size} %, order {b.Find("#order").GetAttribute("data-line")}");
                seen++;
            }
            // Twice the size: what to do stands on the first screen, the answers within one more.
            Run(b, "document.documentElement.dataset.size = '200'; scrollTo({ top: 0, behavior: 'instant' })");
            Run(b, "document.documentElement.style.fontSize = '200%'");
            var far = ((IEnumerable<object>)Run(b, Far)!).Select(x => $"{x}").ToList();
            far.ShouldBeEmpty($"200 %, order {b.Find("#order").GetAttribute("data-line")}");
            Run(b, "document.documentElement.style.fontSize = ''; delete document.documentElement.dataset.size");
            // The page stays where it was left.
            Run(b, "scrollTo({ top: 40, behavior: 'instant' })");
            var line = b.Find("#order").GetAttribute("data-line")!;
            var (value, word) = Technician.Simulate(server, text, line, fault);
            if (value is { } v)
                b.Find("#text").SendKeys(v.ToString("0.###", CultureInfo.InvariantCulture) + Keys.Enter);
            else
                b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == word));
            b.Until(
                () => !b.Has("#order") || b.Find("#order").GetAttribute("data-line") != line || b.Has(".order .found"),
                $"no new order after {line}"
            );
            b.Settle();
            Convert.ToDouble(Run(b, "return scrollY"), CultureInfo.InvariantCulture).ShouldBe(40, 2, $"the page moved after {line}");
        }
        seen.ShouldBeGreaterThanOrEqualTo(12);
    }
}
