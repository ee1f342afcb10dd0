using System.Text.Json;

namespace Zoltric.Web.Tests;

/// <summary>
/// Readings that come by themselves: a whole job on the simulated machine with the meter's own protocol in between, on a phone; a second
/// screen beside it; captures and a log of the bus brought in.
/// </summary>
public sealed class MeterScreenTests(ITestOutputHelper output)
{
    private static string JobOf(Browser b, ServerProcess server, string complaint)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        var link = b.All(".jobs a").First(a => a.Text.Contains(complaint, StringComparison.Ordinal)).GetAttribute("href")!;
        return new Uri(link).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
    }

    private static string Stage(Browser b) => b.Says("#say", "data-stage");

    private static string Kept(Browser b) => b.Says("#kept");

    private static void Hand(Browser b, string what)
    {
        var stood = b.Says(".hand-at .note");
        b.Click($".hand-at [value={what}]");
        if (what == "tips")
            b.Until(() => b.Has(".hand-at .note") && b.Find(".hand-at .note").Text.Contains("tips on", StringComparison.Ordinal), stood);
        else
            b.Until(() => b.Has(".hand-at .note"), "no hand");
    }

    private static void Begin(Browser b, ServerProcess server, string complaint, string fault)
    {
        var job = JobOf(b, server, complaint);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/meter");
        b.Driver.ExecuteScript(
            "var s = document.querySelector('[name=fault]');"
                + "s.value = [...s.options].map(o => o.value).find(v => v.startsWith(arguments[0]));",
            fault
        );
        b.Click(() => b.Find("form[action*=Simulate] button.go"));
        b.Until(() => b.Has("#figure") && b.Find("#figure").Text.Contains('V', StringComparison.Ordinal), "the meter shows nothing");
    }

    /// <summary>
    /// The fault is found with the tips held and the pedal pressed where it is asked for; every value that came by itself bears its meter;
    /// what the thumb answered does not.
    /// </summary>
    [Fact]
    public void A_whole_job_is_read_hands_free_on_a_phone()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        Begin(b, server, "brush does not turn", "S3 open");
        for (var i = 0; i < 60 && !b.Has(".found"); i++)
        {
            var (stage, kept) = (Stage(b), Kept(b));
            switch (stage)
            {
                case "by-hand":
                {
                    b.Until(() => b.Has(".answers .answer") || Stage(b) != "by-hand", "no answers");
                    if (Stage(b) != "by-hand" || b.Has(".found"))
                        continue;
                    Hand(b, "set");
                    b.Until(() => b.Has(".answers .answer"), "no answers");
                    var order = b.Find("#order").GetAttribute("data-line");
                    // The page follows the meter and may be put anew between finding an answer and pressing it.
                    b.Until(
                        () =>
                        {
                            var seen = b.Find(".hand-at .note").Text.Split(": ").Last();
                            b.Click(b.All(".answers .answer").First(a => a.Text.Contains(seen, StringComparison.Ordinal)));
                            return true;
                        },
                        "no answer says what is seen"
                    );
                    b.Until(() => b.Has(".found") || b.Find("#order").GetAttribute("data-line") != order, "not answered");
                    break;
                }
                case "tips-off":
                case "set-machine":
                    Hand(b, "lift");
                    Hand(b, "set");
                    b.Click("[data-press-key=pedal]");
                    b.Until(() => Stage(b) != stage, "the pedal was not heard");
                    break;
                default:
                    Hand(b, "lift");
                    Hand(b, "tips");
                    b.Until(() => Kept(b) != kept || Stage(b) == "confirm", "nothing came to rest");
                    if (Kept(b) == kept && Stage(b) == "confirm")
                    {
                        // The tips are on the point; what rests is what they meet.
                        Thread.Sleep(1200);
                        if (Kept(b) == kept)
                            b.Click("[data-press-key=pedal]");
                        b.Until(() => Kept(b) != kept, "the pedal kept nothing");
                    }
                    b.Until(() => Stage(b) != "confirm" || b.Has(".found") || Kept(b) != kept, "no next order");
                    Thread.Sleep(300);
                    break;
            }
        }
        b.Find(".found").Text.ShouldContain("S3");
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);
        var trace = b.Driver.Url.Replace("/meter", "/trace", StringComparison.Ordinal);
        b.Click(() => b.Find("form[action*=Stop] button"));
        b.Until(() => b.Has("[name=address]"), "not stopped");
        b.Driver.Navigate().GoToUrl(trace);
        b.Until(() => b.All(".log .by-meter").Count > 2, "no line bears its meter");
        b.All(".log li")
            .Count(l => (l.GetAttribute("textContent") ?? "").Contains("Stand-in meter, DC volts", StringComparison.Ordinal))
            .ShouldBe(b.All(".log .by-meter").Count);
        b.All(".log li").Count.ShouldBeGreaterThan(b.All(".log .by-meter").Count);
        // The second meter lies on the posts: its volts stand with each reading, and once as a line of their own.
        var log = b.All(".log li").Select(l => l.GetAttribute("textContent") ?? "").ToList();
        log.Count(l => l.Contains("V G1.+ G1.- = 12.", StringComparison.Ordinal)).ShouldBeInRange(1, 3);
        log.ShouldContain(l => l.Contains("DC volts, supply 12.", StringComparison.Ordinal));
    }

    /// <summary>
    /// Two screens take the readings of a meter of ten a second for two minutes, and neither misses one; memory stays. How soon they are
    /// there is
    /// printed (<c>ZOLTRIC_WHOLE=1</c>: for an hour).
    /// </summary>
    [Fact]
    public async Task Two_screens_miss_no_reading_of_ten_a_second()
    {
        var seconds = Environment.GetEnvironmentVariable("ZOLTRIC_WHOLE") == "1" ? 3600 : 120;
        var stop = TestContext.Current.CancellationToken;
        using var server = new ServerProcess();
        using (var b = new Browser(1280, 800))
        {
            b.Driver.Navigate().GoToUrl(server.Address);
            b.As("Tamsin Reke");
            Begin(b, server, "brush does not turn", "S3 open");
            var address = b.Driver.Url + "/live";
            var before = server.Megabytes;
            var screens = await Task.WhenAll(Watch(address, seconds, stop), Watch(address, seconds, stop));
            var after = server.Megabytes;
            output.WriteLine($"{before} MB before, {after} MB after");
            (after - before).ShouldBeLessThan(60);
            foreach (var (moments, delays) in screens)
            {
                output.WriteLine($"{moments.Count} readings; p95 {delays[(int)(0.95 * delays.Count)]} ms, most {delays[^1]} ms");
                moments.Count.ShouldBeGreaterThan(5 * seconds);
            }
            // What one has seen the other has, but for the first and the last moments.
            var (first, second) = (screens[0].Moments, screens[1].Moments);
            var (from, to) = (Math.Max(first[0], second[0]), Math.Min(first[^1], second[^1]));
            first.Where(m => m >= from && m <= to).ShouldBe(second.Where(m => m >= from && m <= to));
        }
    }

    /// <summary>
    /// What a person turns or pulls meanwhile: a dial turned while the figure stands keeps nothing, and a supply that somebody holds up is
    /// said.
    /// </summary>
    [Fact]
    public void A_dial_turned_by_hand_keeps_nothing_and_a_charger_is_noticed()
    {
        using var server = new ServerProcess();
        using var meter = new HandMeter { Shows = () => 12.6 };
        using var supply = new HandMeter { Shows = () => 13.4 };
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, server, "brush does not turn");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        b.Find("#text").SendKeys("key=RUN brush=ON : sees \"brush turns\" = dead" + OpenQA.Selenium.Keys.Enter);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/meter");
        b.Fill("[name=address]", meter.Address);
        b.Fill("[name=supply]", supply.Address);
        b.Click("form[action*=Start] button.go");
        b.Until(() => b.Says("#supply").Contains("13.4", StringComparison.Ordinal), "the supply is not shown");
        for (var i = 0; i < 80 && Kept(b) == "0"; i++)
        {
            // What is there is pressed; the page follows the meter and may have gone on meanwhile.
            var press = Stage(b) == "by-hand" ? ".answers .answer" : "[data-press-key=pedal]";
            b.Driver.ExecuteScript("document.querySelector(arguments[0])?.click()", press);
            Thread.Sleep(700);
        }
        Kept(b).ShouldNotBe("0", "nothing is kept");
        b.Until(() => b.Says("#supply").Contains("charger", StringComparison.Ordinal), "a supply held up is not noticed");
        var kept = Kept(b);
        (meter.Dial, meter.Shows) = ("RES", () => 5.7);
        b.Until(() => Stage(b) is "trouble" or "tips-off", "a turned dial is not noticed");
        Kept(b).ShouldBe(kept, "a figure of another dial was kept");
        b.NothingOnTheConsole();
    }

    /// <summary>A bus without a gateway: the simulated machine says its codes, and what is no gateway is answered at the field.</summary>
    [Fact]
    public void Codes_are_heard_on_the_bus()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, server, "batteries flat by morning");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/intake");
        // Folded on a phone until it is wanted.
        b.Driver.ExecuteScript("document.querySelectorAll('details').forEach(d => d.open = true)");
        b.Fill("form[action*=Listen] [name=address]", "8.8.8.8:28700");
        b.Click("form[action$=Listen] button");
        b.Until(() => b.Has(".problem"), "called afar");
        b.Says(".problem").ShouldContain("not in this network");
        b.Find("form[action*=Listen] [name=address]").GetAttribute("value").ShouldBe("8.8.8.8:28700");
        b.Click("form[action*=ListenSimulated] button");
        b.Until(() => b.Has(".codes li") || b.Has(".problem"), "nothing is heard");
        b.Shot("bus-phone");
        b.NothingOnTheConsole();
    }

    private static async Task<(List<long> Moments, List<long> Delays)> Watch(string address, int seconds, CancellationToken stop)
    {
        using var client = new HttpClient { Timeout = Timeout.InfiniteTimeSpan };
        await using var stream = await client.GetStreamAsync(address, stop);
        using var reader = new StreamReader(stream);
        var (moments, delays) = (new List<long>(), new List<long>());
        var until = DateTimeOffset.UtcNow.AddSeconds(seconds);
        while (DateTimeOffset.UtcNow < until && await reader.ReadLineAsync(stop) is { } line)
        {
            if (!line.StartsWith("data: ", StringComparison.Ordinal))
                continue;
            using var shown = JsonDocument.Parse(line[6..]);
            var at = shown.RootElement.GetProperty("at").GetInt64();
            if (at == 0)
                continue;
            moments.Add(at);
            delays.Add(DateTimeOffset.UtcNow.ToUnixTimeMilliseconds() - at);
        }
        // The first one shown is as old as it is.
        moments.RemoveAt(0);
        delays.RemoveAt(0);
        delays.Sort();
        return (moments, delays);
    }

    [Theory]
    [InlineData("8.8.8.8:5025", "not in this network")]
    [InlineData("my meter", "no address")]
    public void A_meter_that_may_not_be_called_is_answered_at_the_field(string address, string why)
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{JobOf(b, server, "brush does not turn")}/meter");
        b.Find("[name=address]").SendKeys(address);
        b.Click(() => b.All("form button.go").First(x => x.Text == "Use this meter"));
        b.Until(() => b.Has(".problem"), "nothing said");
        b.Find(".problem").Text.ShouldContain(why);
        b.Find("[name=address]").GetAttribute("value").ShouldBe(address);
    }

    /// <summary>
    /// A feed that falls to 10 V while an ampere flows is judged, its least volts kept as a reading; codes come out of a log of the bus.
    /// </summary>
    [Fact]
    public void A_capture_is_drawn_measured_and_kept_as_a_reading_and_a_log_gives_its_codes()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, server, "engine does not crank");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        var folder = Directory.CreateTempSubdirectory("zoltric-capture");
        try
        {
            var csv = Path.Combine(folder.FullName, "start.csv");
            File.WriteAllLines(
                csv,
                [
                    "Time (ms);CH1 [V];CH2 [V]",
                    .. Enumerable
                        .Range(0, 400)
                        .Select(i => (i, Amps: i is > 100 and < 300 ? 1 - Math.Exp(-(i - 100) / 20.0) : 0))
                        .Select(p =>
                            FormattableString.Invariant($"{p.i};{12.5 - 2.5 * p.Amps:0.000};{p.Amps / 10:0.0000}").Replace('.', ',')
                        ),
                ]
            );
            b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/captures");
            b.Find("[name=file]").SendKeys(csv);
            var setup = b.Find("[name=setup]");
            setup.Clear();
            setup.SendKeys("key=START");
            b.Click(() => b.Find("form[enctype] button.go"));
            b.Until(() => b.Has(".capture-chart"), "no chart");
            b.Driver.ExecuteScript(
                "var on = document.querySelectorAll('[name=on]'), per = document.querySelectorAll('[name=per]');"
                    + "on[0].value = 'V K1.86'; on[1].value = 'clamp w99'; per[1].value = '10'"
            );
            b.Click(() => b.Find(".channels-form button"));
            b.Until(() => b.Has(".problem"), "a wire that is not there was taken");
            b.Driver.ExecuteScript(
                "var on = document.querySelectorAll('[name=on]'), per = document.querySelectorAll('[name=per]');"
                    + "on[0].value = 'V K1.86'; on[1].value = 'clamp w20'; per[1].value = '10'"
            );
            b.Click(() => b.Find(".channels-form button"));
            b.Until(() => b.Has(".keep-lines") && !b.Has(".problem"), "the channels were not kept");
            b.Find(".found").Text.ShouldContain("2.50 Ω");
            b.Find(".found").Text.ShouldContain("10.0 V");
            b.All(".said-of li")
                .ShouldContain(l =>
                    l.Text.Contains("times below 9.6 V", StringComparison.Ordinal)
                    || l.Text.Contains("never below", StringComparison.Ordinal)
                );
            b.Click(
                b.All(".keep-lines form")
                    .First(f => f.Text.Contains("V K1.86 min", StringComparison.Ordinal))
                    .FindElement(OpenQA.Selenium.By.TagName("button"))
            );
            b.Until(() => b.Driver.Url.EndsWith("/trace", StringComparison.Ordinal), "not kept");
            b.All(".log li")
                .Select(l => l.GetAttribute("textContent") ?? "")
                .ShouldContain(t =>
                    t.Contains("V K1.86 min = 10.0", StringComparison.Ordinal) || t.Contains("V K1.86 min = 10V", StringComparison.Ordinal)
                );

            b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/intake");
            var log = Path.Combine(folder.FullName, "bus.log");
            File.WriteAllText(
                log,
                "(1436509052.249713) can0 18FECA00#04FFA8000103FFFF\n(1436509052.349713) can0 18FEF100#FFFFFFFFFFFFFFFF\n"
            );
            b.Find("form[action*=Codes] [name=file]").SendKeys(log);
            b.Click(() => b.All("button").Single(x => x.Text == "Read the codes in"));
            b.Until(() => b.Has(".codes li"), "no code");
            b.Find(".codes").Text.ShouldContain("168-1");
            b.Find(".codes").Text.ShouldContain("3 times");
        }
        finally
        {
            folder.Delete(true);
        }
    }

    /// <summary>
    /// A capture of the simulated machine by the instrument's own protocol: the supply and its current while the engine is cranked. What
    /// is no
    /// probe is refused and nothing is lost.
    /// </summary>
    [Fact]
    public void What_a_machine_does_over_time_is_fetched_from_an_instrument()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var job = JobOf(b, server, "engine does not crank");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/captures");
        b.Find("[name=address]").SendKeys("8.8.8.8");
        b.Click(() => b.Find("form[action*=Fetch] button.go"));
        b.Until(
            () => b.Has(".problem") && b.Find(".problem").Text.Contains("not in this network", StringComparison.Ordinal),
            "called afar"
        );
        b.Find("[name=address]").GetAttribute("value").ShouldBe("8.8.8.8");
        b.Click(".watch-sim summary");
        b.Find("[name=Then]").GetAttribute("value").ShouldBe("key=START");
        var two = b.Find("[name=Two]");
        two.Clear();
        two.SendKeys("clamp w999");
        b.Click(() => b.Find("form[action*=Watch] button.go"));
        b.Until(() => b.Has(".problem") && b.Find(".problem").Text.Contains("w999", StringComparison.Ordinal), "a wire that is not there");
        b.Driver.ExecuteScript("document.querySelector('.watch-sim').open = true");
        two = b.Find("[name=Two]");
        two.Clear();
        two.SendKeys("clamp w20");
        b.Click(() => b.Find("form[action*=Watch] button.go"));
        b.Until(() => b.Has(".capture-chart"), "no chart");
        b.Find(".captures-page").Text.ShouldContain("4000 instants");
        b.All(".figures-table th[scope=col]").Select(t => t.Text).ShouldBe(["Channel", "V G1.+ G1.-", "clamp w20"]);
    }
}
