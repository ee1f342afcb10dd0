namespace Zoltric.Web.Tests;

/// <summary>Two people with one job open: what one keeps, the other sees.</summary>
public sealed class SharedJobTests
{
    private static int Lines(Browser b) => b.All(".log li:not(.struck)").Count;

    private static object? Top(Browser b) => b.Driver.ExecuteScript("return document.getElementById('order').getBoundingClientRect().top");

    private static bool IsTold(Browser b) => b.Find("#live").Displayed;

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
