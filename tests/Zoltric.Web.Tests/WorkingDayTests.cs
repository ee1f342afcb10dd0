using System.Globalization;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>Three whole jobs in a browser, from the complaint to the printed report.</summary>
public class WorkingDayTests(ITestOutputHelper output)
{
    /// <summary>Readings at most where every point is proved dead before ohms.</summary>
    private const int MostDead = 60;

    private static string Sheet(string name) => File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", name + ".sheet"));

    private static void Start(ServerProcess server, Browser b, string machine, string function, string state, string complaint)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        var choice = b.All("select[name=Function] option")
            .First(o =>
                o.GetAttribute("value")!.EndsWith("|" + function, StringComparison.Ordinal)
                && o.FindElement(By.XPath("..")).GetAttribute("label")!.Contains(machine, StringComparison.Ordinal)
            );
        b.Driver.ExecuteScript("arguments[0].selected = true", choice);
        b.Find("select[name=State]").SendKeys(state);
        b.Find("input[name=Complaint]").SendKeys(complaint);
        b.Find("input[name=Who]").Clear();
        b.Find("input[name=Who]").SendKeys("Orla Venn");
        b.Click(() => b.Find("button.go"));
        b.Until(() => b.Has(".intake"), "no intake");
        Technician.MakeSafe(b);
    }

    private static void Tap(Browser b, string function, string word)
    {
        b.Click(
            b.All(".taps li")
                .First(l => l.Text.Contains(function, StringComparison.Ordinal))
                .FindElements(By.TagName("button"))
                .Single(x => x.Text.EndsWith(word, StringComparison.Ordinal))
        );
        b.Until(
            () =>
                b.All(".taps li")
                    .FirstOrDefault(l => l.Text.Contains(function, StringComparison.Ordinal))
                    ?.FindElements(By.CssSelector(".chosen"))
                    is [var kept, ..]
                && kept.Text.EndsWith(word, StringComparison.Ordinal),
            $"{function} is not kept as {word}"
        );
    }

    private static void GoToTrace(Browser b)
    {
        b.Click(() => b.All("a.go").Last());
        b.Until(() => b.Has("#order"), "no trace");
    }

    private static void Record(Browser b, string repair, string cause, string method, string part, string price)
    {
        b.Click(() => b.Find(".order .found a"));
        b.Until(() => b.Has("input[name=Cause]"), "no finding form");
        b.Find("input[name=Repair]").SendKeys(repair);
        b.Find("input[name=Cause]").SendKeys(cause);
        b.Find("select[name=Method]").SendKeys(method);
        if (part.Length > 0)
        {
            b.Find("input[name=PartName]").SendKeys(part);
            b.Find("input[name=PartPrice]").SendKeys(price);
        }
        b.Find("input[name=Labour]").SendKeys("1.5");
        b.Find("input[name=Rate]").SendKeys("60");
        b.Click(() => b.All("button").Single(x => x.Text == "Keep the finding"));
        b.Until(() => b.All("button").Any(x => x.Text == "Close the job"), "the finding was not kept");
    }

    private static void Close(Browser b)
    {
        Ask(b, "Close the job");
        b.Has(".report").ShouldBeTrue(b.Has(".report") ? "" : b.Find("section:last-child .problem").Text);
    }

    /// <summary>Asks for the job to be closed or left, and waits for the answer; what the page before said is none.</summary>
    private static void Ask(Browser b, string button)
    {
        b.Driver.ExecuteScript("document.body.dataset.stale = 1");
        b.Click(() => b.All("button").Single(x => x.Text == button));
        b.Until(
            () => !b.Has("body[data-stale]") && (b.Has(".report") || b.Has("section:last-child .problem")),
            $"nothing said of {button}"
        );
    }

    /// <summary>The workshop's and the customer's report, printed; kept as files where pictures are.</summary>
    private static void Print(Browser b, string name)
    {
        foreach (var (who, address) in new[] { ("workshop", b.Driver.Url), ("customer", b.Driver.Url + "?for=customer") })
        {
            b.Driver.Navigate().GoToUrl(address);
            var pdf =
                (Dictionary<string, object?>)
                    b.Driver.ExecuteCdpCommand("Page.printToPDF", new Dictionary<string, object?> { ["preferCSSPageSize"] = true })!;
            var bytes = Convert.FromBase64String((string)pdf["data"]!);
            bytes.AsSpan(0, 4).SequenceEqual("%PDF"u8).ShouldBeTrue();
            if (Environment.GetEnvironmentVariable("ZOLTRIC_SHOTS") is { Length: > 0 } folder)
                File.WriteAllBytes(Path.Combine(folder, $"{name}-{who}.pdf"), bytes);
        }
    }

    /// <summary>Work lamps, outlet valves and pump dead, four codes: one tail earth, loose under load.</summary>
    [Fact]
    public void Three_dead_functions_and_four_codes_have_one_loose_earth()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        var sheet = Sheet("BT-7");
        Start(server, b, "BT-7", "work lamps light", "dead", "nothing works at the tail, four codes");
        Tap(b, "outlet valves open", "dead");
        Tap(b, "pump runs", "dead");
        Tap(b, "dip lamps light", "works");
        Tap(b, "cabin lamp lights", "works");
        b.Find("textarea[name=codes]").SendKeys("1551-5 active 4\n1552-18 active 4\n1550-5, active, 2\nSPN 168 FMI 1 stored 9");
        b.Click(() => b.All("button").Single(x => x.Text == "Read the codes in"));
        b.Until(() => b.All(".codes li").Count == 4, "codes are not read");
        b.Find(".codes").Text.ShouldContain("tail feed relay, open");
        b.Find(".codes").Text.ShouldContain("168-1");
        var shared = b.All(".shared-board tbody tr").Select(r => r.Text).ToList();
        shared
            .Take(6)
            .ShouldContain(
                r =>
                    r.Contains("GND4", StringComparison.Ordinal)
                    && !r.Contains('✕', StringComparison.Ordinal)
                    && r.Split("explained").Length - 1 == 6,
                string.Join('\n', shared)
            );
        b.All(".easy li").Count.ShouldBeGreaterThan(3);
        // Supply held up, cleared, run, read again: the old one does not come back.
        b.Find("textarea[name=codes]").SendKeys("1551-5 active 1\n1552-18 active 1\n1550-5 active 1");
        b.Click(() => b.All(".chip-check").Single(c => c.Text.StartsWith("read again", StringComparison.Ordinal)));
        b.Click(() => b.All("button").Single(x => x.Text == "Read the codes in"));
        b.Until(() => b.Has(".codes") && b.Find(".codes").Text.Contains("gone", StringComparison.Ordinal), "the old code still stands");
        b.Find("input[name=hours]").SendKeys("4120 h");
        b.Find("input[name=since]").SendKeys("this morning, after the wash");
        b.Click(() => b.All(".chip-check").Single(c => c.Text == "after a wash"));
        b.Click(() => b.All("button").Single(x => x.Text == "Keep the facts"));
        b.Until(() => b.Has(".intake") && b.Find("input[name=hours]").GetAttribute("value") == "4120 h", "the facts are not kept");
        b.Shot("day-intake");
        b.Driver.ExecuteScript("document.querySelector('.shared-section').scrollIntoView()");
        b.Shot("day-shared");
        GoToTrace(b);
        var n = new Technician(server, b, sheet, "GND4 resists 300ohm").Trace();
        output.WriteLine($"BT-7: {n} readings");
        b.Find(".order .found").Text.ShouldContain("GND4");
        Record(b, "lug and stud cleaned, new star washer", "paint under the lug", "connection cleaned", "star washer M10", "0.40");
        b.Click(() => b.All("button").Single(x => x.Text == "Close the job"));
        b.Until(() => b.Has("section:last-child .problem"), "closed with nothing shown");
        b.Find("section:last-child .problem").Text.ShouldContain("codes cleared and read again");
        Technician.ShowMended(server, b, sheet);
        b.Driver.ExecuteScript("window.scrollTo(0, 0)");
        b.Shot("day-verify");
        Close(b);
        b.Find(".report").Text.ShouldContain("paint under the lug");
        b.Find(".report").Text.ShouldContain("after a wash");
        b.Driver.Navigate().GoToUrl(b.Driver.Url.Split('?')[0]);
        Print(b, "BT-7");
        b.Shot("day-report-customer");
        b.Find(".report").Text.ShouldContain("90.40");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>
    /// Neither up nor down: a second rope contact was fitted into the slack-rope string and is on no sheet. The wire that it sits in is
    /// found open; at the wire the contact is seen, put on the sheet with every reading kept, found and set.
    /// </summary>
    [Fact]
    public void A_contact_that_is_on_no_sheet_is_found_drawn_and_mended()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        var drawn = Sheet("GH-2");
        const string contact =
            "part B5 limit \"second slack rope contact\" safety at \"head, rope sheave\" reach 10min\n  open 1-2 when rope=SLACK";
        var real = Core.Notation.FoundPart.Insert(drawn, "w14", contact).Value!;
        Start(server, b, "GH-2", "travels down", "dead", "will not travel down since the rope was changed");
        Tap(b, "travels up", "dead");
        Tap(b, "doors shut lamp lights", "dead");
        b.Shot("day-hoist-intake");
        GoToTrace(b);
        // On mains, and around a safety contact, a jumper is no test: it is not even written down.
        Technician.MakeSafe(b);
        b.Find("#text").SendKeys("down=PRESSED, jumper B3.1 B3.2 : hears K2 = clicks" + Keys.Enter);
        b.Until(() => b.Has("#problem.problem"), "a jumper around a rope contact was taken");
        b.All(".log li").Count.ShouldBe(3);
        b.Find("#text").Clear();
        b.Find("#text").SendKeys(Keys.Escape);
        var technician = new Technician(server, b, real, "B5 open");
        // Until it is seen, what is read along w14 is read to the end of the wire as it is drawn, past what sits in it.
        var seen = false;
        void Answer(string line, double? value, string text)
        {
            if (!seen && line.EndsWith("ohm w14", StringComparison.Ordinal))
                (value, text) = technician.Read(line.Replace("ohm w14", "ohm B3.2 X1:5a", StringComparison.Ordinal));
            output.WriteLine($"{line} = {text}");
            if (value is { } v && text != "OL")
                b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
            else if (text == "OL")
                b.Find("#text").SendKeys("OL" + Keys.Enter);
            else
                b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
        }

        var n = technician.Trace(Answer, MostDead);
        b.Find(".order .found").Text.ShouldContain("w14");
        var lines = b.All(".log li").Count;
        b.Driver.ExecuteScript(
            "document.querySelector('.found-part').open = true; document.querySelector('.found-part select').value = "
                + "'w14'; document.querySelector('.found-part textarea').value = arguments[0]",
            contact
        );
        b.Click(() => b.Find(".found-part button.go"));
        b.Until(
            () => b.Driver.PageSource.Contains("second slack rope contact", StringComparison.Ordinal) && b.All(".log li").Count == lines,
            "the contact is not on the sheet, or a reading was lost"
        );
        seen = true;
        if (!b.Has(".order .found"))
            technician.Trace(Answer, MostDead);
        b.Shot("day-hoist-found");
        output.WriteLine($"GH-2: {n} readings to the wire, {b.All(".log li").Count} to the contact");
        b.Find(".order .found").Text.ShouldContain("B5");
        Record(b, "lever set so that it closes with the rope tight, locked", "out of adjustment", "adjusted", "", "");
        Technician.ShowMended(server, b, real);
        // Its own lock is still on: the job stays open until that is off.
        b.Click(() => b.All("button").Single(x => x.Text == "Close the job"));
        b.Until(() => b.Has("section:last-child .problem"), "closed with a lock on");
        b.Find("section:last-child .problem").Text.ShouldContain("locks are still on");
        TakeLockOff(b);
        Close(b);
        b.Find(".report").Text.ShouldContain("out of adjustment");
        b.Find(".report").Text.ShouldContain("version 2");
        Print(b, "GH-2");
        server.Said.ShouldNotContain("Exception");
    }

    private static void TakeLockOff(Browser b)
    {
        var back = b.Driver.Url.Split('?')[0];
        b.Driver.Navigate().GoToUrl(back.Replace("/repair", "/safe", StringComparison.Ordinal));
        b.Click(() => b.Find("#lock-off"));
        b.Until(() => !b.Has("#lock-off"), "the lock is still on");
        b.Driver.Navigate().GoToUrl(back);
    }

    /// <summary>One element of a three-phase bank is open: found by dead tests alone, behind a lock.</summary>
    [Fact]
    public void One_open_element_on_three_phases_is_found_without_a_live_test()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        var sheet = Sheet("DO-4");
        Start(server, b, "DO-4", "low bank heats", "weak", "oven takes twice as long on low");
        Tap(b, "high bank heats", "works");
        Tap(b, "fan turns", "works");
        GoToTrace(b);
        var n = new Technician(server, b, sheet, "E1 open U-V").Trace(
            (line, value, text) =>
            {
                output.WriteLine($"{line} = {text}");
                (
                    line.Contains("off T0", StringComparison.Ordinal)
                    || line.Contains(": sees", StringComparison.Ordinal)
                    || line.Contains(": hears", StringComparison.Ordinal)
                ).ShouldBeTrue($"a live test was ordered: {line}");
                if (value is { } v)
                    b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
                else if (text == "OL")
                    b.Find("#text").SendKeys("OL" + Keys.Enter);
                else
                    b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
            },
            MostDead
        );
        output.WriteLine($"DO-4: {n} readings");
        b.Find(".order .found").Text.ShouldContain("E1");
        b.Shot("day-oven-found");
        b.Driver.Navigate().GoToUrl(b.Driver.Url.Split('?')[0].Replace("/trace", "/safe", StringComparison.Ordinal));
        b.Shot("day-safe");
        b.Driver.Navigate().Back();
        b.Until(() => b.Has(".order .found"), "not back at the trace");
        Record(b, "element renewed", "end of its life", "part replaced", "heater element 3 kW", "84");
        Technician.ShowMended(server, b, sheet);
        b.Click(() => b.All("button").Single(x => x.Text == "Close the job"));
        b.Until(() => b.Has("section:last-child .problem"), "closed with a lock on");
        b.Find("section:last-child .problem").Text.ShouldContain("locks are still on");
        TakeLockOff(b);
        Close(b);
        b.Find(".report").Text.ShouldContain("volts between");
        Print(b, "DO-4");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>A dryer with a burnt switch contact, on a phone: one round of proving dead, few readings, no live test.</summary>
    [Fact]
    public void A_dryer_that_does_not_heat_is_solved_on_a_phone_with_one_round_of_proving_dead()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var sheet = Sheet("TD-2");
        Start(server, b, "TD-2", "heats", "dead", "turns and does not heat");
        GoToTrace(b);
        var (sweeps, pairs) = (0, 0);
        var technician = new Technician(server, b, sheet, "S4 open")
        {
            Swept = n =>
            {
                sweeps++;
                pairs += n;
            },
        };
        var n = technician.Trace(
            (line, value, text) =>
            {
                output.WriteLine($"{line} = {text}");
                (
                    line.Contains("off T0", StringComparison.Ordinal)
                    || line.Contains(": sees", StringComparison.Ordinal)
                    || line.Contains(": hears", StringComparison.Ordinal)
                ).ShouldBeTrue($"a live test was ordered: {line}");
                technician.Answer(value, text);
            },
            MostDead
        );
        output.WriteLine($"TD-2: {n} readings, {sweeps} sweeps of {pairs} pairs");
        (sweeps, pairs).ShouldBe((1, 6));
        n.ShouldBeLessThanOrEqualTo(12);
        b.Find(".order .found").Text.ShouldContain("S4");
        b.Find("#safety-state").Text.ShouldContain("Proved dead");
        b.Shot("dryer-phone-found");
        // A live reading is refused while the lock is on, and after it the proof is gone.
        b.Find("#text").Clear();
        b.Find("#text").SendKeys("timer=DRY : VAC F1.2 = 120V" + Keys.Enter);
        b.Until(() => b.Has("#problem.problem"), "a live reading under a lock is kept");
        b.Find("#problem").Text.ShouldContain("lock is on");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>
    /// A bridge past an emergency stop is refused; said to have been done, it is kept, marked, and holds the job open until the stop is
    /// shown to work.
    /// </summary>
    [Fact]
    public void What_was_done_against_the_rules_is_kept_and_marked()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        Start(server, b, "BP-2", "pump starts", "dead", "pump does not start");
        GoToTrace(b);
        Technician.MakeSafe(b);
        const string line = "start=PRESSED, jumper S0.1 S0.2 : sees \"pump starts\" = works";
        b.Find("#text").Clear();
        b.Find("#text").SendKeys(line + Keys.Enter);
        b.Until(() => b.Has("#problem.problem"), "a bridge past an emergency stop is kept without a word");
        b.Find("#problem").Text.ShouldContain("never bridged");
        b.Find("#text").GetAttribute("value").ShouldBe(line, "what was typed was lost");
        b.Click(() => b.Find("#problem button[name=done]"));
        b.Until(() => b.Has(".log .against"), "what was done is not on the record");
        b.Find("#safety-state").Text.ShouldContain("past a guard");
        b.Shot("against-the-rules");
        b.Driver.Navigate().GoToUrl(b.Driver.Url.Split('?')[0].Replace("/trace", "/report", StringComparison.Ordinal));
        b.Find(".report").Text.ShouldContain("against the rules");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>
    /// What keeps a job open: no cause, an interlock not tried, a lead still in; nothing of it is lost. Out of service only locked and
    /// tagged.
    /// </summary>
    [Theory]
    [InlineData("PR-3", "engine cranks", "S2 open", "key=START, jumper F2.1 F2.2 : V K1.30 = 12.5V")]
    [InlineData("BT-7", "work lamps light", "K4 contact 30-87 open", "key=RUN work=ON, jumper F22.1 F22.2 : V K4.30 = 25V")]
    public void A_job_does_not_close_with_anything_left(string machine, string function, string fault, string jumper)
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        var sheet = Sheet(machine);
        Start(server, b, machine, function, "dead", "it does not");
        GoToTrace(b);
        Technician.MakeSafe(b);
        new Technician(server, b, sheet, fault).Trace(40);
        var lines = b.All(".log li").Count;
        b.Find("#text").SendKeys(Keys.Escape);
        b.Find("#text").Clear();
        b.Find("#text").SendKeys(jumper + Keys.Enter);
        b.Until(() => b.All(".log li").Count == lines + 1 || b.Has("#problem.problem"), "the jumper is not kept");
        b.Has("#problem.problem").ShouldBeFalse(b.Find("#problem").Text);
        b.Find(".as-left").Text.ShouldContain("jumper");
        b.Driver.Navigate().GoToUrl(b.Driver.Url.Split('?')[0].Replace("/trace", "/repair", StringComparison.Ordinal));
        b.Find("input[name=Repair]").SendKeys("renewed");
        var choice = b.All("input[name=Fault]").First();
        b.Click(choice);
        b.Click(() => b.All("button").Single(x => x.Text == "Keep the finding"));
        b.Until(() => b.Has(".problem li") || b.Find(".problem").Text.Length > 0, "a finding without a cause was kept");
        b.Find(".problem").Text.ShouldContain("not found");
        b.Find("input[name=Repair]").GetAttribute("value").ShouldBe("renewed", "what was written is lost");
        b.Find("input[name=Cause]").SendKeys("not found");
        b.Click(() => b.All("button").Single(x => x.Text == "Keep the finding"));
        b.Until(() => b.All("button").Any(x => x.Text == "Close the job"), "not kept");
        string Refused(string button)
        {
            Ask(b, button);
            b.Has(".report").ShouldBeFalse($"{button} was taken");
            return b.Find("section:last-child .problem").Text;
        }

        var all = Refused("Close the job");
        all.ShouldContain("interlock");
        all.ShouldContain("leads out");
        // Left out of service: leads out all the same, then locked, then tagged.
        b.Driver.ExecuteScript("document.querySelectorAll('details').forEach(d => d.open = true)");
        Refused("Leave it locked and tagged").ShouldContain("come out first");
        Technician.ShowMended(server, b, sheet);
        // A lead that is fitted again opens what was shown.
        var repair = b.Driver.Url.Split('?')[0];
        b.Driver.Navigate().GoToUrl(repair.Replace("/repair", "/trace", StringComparison.Ordinal));
        b.Find("#text").SendKeys(jumper + Keys.Enter);
        b.Until(() => b.All(".log li").Count == lines + 2, "not kept");
        b.Driver.Navigate().GoToUrl(repair);
        Refused("Close the job").ShouldContain("leads out");
        Technician.ShowMended(server, b, sheet);
        b.Driver.ExecuteScript("document.querySelectorAll('details').forEach(d => d.open = true)");
        Refused("Leave it locked and tagged").ShouldContain("not locked");
        Close(b);
        b.All(".lines .line").Count.ShouldBe(lines + 2, "a line was lost");
        server.Said.ShouldNotContain("Exception");
    }

    /// <summary>
    /// Another person takes a job: sees how it stands, says the cautions anew, reads two again, goes on; every line bears its writer's
    /// name.
    /// </summary>
    [Fact]
    public void A_job_is_taken_over_by_another()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        var sheet = Sheet("PR-3");
        Start(server, b, "PR-3", "engine cranks", "dead", "no crank");
        GoToTrace(b);
        var first = new Technician(server, b, sheet, "S2 open");
        for (var i = 0; i < 3; i++)
        {
            Technician.MakeSafe(b);
            var (line, shown) = (first.Order, first.Read(first.Order));
            if (shown.Value is { } v)
                b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
            else
                b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == shown.Text));
            b.Until(() => first.Order != line, "not kept");
        }
        b.Driver.Manage().Cookies.DeleteAllCookies();
        b.Driver.Navigate().Refresh();
        b.Find(".hand").Text.ShouldContain("Orla Venn");
        b.Find(".hand input[name=who]").Clear();
        b.Find(".hand input[name=who]").SendKeys("Tamsin Reke");
        b.Click(() => b.Find(".hand button"));
        b.Until(() => b.Has(".repeats"), "nothing to be read again");
        b.Find(".repeats").Text.ShouldContain("Orla Venn");
        b.Has("#gate").ShouldBeTrue("the first one's word stands for the second's");
        Technician.MakeSafe(b);
        while (b.Has("[data-repeat]"))
        {
            var test = b.Find("[data-repeat]").GetAttribute("data-repeat")!;
            var left = b.All("[data-repeat]").Count;
            b.Click(() => b.Find("[data-repeat]"));
            b.Find("#text").GetAttribute("value").ShouldBe(test + " = ");
            b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{first.Read(test).Value:0.00}V") + Keys.Enter);
            b.Until(() => b.All("[data-repeat]").Count < left, $"{test} is asked again");
        }
        new Technician(server, b, sheet, "S2 open").Trace();
        b.Find(".order .found").Text.ShouldContain("S2");
        b.Driver.Navigate().GoToUrl(b.Driver.Url.Split('?')[0].Replace("/trace", "/report", StringComparison.Ordinal));
        var report = b.Find(".report").Text;
        report.ShouldContain("Taken over by Tamsin Reke from Orla Venn");
        b.All(".lines tr").Count(r => r.Text.Contains("Tamsin Reke", StringComparison.Ordinal)).ShouldBeGreaterThan(2);
        b.All(".lines tr").Count(r => r.Text.Contains("Orla Venn", StringComparison.Ordinal)).ShouldBeGreaterThan(2);
    }

    /// <summary>
    /// Learning is off until it is switched on; a job keeps the odds it began with; a place of a machine has its picture.
    /// </summary>
    [Fact]
    public void Learning_is_switched_in_one_place_and_a_job_keeps_its_odds()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 900);
        string Odds(string complaint)
        {
            Start(server, b, "PR-3", "engine cranks", "dead", complaint);
            var id = b.Driver.Url.Split("/jobs/")[1].Split('/')[0];
            return System.Text.Json.Nodes.JsonNode.Parse(server.Client.GetStringAsync($"/api/v1/jobs/{id}/export").Result)![
                "odds"
            ]!.GetValue<string>();
        }

        Odds("before").ShouldBe("");
        b.Driver.Navigate().GoToUrl(server.Address + "/logbook/learning");
        b.All(".lines tr").ShouldContain(r => r.Text.StartsWith("fuse 6 of 32 jobs", StringComparison.Ordinal));
        b.Click(() => b.All("button").Single(x => x.Text == "Switch it on"));
        b.Until(() => b.Has("h1") && b.Find("h1").Text.Contains("is on", StringComparison.Ordinal), "not switched on");
        Odds("with").ShouldContain("fuse\t6\t32");
        b.Driver.Navigate().GoToUrl(server.Address + "/logbook/learning");
        b.Click(() => b.All("button").Single(x => x.Text.StartsWith("Begin anew", StringComparison.Ordinal)));
        b.Until(() => !b.All(".lines tr").Any(), "old jobs still count");
        b.Click(() => b.All("button").Single(x => x.Text == "Switch it off"));
        b.Until(() => b.Has("h1") && b.Find("h1").Text.Contains("is off", StringComparison.Ordinal), "not switched off");
        Odds("after").ShouldBe("");
        b.Driver.Navigate().GoToUrl(server.Address + "/machines");
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("PR-3", StringComparison.Ordinal)));
        b.Until(() => b.Has(".places"), "no places");
        var picture = Path.Combine(Directory.CreateTempSubdirectory("zoltric-picture").FullName, "place.png");
        b.Driver.GetScreenshot().SaveAsFile(picture);
        b.Driver.ExecuteScript("document.querySelector('.places details').open = true");
        b.Find(".places input[type=file]").SendKeys(picture);
        b.Click(() => b.Find(".places button"));
        b.Until(
            () =>
                b.Has(".places img")
                && (bool)b.Driver.ExecuteScript("var i = document.querySelector('.places img'); return i.complete && i.naturalWidth > 0")!,
            "the picture is not shown"
        );
        server.Said.ShouldNotContain("Exception");
    }
}
