using Zoltric.Core.Diagnosis.Explanation;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// A machine that wakes while a place is moved has its trouble there; a part in hand is not mistaken for another; a code is told by a
/// module that lives. Common practice, no source.
/// </summary>
public sealed class MovedAndAloneTests
{
    /// <summary>A wagon with a controller, a valve that it drives, a level sender and a heater of its own.</summary>
    private const string Wagon = """
        sheet "Feed wagon"
        nominal 12V dc
        control key: OFF*, RUN
        control heat: OFF*, ON
        given engine: STOPPED*, RUNNING
        part G1 battery 12V emf=12.6V internal=12mohm at "tray"
        part G2 charger 14.2V when engine=RUNNING at "engine"
        part Q1 isolator at "step"
        part F1 fuse 15A blade "heater fuse" at "panel"
        part F2 fuse 10A blade "controller fuse" at "panel"
        part S1 switch "key switch" at "dash"
          closed 1-2 when key=RUN
        part S2 switch "heater switch" at "dash"
          closed 1-2 when heat=ON
        part X1 connector 4 "hitch plug" at "hitch"
        part E1 heater 12V 100W "mirror heater" at "mirror"
        part A1 module "feed controller" at "cab wall"
          supply 1 ground 2
          input 3 high>6V
          output 4 high 100mohm when powered and in3
          bus 5,6 traffic=5%
        part A2 module "scale" at "cab roof"
          supply 1 ground 2
          bus 3,4 traffic=5%
        part E3 terminator at "cab wall"
        part E4 terminator at "cab roof"
        part B1 switch "gate switch" at "gate"
          closed 1-2 when key=RUN
        part Y1 coil 12V 10ohm good 9..11ohm "gate valve" at "gate"
        part B2 sensor 500ohm good 450..550ohm "level sender" at "bin"
        part GND1 stud "frame earth" at "frame"
        path G1.+ -[w1 RD 10mm2 1m]- Q1 -[w2 RD 10mm2 1m]- F1 -[w3 RD 2.5mm2 1m]- S2 -[w4 OG 2.5mm2 3m]- X1:1 -[w5 OG 2.5mm2 3m]- E1
        path E1.2 -[w6 BK 2.5mm2 3m]- X1:2< -[w7 BK 2.5mm2 3m]- GND1
        path Q1.2 -[w8 RD 2.5mm2 1m]- S1 -[w9 RD 1.5mm2 1m]- F2 -[w10 OG 1mm2 2m]- A1.1
        path F2.2 -[w11 OG 1mm2 3m]- A2.1
        path F2.2 -[w12 OG 1mm2 4m]- B1 -[w13 GY 1mm2 4m]- A1.3
        path A1.4 -[w14 BN 1mm2 5m]- Y1 -[w15 BK 1mm2 3m]- GND1
        path F2.2 -[w16 OG 1mm2 5m]- B2 -[w17 BK 1mm2 3m]- GND1
        path A1.2 -[w18 BK 1mm2 2m]- GND1
        path A2.2 -[w19 BK 1mm2 3m]- GND1
        path A1.5 -[w20 YE 1mm2 3m]- A2.3
        path A1.6 -[w21 GN 1mm2 3m]- A2.4
        path E3.H = A1.5
        path E3.L = A1.6
        path E4.H = A2.3
        path E4.L = A2.4
        path G2.+ -[w22 RD 6mm2 2m]- Q1.2
        path G2.- = GND1
        path GND1 -[w23 BK 16mm2 1m]- G1.-
        function "mirror heats": E1 when heat=ON
        function "gate opens": Y1 when key=RUN
        function "scale lights": A2 when key=RUN
        code 7-3 "feed controller does not answer" about A1, F2, w10, w20, w21
        code 9-5 "gate valve, no current" about Y1, w14, w15
        """;

    private const string Cold = "heat=ON : sees \"mirror heats\" = dead";

    /// <summary>Share of groups of which every fault lies on these.</summary>
    private static double At(Findings f, params string[] units) =>
        f.Suspects.Where(g => g.Faults.All(x => units.Contains(x.Target))).Sum(g => g.Share);

    [Fact]
    public void What_wakes_while_the_step_is_leaned_on_is_not_loose_in_the_dash()
    {
        const string woke = "heat=ON, move \"step\" : sees \"mirror heats\" = works";
        string[] elsewhere = ["S2", "F1", "X1:1", "X1:2", "w4", "w5", "w6", "w7"];
        var f = Diagnose(Wagon, Cold, woke);
        At(f, "Q1", "w1", "w2", "w8", "w22").ShouldBeGreaterThan(At(f, elsewhere));
        f.Suspects[0].Faults[0].Words.ShouldBe("intermittent");
        // Dead again when let go of, and alive again: that is no repeat of one reading.
        var again = Diagnose(Wagon, Cold, woke, Cold, woke);
        At(again, elsewhere).ShouldBeLessThan(0.5 * At(f, elsewhere));
    }

    [Fact]
    public void A_new_fuse_that_goes_while_the_hitch_is_moved_names_what_ends_there()
    {
        var f = Diagnose(
            Wagon,
            Cold,
            " : looks F1 = bad",
            " : replaced F1",
            "heat=ON : sees \"mirror heats\" = works",
            "heat=ON, move \"hitch\" : sees \"mirror heats\" = dead",
            " : looks F1 = bad"
        );
        At(f, "w4", "w5", "w6", "w7", "X1:1", "X1:2").ShouldBeGreaterThan(0.7);
        At(f, "w3", "E1", "S2").ShouldBeLessThan(0.2);
    }

    [Fact]
    public void What_works_again_without_a_new_fuse_was_no_short()
    {
        const string across = "heat=ON : drop F1 = ";
        var f = Diagnose(Wagon, Cold, across + "12.5V", "heat=ON : sees \"mirror heats\" = works", across + "0.04V", across + "12.4V");
        At(f, "F1").ShouldBeGreaterThan(0.6);
        f.Suspects[0].Faults[0].Target.ShouldBe("F1");
    }

    [Fact]
    public void An_active_code_of_a_load_leaves_its_module_alive()
    {
        string[] lines = [" : code 9-5 = active", "key=RUN : V Y1.1 = 12.2V", "key=RUN : V Y1.2 = 12.1V"];
        var f = Diagnose(Wagon, lines);
        At(f, "w15").ShouldBeGreaterThan(5 * At(f, "GND1", "w23"));
    }

    [Fact]
    public void A_module_that_does_not_answer_is_not_silenced_by_its_gate_switch_or_its_valve()
    {
        var f = Diagnose(Wagon, " : code 7-3 = active");
        At(f, "B1", "w12", "w13", "Y1", "w14", "w15").ShouldBeLessThan(0.1);
        At(f, "A1", "F2", "w10", "w18", "w20", "w21", "E3", "E4").ShouldBeGreaterThan(0.6);
    }

    [Theory]
    [InlineData("off G1, unplug B2 : ohm B2.1 B2.2 = 380ohm", "B2")]
    [InlineData("off G1, unplug Y1 : ohm Y1.1 Y1.2 = 6.5ohm", "Y1")]
    public void A_part_in_hand_that_reads_below_the_makers_range_leads(string line, string part) =>
        Diagnose(Wagon, line).Suspects[0].Faults.ShouldAllBe(x => x.Target == part);

    [Fact]
    public void More_than_any_point_of_the_machine_has_is_the_regulator()
    {
        var f = Diagnose(Wagon, "engine=RUNNING : V G1.+ G1.- = 16.4V");
        f.Suspects[0].Faults.ShouldContain(x => x.Target == "G2" && x.Words == "high");
        f.Suspects[0].Share.ShouldBeGreaterThan(4 * f.Suspects[1].Share);
    }

    [Fact]
    public void What_a_new_part_cures_was_drawn_right()
    {
        string[] before =
        [
            "heat=ON : sees \"mirror heats\" = dead",
            "heat=ON : V S2.1 = 12.4V",
            "heat=ON : V S2.2 = 0.4V",
            " : replaced S2",
        ];
        var f = Diagnose(Wagon, [.. before, "heat=ON : sees \"mirror heats\" = works"]);
        At(f, "S2").ShouldBeGreaterThan(0.85);
        f.OffSheet.ShouldBeLessThan(0.7 * Diagnose(Wagon, before).OffSheet);
    }
}
