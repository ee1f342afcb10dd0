using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Support.UI;

namespace Zoltric.Web.Tests;

/// <summary>
/// What a whole job costs the one free hand, on a phone held upright: taps and screens scrolled, counted from the bench to the closed job.
/// The goals are those that the work was planned by: a tap and no scroll a reading, two taps and half a scroll an item of the closing list,
/// twelve taps before the first order.
/// </summary>
public sealed class TapCountTests(ITestOutputHelper output)
{
    /// <summary>A thumb: brings what it needs into view if it is not, and taps it.</summary>
    private sealed class Thumb(Browser b)
    {
        /// <summary>Screens to go until the middle of an element can be tapped: 0 where it is in view and nothing lies over it.</summary>
        private const string Away = """
            const e = arguments[0], r = e.getBoundingClientRect(), x = r.left + r.width / 2, y = r.top + r.height / 2;
            const at = y > 0 && y < innerHeight ? document.elementFromPoint(x, y) : null;
            if (at && (e.contains(at) || at.contains(e) || e.labels && [...e.labels].some(l => l.contains(at)))) return 0;
            return Math.max(1, Math.ceil(Math.abs(y - innerHeight / 2) / innerHeight));
            """;

        public int Taps { get; private set; }
        public int Scrolls { get; private set; }

        /// <summary>Characters typed: no taps of ours, but time.</summary>
        public int Keys { get; private set; }

        public void Tap(IWebElement e)
        {
            Scrolls += Convert.ToInt32(b.Driver.ExecuteScript(Away, e), CultureInfo.InvariantCulture);
            Taps++;
            b.Click(e);
        }

        public void Tap(string css) => Tap(b.Find(css));

        public void Write(string css, string text)
        {
            Tap(css);
            Keys += text.Length;
            b.Find(css).SendKeys(text);
        }

        public void Choose(string css, Func<IWebElement, bool> option)
        {
            // One tap opens the phone's own list, one chooses.
            Scrolls += Convert.ToInt32(b.Driver.ExecuteScript(Away, b.Find(css)), CultureInfo.InvariantCulture);
            Taps += 2;
            var select = new SelectElement(b.Find(css));
            select.SelectByValue(select.Options.First(option).GetAttribute("value")!);
        }

        public (int Taps, int Scrolls) Since((int Taps, int Scrolls) before) => (Taps - before.Taps, Scrolls - before.Scrolls);

        public (int Taps, int Scrolls) Now => (Taps, Scrolls);
    }

    [Theory]
    [InlineData("QS-5", "brush turns", "brush does not turn", "S2 open")]
    [InlineData("PR-3", "engine cranks", "does not crank", "K1 contact 30-87 resists 3ohm")]
    public void A_whole_job_costs_few_taps_and_hardly_a_scroll(string machine, string function, string complaint, string fault)
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844, phone: true);
        var sheet = File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", machine + ".sheet"));
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        b.Driver.Navigate().Refresh();
        var thumb = new Thumb(b);

        // From the bench to the first order: the machine, the complaint, what must be said.
        thumb.Choose("#Function", o =>
            o.GetAttribute("value")!.EndsWith("|" + function, StringComparison.Ordinal)
            && GroupOf(o).Contains(machine, StringComparison.Ordinal)
        );
        thumb.Write("#Complaint", complaint);
        thumb.Tap(".start button.go");
        b.Until(() => b.Has("#order") || b.Has(".to-trace a"), "no job");
        if (!b.Has("#order"))
            thumb.Tap(".to-trace a");
        b.Until(() => b.Has("#order"), "no order");
        Gate(b, thumb);
        var intake = thumb.Now;
        output.WriteLine($"{machine}: to the first order {intake.Taps} taps, {intake.Scrolls} scrolls, {thumb.Keys} keys");

        // The trace: each answer the nearest one-key answer, else the figure.
        var (readings, figures, start) = (0, 0, thumb.Now);
        while (!b.Has(".order .found"))
        {
            readings++.ShouldBeLessThan(25);
            Gate(b, thumb);
            b.Settle();
            var line = b.Find("#order").GetAttribute("data-line")!;
            var (value, text) = Technician.Simulate(server, sheet, line, fault);
            var answers = b.All(".answer");
            var key = value is { } v
                ? answers.FirstOrDefault(a => Holds(a, v))
                : answers.Single(a => a.FindElement(By.TagName("strong")).Text == text);
            if (key is not null)
                thumb.Tap(key);
            else
            {
                figures++;
                thumb.Tap("#text");
                b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{value:0.##}"));
                thumb.Tap(".reading-bar .keep");
            }
            b.Until(
                () => !b.Has("#order") || b.Find("#order").GetAttribute("data-line") != line || b.Has(".order .found"),
                $"no new order after {line}"
            );
        }
        b.Settle();
        var traced = thumb.Since(start);
        output.WriteLine($"{machine}: {readings} readings, {figures} of them typed, {traced.Taps} taps, {traced.Scrolls} scrolls");

        // Finding and closing list.
        start = thumb.Now;
        thumb.Tap(".order .found a");
        b.Until(() => b.Has("input[name=Cause]"), "no finding form");
        thumb.Write("input[name=Cause]", "not found");
        thumb.Write("input[name=Repair]", "renewed");
        thumb.Tap(".stack button.go");
        b.Until(() => b.Has(".verify"), "no closing list");
        var found = thumb.Since(start);
        (start, var items) = (thumb.Now, 0);
        const string open = "section:last-child .verify li:not(.passed)";
        while (b.Has(open))
        {
            items++.ShouldBeLessThan(40);
            var before = b.All(open).Count;
            var item = b.Find(open);
            var asked = item.Text;
            if (item.FindElements(By.CssSelector("input[name=result]")) is [var field, ..])
            {
                var (value, text) = Technician.Simulate(server, sheet, item.FindElement(By.CssSelector(".line")).Text);
                thumb.Tap(field);
                field.SendKeys(value is { } v ? string.Create(CultureInfo.InvariantCulture, $"{v:0.000}") : text);
                thumb.Tap(item.FindElement(By.CssSelector("button")));
            }
            else
                thumb.Tap(item.FindElement(By.CssSelector("button")));
            b.Until(() => b.All(open).Count < before, $"not marked as shown: {asked}");
        }
        var shown = thumb.Since(start);
        start = thumb.Now;
        thumb.Tap("section:last-child form > button.go");
        b.Until(() => b.Has(".report"), "not closed");
        var closed = thumb.Since(start);
        output.WriteLine(
            $"{machine}: finding {found.Taps} taps, {found.Scrolls} scrolls; {items} items {shown.Taps} taps, {shown.Scrolls} scrolls; "
                + $"closing {closed.Taps}, {closed.Scrolls}; the whole job {thumb.Taps} taps, {thumb.Scrolls} scrolls"
        );
        intake.Taps.ShouldBeLessThanOrEqualTo(12);
        traced.Taps.ShouldBeLessThanOrEqualTo(readings + figures + 2, "a tap a reading, and what a first live test wants said");
        traced.Scrolls.ShouldBe(0);
        shown.Taps.ShouldBeLessThanOrEqualTo(2 * items);
        shown.Scrolls.ShouldBeLessThanOrEqualTo((items + 1) / 2);
    }

    private static string GroupOf(IWebElement option) => option.FindElement(By.XPath("..")).GetAttribute("label") ?? "";

    /// <summary>What has to be said before a test.</summary>
    private static void Gate(Browser b, Thumb thumb)
    {
        if (!b.Has("[data-gate]"))
            return;
        thumb.Tap("[data-gate]");
        b.Until(() => !b.Has("[data-gate]"), "what was said is asked again");
    }

    /// <summary>True where a one-key answer stands for a range that holds the figure.</summary>
    private static bool Holds(IWebElement answer, double value)
    {
        var given = answer.FindElements(By.XPath("../input[@name='text']")) is [var text]
            ? text.GetAttribute("value")!.Split(" = ")[^1]
            : "";
        return given.Split("..") is [var low, var high]
            && double.TryParse(low, NumberStyles.Float, CultureInfo.InvariantCulture, out var from)
            && double.TryParse(high.TrimEnd('V', 'A', 'o', 'h', 'm'), NumberStyles.Float, CultureInfo.InvariantCulture, out var to)
            && from <= value
            && value <= to;
    }
}
