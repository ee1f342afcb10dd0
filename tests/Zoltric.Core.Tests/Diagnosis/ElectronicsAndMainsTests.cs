using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Readings of practice that no sheet makes: tenths of a volt on a dead lead beside the mains, a transformer that gives a tenth more than
/// is stated, a transistor that keeps a volt, ohms through electronics. Common practice, no source, where none is named.
/// </summary>
public sealed class ElectronicsAndMainsTests
{
    private const string Dryer = """
        sheet "Glaze dryer"
        machine "Glaze dryer" family appliance
        nominal 24V ac
        control heat: OFF*, CALL
        given draft: NONE*, MADE
        given burner: OUT*, LIT
        part N1 mains 120V 60Hz at "wall"
        part S8 limit "panel switch" at "blower"
          closed 1-2
        part T1 transformer 120V:24V 40VA "control transformer" at "blower"
        part F1 fuse 3A blade at "blower"
        part S1 thermostat at "room"
          closed R-W when heat=CALL
        part B1 limit "high limit" at "burner"
        part B3 limit "pressure switch" at "burner"
          closed 1-2 when draft=MADE
        part K1 relay 24V 100ohm "draft relay" at "blower"
        part M1 motor 120V 60W "draft fan" at "burner"
        part Y1 coil 24V 60ohm "gas valve" at "burner"
        part E1 flamerod 4uA when burner=LIT at "burner"
        path N1.L -[w1]- S8 -[w2]- T1.P1
        path T1.P2 -[w3]- N1.N
        path S8.2 -[w4]- K1.30>87 -[w5]- M1 -[w6]- T1.P2
        path T1.S1 -[w7]- F1 -[w8]- S1.R
        path S1.W -[w9]- K1.85>86 -[w10]- T1.S2
        path S1.W -[w11]- B1 -[w12]- B3 -[w13]- Y1 -[w14]- T1.S2
        path N1.L -[w15]- E1 -[w16]- N1.PE
        function "fan draws": M1 when heat=CALL
        function "valve opens": Y1 when heat=CALL and draft=MADE
        """;

    private const string Filler = """
        sheet "Sack filler"
        machine "Sack filler" family industrial
        nominal 24V dc
        control main: OFF*, ON
        given sack: GONE*, THERE
        given guard: SHUT*, OPEN
        part N1 mains 400V 3ph at "cabinet"
        part Q1 isolator 2pole at "cabinet"
          closed 1-2 when main=ON
          closed 3-4 when main=ON
        part U1 psu 400V:24V 10A at "cabinet"
        part F1 fuse 6A at "cabinet"
        part A1 module "controller" at "cabinet"
          supply 1 ground 2 from=18V
          input 10 high>12V 3.3kohm
          output 20 high 50mohm when powered and in10
        part B1 proximity pnp "sack sensor" at "spout" when sack=THERE
        part S2 limit "guard switch" at "guard" safety
          closed 1-2 when guard=SHUT
          closed 3-4 when guard=SHUT
        part K1 safetyrelay 24V at "cabinet"
        part Y1 coil 24V 48ohm "clamp valve" at "spout"
        path N1.L1 -[w1]- Q1.1>2 -[w2]- U1.L
        path N1.L2 -[w3]- Q1.3>4 -[w4]- U1.N
        path U1.+ -[w5]- F1 -[w6]- B1.1
        path B1.4 -[w7]- A1.10
        path B1.3 -[w8]- U1.-
        path F1.2 -[w9]- K1.13>14 -[w10]- A1.1
        path F1.2 -[w11]- K1.A1>A2 -[w12]- U1.-
        path K1.S11 -[w13]- S2.1>2 -[w14]- K1.S12
        path K1.S21 -[w15]- S2.3>4 -[w16]- K1.S22
        path A1.2 -[w17]- U1.-
        path A1.20 -[w18]- Y1 -[w19]- U1.-
        function "clamp shuts": Y1 when main=ON and guard=SHUT and sack=THERE
        """;

    private const string Lift = """
        sheet "Sack lift"
        machine "Sack lift" family truck
        nominal 12V dc
        control hand: OFF*, DOWN
        given engine: STOPPED*, RUNNING
        part G1 battery 12V "battery" at "frame"
        part G2 charger 14.2V "alternator" at "engine" when engine=RUNNING
        part F1 fuse 10A "lift fuse" at "frame"
        part F2 fuse 10A "lamp fuse" at "frame"
        part S1 switch "hand switch" at "tail"
          closed 1-2 when hand=DOWN
        part Y1 coil 12V 8ohm "lowering valve" at "ram"
        part A1 module "tracker" at "cab"
          supply 1 ground 2
          sleeps after 5min at 5mA
        part A2 module "lamp unit" at "cab"
          supply 1 ground 2
          sleeps after 5min at 5mA
        part GND1 stud at "frame"
        path G1.+ -[w1]- F1 -[w2]- S1 -[w3]- Y1 -[w4]- GND1 -[w5]- G1.-
        path F1.2 -[w6]- A1.1
        path A1.2 -[w7]- GND1
        path G1.+ -[w8]- F2 -[w9]- A2.1
        path A2.2 -[w10]- GND1
        path G2.+ -[w11]- G1.+
        path G2.- -[w12]- GND1
        function "lift lowers": Y1 when hand=DOWN
        function "battery charges": V G1.+ G1.- >= 13.5V when engine=RUNNING
        """;

    private const string Pump = """
        sheet "Sump pump"
        machine "Sump pump" family industrial
        nominal 24V dc
        control main: OFF*, ON
        control run: OFF*, ON
        part N1 mains 400V 3ph at "cabinet"
        part Q1 isolator 3pole at "cabinet"
          closed 1-2 when main=ON
          closed 3-4 when main=ON
          closed 5-6 when main=ON
        part K1 contactor 24V 60ohm at "cabinet"
        part M1 motor3 400V 2200W star at "pit"
        part U1 psu 400V:24V 5A at "cabinet"
        part S1 switch "run switch" at "cabinet"
          closed 1-2 when run=ON
        part SP3 splice "L3 bar" at "cabinet"
        part T1 transformer 230V:24V 50VA at "cabinet"
        part H1 lamp 24V 5W at "cabinet"
        path N1.L1 -[w1]- Q1.1>2 -[w2]- K1.1>2 -[w3]- M1.U
        path N1.L2 -[w4]- Q1.3>4 -[w5]- K1.3>4 -[w6]- M1.V
        path N1.L3 -[w7]- Q1.5>6 -[w8]- SP3 -[w9]- K1.5>6 -[w10]- M1.W
        path SP3 -[w11]- T1.P1
        path T1.P2 -[w12]- N1.N
        path T1.S1 -[w18]- H1 -[w19]- T1.S2
        path Q1.2 -[w13]- U1.L
        path Q1.4 -[w14]- U1.N
        path U1.+ -[w15]- S1 -[w16]- K1.A1
        path K1.A2 -[w17]- U1.-
        function "pump runs": M1 when main=ON and run=ON
        function "lamp lights": H1 when main=ON
        """;

    private static double Share(Findings f, string tag) =>
        f.Suspects.Where(g => g.Faults[0].Target == tag || g.Also.Any(a => a.Target == tag)).Sum(g => g.Share);

    /// <summary>Tenths of a volt beside live mains are nothing: each row's part is left, and nobody doubts the drawing.</summary>
    [Theory]
    [InlineData("T1", "heat=CALL : sees \"fan draws\" = dead", " : VAC T1.P1 T1.P2 = 121V", " : VAC T1.S1 T1.S2 = 0.2V")]
    [InlineData("S8", "heat=CALL : sees \"fan draws\" = dead", " : VAC T1.P1 T1.P2 = 0.4V", " : VAC S8.1 T1.P2 = 121V")]
    [InlineData("F1", "heat=CALL : sees \"fan draws\" = dead", " : VAC T1.S1 T1.S2 = 27.2V", " : VAC F1.2 T1.S2 = 0.3V")]
    [InlineData("B1", "heat=CALL draft=MADE : sees \"valve opens\" = dead", "heat=CALL draft=MADE : VAC B1.1 B1.2 = 26.4V")]
    public void Tenths_of_a_volt_are_nothing_and_a_tenth_more_is_no_fault(string tag, params string[] lines)
    {
        var f = Diagnose(Dryer, lines);
        Share(f, tag).ShouldBeGreaterThan(0.5);
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    /// <summary>A secondary of 24 V shows 26 to 27 V with little load, and that is no volt from elsewhere.</summary>
    [Fact]
    public void A_transformer_that_gives_a_tenth_more_than_is_stated_is_judged_sound()
    {
        var f = Diagnose(
            Dryer,
            "heat=CALL : sees \"fan draws\" = dead",
            "heat=CALL : VAC K1.30 T1.P2 = 121V",
            "heat=CALL : VAC K1.85 K1.86 = 26.3V",
            "heat=CALL : VAC T1.S1 T1.S2 = 20V"
        );
        f.Verdicts[2].Judgement.ShouldBe(Judgement.Ok);
        f.Verdicts[3].Judgement.ShouldBe(Judgement.Low);
    }

    [Fact]
    public void Volts_across_a_contact_that_should_be_closed_are_said_to_be_its_own()
    {
        var f = Diagnose(Dryer, "heat=CALL draft=MADE : sees \"valve opens\" = dead", "heat=CALL draft=MADE : VAC B1.1 B1.2 = 24.5V");
        f.Verdicts[1].Meaning.ShouldContain("it is open");
    }

    /// <summary>IEC 60947-5-2 allows a sensor of three wires 3.5 V for itself.</summary>
    [Fact]
    public void A_volt_lost_in_a_sensor_is_the_sensors_own()
    {
        var f = Diagnose(
            Filler,
            "main=ON sack=THERE : sees \"clamp shuts\" = dead",
            "main=ON sack=THERE : V A1.10 U1.- = 22.7V",
            "main=ON sack=THERE : V A1.20 U1.- = 0.3V",
            "main=ON sack=THERE : V A1.1 A1.2 = 24V"
        );
        f.Verdicts[1].Judgement.ShouldBe(Judgement.Ok);
        Share(f, "A1").ShouldBeGreaterThan(0.5);
    }

    /// <summary>
    /// The sheet makes 1.6 kΩ of the other ways through supply and safety relay; a meter in its low range makes nothing of them.
    /// </summary>
    [Fact]
    public void An_open_contact_with_electronics_beside_it_is_open()
    {
        var f = Diagnose(Filler, "main=ON sack=THERE : sees \"clamp shuts\" = dead", "off N1 : ohm S2.3 S2.4 = OL");
        f.Suspects[0].Faults[0].ToString().ShouldBe("S2 open 3-4");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.4);
    }

    [Fact]
    public void A_supply_with_tenths_of_a_volt_left_is_dead_and_as_drawn()
    {
        var f = Diagnose(
            Filler,
            "main=ON sack=THERE : sees \"clamp shuts\" = dead",
            "main=ON : V U1.+ U1.- = 0.2V",
            "main=ON : VAC U1.L U1.N = 398V"
        );
        Share(f, "U1").ShouldBeGreaterThan(0.6);
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    /// <summary>Feed, return and ohms are good and nothing moves: it sticks, and that needs no second complaint to be settled.</summary>
    [Fact]
    public void A_valve_with_its_volts_and_its_ohms_sticks()
    {
        string[] lines =
        [
            "hand=DOWN : sees \"lift lowers\" = dead",
            "hand=DOWN : V Y1.1 Y1.2 = 12.2V",
            "off G1, unplug Y1 : ohm Y1 = 8.2ohm",
            "hand=DOWN : clamp w4 = 1.5A",
        ];
        var f = Diagnose(Lift, lines);
        f.Suspects[0].Faults[0].ToString().ShouldBe("Y1 sticks");
        f.Solved.ShouldBeTrue();
        Diagnose(Lift, lines[0], lines[1], "off G1, unplug Y1 : ohm Y1 = OL").Suspects[0].Faults[0].ToString().ShouldBe("Y1 open");
    }

    /// <summary>A fuse of 10 A has 5 to 8 mΩ whatever its sort: 4 mV are about 0.6 A, and none across the other acquits it.</summary>
    [Fact]
    public void Millivolts_across_a_fuse_of_no_stated_sort_are_amps()
    {
        var f = Diagnose(Lift, "after 20min : clamp w5 = 0.6A", "after 20min : drop F1 = 4mV", "after 20min : drop F2 = 0mV");
        Share(f, "A1").ShouldBeGreaterThan(0.6);
        Share(f, "A2").ShouldBeLessThan(0.02);
    }

    /// <summary>“At least” says nothing of too much: 16.2 V is no sound charge for a battery of six cells.</summary>
    [Fact]
    public void Too_many_volts_are_too_many_though_the_function_asks_for_at_least()
    {
        var f = Diagnose(Lift, "engine=RUNNING : V G1.+ G1.- = 16.2V", "engine=RUNNING : V G2.+ G2.- = 16.3V");
        f.Verdicts[0].Judgement.ShouldBe(Judgement.High);
        f.Suspects[0].Faults[0].Target.ShouldBe("G2");
        Diagnose(Lift, "engine=RUNNING : V G1.+ G1.- = 14.1V").Verdicts[0].Judgement.ShouldBe(Judgement.Ok);
    }

    /// <summary>What does not come home is read to the milliamp, and by which wires is where it leaks.</summary>
    [Fact]
    public void A_leakage_clamp_about_one_load_tells_of_that_load()
    {
        const string Boiler = """
            sheet "Slip boiler"
            machine "Slip boiler" family appliance
            nominal 230V ac
            control heat: OFF*, ON
            part N1 mains 230V at "wall"
            part S1 switch at "front"
              closed 1-2 when heat=ON
            part R1 heater 230V 2000W at "tank"
            part R2 heater 230V 1000W at "lid"
            part PE1 stud at "tank"
            path N1.L -[w1]- S1 -[w2]- R1 -[w3]- N1.N
            path S1.2 -[w4]- R2 -[w5]- N1.N
            path N1.PE -[w6]- PE1
            function "tank heats": R1 when heat=ON
            """;
        var f = Diagnose(Boiler, "heat=ON : clamp w2 w3 = 18mA", "heat=ON : clamp w4 w5 = 0.2mA");
        f.Verdicts[0].Meaning.ShouldContain("leaks to earth");
        f.Suspects[0].Faults[0].Target.ShouldBe("R1");
        Share(f, "R2").ShouldBeLessThan(0.1);
    }

    /// <summary>Two microamps and more are a flame's, by what a control accepts; alternating volts behind it do not raise them.</summary>
    [Fact]
    public void A_flame_is_read_in_series_whatever_feeds_it()
    {
        var circuit = SheetReader.Read(Dryer).Value.ShouldNotBeNull();
        var machine = new Machine(circuit);
        double Read(string line, string? fault = null) =>
            Meter
                .Read(
                    machine,
                    ReadingReader.Read(circuit, line).Value.ShouldNotBeNull().Test,
                    fault is null ? [] : FaultReader.Read(circuit, fault).Value
                )
                .Value.ShouldNotBeNull();
        Read("burner=LIT : A E1").ShouldBe(4e-6, 1e-7);
        Read("burner=LIT : A E1", "E1 dirty 0.6uA").ShouldBe(0.6e-6, 1e-7);
        var f = Diagnose(Dryer, "burner=LIT : A E1 = 0.6uA");
        f.Suspects[0].Faults[0].ToString().ShouldStartWith("E1 dirty 0.6");
    }

    /// <summary>
    /// A motor on two phases feeds the dead wire with what its rotor makes of it: from a third of the line volts to nearly all. On a
    /// machine
    /// with mains beside 24 V, 220 V are no figure that a slip makes as easily as 12 V.
    /// </summary>
    [Theory]
    [InlineData(170)]
    [InlineData(200)]
    [InlineData(225)]
    [InlineData(260)]
    public void What_a_motor_makes_on_its_dead_phase_points_to_that_phase(double volts)
    {
        var f = Diagnose(
            Pump,
            "main=ON run=ON : sees M1 = dead",
            "main=ON run=ON : VAC K1.1 K1.3 = 401V",
            FormattableString.Invariant($"main=ON run=ON : VAC K1.1 K1.5 = {volts}V")
        );
        new[] { "w9", "SP3", "w8", "Q1", "w7" }.Sum(t => Share(f, t)).ShouldBeGreaterThan(0.5);
        (Share(f, "S1") + Share(f, "U1")).ShouldBeLessThan(0.1);
        f.OffSheet.ShouldBeLessThan(0.35);
    }

    /// <summary>An open at a splice leans on one reading to it; from one far end to the other no tip is on the splice.</summary>
    [Fact]
    public void A_splice_that_one_reading_convicts_is_read_across_without_touching_it()
    {
        var space = new FaultSpace(new Machine(SheetReader.Read(Pump).Value!));
        Reading[] readings =
        [
            DemoSheets.Line(space.Circuit, "main=ON : sees \"lamp lights\" = dead"),
            DemoSheets.Line(space.Circuit, "off N1 : ohm SP3 T1.P1 = OL"),
        ];
        var weights = Belief.Of(space, MeterClass.Service, readings).Weigh();
        new Candidates(space, readings, Limits.None)
            .All(weights)
            .Select(t => t.ToString())
            .ToList()
            .ShouldContain("off N1, off U1 : ohm Q1.6 T1.P1");
    }
}
