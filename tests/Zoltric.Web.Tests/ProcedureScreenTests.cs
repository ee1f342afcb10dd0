namespace Zoltric.Web.Tests;

/// <summary>Procedures in a browser: pasted, looked at, run in a job to its end; and a plan computed, printed and kept.</summary>
public sealed class ProcedureScreenTests
{
    private const string Pasted = """
        1. Volts at K1 terminal 86 with the key at START. under 6 V: go to step 2. 6 V or more: go to step 3.
        2. Is fuse F1 whole? Yes: call the maker. No: renew fuse F1.
        3. Does K1 click with the key at START? Yes: renew the starter. No: renew start relay K1.
        """;

    private static string MachineOf(Browser b, ServerProcess server, string name)
    {
        b.Driver.Navigate().GoToUrl(server.Address + "/machines");
        b.Click(() => b.All("a").First(a => a.Text.Contains(name, StringComparison.Ordinal)));
        b.Until(() => b.Driver.Url.Contains("/machines/", StringComparison.Ordinal), "no machine");
        return new Uri(b.Driver.Url).AbsolutePath.Split('/').Last();
    }

    private static string JobOf(Browser b, ServerProcess server, string complaint)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        var link = b.All(".jobs a").First(a => a.Text.Contains(complaint, StringComparison.Ordinal)).GetAttribute("href")!;
        return new Uri(link).AbsolutePath.Split('/').Single(s => s.Length > 0 && s.All(char.IsAsciiDigit));
    }

    /// <summary>Pastes a procedure for a machine; its number.</summary>
    private static string Paste(Browser b, ServerProcess server, string machine, string title, string text)
    {
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl($"{server.Address}/procedures?machine={MachineOf(b, server, machine)}");
        b.Find("[name=Title]").SendKeys(title);
        b.Driver.ExecuteScript("document.getElementById('procedure-text').value = arguments[0]", text);
        b.Click(() => b.Find("form[enctype] button.go"));
        b.Until(() => b.Has(".procedure-chart"), "no chart of it");
        return new Uri(b.Driver.Url).AbsolutePath.Split('/').Last();
    }

    /// <summary>Opens a procedure in a job, with all said that must be said.</summary>
    private static string OpenIn(Browser b, ServerProcess server, string complaint, string procedure)
    {
        var job = JobOf(b, server, complaint);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/procedures/{procedure}");
        return job;
    }

    private static void Fits(Browser b) =>
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);

    /// <summary>
    /// A step that is tied to the sheet is a reading of the job as well; a wrong answer is said and nothing is lost; back is back; the end
    /// stands in the report.
    /// </summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_pasted_procedure_is_run_to_its_end_and_its_answers_weigh(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        var procedure = Paste(b, server, "Pan roller PR-3", "roller does not crank", Pasted);
        b.All(".steps-list > li").Count.ShouldBe(3);
        b.Find("#step-1").Text.ShouldContain("sound shows");
        Fits(b);
        var job = OpenIn(b, server, "engine does not crank", procedure);
        b.Find("#asked").Text.ShouldContain("K1 terminal 86");
        Fits(b);
        b.Find("#answer").SendKeys("blue");
        b.Click(() => b.Find(".value-form button"));
        b.Until(() => b.Has(".problem"), "a wrong answer was taken");
        b.Find("#answer").SendKeys("12,3");
        b.Click(() => b.Find(".value-form button"));
        b.Until(() => b.Find("#asked").Text.Contains("click", StringComparison.Ordinal), "not at step 3");
        b.Find(".given").Text.ShouldContain("12,3");
        b.Click(() => b.All("button").Single(x => x.Text == "back one step"));
        b.Until(() => b.Has("#answer"), "not back");
        b.Find("#answer").SendKeys("12.4 V");
        b.Click(() => b.Find(".value-form button"));
        b.Until(() => b.Has(".step-answers .answer"), "not at step 3 again");
        b.Click(() => b.All(".step-answers .answer").Single(a => a.Text == "No"));
        b.Until(() => b.Find("#asked").Text.Contains("renew start relay K1", StringComparison.Ordinal), "not at the end");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/report");
        b.Find(".notes").Text.ShouldContain("1: 12.4 V; 3: No. Ended in: renew start relay K1");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(
            () => b.All(".log li").Any(l => (l.GetAttribute("textContent") ?? "").Contains("K1.86", StringComparison.Ordinal)),
            "no reading"
        );
    }

    /// <summary>A step that puts a new fuse in is a line of the job without a result, as it is anywhere else.</summary>
    [Fact]
    public void A_new_fuse_is_put_in_by_a_step()
    {
        const string fuse = """
            procedure "key fuse, once"
            step 1 "Put one new key fuse in"
              set "every source off"
              reading : replaced F1
              if done then step 2
            step 2 "Look at the new fuse"
              reading key=START gear=NEUTRAL : looks F1
              if bad then ask "find what blew it"
              if good then repair "the old one had gone by itself" of F1
            """;
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var job = OpenIn(b, server, "engine does not crank", Paste(b, server, "Pan roller PR-3", "key fuse, once", fuse));
        b.Click(() => b.All(".step-answers .answer").Single(a => a.Text == "done"));
        b.Until(() => b.Find("#asked").Text.Contains("Look at the new fuse", StringComparison.Ordinal), "not at step 2");
        b.Click(() => b.All(".step-answers .answer").Single(a => a.Text == "bad"));
        b.Until(() => b.Find("#asked").Text.Contains("find what blew it", StringComparison.Ordinal), "not at the end");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(
            () =>
                b.All(".log li")
                    .Any(l => (l.GetAttribute("textContent") ?? "").Contains("replaced F1", StringComparison.OrdinalIgnoreCase)),
            "the new fuse is no line of the job"
        );
        b.NothingOnTheConsole();
    }

    private const string Pins = """
        procedure "start relay, pin by pin"
        step 1 "Pins of the start relay"
          set "key at START"
          pin K1.86 11 V or more
          pin K1.30 11 V or more
          pin "coil ground, by eye" good
          if all then repair "renew the start relay" of K1
          if some then step 2
          if none then ask "charge the battery first"
        step 2 "Is the seat pressed?"
          if yes then ask "go on with the trace"
          if no then repair "adjust the seat switch" of S4
        """;

    /// <summary>Several pins on one card: ticked with a thumb or typed; what is missing is said and what was given stays.</summary>
    [Fact]
    public void Several_pins_are_ticked_on_one_card()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var procedure = Paste(b, server, "Pan roller PR-3", "start relay", Pins);
        b.Has(".paper-pins").ShouldBeTrue("no pins on paper");
        Fits(b);
        var job = OpenIn(b, server, "engine does not crank", procedure);
        b.Find("[name='found[0]']").SendKeys("0,2");
        b.Click(() => b.All(".pin-ticks label")[2]);
        b.Click(".pins-form button.go");
        b.Until(
            () => b.Has(".problem") && b.Says(".problem").Contains("coil ground", StringComparison.Ordinal),
            "nothing said of the last"
        );
        b.Find("[name='found[0]']").GetAttribute("value").ShouldBe("0,2");
        b.All("input[type=radio]:checked").Count.ShouldBe(1);
        b.Click(() => b.All(".pin-ticks label")[4]);
        b.Shot("procedure-pins");
        b.Click(".pins-form button.go");
        b.Until(() => b.Says("#asked").Contains("seat", StringComparison.Ordinal), "not at step 2");
        b.Says(".given").ShouldContain("some (K1.86 0,2, K1.30 good");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has(".log"), "no log");
        (b.Find(".log").GetAttribute("textContent") ?? "").ShouldContain("V K1.86 = 0.2V");
        b.NothingOnTheConsole();
    }

    /// <summary>A card is kept whole or not at all: a later pin that is refused leaves nothing of an earlier one in the record.</summary>
    [Fact]
    public void A_pin_that_is_refused_keeps_none_of_its_card()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var card = Pins.Replace("pin K1.30 11 V or more", "pin F1 under 2 ohm reading key=START : ohm F1", StringComparison.Ordinal);
        var procedure = Paste(b, server, "Pan roller PR-3", "start relay", card);
        var job = OpenIn(b, server, "engine does not crank", procedure);
        b.Find("[name='found[0]']").SendKeys("0,2");
        b.Find("[name='found[1]']").SendKeys("0,5");
        b.Click(() => b.All(".pin-ticks label")[4]);
        b.Click(".pins-form button.go");
        b.Until(() => b.Has(".problem") && b.Says(".problem").Contains("F1", StringComparison.Ordinal), "nothing said of F1");
        b.Find("[name='found[0]']").GetAttribute("value").ShouldBe("0,2");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/{job}/trace");
        b.Until(() => b.Has(".log"), "no log");
        (b.Find(".log").GetAttribute("textContent") ?? "").ShouldNotContain("K1.86");
    }

    /// <summary>The text stands beside what is understood of it, and each change shows there before anything is kept.</summary>
    [Fact]
    public void A_text_is_mended_beside_its_chart()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        Paste(b, server, "Pan roller PR-3", "roller does not crank", Pasted);
        b.Click(".procedure-page summary");
        b.Until(() => b.Find("#procedure-text").Displayed, "no text");
        var (text, chart) = (b.Find("#procedure-text"), b.Find("#understood"));
        chart.Location.X.ShouldBeGreaterThan(text.Location.X + text.Size.Width, "not beside");
        var was = text.GetAttribute("value")!;
        void Write(string now) =>
            b.Driver.ExecuteScript(
                "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input', {bubbles: true}))",
                b.Find("#procedure-text"),
                now
            );
        Write(was.Replace("then step 3", "then step 9", StringComparison.Ordinal));
        b.Until(() => b.Says("#understood").Contains("step 9", StringComparison.Ordinal), "the mistake is not said");
        Write(was.Replace("step 3 ", "stop 3 ", StringComparison.Ordinal));
        b.Until(() => b.Has("#understood [data-line]"), "the line is not said");
        b.Click("#understood [data-line]");
        (
            (string)b.Driver.ExecuteScript("var f = document.activeElement; return f.value.slice(f.selectionStart, f.selectionEnd)")!
        ).ShouldStartWith("stop 3 ");
        Write(was.Replace("renew the starter", "renew the starter motor", StringComparison.Ordinal));
        b.Until(() => b.Says("#understood").Contains("starter motor", StringComparison.Ordinal), "the chart does not follow");
        b.Driver.Navigate().Refresh();
        b.Says(".procedure-page").ShouldNotContain("starter motor", Case.Sensitive, "kept unasked");
        b.NothingOnTheConsole();
    }

    [Fact]
    public void What_is_no_procedure_is_said_and_stays_in_its_field()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address + "/procedures");
        b.Find("#procedure-text").SendKeys("turn it on and hope");
        b.Click(() => b.Find("form[enctype] button.go"));
        b.Until(() => b.Has(".problem"), "nothing said");
        b.Find(".problem").Text.ShouldContain("There is no step in it");
        b.Find("#procedure-text").GetAttribute("value").ShouldBe("turn it on and hope");
    }

    /// <summary>The plan appears by itself, is kept as a procedure, and both forms can be taken away.</summary>
    [Fact]
    public void A_plan_is_worked_out_and_kept()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        var machine = MachineOf(b, server, "Quay sweeper QS-5");
        b.Driver.Navigate().GoToUrl($"{server.Address}/machines/{machine}/plan?function=brush%20turns&steps=30");
        b.Until(() => b.Has(".paper-steps"), "no plan");
        b.All(".steps-list > li").Count.ShouldBeInRange(5, 31);
        b.Has(".procedure-chart").ShouldBeTrue();
        Fits(b);
        b.Click(() => b.All("button").Single(x => x.Text == "Keep as a procedure"));
        b.Until(() => b.Has("details textarea"), "not kept");
        b.All(".mistakes li").ShouldBeEmpty();
        b.Find("[href*='form=json']").GetAttribute("href")!.ShouldContain("/procedures/");
        // Beside one that blames the clutch whatever is read, it buys less in vain.
        b.Driver.Navigate().GoToUrl($"{server.Address}/procedures?machine={machine}");
        b.Find("[name=Title]").SendKeys("always the clutch");
        b.Driver.ExecuteScript(
            "document.getElementById('procedure-text').value = arguments[0]",
            "1. Does K1 click with the key at RUN? Yes: renew Y1. No: renew Y1."
        );
        b.Click(() => b.Find("form[enctype] button.go"));
        b.Until(() => b.Has(".procedure-chart"), "no chart of it");
        b.Driver.Navigate().GoToUrl($"{server.Address}/machines/{machine}/procedures/compare?function=brush%20turns");
        b.Until(() => b.All(".compared tbody tr").Count == 2, "not compared");
        int Found(string title) =>
            int.Parse(
                b.All(".compared tr")
                    .Single(r => r.Text.Contains(title, StringComparison.Ordinal))
                    .FindElements(OpenQA.Selenium.By.TagName("td"))[1]
                    .Text.Split(' ')[0],
                System.Globalization.CultureInfo.InvariantCulture
            );
        Found("brush turns").ShouldBeGreaterThan(Found("always the clutch"));
        Fits(b);
    }
}
