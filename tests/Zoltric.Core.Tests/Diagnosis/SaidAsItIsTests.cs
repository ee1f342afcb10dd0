using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// What people say and write of a machine that is as it is meant: slow on purpose, a bus at some level, nothing where tenths are, clicks.
/// </summary>
public class SaidAsItIsTests
{
    /// <summary>A fan with a resistor for its slow step, an oil lamp earthed by its switch, a two-wire sensor, a horn relay.</summary>
    private const string Cab = """
        sheet "cab"
        nominal 12V dc
        drawn from traced
        reference G1.-
        control key: OFF*, ON
        control fan: OFF*, LOW, HIGH
        control horn: RELEASED*, PRESSED held
        given engine: STOPPED*, RUNNING
        part G1 battery 12V internal=8mohm at "box"
        part F1 fuse 20A blade at "dash"
        part F2 fuse 10A blade at "dash"
        part S1 switch at "dash"
          closed 1-2 when key=ON
        part S2 switch at "dash"
          closed B-L when fan=LOW
          closed B-H when fan=HIGH
        part R1 resistor 1ohm 60W "fan resistor" at "duct"
        part M1 motor 12V 9A "fan" at "duct"
        part H1 lamp 12V 2W "oil lamp" at "dash"
        part B1 limit "oil switch" at "engine"
          closed 1-2 when engine=STOPPED
        part S3 button at "wheel"
          closed 1-2 when horn=PRESSED
        part X2 connector 2 at "column"
        part K1 relay 12V 90ohm "horn relay" at "dash"
        part P1 horn 12V 5A at "front"
        part B2 sensor 2kohm "fuel sender" at "tank"
        path G1.+ -[w1 RD 10mm2 1m]- S1 -[w2 RD 6mm2 1m]- F1 -[w3 OG 2.5mm2 1m]- S2.B
        path S2.L -[w4 OG 2.5mm2 1m]- R1 -[w5 OG 2.5mm2 1m]- M1 -[w6 BK 4mm2 1m]- G1.-
        path S2.H -[w7 OG 2.5mm2 1m]- M1.1
        path S1.2 -[w8 YE 1mm2 1m]- H1 -[w9 GN 1mm2 2m]- B1 -[w10 BK 1mm2 1m]- G1.-
        path S1.2 -[w11 RD 2.5mm2 1m]- F2 -[w12 RD 2.5mm2 1m]- K1.30>87 -[w13 VT 2.5mm2 3m]- P1 -[w14 BK 2.5mm2 2m]- G1.-
        path S1.2 -[w15 WH 1mm2 1m]- S3 -[w16 WH 1mm2 1m]- X2:1 -[w20 WH 1mm2 2m]- K1.86>85 -[w17 BK 1mm2 1m]- G1.-
        path S1.2 -[w18 GY 1mm2 1m]- B2 -[w19 BK 1mm2 2m]- G1.-
        function "fan runs slow": M1 when key=ON and fan=LOW
        function "fan runs fast": M1 when key=ON and fan=HIGH
        function "oil lamp lights": H1 when key=ON and engine=STOPPED
        function "horn sounds": P1 when key=ON and horn=PRESSED
        code 5-1 "fuel sender" about B2, w18, w19
        """;

    private static readonly FaultSpace Space = new(new Machine(DemoSheets.Read(Cab)));

    private static Findings Diagnose(params string[] lines) => Diagnosing.Diagnose(Space, lines);

    /// <summary>Ohm's law: 12.7 V over 1 Ω and 1.33 Ω leave 0.57 of the motor's rating.</summary>
    [Fact]
    public void A_fan_that_is_slow_behind_its_resistor_works()
    {
        MeantShare.Of(Space.Circuit, Space.Circuit.FindFunction("fan runs slow")!).ShouldBe(0.6, 0.05);
        MeantShare.Of(Space.Circuit, Space.Circuit.FindFunction("fan runs fast")!).ShouldBe(1);
        var f = Diagnose("key=ON fan=LOW : sees \"fan runs slow\" = works");
        f.OffSheet.ShouldBeLessThan(0.05);
        f.Verdicts[0].Judgement.ShouldBe(Judgement.Ok);
        Diagnosing.Share(f, "R1", "S2").ShouldBeLessThan(0.2);
    }

    [Fact]
    public void Dead_on_the_slow_step_and_right_on_the_fast_one_is_the_slow_branch()
    {
        var f = Diagnose("key=ON fan=LOW : sees \"fan runs slow\" = dead", "key=ON fan=HIGH : sees \"fan runs fast\" = works");
        Diagnosing.Share(f, "R1", "S2", "w4", "w5").ShouldBeGreaterThan(0.9);
    }

    [Fact]
    public void Half_of_what_is_left_on_purpose_is_weak()
    {
        var op = Space.Machine.Run(
            DemoSheets.Line(Space.Circuit, "key=ON fan=LOW : V M1.1 M1.2").Test.Setup,
            FaultReader.Read(Space.Circuit, "w4 resists 2ohm").Value!
        );
        FunctionState.Judge(op, Space.Circuit.FindFunction("fan runs slow")!).ShouldBe(Answer.Weak);
        SheetChecker
            .Check(Space.Circuit, Cab)
            .ShouldContain(p => p.Severity == Severity.Warning && p.Message.Contains("is weak in its own state", StringComparison.Ordinal));
    }

    [Fact]
    public void A_lamp_that_never_goes_out_may_have_its_earthed_wire_rubbed_through()
    {
        var f = Diagnose("key=ON engine=RUNNING : sees \"oil lamp lights\" = stuck-on");
        f.Suspects.ShouldContain(g => g.Faults.Any(x => x.ToString().StartsWith("w9 grounded", StringComparison.Ordinal)) && g.Share > 0.1);
        Diagnosing.Share(f, "B1", "w9").ShouldBeGreaterThan(0.85);
    }

    [Fact]
    public void A_sensor_of_two_wires_may_be_open()
    {
        var f = Diagnose(" : code 5-1 = active", "off G1, unplug B2 : ohm B2 = OL");
        f.Suspects[0].Unit.ShouldBe("B2");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.85);
        SheetChecker.Check(Space.Circuit, Cab).ShouldNotContain(p => p.Message.Contains("B2.3", StringComparison.Ordinal));
    }

    /// <summary>The relay's coil has no fuse: whatever blew the horn's, the relay clicks.</summary>
    [Fact]
    public void A_silent_relay_is_not_excused_by_a_fuse_that_its_coil_does_not_hang_on()
    {
        var f = Diagnose(
            "key=ON horn=PRESSED : sees \"horn sounds\" = dead",
            "key=ON horn=PRESSED : hears K1 = silent",
            "key=ON horn=PRESSED : V K1.86 K1.85 = 12.5V"
        );
        f.Suspects[0].Unit.ShouldBe("K1");
        f.Suspects.Where(g => g.Faults[0].Target == "P1" || g.Also.Any(a => a.Target == "F2")).Sum(g => g.Share).ShouldBeLessThan(0.1);
    }

    [Fact]
    public void A_clicking_relay_is_not_explained_by_a_short_that_leaves_its_coil_no_volts()
    {
        var f = Diagnose(
            "key=ON horn=PRESSED : sees \"horn sounds\" = dead",
            "key=ON horn=PRESSED : hears K1 = clicks",
            "key=ON horn=PRESSED : V K1.30 = 12.5V",
            "key=ON horn=PRESSED : V K1.87 = 0V"
        );
        Diagnosing.Share(f, "K1").ShouldBeGreaterThan(0.8);
    }

    private const string Tank = """
        sheet "tank valves"
        nominal 24V dc
        drawn from traced
        reference U1.-
        control fill: OFF*, ON
        part U1 psu 24V limit=10A at "panel"
        part F1 fuse 6A glass at "panel"
        part S1 switch at "desk"
          closed 1-2 when fill=ON
        part X1 strip 4 at "panel"
        part Y1 coil 24V 16ohm "fill valve" at "tank"
        part Y2 coil 24V 16ohm "vent valve" at "tank"
        path U1.+ -[w1 RD 2.5mm2 1m]- F1 -[w2 RD 1.5mm2 2m]- S1 -[w3 OG 1.5mm2 2m]- X1:1 -[w4 OG 1.5mm2 9m]- Y1 -[w5 BU 1mm2 2m]- X1:2b
        path F1.2 -[w6 RD 1.5mm2 9m]- Y2 -[w7 BU 1mm2 2m]- X1:2b
        path X1:2a -[w8 BU 1mm2 9m]- U1.-
        function "fill valve opens": Y1 when fill=ON
        function "vent valve opens": Y2
        """;

    /// <summary>The vent valve's 1.5 A in 9 m of 1 mm² leave 0.24 V on the way home; who finds it dead there writes 0.</summary>
    [Fact]
    public void Nothing_is_what_people_write_where_a_shared_way_home_leaves_tenths()
    {
        var f = Diagnosing.Diagnose(
            Tank,
            "fill=ON : sees \"fill valve opens\" = dead",
            " : sees \"vent valve opens\" = works",
            "fill=ON : V S1.2 = 23.6V",
            "fill=ON : V Y1.1 = 0V"
        );
        Diagnosing.Share(f, "w3", "X1:1", "w4").ShouldBeGreaterThan(0.85);
    }

    /// <summary>ISO 11898-2 lets a resting bus lie anywhere from 2.0 to 3.0 V, and its traffic is nobody's to know.</summary>
    [Theory]
    [InlineData("2.5V", "2.45V")]
    [InlineData("2.6V", "2.4V")]
    [InlineData("2.65V", "2.35V")]
    public void A_few_hundredths_on_a_bus_tell_nothing_of_who_is_awake(string high, string low)
    {
        const string bus = """
            sheet "two modules"
            nominal 24V dc
            drawn from maker
            reference G1.-
            control key: OFF*, RUN
            part G1 battery 24V internal=12mohm at "box"
            part F1 fuse 10A blade at "dash"
            part F2 fuse 10A blade at "dash"
            part S1 switch at "dash"
              closed 1-2 when key=RUN
            part A1 module "cab module" at "dash"
              supply 1 ground 2 from=16V
              bus 6,7 traffic=5%
            part A2 module "pump module" at "rear"
              supply 1 ground 2 from=16V
              bus 6,7 traffic=5%
            part E1 terminator at "dash"
            part E2 terminator at "rear"
            path G1.+ -[w1 RD 6mm2 1m]- S1 -[w2 RD 4mm2 1m]- F1 -[w3 RD 1.5mm2 1m]- A1.1
            path S1.2 -[w4 RD 4mm2 1m]- F2 -[w5 RD 1.5mm2 6m]- A2.1
            path A1.2 -[w6 BK 1.5mm2 1m]- G1.-
            path A2.2 -[w7 BK 1.5mm2 6m]- G1.-
            path E1.H = A1.6 -[w8 YE 0.5mm2 6m]- A2.6 = E2.H
            path E1.L = A1.7 -[w9 GN 0.5mm2 6m]- A2.7 = E2.L
            function "pump module awake": A2 when key=RUN
            """;
        var f = Diagnosing.Diagnose(
            bus,
            "key=RUN : sees \"pump module awake\" = dead",
            "key=RUN : V F2.1 = 25.1V",
            "key=RUN : V F2.2 = 0V",
            $"key=RUN : V A1.6 = {high}",
            $"key=RUN : V A1.7 = {low}"
        );
        f.OffSheet.ShouldBeLessThan(0.1);
        f.Suspects.Where(g => g.Unit == "F2" || g.Also.Any(a => a.Target == "F2")).Sum(g => g.Share).ShouldBeGreaterThan(0.85);
    }

    /// <summary>An insulation tester counts in hundredths of a megohm: any path to earth shows as 0.</summary>
    [Theory]
    [InlineData("0Mohm")]
    [InlineData("0.3ohm")]
    public void No_insulation_at_all_is_a_path_to_earth(string read)
    {
        const string oven = """
            sheet "oven"
            nominal 230V ac
            drawn from traced
            control heat: OFF*, ON
            part T0 mains 230V at "wall"
            part Q1 breaker 2pole 16A at "wall"
            part S1 switch at "front"
              closed 1-2 when heat=ON
              closed 3-4 when heat=ON
            part E1 heater 230V 2000W at "chamber"
            path T0.L - Q1.1>2 -[w1 2.5mm2 2m]- S1.1>2 -[w2 2.5mm2 1m]- E1 -[w3 2.5mm2 1m]- S1.4>3 -[w4 2.5mm2 2m]- Q1.4>3 - T0.N
            function "heats": E1 when heat=ON
            """;
        var f = Diagnosing.Diagnose(oven, "heat=ON : sees \"heats\" = dead", ": looks Q1 = bad", $"off T0 : insul E1.1 T0.PE = {read}");
        f.Suspects.Where(g => g.Faults.Any(x => x.Kind == FaultKind.Grounded)).Sum(g => g.Share).ShouldBeGreaterThan(0.8);
    }

    /// <summary>Sound insulation of so many megohms was taken for a leak; it says what none that is over the tester's range says.</summary>
    [Fact]
    public void Megohms_of_sound_insulation_are_no_leak()
    {
        const string defrost = """
            sheet "defrost"
            nominal 230V ac
            control heat: OFF*, ON
            part T0 mains 230V
            part Q1 rcd 30mA
            part S1 switch
              closed 1-2 when heat=ON
            part E1 heater 230V 1200W
            part E2 heater 230V 800W
            path T0.L -[w1]- Q1.1>2 -[w2]- S1 -[w3]- E1 -[w4]- Q1.4>3 -[w5]- T0.N
            path S1.2 -[w6]- E2 -[w7]- Q1.4
            frame T0.PE
            function "coil defrosts": E1 when heat=ON
            """;
        double Grounded(string read) =>
            Diagnosing.Share(
                Diagnosing.Diagnose(
                    defrost,
                    "heat=ON : sees \"coil defrosts\" = dead",
                    "heat=ON : looks Q1 = bad",
                    $"off T0, unplug E1 : insul E1.1 T0.PE = {read}"
                ),
                "E1"
            );
        Grounded("250Mohm").ShouldBe(Grounded("OL"), 0.02);
        Grounded("0.02Mohm").ShouldBeGreaterThan(Grounded("250Mohm") + 0.5);
    }

    /// <summary>
    /// The coil's own tolerance was read before: that it reads the same with one end of a wire moved costs the wire no more than its chance
    /// of staying closed.
    /// </summary>
    [Fact]
    public void The_same_ohms_with_the_far_end_moved_leave_a_wire_suspect_that_opens_with_the_near_one()
    {
        var complaint = "key=ON horn=PRESSED : sees \"horn sounds\" = flickers";
        string[] steady =
        [
            complaint,
            "off G1, unplug X2 : ohm X2:1b K1.85 = 91ohm",
            "off G1, unplug X2, move \"column\" : ohm X2:1b K1.85 = OL",
        ];
        double Of(params string[] lines) =>
            Diagnose(lines).Suspects.Where(g => g.Faults[0].ToString() == "w20 intermittent").Sum(g => g.Share);
        var (before, after) = (Of(steady), Of([.. steady, "off G1, unplug X2, move \"dash\" : ohm X2:1b K1.85 = 91ohm"]));
        before.ShouldBeGreaterThan(0.3);
        after.ShouldBeGreaterThan(0.4 * before);
    }

    [Fact]
    public void What_a_fuse_may_carry_is_a_function_like_any_other()
    {
        const string sheet = Cab + "\nfunction \"rests\": A F2 <= 20mA";
        SheetChecker.Check(DemoSheets.Read(sheet), sheet).ShouldNotContain(p => p.Severity == Severity.Error);
    }

    /// <summary>One table of sentences: what is said of a line, on machines on which it is as it says.</summary>
    [Fact]
    public void Half_of_its_volts_at_a_dim_lamp_are_volts_lost_whoever_took_the_rest()
    {
        const string lamps = """
            sheet "work lamps"
            nominal 12V dc
            drawn from traced
            reference G1.-
            control lamps: OFF*, ON
            part G1 battery 12V internal=8mohm
            part F1 fuse 20A blade
            part S1 switch
              closed 1-2 when lamps=ON
            part H1 lamp 12V 55W
            part H2 lamp 12V 55W
            path G1.+ -[w1 RD 4mm2 1m]- F1 -[w2 RD 2.5mm2 1m]- S1 -[w3 WH 2.5mm2 2m]- H1 -[w4 BK 2.5mm2 2m]- G1.-
            path S1.2 -[w5 WH 2.5mm2 2m]- H2 -[w6 BK 2.5mm2 2m]- G1.-
            function "left lamp lights": H1 when lamps=ON
            function "right lamp lights": H2 when lamps=ON
            """;
        string[] weak =
        [
            "lamps=ON : sees \"left lamp lights\" = weak",
            "lamps=ON : sees \"right lamp lights\" = weak",
            "lamps=ON : V H1.1 H1.2 = 6.2V",
        ];
        var f = Diagnosing.Diagnose(lamps, [.. weak, "lamps=ON : drop S1 = 5.4V"]);
        f.Verdicts[2].Judgement.ShouldBe(Judgement.Low);
        f.Verdicts[2].Meaning.ShouldContain("lost before this point");
        // The posts themselves are down: the battery, and what hangs on it shares that.
        var flat = Diagnosing.Diagnose(lamps, [.. weak, "lamps=ON : V G1.+ G1.- = 6.5V"]);
        flat.Verdicts[3].Meaning.ShouldContain("at the source itself");
        flat.Verdicts[2].Meaning.ShouldContain("than at the source itself, which is low");
        var little = Diagnosing.Diagnose(lamps, "lamps=ON : sees \"left lamp lights\" = dead", "lamps=ON : V H1.1 H1.2 = 11.5V");
        little.Verdicts[1].Meaning.ShouldContain("A little is lost");
    }

    [Fact]
    public void What_a_function_does_with_a_new_part_in_or_a_place_moved_is_said_of_that()
    {
        var dead = "key=ON horn=PRESSED : sees \"horn sounds\" = dead";
        var works = "key=ON horn=PRESSED : sees \"horn sounds\" = works";
        string Last(params string[] lines) => Diagnose(lines).Verdicts[^1].Meaning;
        Last(dead, " : replaced K1", works).ShouldContain("works with the new horn relay K1");
        Last(dead, " : replaced K1", dead).ShouldContain("Still dead with the new horn relay K1");
        Last(dead, "key=ON horn=PRESSED, move \"front\" : sees \"horn sounds\" = works").ShouldContain("a joint there makes and breaks");
        Last(dead, "key=ON horn=PRESSED, move \"dash\" : sees \"horn sounds\" = dead").ShouldContain("Still dead while");
        Last(dead, works).ShouldContain("did not before");
        Last(dead, "key=ON fan=HIGH : sees \"fan runs fast\" = works").ShouldContain("shares with the dead one");
        Last(works).ShouldNotContain("dead");
    }

    /// <summary>Two markers of 5 W left on take 0.42 A: well within half an amp, and a battery is flat in a week.</summary>
    [Fact]
    public void Millivolts_on_the_fuse_of_a_load_that_was_left_on_are_too_many()
    {
        const string rests = """
            sheet "trailer"
            nominal 24V dc
            drawn from traced
            reference G1.-
            control lamps: OFF*, ON
            control horn: RELEASED*, PRESSED held
            part G1 battery 24V internal=10mohm
            part F1 fuse 5A blade
            part F2 fuse 10A blade
            part S1 switch
              closed 1-2 when lamps=ON
            part S2 button
              closed 1-2 when horn=PRESSED
            part H1 lamp 24V 5W
            part H2 lamp 24V 5W
            part P1 horn 24V 4A
            path G1.+ -[w1 RD 10mm2 2m]- F1 -[w2 RD 1.5mm2 1m]- S1 -[w3 GY 1mm2 5m]- H1 -[w4 BK 1mm2 1m]- G1.-
            path S1.2 -[w5 GY 1mm2 5m]- H2 -[w6 BK 1mm2 1m]- G1.-
            path F1.1 -[w7 RD 4mm2 1m]- F2 -[w8 RD 2.5mm2 1m]- S2 -[w9 VT 2.5mm2 5m]- P1 -[w10 BK 2.5mm2 1m]- G1.-
            function "left marker lights": H1 when lamps=ON
            function "horn sounds": P1 when horn=PRESSED
            function "rests": clamp w1 <= 50mA
            """;
        var f = Diagnosing.Diagnose(rests, " : clamp w1 = 0.43A", " : drop F1 = 7.2mV", " : drop F2 = 0mV");
        f.Verdicts[1].Judgement.ShouldBe(Judgement.High);
        f.Verdicts[1].Meaning.ShouldContain("what takes it lies beyond");
        f.Verdicts[2].Judgement.ShouldBe(Judgement.Ok);
        f.Suspects[0].Unit.ShouldBe("S1");
    }

    [Fact]
    public void One_terminator_is_right_with_the_plug_to_the_other_off()
    {
        const string bus = """
            sheet "bus"
            nominal 24V dc
            drawn from maker
            reference G1.-
            part G1 battery 24V
            part A1 module
              supply 1 ground 2 from=16V
              bus 6,7 traffic=5%
            part A2 module
              supply 1 ground 2 from=16V
              bus 6,7 traffic=5%
            part X1 connector 2
            part E1 terminator
            part E2 terminator
            path G1.+ -[w1 RD 2.5mm2 1m]- A1.1
            path G1.+ -[w2 RD 2.5mm2 1m]- A2.1
            path A1.2 -[w3 BK 2.5mm2 1m]- G1.-
            path A2.2 -[w4 BK 2.5mm2 1m]- G1.-
            path E1.H = A1.6 -[w5 YE 0.5mm2 3m]- X1:1 -[w6 YE 0.5mm2 3m]- A2.6 = E2.H
            path E1.L = A1.7 -[w7 GN 0.5mm2 3m]- X1:2 -[w8 GN 0.5mm2 3m]- A2.7 = E2.L
            function "second module awake": A2
            """;
        var f = Diagnosing.Diagnose(bus, "off G1 : ohm A1.6 A1.7 = 120ohm", "off G1, unplug X1 : ohm A1.6 A1.7 = 120ohm");
        f.Verdicts[0].Meaning.ShouldContain("an end is lost");
        f.Verdicts[1].Judgement.ShouldBe(Judgement.Ok);
        f.Verdicts[1].Meaning.ShouldNotContain("lost");
    }

    /// <summary>The element goes to earth where it is switched on; the lamp is dead ever after: the breaker stays tripped.</summary>
    [Fact]
    public void A_breaker_that_was_found_tripped_was_so_in_what_was_tried_since()
    {
        const string oven = """
            sheet "drying oven"
            nominal 230V ac
            drawn from traced
            control heat: OFF*, ON
            part T0 mains 230V at "wall"
            part Q1 breaker 2pole 16A at "wall"
            part S1 switch at "front"
              closed 1-2 when heat=ON
              closed 3-4 when heat=ON
            part E1 heater 230V 2000W at "chamber"
            part H1 lamp 230V 2W at "front"
            path T0.L - Q1.1>2 -[w1 2.5mm2 2m]- S1.1>2 -[w2 2.5mm2 1m]- E1 -[w3 2.5mm2 1m]- S1.4>3 -[w4 2.5mm2 2m]- Q1.4>3 - T0.N
            path Q1.2 -[w5 BN 1mm2 2m]- H1 -[w6 BU 1mm2 2m]- Q1.4
            function "heats": E1 when heat=ON
            function "lamp lights": H1
            """;
        string[] seen = ["heat=ON : sees \"heats\" = dead", " : sees \"lamp lights\" = dead", " : looks Q1 = bad"];
        var f = Diagnosing.Diagnose(oven, [.. seen, "off T0, unplug E1 : insul E1.1 T0.PE = 0Mohm"]);
        f.Suspects[0].Faults[0].Target.ShouldBe("E1");
        f.Suspects.Where(g => g.Faults[0].ToString().StartsWith("E1 grounded", StringComparison.Ordinal))
            .Sum(g => g.Share)
            .ShouldBeGreaterThan(0.7);
    }

    [Fact]
    public void Volts_on_a_ground_are_a_bad_ground_though_a_low_battery_dims_lamps_more_often()
    {
        var f = Diagnose("key=ON fan=HIGH : sees \"fan runs fast\" = weak", "key=ON fan=HIGH : V M1.2 G1.- = 3.6V");
        Diagnosing.Share(f, "w6").ShouldBeGreaterThan(0.85);
    }
}
