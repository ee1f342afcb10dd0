namespace Zoltric.Web.Tests;

/// <summary>The trainer in a browser: an exercise from start to review, one that is unsafe, one that an instructor writes.</summary>
public sealed class TrainerScreenTests
{
    private static void Open(Browser b, ServerProcess server, string title)
    {
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
        b.Click(
            b.All(".exercises li")
                .First(l => l.Text.Contains(title, StringComparison.Ordinal))
                .FindElement(OpenQA.Selenium.By.TagName("button"))
        );
        b.Until(() => b.Has("#what"), "not at work");
    }

    private static string Do(Browser b, string what)
    {
        var stood = b.Find("#work").Text;
        b.Driver.ExecuteScript("document.getElementById('what').value = arguments[0]", what);
        b.Click(() => b.Find(".act-form button"));
        b.Until(() => b.Find("#work").Text != stood, $"nothing came of {what}");
        return b.Find("#work").Text;
    }

    private static void Fits(Browser b) =>
        ((long)b.Driver.ExecuteScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth")!).ShouldBe(0);

    /// <summary>
    /// By touch alone: a control where it is drawn, both tips on the drawing or on the points of a picture of the place; the line they make
    /// can be read, and is what is done.
    /// </summary>
    [Fact]
    public void Tips_are_laid_on_the_drawing_and_on_the_picture_of_a_place()
    {
        using var server = new ServerProcess();
        OneHandTests.KeepPictures(server, "QS-5", "face of X2");
        using var b = new Browser(390, 844, phone: true);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        Open(b, server, "Volts that nothing draws");
        Do(b, "safe");
        string Line() => b.Find("#what").GetAttribute("value")!;
        void Tap(string css) =>
            b.Driver.ExecuteScript("arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", b.All(css)[0]);
        Tap(".machine-drawing [data-control='key']");
        Line().ShouldStartWith("brush=ON :", Case.Sensitive, "the key is off again");
        Tap(".machine-drawing [data-control='key']");
        Tap(".machine-drawing .tip[data-terminal='Y1.1']");
        Line().ShouldBe("brush=ON key=RUN : V Y1.1");
        b.Find("#touched").Text.ShouldBe("red on Y1.1, black on the return");
        b.Driver.ExecuteScript("arguments[0].scrollIntoView({block: 'center'})", b.Find(".machine-places"));
        b.All(".machine-places img").Count.ShouldBe(1);
        b.Click(() => b.All("[data-touch='X2:1b']")[0]);
        Line().ShouldBe("brush=ON key=RUN : V Y1.1 X2:1b");
        b.Click(() => b.All("[data-touch='X2:1a']")[0]);
        Line().ShouldBe("brush=ON key=RUN : V X2:1a", "the third tip begins anew");
        Fits(b);
        b.Shot("trainer-touch");
        b.Says("#touch-bar code").ShouldBe(Line());
        b.Click("#touch-bar button");
        b.Until(() => b.Says("#work").Contains("X2:1a: 12", StringComparison.Ordinal), "nothing was read");
        b.NothingOnTheConsole();
    }

    /// <summary>
    /// What is not understood stays in its field; a part bought in vain is on the bill; the review has each reading and each way of
    /// working;
    /// the exercise is solved from then on, in the list and in the group's table.
    /// </summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void An_exercise_is_worked_to_its_review(int width, int height)
    {
        using var server = new ServerProcess();
        using var b = new Browser(width, height, phone: width < 600);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
        b.All(".exercises li").Count.ShouldBe(26);
        Fits(b);
        Open(b, server, "Volts that nothing draws");
        Do(b, "key=RUN brush=ON : V Y9.1").ShouldContain("Y9");
        b.Find("#what").GetAttribute("value").ShouldBe("key=RUN brush=ON : V Y9.1");
        Do(b, "safe");
        Do(b, "key=RUN brush=ON, unplug X2 : V X2:1").ShouldContain("12.6 V");
        Do(b, "replace Y1").ShouldContain("rough price 45");
        Do(b, "key=RUN brush=ON : drop X2:1").ShouldContain("7.45 V");
        Fits(b);
        b.Driver.Navigate().Refresh();
        b.All(".acts-done li").Count.ShouldBe(4, "the place is kept");
        Do(b, "found X2:1 80%").ShouldContain("Found");
        b.Find(".bill").Text.ShouldContain("1, rough price 45");
        b.Find(".bill").Text.ShouldContain("80 %");
        b.Until(() => b.Has(".schools"), "the ways of working were not played");
        b.All(".schools tbody tr").Count.ShouldBe(4);
        b.All(".reviewed li").Count.ShouldBe(2);
        b.All(".reviewed li")[^1].GetAttribute("data-told").ShouldBe("useful");
        // Gone through again: the lane as it was known at each reading.
        b.Until(() => b.Has("#replay [data-after]"), "nothing to look back at");
        b.Find("#replay h2").Text.ShouldContain("the complaint");
        b.Click("#replay [data-after]");
        b.Until(() => b.Find("#replay h2").Text.Contains("reading 1 of 2", StringComparison.Ordinal), "it stays at the complaint");
        b.Click("#replay [data-after]");
        b.Until(() => !b.Has("#replay [data-after]"), "there is no third");
        b.Find("#replay .told").Text.ShouldContain("drop X2:1");
        b.Find("#replay svg.lane").GetAttribute("aria-label")!.ShouldStartWith("Lane");
        b.Find("#replay .left").Text.ShouldContain("the hidden one");
        b.NothingOnTheConsole();
        Fits(b);
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
        b.All(".exercises li")
            .First(l => l.Text.Contains("Volts that nothing draws", StringComparison.Ordinal))
            .Text.ShouldContain("✓ found");
        b.All(".skills li").First(l => l.Text.Contains("unloaded volts deceive", StringComparison.Ordinal)).Text.ShouldContain("1 of 1");
        // On paper the answer is sealed, and is that of the machine.
        b.Click(() => b.All(".exercises a").First(a => a.Text == "on paper"));
        b.Until(() => b.Has(".paper-exercise"), "no paper");
        b.Find(".paper-sheet").Text.ShouldNotContain("F1 blown");
        b.Find(".sealed strong").Displayed.ShouldBeFalse();
        b.Click(() => b.Find(".sealed summary"));
        b.All(".answers-table tbody tr").Count.ShouldBeGreaterThan(10);
        Fits(b);
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer/group");
        b.Find(".group").Text.ShouldContain("Tamsin Reke");
        Fits(b);
    }

    [Fact]
    public void What_would_hurt_stops_it_and_is_due_again()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        Open(b, server, "Turns, no heat");
        Do(b, "safe");
        Do(b, "off T0 : ohm E1").ShouldContain("Stopped");
        b.Find(".problem").Text.ShouldContain("proved dead");
        b.Find(".found").Text.ShouldContain("heater");
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
        b.Find(".exercises li").Text.ShouldContain("stopped: unsafe");
        b.Find("h1").Text.ShouldBe("Due again");
    }

    [Fact]
    public async Task An_instructor_writes_one_and_its_code_starts_it()
    {
        using var server = new ServerProcess();
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Orla Venn");
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer/write");
        b.Driver.ExecuteScript(
            "var m = document.querySelector('[name=Machine]'); m.value = [...m.options].find(o => o.text.includes('SL-9')).value;"
                + "document.querySelector('[name=Text]').value = arguments[0]",
            "exercise \"The quiet horn\"\nsheet SL-9\nteaches \"coil or feed\"\ncomplaint \"horn sounds\" weak\nfault w22 open\n"
                + "lesson \"x\""
        );
        b.Click(() => b.Find("button.go"));
        b.Until(() => b.Has(".problem"), "an exercise that the machine does not show was taken");
        b.Find(".problem").Text.ShouldContain("is dead, and not weak");
        b.Driver.ExecuteScript("var t = document.querySelector('[name=Text]'); t.value = t.value.replace('weak', 'dead')");
        b.Click(() => b.Find("button.go"));
        b.Until(() => b.Has(".code"), "not kept");
        var code = b.Find(".code").Text;
        b.Driver.Navigate().GoToUrl(server.Address + "/trainer");
        b.Find("[name=code]").SendKeys(code);
        b.Click(() => b.Find(".code-form button"));
        b.Until(() => b.Has("#what"), "the code starts nothing");
        Do(b, "safe");
        Do(b, "found w22").ShouldContain("Found");
        var csv = await server.Client.GetStringAsync("/trainer/group?handler=Csv", TestContext.Current.CancellationToken);
        csv.ShouldContain("Orla Venn,The quiet horn");
    }
}
