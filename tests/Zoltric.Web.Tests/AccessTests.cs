using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Zoltric.Web.Tests;

/// <summary>
/// Who cannot see well, cannot use a mouse, or has one thumb: WCAG 2.2 AA by axe-core on every screen, the trace by keys alone, its pace.
/// </summary>
public class AccessTests(ITestOutputHelper output)
{
    private static readonly string Axe = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Assets", "axe.min.js"));

    private static List<string> Violations(Browser b)
    {
        b.Driver.ExecuteScript(Axe);
        var found =
            (IReadOnlyCollection<object>)
                b.Driver.ExecuteAsyncScript(
                    """
                    var done = arguments[0];
                    axe.run(document, {
                        runOnly: { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] }
                    }).then(function (r) {
                        done(r.violations.map(function (v) {
                            var first = v.nodes[0];
                            return v.id + ": " + v.nodes.length + " × " + first.html.slice(0, 160)
                                + " " + first.failureSummary.slice(0, 300);
                        }));
                    });
                    """
                )!;
        return [.. found.Cast<string>()];
    }

    /// <summary>Sizes at which text twice as large makes a page wider than its window.</summary>
    private static IEnumerable<string> Sideways(Browser b)
    {
        foreach (var (width, height) in new[] { (390, 844), (844, 390), (1280, 800) })
        {
            b.Size(width, height, phone: width < 900);
            var over = b.Driver.ExecuteScript(
                """
                document.documentElement.style.fontSize = "200%";
                document.documentElement.dataset.size = "200";
                var over = document.documentElement.scrollWidth - arguments[0];
                document.documentElement.style.fontSize = "";
                document.documentElement.dataset.size = "100";
                return over;
                """,
                width
            );
            if (Convert.ToInt32(over, CultureInfo.InvariantCulture) > 1)
                yield return $"{over} px too wide at {width} px and 200 % text";
        }
    }

    [Theory, InlineData("light"), InlineData("dark"), InlineData("contrast")]
    public void No_screen_breaks_a_rule_of_WCAG_in_any_colours(string theme)
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.Driver.ExecuteScript("localStorage.setItem('zoltric-theme', arguments[0])", theme);
        var job = b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)).GetAttribute("href")!;
        var closed = b.All(".jobs.closed a").Select(a => a.GetAttribute("href")).FirstOrDefault();
        var machine = b.All(".machines a").First(a => a.Text.Contains("BP-2", StringComparison.Ordinal)).GetAttribute("href")!;
        var sheet = b.All(".machines a").First(a => a.Text.Contains("Edit", StringComparison.Ordinal)).GetAttribute("href")!;
        string[] screens =
        [
            server.Address,
            job,
            job + "?zoom=true",
            job.Replace("/trace", "/repair", StringComparison.Ordinal),
            machine,
            machine + "?Show=list",
            machine + "?Stops=pump%20starts&Fault=B2%20open&Beside=true",
            machine + "/print",
            server.Address + "/logbook",
            server.Address + "/logbook/learning",
            server.Address + "/machines",
            machine.Replace("/circuit/", "/machines/", StringComparison.Ordinal),
            job.Replace("/trace", "/intake", StringComparison.Ordinal),
            job.Replace("/trace", "/safe", StringComparison.Ordinal),
            job + "?ohms=true",
            job.Replace("/trace", "/report?for=customer", StringComparison.Ordinal),
            sheet,
            sheet + "/versions",
            server.Address + "/start",
            server.Address + "/start?pattern=Cranking%20string",
            server.Address + "/import",
            server.Address + "/figures",
            server.Address + "/trainer",
            server.Address + "/upkeep",
            server.Address + "/no-network",
            job.Replace("/trace", "/captures", StringComparison.Ordinal),
            job.Replace("/trace", "/meter", StringComparison.Ordinal),
            .. closed is null ? Array.Empty<string>() : [closed],
            // What differs in nothing but its content is looked at once.
            .. theme != "light"
                ? Array.Empty<string>()
                :
                [
                    job.Replace("/trace", "/watch", StringComparison.Ordinal),
                    job.Replace("/trace", "/report", StringComparison.Ordinal),
                    machine.Replace("/circuit/", "/machines/", StringComparison.Ordinal) + "/plan",
                    machine.Replace("/circuit/", "/machines/", StringComparison.Ordinal) + "/procedures/compare",
                    .. new[]
                    {
                        "figures/temperature",
                        "figures/pins",
                        "figures/reference",
                        "procedures",
                        "trainer/write",
                        "trainer/1/paper",
                        "trainer/group",
                        "trust",
                    }.Select(path => $"{server.Address}/{path}"),
                ],
        ];
        var wrong = new List<string>();
        foreach (var screen in screens)
        {
            b.Driver.Navigate().GoToUrl(screen);
            if (screen == sheet)
                b.Until(() => b.Has(".cm-content"), "no editor");
            ((string?)b.Driver.ExecuteScript("return document.documentElement.dataset.theme")).ShouldBe(theme);
            wrong.AddRange(Violations(b).Select(v => $"{new Uri(screen).PathAndQuery}: {v}"));
            if (theme == "light")
                wrong.AddRange(Sideways(b).Select(v => $"{new Uri(screen).PathAndQuery}: {v}"));
        }
        if (theme == "light")
        {
            // An exercise at work, and looked back at.
            b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
            b.Click(".exercises button");
            b.Until(() => b.Has("#what"), "no exercise");
            wrong.AddRange(Violations(b).Concat(Sideways(b)).Select(v => $"exercise: {v}"));
            b.Driver.ExecuteScript("document.getElementById('what').value = 'found nothing'");
            b.Click(".act-form button");
            b.Until(() => b.Has(".review .schools"), "no review");
            wrong.AddRange(Violations(b).Concat(Sideways(b)).Select(v => $"review: {v}"));
        }
        b.Driver.Navigate().GoToUrl(job);
        b.Find("body").SendKeys("?");
        b.Until(() => b.Has("dialog[open]"), "no list of keys");
        wrong.AddRange(Violations(b).Select(v => $"keys: {v}"));
        b.Shot($"keys-{theme}");
        // The strip of what a phone kept and the server refused.
        b.Driver.ExecuteScript("localStorage.setItem('zoltric-not-kept', '[{\"text\": \"V K1.86 = 3V\", \"why\": \"closed\"}]')");
        b.Driver.Navigate().GoToUrl(job);
        b.Until(() => b.Find("#waiting").Displayed, "what was refused is not said");
        wrong.AddRange(Violations(b).Select(v => $"waiting: {v}"));
        wrong.ShouldBeEmpty();
    }

    [Fact]
    public void The_whole_trace_by_keyboard_alone()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        // Tab to the job, Enter.
        for (
            var i = 0;
            i < 60
                && b.Driver.SwitchTo().ActiveElement() is var at
                && !(at.TagName == "a" && at.Text.Contains("engine does not crank", StringComparison.Ordinal));
            i++
        )
            new Actions(b.Driver).SendKeys(Keys.Tab).Perform();
        new Actions(b.Driver).SendKeys(Keys.Enter).Perform();
        b.Until(() => b.Has("#order"), "no order");
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PR-3.sheet"));
        var first = true;
        new Technician(server, b, sheet, "K1 contact 30-87 open").Trace(
            (line, value, text) =>
            {
                if (value is { } v)
                {
                    // Enter opens the line at the probe that is asked for, as a pedal would.
                    new Actions(b.Driver).SendKeys(Keys.Enter).Perform();
                    b.Until(
                        () => b.Find("#text").GetAttribute("value")!.EndsWith("= ", StringComparison.Ordinal),
                        "Enter did not open the reading line"
                    );
                    new Actions(b.Driver)
                        .SendKeys(
                            string.Create(CultureInfo.InvariantCulture, $"{v:0.00}")
                                + (line.Contains(": ohm", StringComparison.Ordinal) ? "ohm" : "V")
                                + Keys.Enter
                        )
                        .Perform();
                }
                else
                {
                    var key = b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text).GetAttribute("data-answer")!;
                    new Actions(b.Driver).SendKeys(key).Perform();
                }
                if (!first)
                    return;
                first = false;
                b.Until(() => b.All(".log li:not(.struck)").Count == 2, "not kept");
                var next = b.Find("#order").GetAttribute("data-line");
                new Actions(b.Driver).SendKeys(Keys.Escape + "u").Perform();
                b.Until(() => b.Has(".log li.struck"), "u did not undo");
                b.Until(() => b.Find("#order").GetAttribute("data-line") == line, "the order before did not come back");
                b.Click(() => b.All(".log li.struck button").Last());
                b.Until(() => b.Find("#order").GetAttribute("data-line") == next, "the reading was not taken back");
            }
        );
        b.Find(".order .found").Text.ShouldContain("K1");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>Printed, not judged: the machine that runs the tests is not the technician's.</summary>
    [Fact]
    public void Pace_of_a_recorded_reading()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        foreach (
            var (name, complaint, fault) in new[]
            {
                ("PR-3", "engine does not crank", "S4 open"),
                ("PH-1", "cutter stays still", "A2 output 10 dead"),
            }
        )
        {
            b.Driver.Navigate().GoToUrl(server.Address);
            b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains(complaint, StringComparison.Ordinal)));
            b.Until(() => b.Has("#order"), "no order");
            var times = new List<(double Server, double Paint)>();
            new Technician(
                server,
                b,
                File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", name + ".sheet")),
                fault
            ).Trace(
                (line, value, text) =>
                {
                    b.Driver.ExecuteScript(
                        """
                        window.pace = null;
                        var start = performance.now();
                        document.addEventListener("htmx:afterSwap", function () {
                            requestAnimationFrame(function () { requestAnimationFrame(function () {
                                var posts = performance.getEntriesByType("resource").filter(function (e) {
                            return e.initiatorType === "xmlhttprequest"; });
                                var last = posts[posts.length - 1];
                                window.pace = [last ? last.responseEnd - last.requestStart : 0, performance.now() - start];
                            }); });
                        }, { once: true });
                        """
                    );
                    if (value is { } v)
                        b.Driver.ExecuteScript(
                            "var f = document.getElementById('text'); f.value = arguments[0]; f.form.requestSubmit()",
                            string.Create(CultureInfo.InvariantCulture, $"{v:0.00}")
                        );
                    else
                        // Found and tapped in one go: what others weigh may draw the order again in between.
                        b.Driver.ExecuteScript(
                            """
                            Array.from(document.querySelectorAll(".answer"))
                                .find(a => a.querySelector("strong").innerText.trim() === arguments[0])
                                .click();
                            """,
                            text
                        );
                    b.Until(() => b.Driver.ExecuteScript("return window.pace") is not null, "no answer");
                    var pace = ((IReadOnlyCollection<object>)b.Driver.ExecuteScript("return window.pace")!)
                        .Select(x => Convert.ToDouble(x, CultureInfo.InvariantCulture))
                        .ToList();
                    times.Add((pace[0], pace[1]));
                }
            );
            times.Count.ShouldBeGreaterThan(2);
            string Figures(Func<(double Server, double Paint), double> of) =>
                $"median {times.Select(of).Order().ElementAt(times.Count / 2):0} ms, most {times.Max(of):0} ms";
            output.WriteLine($"{name}: {times.Count} readings; server {Figures(t => t.Server)}; to the picture {Figures(t => t.Paint)}");
        }
    }
}
