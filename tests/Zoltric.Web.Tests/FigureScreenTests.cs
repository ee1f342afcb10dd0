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
        b.Click(() => b.All(".figure-link").Single(a => a.Text.StartsWith("Wire", StringComparison.Ordinal)));
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
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("brush does not turn", StringComparison.Ordinal)));
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
        b.Click(() => b.Find(".keep-form button"));
        b.Until(() => b.Has(".kept-now"), "nothing said");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.All(".log li").Any(l => Content(l).Contains("ohm K", StringComparison.Ordinal)), "not kept");
    }

    private static string JobOf(Browser b, string complaint)
    {
        var link = b.All(".jobs a").First(a => a.Text.Contains(complaint, StringComparison.Ordinal)).GetAttribute("href")!;
        return new Uri(link).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
    }

    private static void Safe(ServerProcess server, Browser b, string job)
    {
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
    }

    private static void Fits(Browser b) =>
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);

    /// <summary>The bus of the harvester: what is read fits a state, the ladder is that of its own sheet, the reading is kept.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_bus_is_taken_apart_step_by_step_on_its_own_sheet(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, "cutter stays still");
        Safe(server, b, job);
        b.Driver.Navigate().GoToUrl($"{server.Address}/figures/bus?job={job}&part=A1");
        b.Find(".on-machine").Text.ShouldContain("Pan harvester PH-1");
        b.All(".worked h3").ShouldContain(h => h.Text.Contains("X9 diagnosis socket", StringComparison.Ordinal));
        Write(b, "read", "119");
        b.Until(() => b.Has(".found.fits"), "nothing fits");
        b.Find(".found.fits").Text.ShouldContain("one end lost");
        Fits(b);
        b.Click(() => b.All(".keep-form button").First(x => x.Text.Contains("Keep in the job", StringComparison.Ordinal)));
        b.Until(() => b.Has(".kept-now"), "not kept");
        b.Click(() => b.All(".keep-form button").First(x => x.Text.Contains("as a note", StringComparison.Ordinal)));
        b.Until(() => b.Find(".kept-now").Text.Contains("report", StringComparison.Ordinal), "no note");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/report");
        b.Find(".notes").Text.ShouldContain("Two-wire bus (A1 drive controller). Fits one end lost");
        b.Driver.PageSource.ShouldContain("119");
    }

    /// <summary>A relay near the starter is drawn into the roller's sheet and waits there to be kept.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void What_the_start_bench_proposes_is_drawn_on_the_sheet(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, "engine does not crank");
        b.Driver.Navigate().GoToUrl($"{server.Address}/figures/start?job={job}&part=M1");
        Write(b, "control", "3V");
        b.Until(() => b.Find(".says").Text.Contains("before the starter is condemned", StringComparison.Ordinal), "not worked out");
        Fits(b);
        b.Driver.PageSource.ShouldContain("Still stopped by 3 of 3 interlocks");
        b.Click(() => b.Find("#draw-it"));
        b.Until(() => b.Has("textarea"), "no sheet");
        b.Driver.PageSource.ShouldContain("relay near the starter");
        b.Find(".found").Text.ShouldContain("not kept yet");
    }

    /// <summary>Elements of the oven and of the dryer, one lost, from their sheets.</summary>
    [Theory]
    [InlineData(1280, 800, "oven takes twice")]
    [InlineData(390, 844, "oven takes twice")]
    [InlineData(390, 844, "drum turns, no heat")]
    public void Elements_are_read_from_their_sheet(int width, int height, string complaint)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl($"{server.Address}/figures?job={JobOf(b, complaint)}");
        var heaters = b.All(".figure-list li").Single(l => l.Text.StartsWith("Heating", StringComparison.Ordinal));
        b.Click(heaters.FindElement(By.CssSelector("summary")));
        b.Click(heaters.FindElement(By.CssSelector(".figure-parts a")));
        b.Until(() => b.Has("#f-joined"), "no bench of heaters");
        var sound = b.All(".worked tbody tr").First().Text;
        sound.ShouldContain("as rated");
        Write(b, "read", "OL");
        b.Until(() => b.Has(".found.fits"), "nothing fits");
        Fits(b);
        // What hurts is never kept past its gate: the reason is said and the value stays.
        b.Click(() => b.All(".keep-form button").First(x => x.Text.Contains("Keep in the job", StringComparison.Ordinal)));
        b.Until(() => b.Has(".problem"), "ohms on mains were kept without a proof");
        Shown(b, "read").ShouldBe("OL");
    }

    /// <summary>Face and table of the plug of 48 pins; a pin is found by colour, read into the job and weighed.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_pin_is_found_on_the_face_read_and_kept(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, "left bar does not spray");
        Safe(server, b, job);
        b.Driver.Navigate().GoToUrl($"{server.Address}/figures?job={job}");
        b.Click(() => b.All(".figure-parts a").Single(a => a.Text.StartsWith("A1 ", StringComparison.Ordinal)));
        b.Until(() => b.Has(".pin-face"), "no face");
        b.All(".pin-face .pin").Count.ShouldBe(48);
        var here = b.Driver.Url;
        b.Driver.Navigate().GoToUrl(here + "&when=left%20bar%20sprays&find=WH/BU&side=wire");
        b.Find(".pin-face .looked").Text.ShouldContain("26");
        b.Find("#pin-26").Text.ShouldContain("left bar sprays");
        Fits(b);
        var form = b.Find("#pin-26 form");
        form.FindElement(By.Name("value")).SendKeys("lots");
        b.Click(form.FindElement(By.TagName("button")));
        b.Until(() => b.Has("#pin-26 .problem"), "nothing said");
        form = b.Find("#pin-26 form");
        form.FindElement(By.Name("value")).GetAttribute("value").ShouldBe("lots");
        form.FindElement(By.Name("value")).Clear();
        form.FindElement(By.Name("value")).SendKeys("24,1");
        b.Click(form.FindElement(By.TagName("button")));
        b.Until(() => b.Has("#pin-26 .was-read"), "not kept");
        b.Find("#pin-26 .was-read").Text.ShouldContain("24.1V");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.All(".log li").Any(l => Content(l).Contains("A1.26", StringComparison.Ordinal)), "not in the log");
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_pin_table_of_the_line_is_compared_with_what_is_pasted(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address + "/machines");
        b.Click(() => b.All("a").First(a => a.Text.Contains("BL-1", StringComparison.Ordinal)));
        var id = new Uri(b.Driver.Url).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
        b.Driver.Navigate().GoToUrl($"{server.Address}/machines/{id}/pins/X2");
        b.Click(() => b.All("button").Single(x => x.Text.StartsWith("Compare", StringComparison.Ordinal)));
        b.Until(() => b.Has("#first"), "no lists");
        var first = b.Find("#first").GetAttribute("value")!;
        first.ShouldContain("4\tw45");
        b.Driver.ExecuteScript(
            "document.getElementById('second').value = arguments[0]",
            first.Replace("w45", "w99", StringComparison.Ordinal)
        );
        b.Click(() => b.All("button").Single(x => x.Text == "Show"));
        b.Until(() => b.Has(".found.fits"), "not compared");
        b.Find(".found.fits").Text.ShouldContain("1 differ");
        b.Find(".pin-lines tbody").Text.ShouldContain("w45 against w99");
        Fits(b);
    }

    private static string Content(IWebElement e) => e.GetAttribute("textContent") ?? "";
}
