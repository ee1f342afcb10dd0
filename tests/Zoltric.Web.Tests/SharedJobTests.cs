namespace Zoltric.Web.Tests;

/// <summary>Two people with one job open: what one keeps, the other sees.</summary>
public sealed class SharedJobTests
{
    private static int Lines(Browser b) => b.All(".log li:not(.struck)").Count;

    private static object? Top(Browser b) => b.Driver.ExecuteScript("return document.getElementById('order').getBoundingClientRect().top");

    private static bool IsTold(Browser b) => b.Find("#live").Displayed;

    /// <summary>
    /// A lock that another puts on, and a finding that another keeps, are seen on Safe and Repair; nothing moves under a hand that works
    /// there, and what is typed stays.
    /// </summary>
    [Fact]
    public void Locks_and_findings_of_others_appear_on_the_screens_that_show_them()
    {
        using var server = new ServerProcess();
        using var one = new Browser(390, 844, phone: true);
        one.Driver.Navigate().GoToUrl(server.Address);
        one.As("Tamsin Reke");
        var job = one.All(".jobs a").Single(a => a.Text.Contains("TD-2", StringComparison.Ordinal)).GetAttribute("href")!;
        var safe = job.Split('?')[0].Replace("/trace", "/safe", StringComparison.Ordinal);
        one.Driver.Navigate().GoToUrl(safe);
        using var other = new Browser(1280, 800);
        other.Driver.Navigate().GoToUrl(server.Address);
        other.As("Orla Venn");
        other.Driver.Navigate().GoToUrl(safe);
        other.Fill("input[name=number]", "27" + OpenQA.Selenium.Keys.Enter);
        other.Until(() => other.Has("#lock-off"), "no lock");
        one.Until(
            () => one.Has("#others-locks") && one.Says("#safety-state").Contains("Orla Venn (27)", StringComparison.Ordinal),
            "not seen"
        );
        // A hand that types is not taken by surprise.
        one.Fill("input[name=number]", "31");
        other.Click(() => other.Find("#lock-off"));
        other.Until(() => !other.Has("#lock-off"), "the lock is still on");
        one.Until(() => IsTold(one), "not told");
        one.Find("input[name=number]").GetAttribute("value").ShouldBe("31");
        one.Click("[data-show-live]");
        one.Until(() => !one.Has("#others-locks"), "the lock that was taken off is still shown");
        // On Repair too.
        one.Driver.Navigate().GoToUrl(safe.Replace("/safe", "/repair", StringComparison.Ordinal));
        one.Until(() => one.Says("#safety-state").Length > 0, "no repair");
        other.Fill("input[name=number]", "28" + OpenQA.Selenium.Keys.Enter);
        other.Until(() => other.Has("#lock-off"), "no second lock");
        one.Until(() => one.Says("#safety-state").Contains("Orla Venn (28)", StringComparison.Ordinal), "not seen on Repair");
        one.NothingOnTheConsole();
    }

    [Fact]
    public void Who_watches_sees_a_reading_at_once_and_who_has_the_job_is_told_and_keeps_the_order()
    {
        using var server = new ServerProcess();
        using var hand = new Browser(390, 844, phone: true);
        hand.Driver.Navigate().GoToUrl(server.Address);
        hand.As("Tamsin Reke");
        hand.Click(() => hand.All(".jobs a").Single(a => a.Text.Contains("brush does not turn", StringComparison.Ordinal)));
        hand.Until(() => hand.Has("#order"), "no order");
        if (hand.Has(".hand button"))
        {
            hand.Click(() => hand.Find(".hand:not(.repeats) button"));
            hand.Until(() => !hand.Has(".hand:not(.repeats)"), "not taken over");
        }
        Technician.MakeSafe(hand);
        using var seat = new Browser(1280, 800);
        seat.Driver.Navigate().GoToUrl(server.Address);
        seat.As("Orla Venn");
        seat.Driver.Navigate().GoToUrl(hand.Driver.Url);
        var before = Lines(seat);
        hand.Click(() => hand.All(".answer")[0]);
        hand.Until(() => Lines(hand) == before + 1, "not kept");
        seat.Until(() => Lines(seat) == before + 1, "the one at the seat did not see it");
        IsTold(hand).ShouldBeFalse("told of one's own reading");
        // The one at the seat says what was seen there; the order in hand stays until it is asked for.
        var order = hand.Find("#order").Text;
        Technician.MakeSafe(seat);
        seat.Click(() => seat.All(".answer")[0]);
        seat.Until(() => Lines(seat) == before + 2, "not kept from the seat");
        var stands = Top(hand);
        hand.Until(() => IsTold(hand), "the one at the machine is not told");
        Top(hand).ShouldBe(stands, "the order moved under the thumb");
        hand.Find("#order").Text.ShouldBe(order);
        Lines(hand).ShouldBe(before + 1);
        hand.Click(() => hand.Find("[data-show-live]"));
        hand.Until(() => Lines(hand) == before + 2, "not shown");
        IsTold(hand).ShouldBeFalse();
    }
}
