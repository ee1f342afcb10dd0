using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>Benches of figures in a browser: alone at a desk, and from a job on a phone, where what was read is kept in the job.</summary>
public sealed class FigureScreenTests
{
    /// <summary>In one step, since the page is renewed after every change.</summary>
    private static void Write(Browser b, string field, string text) =>
        b.Driver.ExecuteScript(
            "var f = document.getElementById('f-' + arguments[0]); f.value = arguments[1];"
                + "f.dispatchEvent(new Event('change', { bubbles: true }))",
            field,
            text
        );

    private static string Shown(Browser b, string field) =>
        (string)b.Driver.ExecuteScript("return document.getElementById('f-' + arguments[0]).value", field)!;

    [Fact]
    public void A_value_that_is_none_is_said_at_its_field_and_a_good_one_is_worked_out()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address + "/figures");
        b.Click(b.All(".figure-link").Single(a => a.Text.StartsWith("Wire", StringComparison.Ordinal)));
        b.Until(() => b.Has("#f-amps"), "no bench of wires");
        Write(b, "amps", "-3");
        b.Until(() => b.Has("#p-amps"), "nothing said at the field");
        Shown(b, "amps").ShouldBe("-3");
        b.Has(".rows").ShouldBeFalse();
        Write(b, "amps", "12,5");
        b.Until(() => b.Has(".rows") && !b.Has("#p-amps"), "not worked out");
        // 12.5 A in 2.5 mm², 6 m there and back.
        b.Find(".says").Text.ShouldContain("1.03 V");
        b.Driver.Url.ShouldContain("amps=12");
    }

    [Fact]
    public void What_was_read_on_a_bench_of_the_job_is_kept_in_the_job()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Click(b.All(".jobs a").Single(a => a.Text.Contains("brush does not turn", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        var job = new Uri(b.Driver.Url).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
        b.Driver.Navigate().GoToUrl($"{server.Address}/figures?job={job}");
        var relay = b.All(".figure-list li").Single(l => l.Text.StartsWith("Relay", StringComparison.Ordinal));
        b.Click(relay.FindElement(By.CssSelector("summary")));
        b.Click(relay.FindElement(By.CssSelector(".figure-parts a")));
        b.Until(() => b.Has("#f-rated"), "no bench of relays");
        Shown(b, "rated").ShouldBe("12V");
        Write(b, "read", "OL");
        b.Until(() => b.Has(".found.fits"), "nothing fits");
        b.Find(".found.fits").Text.ShouldContain("coil open");
        b.Click(b.Find(".keep-form button"));
        b.Until(() => b.Has("#trace"), "not back at the trace");
        b.Until(() => b.All(".log li").Any(l => Content(l).Contains("ohm K", StringComparison.Ordinal)), "not kept");
    }

    private static string Content(IWebElement e) => e.GetAttribute("textContent") ?? "";
}
