using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Zoltric.Web.Tests;

/// <summary>Sheets typed, started from patterns and spoken lines, and corrected while a job runs, in a real browser.</summary>
public class SheetEditorTests
{
    /// <summary>The text of the sheet that a job's machine has now.</summary>
    private static string SheetOf(ServerProcess server, Browser b)
    {
        var here = b.Driver.Url;
        b.Driver.Navigate().GoToUrl(b.All("a").First(a => a.Text == "Correct the sheet").GetAttribute("href")!);
        var text = b.Find("#sheet-text").GetAttribute("value")!;
        b.Driver.Navigate().GoToUrl(here);
        b.Until(() => b.Has("#order"), "no order");
        return text;
    }

    private static void Type(Browser b, string keys) => new Actions(b.Driver).SendKeys(keys).Perform();

    [Fact]
    public void A_pattern_chosen_by_its_complaint_is_asked_value_by_value_and_traced_to_the_end()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address + "/start");
        b.Shot("start");
        b.Find("#pattern-filter").SendKeys("crank");
        b.Until(() => b.All(".patterns li").Count(l => l.Displayed) == 1, "the filter left more than one");
        b.Click(() => b.All(".patterns li").Single(l => l.Displayed).FindElement(By.TagName("a")));
        b.Until(() => b.Has("[data-question]"), "no questions");
        var questions = b.All("[data-question]").Count;
        b.Until(() => b.All("[data-question]").Count(q => q.Displayed) == 1, "all questions at once");
        // The value stands selected: typing replaces it.
        foreach (var answer in new[] { "Yard truck 4", "24" })
            Type(b, answer + Keys.Enter);
        for (var i = 2; i < questions - 1; i++)
            Type(b, Keys.Enter);
        b.All("[data-question]").Count(q => q.Displayed).ShouldBe(questions);
        b.Shot("pattern");
        b.Click(() => b.All("button").Single(x => x.Text == "Trace at once"));
        b.Until(() => b.Has("#order"), "no trace");
        b.Find(".what").Text.ShouldContain("Yard truck 4");
        var sheet = SheetOf(server, b);
        sheet.ShouldContain("nominal 24V dc");
        new Technician(server, b, sheet, "K1 coil-open").Trace().ShouldBeLessThanOrEqualTo(14);
        b.Find(".order .found").Text.ShouldContain("K1");
        server.Said.ShouldNotContain("Exception");
    }

    [Fact]
    public void One_spoken_line_is_traced_at_once_to_the_end()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address + "/start");
        b.Find("[name=Line]").SendKeys("battery, fuse 15, dash key 30 to 15, wotsit, valve 8 ohm, ground");
        b.Click(() => b.All("button").Single(x => x.Text == "Trace at once"));
        b.Until(() => b.Has(".problem"), "a word that nobody knows was taken");
        b.Find(".problem").Text.ShouldContain("wotsit");
        b.Find("[name=Line]").GetAttribute("value")!.ShouldContain("wotsit", Case.Sensitive, "what was typed is lost");
        b.Find("[name=Line]").Clear();
        b.Find("[name=Line]").SendKeys("battery, fuse 15, dash key 30 to 15, lid switch, connector pin 2, valve 8 ohm, ground");
        b.Find("[name=Machine]").SendKeys("Spreader");
        b.Click(() => b.All("button").Single(x => x.Text == "Trace at once"));
        b.Until(() => b.Has("#order"), "no trace");
        var sheet = SheetOf(server, b);
        new Technician(server, b, sheet, "S2 open").Trace().ShouldBeLessThanOrEqualTo(10);
        b.Find(".order .found").Text.ShouldContain("S2");
        b.Shot("phone-quick-route");
    }

    /// <summary>
    /// A string of forty stations: what is proved folds to one mark and unfolds on tap, the lane is shown in ohms, the fault is found.
    /// </summary>
    [Fact]
    public void A_string_of_forty_stations_folds_as_it_is_proved()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address + "/start");
        var string18 = string.Join(", ", Enumerable.Range(1, 9).Select(i => $"gate {i} switch, connector pin {i}"));
        b.Find("[name=Line]").SendKeys($"battery, fuse 15, {string18}, valve 8 ohm, ground");
        b.Click(() => b.All("button").Single(x => x.Text == "Trace at once"));
        b.Until(() => b.Has("#order"), "no trace");
        b.All(".stations li").Count.ShouldBeGreaterThanOrEqualTo(40);
        b.Click(() => b.Find("[data-ohms]"));
        b.Until(() => b.All(".lane .axis").Any(t => t.Text == "OL"), "the lane is not shown in ohms");
        b.All(".lane .heading").ShouldContain(h => h.Text == "Ohms, all off");
        b.Click(() => b.Find("[data-ohms]"));
        b.Until(() => b.All(".lane .axis").All(t => t.Text.EndsWith(" V", StringComparison.Ordinal)), "the lane does not go back to volts");
        new Technician(server, b, SheetOf(server, b), "S7 open").Trace().ShouldBeLessThanOrEqualTo(12);
        b.Find(".order .found").Text.ShouldContain("S7");
        var folds = b.All(".lane .fold");
        folds.Count.ShouldBeGreaterThan(0, "nothing is folded on a lane of forty stations");
        folds[0].GetAttribute("aria-label")!.ShouldContain("stations");
        var parts = b.All(".lane .part").Count;
        b.Shot("forty-stations");
        b.Click(folds[0]);
        b.Until(() => b.All(".lane .part").Count > parts && !b.Has(".lane .fold"), "a tap does not unfold");
        server.Said.ShouldNotContain("Exception");
    }

    [Fact]
    public void Problems_are_marked_as_typed_one_key_takes_the_suggestion_and_words_are_offered()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address + "/sheet");
        b.Until(
            () => b.Has(".cm-content") && b.Find("#sheet-counts").Text.Contains("reads well", StringComparison.Ordinal),
            "the start is not drawn"
        );
        b.Has("#sheet-drawing [data-tag=H1]").ShouldBeTrue();
        b.Click(() => b.Find(".cm-content"));
        b.Driver.ExecuteScript("zoltricEditor.set(document.getElementById('sheet-text').value.trimEnd())");
        b.Driver.ExecuteScript("var v = zoltricEditor.view; v.dispatch({ selection: { anchor: v.state.doc.length } }); v.focus()");
        Type(b, Keys.Enter + "part H2 lamp 12V 5W \"dash lamp\"" + Keys.Enter + "path S1.2 - H2 - G1.- " + Keys.Enter + "path F9.2 - H2.1");
        b.Until(
            () => b.Has(".cm-lintRange-error") && b.Find("#sheet-problems").Text.Contains("F9", StringComparison.Ordinal),
            "the unknown tag is not marked"
        );
        b.Shot("sheet");
        b.Driver.ExecuteScript(
            """
            var v = zoltricEditor.view, at = v.state.doc.toString().lastIndexOf("F9");
            v.dispatch({ selection: { anchor: at + 1 } }); v.focus();
            """
        );
        new Actions(b.Driver).KeyDown(Keys.Alt).SendKeys(Keys.Enter).KeyUp(Keys.Alt).Perform();
        b.Until(
            () => b.Find("#sheet-text").GetAttribute("value")!.Contains("path F1.2 - H2.1", StringComparison.Ordinal),
            "the suggestion was not taken"
        );
        b.Driver.ExecuteScript("var v = zoltricEditor.view; v.dispatch({ selection: { anchor: v.state.doc.length } }); v.focus()");
        Type(b, Keys.Enter + "path H2.");
        b.Until(() => b.Has(".cm-tooltip-autocomplete li"), "no terminals offered");
        b.All(".cm-tooltip-autocomplete li").Select(l => l.Text[0]).ShouldContain('1');
        Type(b, Keys.Escape + "2 - G1.-");
        b.Until(() => b.Has("#sheet-drawing [data-tag=H2]"), "the drawing did not follow");
        // A half drawn the other way round is put right by its button.
        Type(
            b,
            Keys.Enter
                + "part X9 connector 2 \"plug\""
                + Keys.Enter
                + "part H3 lamp 12V 5W"
                + Keys.Enter
                + "path S1.2 - X9:1 - H3 - X9:2 - G1.- "
        );
        b.Until(() => b.All(".problems .mend").Any(m => m.Text.Contains("X9:2<", StringComparison.Ordinal)), "no button mends it");
        b.Click(() => b.All(".problems .mend").First(m => m.Text.Contains("X9:2<", StringComparison.Ordinal)));
        b.Until(
            () => b.Find("#sheet-text").GetAttribute("value")!.Contains("H3 - X9:2< - G1.-", StringComparison.Ordinal),
            "the button wrote nothing"
        );
        b.Until(() => !b.All(".problems .mend").Any(m => m.Text.Contains("X9:2<", StringComparison.Ordinal)), "the warning stands still");
        server.Said.ShouldNotContain("Exception");
    }

    [Fact]
    public void A_sheet_corrected_in_the_middle_of_a_job_keeps_every_reading()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.Click(() => b.All(".jobs a").Single(a => a.Text.Contains("engine does not crank", StringComparison.Ordinal)));
        b.Until(() => b.Has("#order"), "no order");
        Technician.MakeSafe(b);
        b.Find("#text").SendKeys("key=START : V K1.86 = 0.1V" + Keys.Enter);
        b.Until(() => b.All(".log li").Count == 2, "not kept");
        b.Click(() => b.All("a").First(a => a.Text == "Correct the sheet"));
        b.Until(() => b.Has(".cm-content"), "no editor");
        var text = b.Find("#sheet-text").GetAttribute("value")!;
        // A correction that would lose a reading keeps the job where it is and says so.
        b.Driver.ExecuteScript("zoltricEditor.set(arguments[0])", text.Replace("K1", "K7", StringComparison.Ordinal));
        b.Click(() => b.All("button").Single(x => x.Text == "Keep and go on tracing"));
        b.Until(() => b.Has(".sheet-side .found"), "nothing said of the readings");
        b.Find(".sheet-side .found").Text.ShouldContain("would be lost");
        b.Driver.ExecuteScript(
            "zoltricEditor.set(arguments[0])",
            text.Replace("\"neutral switch\"", "\"neutral switch, left\"", StringComparison.Ordinal)
        );
        b.Click(() => b.All("button").Single(x => x.Text == "Keep and go on tracing"));
        b.Until(() => b.Has("#order"), "not back at the trace");
        b.All(".log li").Count.ShouldBe(2);
        b.Has(".newer").ShouldBeFalse("the job is on the newest sheet");
        new Technician(server, b, SheetOf(server, b), "S2 open").Trace().ShouldBeLessThanOrEqualTo(14);
        b.Find(".order .found").Text.ShouldContain("neutral switch, left");
        b.Driver.Navigate().GoToUrl(b.All("a").First(a => a.Text == "Correct the sheet").GetAttribute("href")!);
        b.Click(() => b.All(".steps a").Single(a => a.Text == "Versions"));
        b.Until(() => b.Has(".diff"), "no differences");
        b.Find(".diff .inserted").Text.ShouldContain("neutral switch, left");
        b.Shot("versions");
    }
}
