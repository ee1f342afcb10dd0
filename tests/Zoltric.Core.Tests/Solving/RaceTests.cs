using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>ConductionGraph, chatter and states that remember, told apart and named.</summary>
public class RaceTests
{
    private static OperatingPoint Run(string sheet, string setup, params string[] faults)
    {
        var c = DemoSheets.Read(sheet);
        return new Machine(c).Run(ReadingReader.ReadSetup(c, setup).Value!, [.. faults.Select(f => DemoSheets.Fault(c, f))]);
    }

    private static IReadOnlyList<string> History(string sheet, string setup, params string[] faults)
    {
        var c = DemoSheets.Read(sheet);
        return new Machine(c).DependsOnHistory(ReadingReader.ReadSetup(c, setup).Value!, [.. faults.Select(f => DemoSheets.Fault(c, f))]);
    }

    /// <summary>Each contactor's auxiliary stops the other; both buttons at once is a race, one after the other is not.</summary>
    [Fact]
    public void Both_buttons_at_once_is_a_race_that_one_wins()
    {
        var op = Run(DemoSheets.Text("RG-1"), "left=PRESSED right=PRESSED");
        op.Racing.ShouldBe(["K1", "K2"]);
        op.Chattering.ShouldBeEmpty();
        op.PulledIn(Part(op, "K1")).ShouldNotBe(op.PulledIn(Part(op, "K2")));
        var second = Run(DemoSheets.Text("RG-1"), "right=PRESSED, left=PRESSED");
        second.Racing.ShouldBeEmpty();
        second.PulledIn(Part(second, "K2")).ShouldBeTrue();
    }

    [Fact]
    public void With_both_buttons_down_the_state_remembers_which_was_first()
    {
        History(DemoSheets.Text("RG-1"), "left=PRESSED").ShouldBeEmpty();
        // A pump that was started runs on; one that was not stands.
        History(DemoSheets.Text("BP-2"), "").ShouldBe(["K1", "K2"]);
        History(HoldIn, "").ShouldBe(["K1"]);
        History(HoldIn, "", "K1 contact 13-14 open").ShouldBeEmpty();
    }

    private const string HoldIn = """
        sheet "hold-in"
        nominal 24V dc
        control start: OUT*, PRESSED held
        part G1 battery 24V
        part S1 button
          closed 1-2 when start=PRESSED
        part K1 contactor 24V 4W
        part H1 lamp 24V 5W
        path G1.+ - S1 - K1.A1>A2 - G1.-
        path G1.+ - K1.13>14 - K1.A1
        path G1.+ - K1.1>2 - H1 - G1.-
        """;

    /// <summary>A relay that opens its own feed never rests, alone as it is.</summary>
    [Fact]
    public void A_relay_over_its_own_break_contact_chatters_and_does_not_race()
    {
        var op = Run(
            """
            sheet "buzzer"
            nominal 12V dc
            part G1 battery 12V
            part K1 relay 12V
            part K2 relay 12V
            path G1.+ - K1.30>87a - K1.86>85 - G1.-
            path G1.+ - K2.86>85 - G1.-
            """,
            ""
        );
        op.Chattering.ShouldBe(["K1"]);
        op.Racing.ShouldBeEmpty();
    }

    /// <summary>Two like relays on one feed move together and nothing hangs on which is first.</summary>
    [Fact]
    public void Relays_that_do_not_touch_each_other_are_no_race()
    {
        var op = Run(
            """
            sheet "pair"
            nominal 12V dc
            part G1 battery 12V
            part K1 relay 12V
            part K2 relay 12V
            path G1.+ - K1.86>85 - G1.-
            path G1.+ - K2.86>85 - G1.-
            """,
            ""
        );
        op.Racing.ShouldBeEmpty();
        op.Chattering.ShouldBeEmpty();
        op.PulledIn(Part(op, "K2")).ShouldBeTrue();
    }

    private static int Part(OperatingPoint op, string tag) => op.Circuit.Parts.ToList().FindIndex(p => p.Tag == tag);
}
