using Zoltric.Core.Diagnosis.Explanation;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Readings as a battery gives them that is worked while it is measured, a string of joints of which one is proved, and a fuse that was
/// blown by what lies behind it.
/// </summary>
public sealed class SaggingSupplyTests
{
    private const string Mower = """
        sheet "Kelp mower: lift and start"
        nominal 12V dc
        control key: OFF*, RUN, START held
        control lever: MID*, UP held
        given brake: ON*, OFF
        given seat: SAT*, EMPTY
        part G1 battery 12V emf=12.7V internal=9mohm
        part F1 fuse 30A blade
        part F2 fuse 15A blade
        part S1 switch "key switch"
          closed 30-15 when key=RUN or key=START
          closed 30-50 when key=START
        part B1 limit "brake switch" safety
          closed 1-2 when brake=ON
        part B2 limit "seat switch" safety
          closed 1-2 when seat=SAT
        part S2 switch "lift lever"
          closed 1-2 when lever=UP
        part X1 connector 6
        part X2 connector 4
        part K1 relay 12V 85ohm
        part M1 starter 12V 160A solenoid=0.5ohm pullin=7.5V
        part Y1 coil 12V 18W
        part H1 lamp 12V 5W
        part GND2 stud
        part SP1 splice
        path G1.+ -[w1 35mm2 1m]- M1.B
        path M1.B -[w2 6mm2 1.5m]- F1 -[w3 4mm2 0.5m]- X1:1 -[w4 4mm2 1m]- S1.30
        path S1.50 -[w5 1.5mm2 1m]- X1:2< -[w6 1.5mm2 1m]- B1 -[w7 1.5mm2 1m]- B2 -[w8 1.5mm2 1.5m]- K1.86>85 -[w9 1.5mm2 0.5m]- GND2
        path F1.2 -[w10 4mm2 0.3m]- K1.30>87 -[w11 4mm2 2m]- M1.S
        path S1.15 -[w12 2.5mm2 1m]- X1:3< -[w13 2.5mm2 0.5m]- F2 -[w14 2.5mm2 1m]- SP1
        path SP1 -[w15 1.5mm2 1m]- S2.1
        path S2.2 -[w16 1.5mm2 2m]- X2:1 -[w17 1.5mm2 0.5m]- Y1 -[w18 1.5mm2 0.5m]- X2:3< -[w19 1.5mm2 2m]- GND2
        path SP1 -[w24 1mm2 0.5m]- H1 -[w25 1mm2 0.5m]- GND2
        path M1.G -[w26 35mm2 0.6m]- G1.-
        path GND2 -[w27 10mm2 0.5m]- G1.-
        function "cranks": M1 when key=START and brake=ON and seat=SAT
        function "rises": Y1 when key=RUN and lever=UP
        function "lamp lights": H1 when key=RUN
        """;

    private static Findings Diagnose(params string[] lines) => Diagnosing.Diagnose(Mower, lines);

    /// <summary>The key was left on: each reading is two tenths under the one before, and the last is nothing.</summary>
    [Fact]
    public void A_battery_that_sags_from_reading_to_reading_is_followed()
    {
        var f = Diagnose(
            " : V G1.+ G1.- = 12.6V",
            "key=RUN lever=UP : sees \"rises\" = dead",
            "key=RUN : V SP1 = 12.3V",
            "key=RUN lever=UP : V S2.1 = 12.1V",
            "key=RUN lever=UP : V S2.2 = 11.8V",
            "key=RUN lever=UP : V X2:1b = 11.6V",
            "key=RUN lever=UP : V Y1.1 = 0V"
        );
        Diagnosing.Share(f, "w17", "X2:1").ShouldBeGreaterThan(0.6);
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    /// <summary>What is lost before a relay is lost behind the switch that was read whole: not the whole string has aged.</summary>
    [Fact]
    public void A_joint_that_loses_nothing_is_not_one_of_an_aged_string()
    {
        var f = Diagnose(
            "key=START : sees \"cranks\" = dead",
            "key=START : hears K1 = silent",
            " : V G1.+ G1.- = 12.5V",
            "key=START : V K1.86 = 6.6V",
            "key=START : V S1.50 = 12.2V"
        );
        string.Join(' ', f.Suspects[0].Words).ShouldNotContain("S1");
        Diagnosing.Share(f, "X1:2", "w5", "w6", "B1", "w7", "B2", "w8").ShouldBeGreaterThan(0.6);
    }

    /// <summary>By hand: an eighth of the others' ohms is (ln 8 / 0.5)² / 2 less probable, where the line has 1.75² / 2.</summary>
    [Fact]
    public void Joints_stray_by_factors()
    {
        var joints = new Core.Diagnosis.Observation.Joints(2);
        joints.Shortfall.ShouldBe(0);
        // A volt of the first alone, read so well that it is believed whole.
        var learnt = joints.Learn([1, 0], -1.75, 1, 1);
        learnt.Shortfall.ShouldBe((Math.Pow(Math.Log(8) / 0.5, 2) - 1.75 * 1.75) / 2, 1e-9);
        joints.Learn([1, 0], 1.75, 1, 1).Shortfall.ShouldBe(0);
    }

    [Fact]
    public void What_blew_a_fuse_is_named_with_the_fuse_it_blew_and_no_other()
    {
        var f = Diagnose(
            "key=RUN : sees \"lamp lights\" = dead",
            "key=RUN lever=UP : sees \"rises\" = dead",
            " : looks F2 = bad",
            "off G1, pull F2 : ohm SP1 G1.- = 0.4ohm"
        );
        foreach (var words in f.Suspects[0].Words)
            words.ShouldMatch("^(w14|w15|w24|SP1|H1) .*\\+ F2 blown$");
    }
}
