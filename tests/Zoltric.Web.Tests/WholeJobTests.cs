using System.Globalization;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>Jobs done in a real browser by obeying the screen's own orders and answering them from what the machine would show.</summary>
public class WholeJobTests(ITestOutputHelper output)
{
    private const int MostProbes = 25;

    private static string Sheet(string name) => File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", name + ".sheet"));

    private static string Order(Browser b) => b.Find("#order").GetAttribute("data-line")!;

    /// <summary>Waits for the order to change or the fault to be found.</summary>
    private static void Answered(Browser b, string before) =>
        b.Until(() => !b.Has("#order") || Order(b) != before || b.Has(".order .found"), $"no new order after {before}");

    [Fact]
    public void An_engine_that_does_not_crank_from_the_bench_to_the_printed_report()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        var sheet = Sheet("PR-3");
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Shot("bench");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        b.Driver.ExecuteScript("window.stayed = true");
        b.Shot("trace-first");
        var n = 0;
        while (!b.Has(".order .found") && n++ < MostProbes)
        {
            Technician.MakeSafe(b);
            var line = Order(b);
            var (value, text) = Technician.Simulate(server, sheet, line, "S2 open");
            output.WriteLine($"{line} = {text}");
            if (value is not { } v)
                b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
            else if (n % 3 == 0)
            {
                // The whole line, as it would be dictated.
                b.Find("#text")
                    .SendKeys(
                        string.Create(CultureInfo.InvariantCulture, $"{line} = {v:0.00}")
                            + (line.Contains(": ohm", StringComparison.Ordinal) ? "ohm" : "V")
                            + Keys.Enter
                    );
            }
            else
                b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
            Answered(b, line);
            if (n == 4)
                b.Shot("trace");
        }
        b.Driver.ExecuteScript("return window.stayed === true").ShouldBe(true, "the page was loaded afresh somewhere in the trace");
        b.Find(".order .found").Text.ShouldContain("S2 neutral switch");
        b.Find(".order .receipt").Text.ShouldContain("Kept", Case.Insensitive, "the last reading is not confirmed at the end");
        n.ShouldBeLessThanOrEqualTo(14);
        b.Find("#order-head").Text.ShouldContain("prove", Case.Insensitive);

        b.Click(() => b.Find(".order .found a"));
        b.Until(() => b.Has("input[name=Cause]"), "no finding form");
        b.Find("input[name=Repair]").SendKeys("neutral switch renewed");
        b.Click(() => b.Find("button.go"));
        b.Until(
            () => b.Find(".problem").Text.Contains("Say why it failed", StringComparison.Ordinal),
            "a finding without a cause was kept"
        );
        b.Find("input[name=Cause]").SendKeys("plunger worn short");
        b.Find("input[name=PartName]").SendKeys("1 neutral switch");
        b.Find("input[name=PartPrice]").SendKeys("18.50");
        b.Shot("finding");
        b.Click(() => b.Find("button.go"));
        b.Until(() => b.Has(".verify"), "no verification list");
        b.Click(() => b.All("button.go").Last());
        b.Until(() => b.Has(".two > section:last-child .problem"), "closed without anything shown");
        b.Find(".two > section:last-child .problem").Text.ShouldContain("interlock gear=ENGAGED");
        // The refusal is in view, and what it names is one tap away.
        b.Driver.ExecuteScript("var r = document.querySelector('.problem').getBoundingClientRect(); return r.top >= 0 && r.top < 800")
            .ShouldBe(true);
        b.Has(".missing a[href^='#item-']").ShouldBeTrue();

        Technician.ShowMended(server, b, sheet);
        b.Shot("repair");
        b.Click(() => b.All("button.go").Last());
        b.Until(() => b.Has(".report"), "no report");
        b.Find(".report").Text.ShouldContain("plunger worn short");
        b.Find(".report").Text.ShouldContain("S2 open");
        b.Shot("report");
        var pdf =
            (Dictionary<string, object?>)
                b.Driver.ExecuteCdpCommand("Page.printToPDF", new Dictionary<string, object?> { ["preferCSSPageSize"] = true })!;
        var bytes = Convert.FromBase64String((string)pdf["data"]!);
        bytes.AsSpan(0, 4).SequenceEqual("%PDF"u8).ShouldBeTrue();
        if (Environment.GetEnvironmentVariable("ZOLTRIC_SHOTS") is { Length: > 0 } folder)
            File.WriteAllBytes(Path.Combine(folder, "report.pdf"), bytes);
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>
    /// A door contact that sticks closed. The draw is followed by clamp while all sleeps, and nothing that sleeps is woken for it.
    /// </summary>
    [Fact]
    public void Batteries_flat_by_morning_are_followed_by_clamp()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("batteries flat by morning", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        var lines = new List<string>();
        var technician = new Technician(server, b, Sheet("BT-7"), "B1 stuck-closed");
        technician.Trace(
            (line, value, text) =>
            {
                if (lines.Count == 0)
                {
                    line.ShouldStartWith("after 15min : clamp ");
                    b.Driver.ExecuteScript("window.scrollTo({ top: 0, behavior: 'instant' })");
                    b.Shot("trace-clamp");
                    b.Find("#trace").Text.ShouldContain("what wakes a module starts the wait anew");
                }
                lines.Add(line);
                output.WriteLine($"{line} = {text}");
                technician.Answer(value, text);
            }
        );
        b.Find(".order .found").Text.ShouldContain("B1 door contact");
        b.Find(".feeds tbody tr").GetAttribute("data-feed").ShouldBeOneOf("F1", "F14");
        using var phone = new Browser(390, 844, phone: true);
        phone.Driver.Navigate().GoToUrl(b.Driver.Url);
        phone.Until(() => phone.Has(".feeds"), "no feeds on the phone");
        ((long)phone.Driver.ExecuteScript("return document.documentElement.scrollWidth")!).ShouldBeLessThanOrEqualTo(
            390,
            "the page is wider than the phone"
        );
        phone.Driver.ExecuteScript("document.querySelector('.feeds').scrollIntoView({ behavior: 'instant' })");
        phone.Shot("phone-clamp");
        b.Find("#trace").Text.ShouldContain(" A");
        lines.Count.ShouldBeLessThanOrEqualTo(12);
    }

    [Fact]
    public void A_brush_that_does_not_turn_on_a_phone()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var sheet = Sheet("QS-5");
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Shot("phone-bench");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("brush does not turn", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        var n = 0;
        while (!b.Has(".order .found") && n++ < MostProbes)
        {
            Technician.MakeSafe(b);
            var line = Order(b);
            var (value, text) = Technician.Simulate(server, sheet, line, "S2 open");
            output.WriteLine($"{line} = {text}");
            if (value is not { } v)
                b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
            else
            {
                b.Click(() => b.All(".answer").Last());
                foreach (var c in v.ToString("0.0", CultureInfo.InvariantCulture))
                    b.Click(() => b.All(".pad button").Single(k => k.Text == c.ToString()));
                if (n == 3)
                    b.Shot("phone-pad");
                b.Click(() => b.Find(".reading-bar .keep"));
            }
            Answered(b, line);
            ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth")!).ShouldBeLessThanOrEqualTo(
                390,
                "the page is wider than the phone"
            );
            if (n == 3)
                b.Shot("phone-trace");
        }
        b.Shot("phone-found");
        n.ShouldBeGreaterThanOrEqualTo(3, "nothing was traced on the phone");
        b.Find(".order .found").Text.ShouldContain("S2 brush switch");
    }

    [Fact]
    public void One_key_answers_and_bad_lines_are_told_at_the_field_with_the_text_kept()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        b.Find("#text").SendKeys("key=START : V K1.86 = 0.1V" + Keys.Enter);
        b.Until(
            () => b.Has("#problem.problem") && b.Find("#problem").Text.Contains("Before this test", StringComparison.Ordinal),
            "a test was taken before anything was said of safety"
        );
        Technician.MakeSafe(b);
        foreach (
            var (text, message) in new[]
            {
                ("key=START : V K1.68 = 0.1V", "K1.86"),
                ("key=START : V K1.86 = 3A", "volts"),
                ("key=START : ohm S2 = 3ohm", "Live"),
                ("key=START, jumper S2.1 S2.2 : hears K1 = clicks", "interlock"),
                ("V", "needs"),
                ("key=START : V K1.86", "no result"),
            }
        )
        {
            var field = b.Find("#text");
            field.Clear();
            field.SendKeys(text + Keys.Enter);
            b.Until(
                () => b.Has("#problem.problem") && b.Find("#problem").Text.Contains(message, StringComparison.OrdinalIgnoreCase),
                $"{text}: no word of {message}"
            );
            b.Find("#text").GetAttribute("value").ShouldBe(text);
        }
        b.Shot("problem");
        b.All(".log li").Count.ShouldBe(1, "a refused line was kept");
        b.Find("#text").Clear();
        b.Find("#text").SendKeys(Keys.Escape);
        var order = Order(b);
        b.Find("body").SendKeys("1");
        b.Until(() => b.All(".log li").Count == 2, "the key 1 gave no answer");
        b.Find(".log li:last-child .line").Text.ShouldStartWith(order.TrimStart(' ', ':').Split(" = ")[0]);
        b.Click(() => b.All(".log li button").Last(x => x.Text == "strike"));
        b.Until(() => b.Has(".log li.struck"), "not struck");
        Order(b).ShouldBe(order, "striking the line did not take it back");
    }

    [Fact]
    public void A_reading_that_was_acknowledged_survives_a_kill()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        var job = b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)).GetAttribute("href")!;
        b.Driver.Navigate().GoToUrl(job);
        Technician.MakeSafe(b);
        b.Find("#text").SendKeys("key=START : V K1.86 = 0.1V" + Keys.Enter);
        b.Until(() => b.All(".log li").Count == 2, "not kept");
        server.Kill();
        server.Start();
        b.Driver.Navigate().GoToUrl($"{server.Address}{new Uri(job).AbsolutePath}");
        b.All(".log li").Count.ShouldBe(2);
        b.Find(".log li:last-child").Text.ShouldContain("V K1.86 = 0.1V");
    }

    [Fact]
    public void A_typed_sheet_is_checked_kept_and_traced()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl($"{server.Address}/sheet");
        var text = b.Find("#sheet-text");
        var good = text.GetAttribute("value")!;
        b.Until(() => b.Has(".cm-content"), "no editor");
        b.Driver.ExecuteScript("zoltricEditor.set(arguments[0])", good.Replace("S1 - H1", "S7 - H1", StringComparison.Ordinal));
        b.Click(() => b.Find(".actions .keep"));
        b.Until(() => b.Has(".problems"), "no problems");
        b.Find(".problems").Text.ShouldContain("did you mean S1", Case.Insensitive);
        b.Shot("sheet-problem");
        b.Until(() => b.Has(".cm-content"), "no editor");
        b.Driver.ExecuteScript("zoltricEditor.set(arguments[0])", good);
        b.Click(() => b.Find(".actions .go"));
        b.Until(
            () => char.IsAsciiDigit(b.Driver.Url[^1]) && b.Driver.Url.Contains("/circuit/", StringComparison.Ordinal),
            "the machine was not kept"
        );
        b.Driver.Navigate().GoToUrl(server.Address);
        b.Find("select[name=Function]").SendKeys("lamp lights");
        b.Click(() => b.Find("button.go"));
        b.Until(() => b.Has(".intake"), "no intake for the new machine");
        b.Click(() => b.All("a.go").Last());
        b.Until(() => b.Has("#order"), "no trace for the new machine");
    }

    /// <summary>
    /// A fuse that the sheet does not have is found on the job: the readings that fit nothing raise the question, the part is put into its
    /// wire, every reading stays, and the job goes on with the new sheet.
    /// </summary>
    [Fact]
    public void A_part_that_is_not_on_the_sheet_is_put_on_it_and_the_readings_stay()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        string[] lines =
        [
            "key=START : V X3:4b = 12.3V",
            "key=START : V S2.1 = 4V",
            "key=START : V S2.2 = 11V",
            "key=START : V K1.86 = 2V",
            "key=START : V S4.1 = 7V",
        ];
        foreach (var (line, n) in lines.Select((l, n) => (l, n)))
        {
            b.Find("#text").SendKeys(line + Keys.Enter);
            b.Until(() => b.All(".log li").Count == n + 2, $"{line} was not kept");
        }
        b.Until(() => b.Has(".found-part[open]"), "readings that fit nothing raised no question");
        b.Find(".found-part").Text.ShouldContain("no drawn part");
        b.Driver.ExecuteScript("document.querySelector('.found-part').scrollIntoView({block: 'center'})");
        b.Shot("not-as-drawn");
        var field = b.Find(".found-part textarea");
        field.Clear();
        field.SendKeys("part S2 fuse 10A");
        b.Driver.ExecuteScript(
            "document.querySelector('.found-part').open = true; document.querySelector('.found-part select').value = 'w22'"
        );
        b.Driver.ExecuteScript("document.querySelector('.found-part form').requestSubmit()");
        b.Until(() => b.Has(".found-part .problem"), "a part with a tag that is taken was put on the sheet");
        field = b.Find(".found-part textarea");
        field.GetAttribute("value").ShouldBe("part S2 fuse 10A", "what was typed was lost");
        field.Clear();
        field.SendKeys("part F91 fuse 10A \"fuse under the cover\" at \"gearbox, under the cover\" reach 3min");
        b.Driver.ExecuteScript(
            "document.querySelector('.found-part select').value = 'w22'; document.querySelector('.found-part form').requestSubmit()"
        );
        b.Until(
            () => b.Driver.PageSource.Contains("F91", StringComparison.Ordinal) && !b.Has(".found-part .problem"),
            "the part is not on the sheet"
        );
        b.All(".log li").Count.ShouldBe(lines.Length + 1, "a reading was lost");
        b.Find("#text").SendKeys("key=START : drop F91 = 5.2V" + Keys.Enter);
        b.Until(() => b.All(".log li").Count == lines.Length + 2, "the found part cannot be measured");
        b.Shot("part-found");
    }
}
