using System.Globalization;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>The whole drawing operated, probed and broken in a real browser, against what the solver says of the same lines.</summary>
public class CircuitScreenTests
{
    private static string Sheet(string name) => File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", name + ".sheet"));

    private static void Open(ServerProcess server, Browser b, string machine)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        b.Click(() => b.All(".machines a").First(a => a.Text.Contains(machine, StringComparison.Ordinal)));
        b.Until(() => b.Has("#drawing"), "no drawing");
    }

    private static void Press(Browser b, string tag)
    {
        var before = b.Driver.Url;
        // A tap on the symbol itself.
        b.Driver.ExecuteScript(
            "document.querySelector('#drawing [data-control][data-tag=\"' + arguments[0] + '\"]').dispatchEvent(new "
                + "MouseEvent('click', { bubbles: true }))",
            tag
        );
        b.Until(() => b.Driver.Url != before, $"{tag} did nothing");
    }

    private static string State(Browser b, string function) =>
        b.All(".functions li")
            .First(l => l.FindElements(By.CssSelector(".fname")).Any(f => f.Text == function))
            .FindElement(By.CssSelector(".state"))
            .Text;

    private static void Put(Browser b, string tip, string terminal)
    {
        b.Driver.ExecuteScript(
            "var f = document.querySelector('[name=' + arguments[0] + ']'); f.value = arguments[1]; f.dispatchEvent(new "
                + "Event('change', { bubbles: true }))",
            tip,
            terminal
        );
        b.Until(
            () => new Uri(b.Driver.Url).Query.Contains(Uri.EscapeDataString(terminal), StringComparison.OrdinalIgnoreCase),
            $"{tip} is not on {terminal}"
        );
    }

    [Fact]
    public void The_hold_in_of_a_pump_is_operated_on_the_drawing()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        Open(server, b, "Brine pump panel BP-2");
        State(b, "pump keeps running").ShouldContain("dead");
        Press(b, "S2");
        b.Until(() => State(b, "pump starts").Contains("works", StringComparison.Ordinal), "the pump did not start");
        b.Find("#drawing [data-tag=K1].unit.on").GetAttribute("aria-label")!.ShouldContain("pulled in");
        Press(b, "S2");
        b.Until(() => State(b, "pump keeps running").Contains("works", StringComparison.Ordinal), "the contactor did not hold");
        b.Shot("circuit");
        Put(b, "Red", "K1.A1");
        Put(b, "Black", "SP0");
        b.Find(".display").Text.ShouldBe(new Technician(server, b, Sheet("BP-2")).Read("start=PRESSED, start=RELEASED : V K1.A1 SP0").Text);
        Press(b, "S1");
        b.Until(() => State(b, "pump keeps running").Contains("dead", StringComparison.Ordinal), "stop did not stop it");
        Press(b, "S1");
        b.Until(() => b.Driver.Url.Contains("stop%3DRELEASED", StringComparison.Ordinal), "stop did not spring back");
        State(b, "pump keeps running").ShouldContain("dead");
        server.Said.ShouldNotContain("Exception");
    }

    [Fact]
    public void A_hoist_says_which_door_stops_it_and_a_fault_is_seen_beside_the_healthy_one()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        var sheet = Sheet("GH-2");
        Open(server, b, "Goods hoist GH-2");
        Press(b, "S1");
        b.Until(() => b.All(".functions .state").Any(s => s.Text.Contains("works", StringComparison.Ordinal)), "nothing works");
        var up = b.All(".functions li")
            .First(l =>
                l.FindElement(By.CssSelector(".state")).Text.Contains("works", StringComparison.Ordinal)
                && l.Text.Contains("up", StringComparison.OrdinalIgnoreCase)
            )
            .FindElement(By.CssSelector(".fname"))
            .Text;
        Press(b, "B2");
        b.Until(
            () => State(b, up).Contains("dead", StringComparison.Ordinal) || State(b, up).Contains("stuck", StringComparison.Ordinal),
            "an open door did not stop the hoist"
        );
        b.Click(() =>
            b.All(".functions li").First(l => l.Text.Contains(up, StringComparison.Ordinal)).FindElement(By.CssSelector("button"))
        );
        b.Until(() => b.Has(".conditions .unmet"), "no conditions");
        b.All(".conditions .unmet")
            .Select(c => c.Text)
            .ShouldContain(t => t.Contains("door2", StringComparison.Ordinal) && t.Contains("OPEN", StringComparison.Ordinal));
        b.All(".conditions .unmet").Select(c => c.Text).ShouldContain(t => t.Contains("landing door 2", StringComparison.Ordinal));
        Press(b, "B2");
        b.Until(() => State(b, up).Contains("works", StringComparison.Ordinal), "a shut door did not release it");

        var fault = b.All("input[name=Fault]").Last();
        b.Driver.ExecuteScript("arguments[0].scrollIntoView({block: 'center'})", fault);
        fault.SendKeys("B3 open" + Keys.Enter);
        b.Until(() => b.Has("[name=Beside]"), "the fault was not put in");
        b.Settle();
        b.Click(() => b.Find("[name=Beside]"));
        b.Until(() => b.Has("#drawing-healthy") && b.Has("#drawing .fault"), "nothing beside");
        Put(b, "Red", "K1.A1");
        Put(b, "Black", "SP0");
        var steps = System.Web.HttpUtility.ParseQueryString(new Uri(b.Driver.Url).Query)["Steps"];
        b.Find(".display").Text.ShouldBe(new Technician(server, b, sheet, "B3 open").Read($"{steps} : VAC K1.A1 SP0").Text);
        b.Find(".healthy-reading strong").Text.ShouldBe(new Technician(server, b, sheet).Read($"{steps} : VAC K1.A1 SP0").Text);
        b.Shot("circuit-fault");
        // What must not be done is refused here too.
        b.All("input[name=Done]").Last().SendKeys("jumper B1.1 B1.2" + Keys.Enter);
        b.Until(() => b.Has(".bench-side .problem"), "a safety contact was bridged");
        b.Shot("circuit-refused");
    }

    [Fact]
    public void List_view_finds_a_tag_and_takes_the_tips_and_paper_has_every_page()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        Open(server, b, "Pan roller PR-3");
        b.Click(() => b.Find("[data-show]"));
        b.Until(() => b.Has(".parts-list"), "no list");
        b.Click(() => b.Find("button[data-tip=Red][data-terminal='S1.B']"));
        b.Until(() => b.Driver.Url.Contains("Red=S1.B", StringComparison.Ordinal), "red is not on S1.B");
        b.Find(".display").Text.ShouldBe(new Technician(server, b, Sheet("PR-3")).Read(": V S1.B").Text);
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth")!).ShouldBeLessThanOrEqualTo(390);
        b.Shot("phone-circuit");
        b.Find("[data-find]").SendKeys("K1" + Keys.Enter);
        b.Until(() => ((string?)b.Driver.ExecuteScript("return document.activeElement.dataset.tag")) == "K1", "K1 was not found");
        b.Driver.Navigate().GoToUrl(b.Find("a[href*=print]").GetAttribute("href")!);
        b.All(".printed svg").Count.ShouldBeGreaterThan(1);
        b.All(".printed .ref").Count.ShouldBeGreaterThan(3);
    }

    /// <summary>The widths the layout takes for its texts, against the font that is shipped.</summary>
    [Fact]
    public void No_text_of_a_drawing_is_wider_than_the_layout_took_it_for()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        foreach (var machine in new[] { "Pan harvester PH-1", "Drying-oven bank DO-4" })
        {
            Open(server, b, machine);
            b.Driver.ExecuteAsyncScript("var done = arguments[0]; document.fonts.ready.then(function () { done(1); })");
            var texts =
                (IReadOnlyCollection<object>)
                    b.Driver.ExecuteScript(
                        "return Array.from(document.querySelectorAll('#drawing text[aria-hidden]')).map(function (t) { "
                            + "return t.textContent + '|' + t.getAttribute('font-size') + '|' + t.getAttribute('class') + '|' + "
                            + "t.getBBox().width; })"
                    )!;
            foreach (var text in texts.Cast<string>().Select(t => t.Split('|')))
                double.Parse(text[3], CultureInfo.InvariantCulture)
                    .ShouldBeLessThanOrEqualTo(
                        Zoltric.Drawing.Schematic.Text.WidthOf(
                            text[0],
                            double.Parse(text[1], CultureInfo.InvariantCulture),
                            text[2] is "use-tag" or "use-bar"
                        ),
                        text[0]
                    );
            texts.Count.ShouldBeGreaterThan(100);
            var overlaps = (long)
                b.Driver.ExecuteScript(
                    """
                    var n = 0, texts = Array.from(document.querySelectorAll("#drawing text[aria-hidden]"));
                    var boxes = texts.map(function (t) { return t.getBBox(); });
                    for (var i = 0; i < boxes.length; i++) for (var j = i + 1; j < boxes.length; j++) {
                        var a = boxes[i], c = boxes[j];
                        if (a.x < c.x + c.width && c.x < a.x + a.width
                            && a.y + a.height * 0.25 < c.y + c.height * 0.8 && c.y + c.height * 0.25 < a.y + a.height * 0.8) n++;
                    }
                    return n;
                    """
                )!;
            overlaps.ShouldBe(0, machine);
        }
    }
}
