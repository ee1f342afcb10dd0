using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>A technician at a machine with a known fault: reads what the order asks for from the machine's own simulation.</summary>
public sealed class Technician(ServerProcess server, Browser b, string sheet, params string[] faults)
{
    public (double? Value, string Text) Read(string line) => Simulate(server, sheet, line, faults);

    /// <summary>What the meter shows on a machine with these faults.</summary>
    public static (double? Value, string Text) Simulate(ServerProcess server, string sheet, string line, params string[] faults)
    {
        using var response = server
            .Client.PostAsJsonAsync(
                "/api/v1/simulate",
                new
                {
                    sheet,
                    faults,
                    lines = new[] { line },
                }
            )
            .Result;
        response.IsSuccessStatusCode.ShouldBeTrue(response.Content.ReadAsStringAsync().Result);
        var result = response.Content.ReadFromJsonAsync<JsonElement>().Result.GetProperty("results")[0];
        var value = result.GetProperty("value");
        return (value.ValueKind == JsonValueKind.Number ? value.GetDouble() : null, result.GetProperty("text").GetString()!);
    }

    /// <summary>Told of each round of proving dead, with its pairs.</summary>
    public Action<int>? Swept { get; init; }

    public string Order => b.Find("#order").GetAttribute("data-line")!;

    /// <summary>Obeys orders until a fault is found; the number of readings it took.</summary>
    /// <param name="answer">How one reading is put in.</param>
    public int Trace(Action<string, double?, string> answer, int most = 25)
    {
        var n = 0;
        while (!b.Has(".order .found") && n++ < most)
        {
            if (MakeSafe(b) is > 0 and var pairs)
                Swept?.Invoke(pairs);
            var line = Order;
            var (value, text) = Read(line);
            answer(line, value, text);
            b.Until(() => !b.Has("#order") || Order != line || b.Has(".order .found"), $"no new order after {line}");
        }
        b.Has(".order .found").ShouldBeTrue($"nothing found after {n} readings");
        return n;
    }

    /// <summary>Says what must be said before the test in hand, and locks and proves dead where that is asked.</summary>
    /// <returns>Pairs read to prove it dead; 0 where nothing had to be.</returns>
    public static int MakeSafe(Browser b)
    {
        if (b.Has("[data-gate]"))
        {
            b.Click(() => b.Find("[data-gate]"));
            b.Until(() => !b.Has("[data-gate]"), "what was said is asked again");
        }
        if (!b.Has("#gate a.go"))
            return 0;
        var back = b.Driver.Url;
        b.Click(() => b.Find("#gate a.go"));
        b.Until(() => b.Has("#step"), "no place to record the lock");
        var pairs = LockAndProveDead(b);
        b.Driver.Navigate().GoToUrl(back);
        b.Has("#gate a.go").ShouldBeFalse("locked and proved dead, and still asked");
        return pairs;
    }

    /// <summary>On the safe screen: lock, tester live, every pair dead, tester live.</summary>
    /// <returns>Pairs read.</returns>
    public static int LockAndProveDead(Browser b)
    {
        for (var lockNumber = 14; b.Find("#step").GetAttribute("data-stage") == "Energised"; lockNumber++)
        {
            lockNumber.ShouldBeLessThan(20, "the supplies do not end");
            var supply = b.Says("#step .kicker");
            b.Fill("input[name=number]", $"{lockNumber}" + Keys.Enter);
            b.Until(() => b.Says("#step .kicker") != supply, $"no lock after {supply}");
        }
        b.Find("input[name=result]").SendKeys("230 V, bench socket" + Keys.Enter);
        b.Until(() => b.Has("#step[data-stage=TesterShown]"), "no tester");
        var pairs = 0;
        for (; b.Has("[data-dead]"); pairs++)
        {
            pairs.ShouldBeLessThan(20, "the sweep does not end");
            var before = b.Find("#step .kicker").Text;
            b.Click(() => b.Find("[data-dead]"));
            b.Until(() => !b.Has("#step .kicker") || b.Find("#step .kicker").Text != before, $"pair {pairs + 1} is not kept");
        }
        b.Find("input[name=result]").SendKeys(Keys.Enter);
        b.Until(() => b.Has("#lock-section .found"), "not proved dead");
        return pairs;
    }

    /// <summary>Types values, taps words.</summary>
    public int Trace(int most = 25) => Trace((_, value, text) => Answer(value, text), most);

    /// <summary>One reading: a value typed, a word tapped.</summary>
    public void Answer(double? value, string text)
    {
        if (value is { } v)
            b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
        else if (text == "OL")
            b.Find("#text").SendKeys("OL" + Keys.Enter);
        else
            b.Click(() => b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
    }

    /// <summary>On the repair screen: goes through the list with what the mended machine shows.</summary>
    public static void ShowMended(ServerProcess server, Browser b, string sheet)
    {
        const string open = "section:last-child .verify li:not(.passed)";
        for (var most = 60; b.All(open).Count > 0; most--)
        {
            most.ShouldBeGreaterThan(0);
            var before = b.All(open).Count;
            var item = b.Find(open);
            if (item.FindElements(By.CssSelector("input[name=result]")) is [var field, ..])
            {
                var (value, text) = Simulate(server, sheet, item.FindElement(By.CssSelector(".line")).Text);
                field.SendKeys((value is { } v ? string.Create(CultureInfo.InvariantCulture, $"{v:0.000}") : text) + Keys.Enter);
            }
            else
                b.Click(item.FindElement(By.CssSelector("button")));
            b.Until(() => b.All(open).Count < before, "something shown is not marked so");
        }
    }
}
