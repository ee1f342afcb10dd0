using Zoltric.Core.Diagnosis.Explanation;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Volts lost on the way home, with and without their sign, and what chatters, on invented circuits; common practice, no source.
/// </summary>
public class WayHomeTests
{
    private const string Charging = """
        sheet "Bark truck BT-4: charging"
        nominal 24V dc
        drawn from traced
        reference G1.-
        control key: OFF*, ON
        control lights: OFF*, ON
        given engine: STOPPED*, RUNNING
        part G1 battery 24V internal=10mohm "batteries" at "left frame"
        part G2 charger 28.2V internal=20mohm when engine=RUNNING "alternator" at "engine"
        part F1 fuse 125A "alternator fuse" at "battery box"
        part S1 switch "light switch" at "dash"
          closed 1-2 when lights=ON
        part H1 lamp 24V 140W "head lamps" at "front"
        part GND1 stud "engine ground" at "block"
        part GND2 stud "frame ground" at "frame rail"
        path G1.+ -[w1 50mm2 2m]- F1 -[w2 35mm2 3m]- G2.+
        path G2.- = GND1 -[w3 50mm2 0.6m]- GND2 -[w4 50mm2 1.5m]- G1.-
        path F1.1 -[w5 6mm2 2m]- S1 -[w6 6mm2 2m]- H1 -[w7 6mm2 1m]- GND2
        function "charges": V G1.+ G1.- >= 27.2V when engine=RUNNING and key=ON
        function "head lamps shine": H1 when lights=ON
        """;

    private const string Run = "key=ON engine=RUNNING lights=ON";

    /// <summary>
    /// Current comes home to a charging generator: its own ground is the lower one. Who reads the loss there writes 1.9 V, with either tip
    /// on either side.
    /// </summary>
    [Theory]
    [InlineData("V G2.- G1.- = -1.9V", "V GND1 GND2 = -1.9V")]
    [InlineData("V G2.- G1.- = 1.9V", "V GND1 GND2 = 1.9V")]
    [InlineData("V G1.- G2.- = 1.9V", "V GND1 GND2 = 1.9V")]
    public void A_loss_on_the_way_home_is_found_with_or_without_its_sign(string first, string second)
    {
        var f = Diagnose(Charging, $"{Run} : V G1.+ G1.- = 26.1V", $"{Run} : V G2.+ G2.- = 28.1V", $"{Run} : {first}", $"{Run} : {second}");
        Share(f, "GND1", "GND2", "w3").ShouldBeGreaterThan(0.9);
    }

    /// <summary>Each of two readings of one bad ground is explained by the other; neither is good for that.</summary>
    [Theory]
    [InlineData("V G2.- G1.- = -1.9V", "V GND1 GND2 = -1.8V")]
    [InlineData("V G1.- G2.- = 1.9V", "V GND2 GND1 = 1.8V")]
    public void Readings_of_one_bad_ground_do_not_call_each_other_good(string first, string second)
    {
        var f = Diagnose(Charging, "key=ON engine=RUNNING : sees \"charges\" = weak", $"{Run} : {first}", $"{Run} : {second}");
        f.Verdicts.Skip(1).ShouldAllBe(v => v.Judgement == Judgement.High && v.Meaning.Contains("way home"));
    }

    /// <summary>Volts a little under their limit are called weak, and weakly charging is no stranger than not charging.</summary>
    [Fact]
    public void A_missed_limit_may_be_called_weak()
    {
        string[] after = [$"{Run} : V G1.+ G1.- = 26.1V", $"{Run} : V G2.+ G2.- = 28.1V"];
        var (weak, dead) = (
            Diagnose(Charging, ["key=ON engine=RUNNING : sees \"charges\" = weak", .. after]),
            Diagnose(Charging, ["key=ON engine=RUNNING : sees \"charges\" = dead", .. after])
        );
        foreach (var group in dead.Suspects.Take(4))
            Share(weak, group.Unit).ShouldBe(Share(dead, group.Unit), 0.02);
    }

    private const string Wagon = """
        sheet "Straw wagon SW-2: floor valve"
        nominal 12V dc
        drawn from maker
        reference G1.-
        control key: OFF*, ON
        control floor: OFF*, ON
        part G1 battery 12V "battery" at "step"
        part F1 fuse 10A blade "control fuse" at "panel"
        part S1 switch "key" at "cab"
          closed 1-2 when key=ON
        part S2 switch "floor switch" at "cab"
          closed 1-2 when floor=ON
        part A1 module "wagon controller" at "front wall"
          supply 1 ground 2 from=9V
          input 5 high>6V
          output 10 high 50mohm when powered and in5
        part Y1 coil 12V 8ohm "floor valve" at "rear block"
        path G1.+ -[w1 6mm2 1m]- F1 -[w2 2.5mm2 1m]- S1 -[w3 1.5mm2 3m]- A1.1
        path S1.2 -[w4 1mm2 1m]- S2 -[w5 1mm2 3m]- A1.5
        path A1.10 -[w6 1.5mm2 5m]- Y1 -[w7 1.5mm2 5m]- G1.-
        path A1.2 -[w8 2.5mm2 3m]- G1.-
        function "floor moves": Y1 when key=ON and floor=ON
        """;

    private const string Floor = "key=ON floor=ON";

    /// <summary>
    /// A supply that gives way lets the module drop out and come back without end. Steady volts somewhat under those of a full battery are
    /// none of that: its volts would go up and down, and who looks would have said so.
    /// </summary>
    [Fact]
    public void Steady_volts_speak_against_what_chatters()
    {
        string[] steady = [$"{Floor} : sees \"floor moves\" = dead", $"{Floor} : V A1.5 = 11.8V", $"{Floor} : V A1.1 = 11.9V"];
        var f = Diagnose(Wagon, [.. steady, $"{Floor} : V A1.10 = 0V"]);
        Share(f, "A1", "w8").ShouldBeGreaterThan(0.9);
        Share(f, "G1").ShouldBeLessThan(0.1);
    }

    /// <summary>The same that goes up and down, and is said to, is the supply or what lies on the way to the module.</summary>
    [Fact]
    public void Volts_that_go_up_and_down_are_a_supply_that_gives_way()
    {
        var f = Diagnose(
            Wagon,
            $"{Floor} : sees \"floor moves\" = flickers",
            $"{Floor} : V A1.1 = 5..12V",
            $"{Floor} : V A1.10 = flickers"
        );
        Share(f, "A1").ShouldBeLessThan(0.3);
        Share(f, "G1", "F1", "S1", "w1", "w2", "w3", "w8").ShouldBeGreaterThan(0.5);
    }

    private const string Hoist = """
        sheet "Hay hoist HH-2: pump"
        nominal 24V dc
        drawn from traced
        reference G1.-
        control lever: HOLD*, UP held
        part G1 battery 24V internal=15mohm "batteries" at "left frame"
        part F1 fuse 10A blade "control fuse" at "panel"
        part F2 fuse 150A "pump fuse" at "battery box"
        part S1 switch "lever" at "rear box"
          closed 1-2 when lever=UP
        part K1 contactor 24V 60ohm "pump contactor" at "pump box"
        part D1 diode "coil diode" at "pump box"
        part M1 motor 24V 110A "pump motor" at "pump box"
        path G1.+ -[w1 50mm2 1m]- F2 -[w2 50mm2 6m]- K1.1>2 -[w3 50mm2 0.4m]- M1 -[w4 50mm2 6m]- G1.-
        path G1.+ -[w5 4mm2 2m]- F1 -[w6 1.5mm2 6m]- S1 -[w7 1.5mm2 1m]- K1.A1>A2 -[w8 1.5mm2 6m]- G1.-
        path K1.A2 -[w9 0.75mm2 0.1m]- D1.a>k -[w10 0.75mm2 0.1m]- K1.A1
        function "lifts": M1 when lever=UP
        """;

    /// <summary>A diode that has broken down is read at anything from a dead short to a few ohms, and blows the fuse before it.</summary>
    [Theory]
    [InlineData(0.3)]
    [InlineData(1.2)]
    [InlineData(1.6)]
    public void A_diode_broken_down_reads_low_and_not_dead_short(double ohms)
    {
        var f = Diagnose(
            Hoist,
            "lever=UP : sees \"lifts\" = dead",
            ": looks F1 = bad",
            ": replaced F1",
            "lever=UP : looks F1 = bad",
            $"off G1, unplug D1 : ohm D1 = {ohms.ToString(System.Globalization.CultureInfo.InvariantCulture)}ohm"
        );
        Share(f, "D1").ShouldBeGreaterThan(0.9);
    }

    /// <summary>A lead that comes and goes behind the posts does not pull the posts of a sound battery down by half.</summary>
    [Fact]
    public void Posts_that_sag_by_half_are_no_loose_lead_behind_them()
    {
        var f = Diagnose(
            Hoist,
            "lever=UP : sees \"lifts\" = flickers",
            "lever=UP : hears K1 = chatters",
            "lever=UP : V G1.+ G1.- = 11..24V"
        );
        f.Suspects[0].Unit.ShouldBe("G1");
    }
}
