using Zoltric.Core.Notation;
using Zoltric.Store;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Tests;

/// <summary>What people say and are told: complaints find their function, reports speak plainly and by the workshop's clock.</summary>
public sealed class WordingTests
{
    private static readonly string[] Lift = ["platform rises", "platform lowers", "power lamp lights"];
    private static readonly string[] Truck = ["engine cranks", "charges", "left headlamp lights", "sleeps"];

    [Theory]
    [InlineData("lift will not lower", "platform lowers")]
    [InlineData("won't go up", "platform rises")]
    [InlineData("the platform does not descend any more", "platform lowers")]
    [InlineData("it does something odd", null)]
    public void A_complaint_finds_what_it_is_about_on_a_lift(string said, string? function) =>
        ComplaintMatch.Find(said, Lift).ShouldBe(function);

    [Theory]
    [InlineData("no crank", "engine cranks")]
    [InlineData("engine will not start", "engine cranks")]
    [InlineData("battery flat by morning", "sleeps")]
    [InlineData("alternator does nothing", "charges")]
    [InlineData("left light out", "left headlamp lights")]
    public void A_complaint_finds_what_it_is_about_on_a_truck(string said, string? function) =>
        ComplaintMatch.Find(said, Truck).ShouldBe(function);

    [Fact]
    public void Times_are_those_of_the_workshop_s_clock()
    {
        var east = TimeZoneInfo.CreateCustomTimeZone("east", TimeSpan.FromHours(3), "east", "east");
        ReportWords.When("2026-08-05T22:45:00Z", east).ShouldBe("6 Aug 2026, 01:45");
        ReportWords.When("soon", east).ShouldBe("soon");
    }

    [Fact]
    public void What_was_shown_is_said_without_notation_to_the_customer()
    {
        var circuit = SheetReader.Read(File.ReadAllText(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PR-3.sheet"))).Value!;
        string Say(string kind, string item, bool customer) =>
            ReportWords.Shown(
                circuit,
                new VerificationRow
                {
                    Item = item,
                    Kind = kind,
                    Passed = true,
                },
                customer
            );
        Say("interlock", "interlock gear=ENGAGED stops engine cranks", true).ShouldBe("with gear ENGAGED, “engine cranks” stays off");
        Say("reading", "reading off G1, unplug S2 : ohm S2", true).ShouldBe("ohms measured again at neutral switch");
        Say("reading", "reading off G1, unplug S2 : ohm S2", false).ShouldBe("reading off G1, unplug S2 : ohm S2");
        Say("function", "function engine cranks", true).ShouldBe("engine cranks");
    }
}
