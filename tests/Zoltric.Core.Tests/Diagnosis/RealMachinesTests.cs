using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// What motors, residual-current devices and levers show in the trade and no resistance does: copper of a twentieth of V/I, amps that rise
/// when a phase is lost, kilo-ohms to the case that trip. Readings as a mechanic takes them; common practice, no source.
/// </summary>
public sealed class RealMachinesTests
{
    private const string Mixer = """
        sheet "Glaze mixer"
        machine "Glaze mixer" family industrial
        nominal 24V dc
        control main: OFF*, ON
        control start: OUT*, PRESSED held
        part N1 mains 400V 3ph at "panel"
        part Q1 isolator 3pole 32A at "panel"
          closed 1-2 when main=ON
          closed 3-4 when main=ON
          closed 5-6 when main=ON
        part U1 psu 230V:24V 5A separated at "panel"
        part K1 contactor 24V 60ohm 12A at "panel"
        part F2 overload 4A at "panel"
        part S2 button at "panel"
          closed 1-2 when start=PRESSED
        part M1 motor3 400V 2200W star "mixer motor" at "mixer"
        part X2 connector 3 "motor box" at "mixer"
        part PE1 stud at "mixer"
        path N1.L1 -[w1]- Q1.1>2 -[w2]- K1.1>2 -[w3]- F2.1>2 -[w4]- X2:1 -[w5]- M1.U
        path N1.L2 -[w6]- Q1.3>4 -[w7]- K1.3>4 -[w8]- F2.3>4 -[w9]- X2:2 -[w10]- M1.V
        path N1.L3 -[w11]- Q1.5>6 -[w12]- K1.5>6 -[w13]- F2.5>6 -[w14]- X2:3 -[w15]- M1.W
        path Q1.2 - U1.L
        path U1.N - N1.N
        path U1.+ -[w20]- F2.95>96 -[w21]- S2 -[w22]- K1.A1>A2 -[w23]- U1.-
        path N1.PE - PE1
        function "mixer turns": M1 when main=ON and start=PRESSED
        """;

    private const string Oven = """
        sheet "Drying oven"
        machine "Drying oven" family appliance
        nominal 230V ac
        control main: OFF*, ON
        control heat: OFF*, LOW, FULL
        part N1 mains 230V at "wall"
        part Q1 isolator 2pole at "front"
          closed 1-2 when main=ON
          closed 3-4 when main=ON
        part Q2 rcd 30mA at "panel"
        part F1 fuse 16A at "panel"
        part S1 switch at "front"
          closed 1-2 when heat=LOW or heat=FULL
          closed 3-4 when heat=FULL
        part X1 connector 4 "oven plug" at "back"
        part R1 heater 230V 2000W "lower element" at "floor"
        part R2 heater 230V 2000W "upper element" at "roof"
        part H1 lamp 230V 5W at "front"
        part PE1 stud at "back"
        path N1.L -[w1]- Q1.1>2 -[w2]- Q2.1>2 -[w3]- F1 -[w4]- S1.1>2 -[w5]- X1:1 -[w6]- R1 -[w7]- X1:2< -[w8]- Q2.4>3 -[w9]- Q1.4>3 -[w10]- N1.N
        path F1.2 -[w12]- S1.3>4 -[w13]- X1:3 -[w14]- R2 -[w15]- X1:4< -[w16]- Q2.4
        path Q2.2 -[w17]- H1 -[w18]- Q2.4
        path N1.PE - PE1
        function "lower heats": R1 when main=ON and heat=LOW
        function "upper heats": R2 when main=ON and heat=FULL
        function "lamp lights": H1 when main=ON
        """;

    private const string Cooler = """
        sheet "Clay cooler"
        machine "Clay cooler" family appliance
        nominal 230V ac
        control cool: OFF*, CALL
        part N1 mains 230V at "wall"
        part Q1 breaker 16A 2pole at "panel"
        part T1 transformer 230V:24V 40VA at "box"
        part F1 fuse 3A blade at "box"
        part S1 thermostat "room thermostat" at "hall"
          closed R-Y when cool=CALL
        part B1 limit "pressure switch" at "pipe"
        part K1 contactor 24V 20ohm 30A at "outdoor"
        part C1 capacitor 40uF 440V "run capacitor" at "outdoor"
        part M1 motor1 230V 8A run=1.5ohm start=5ohm locked=45A "compressor" at "outdoor"
        part M2 motor 230V 150W "fan" at "outdoor"
        path N1.L -[w1]- Q1.1>2 -[w2]- K1.1>2 -[w3]- M1.R
        path K1.2 -[w4]- C1 -[w5]- M1.S
        path M1.C -[w6]- K1.4>3 -[w7]- Q1.4>3 -[w8]- N1.N
        path K1.2 -[w9]- M2 -[w10]- K1.4
        path Q1.2 -[w11]- T1.P1
        path T1.P2 -[w12]- Q1.4
        path T1.S1 -[w13]- F1 -[w14]- S1.R
        path S1.Y -[w15]- B1 -[w16]- K1.A1
        path K1.A2 -[w17]- T1.S2
        function "compressor runs": M1 when cool=CALL
        function "fan runs": M2 when cool=CALL
        """;

    private static (Findings Findings, Circuit Circuit) Diagnose(string sheet, params string[] lines)
    {
        var circuit = SheetReader.Read(sheet).Value.ShouldNotBeNull();
        var readings = lines.Select(l => ReadingReader.Read(circuit, l).Value.ShouldNotBeNull(l));
        return (Diagnostician.Diagnose(new FaultSpace(new Machine(circuit)), [.. readings]), circuit);
    }

    private static double ShareOn(Findings f, params string[] units) => f.Suspects.Where(s => units.Contains(s.Unit)).Sum(s => s.Share);

    [Fact]
    public void A_motors_copper_is_no_short_and_its_windings_are_compared()
    {
        var (f, _) = Diagnose(
            Mixer,
            "main=ON start=PRESSED : sees \"mixer turns\" = dead",
            "main=ON start=PRESSED : hears K1 = clicks",
            "off N1, unplug X2 : ohm X2:1b X2:2b = 6.2ohm",
            "off N1, unplug X2 : ohm X2:2b X2:3b = 6.1ohm",
            "off N1, unplug X2 : ohm X2:1b X2:3b = 6.2ohm"
        );
        f.OffSheet.ShouldBeLessThan(0.15);
        // Windings that are alike say nothing of a rotor that is stuck.
        f.Suspects.Where(g => g.Unit == "M1" && g.Faults[0].Words != "seized").Sum(g => g.Share).ShouldBeLessThan(0.05);
        f.Verdicts[3].Judgement.ShouldBe(Judgement.Ok);
        f.Verdicts[3].Meaning.ShouldContain("windings are alike");
    }

    [Fact]
    public void A_winding_that_differs_from_the_others_is_the_motor()
    {
        string[] seen = ["main=ON start=PRESSED : sees \"mixer turns\" = dead", " : looks F2 = bad"];
        var (shorted, _) = Diagnose(
            Mixer,
            [
                .. seen,
                "off N1, unplug X2 : ohm X2:1b X2:2b = 6.2ohm",
                "off N1, unplug X2 : ohm X2:2b X2:3b = 4.1ohm",
                "off N1, unplug X2 : ohm X2:1b X2:3b = 4.2ohm",
            ]
        );
        shorted.Suspects[0].Unit.ShouldBe("M1");
        shorted.Suspects[0].Faults[0].Words.ShouldBe("shorted W");
        var (open, _) = Diagnose(
            Mixer,
            [
                .. seen,
                "off N1, unplug X2 : ohm X2:1b X2:2b = 6.2ohm",
                "off N1, unplug X2 : ohm X2:2b X2:3b = OL",
                "off N1, unplug X2 : ohm X2:1b X2:3b = OL",
            ]
        );
        ShareOn(open, "M1", "w15", "X2:3").ShouldBeGreaterThan(0.8);
        open.OffSheet.ShouldBeLessThan(0.15);
    }

    /// <summary>Two phases carry two to six times what they should, the third none: the lost phase, and a machine as drawn.</summary>
    [Theory]
    [InlineData(6.5)]
    [InlineData(14)]
    public void Amps_that_rise_on_two_phases_are_a_lost_third(double amps)
    {
        var (f, _) = Diagnose(
            Mixer,
            "main=ON start=PRESSED : sees \"mixer turns\" = weak",
            "main=ON start=PRESSED : clamp w4 = 0A",
            FormattableString.Invariant($"main=ON start=PRESSED : clamp w9 = {amps}A"),
            FormattableString.Invariant($"main=ON start=PRESSED : clamp w14 = {amps * 0.97}A")
        );
        f.OffSheet.ShouldBeLessThan(0.1);
        ShareOn(f, "Q1", "K1", "F2", "X2:1", "M1", "w1", "w2", "w3", "w4", "w5").ShouldBeGreaterThan(0.8);
    }

    [Fact]
    public void Kilo_ohms_to_the_case_trip_a_residual_current_device_and_are_found()
    {
        string[] seen =
        [
            "main=ON : sees \"lamp lights\" = works",
            "main=ON heat=LOW : sees \"lower heats\" = works",
            "main=ON heat=FULL : sees \"lamp lights\" = dead",
        ];
        var (told, _) = Diagnose(Oven, [.. seen, " : looks Q2 = bad"]);
        ShareOn(told, "R2", "w13", "w14", "X1:3", "w15", "w16", "X1:4").ShouldBeGreaterThan(0.6);
        told.Verdicts[3].Meaning.ShouldContain("tripped");
        var (f, _) = Diagnose(Oven, [.. seen, "off N1, unplug X1 : insul X1:3b PE1 = 3kohm", "off N1, unplug X1 : insul X1:1b PE1 = OL"]);
        ShareOn(f, "R2", "w14").ShouldBeGreaterThan(0.7);
        f.Suspects[0].Faults[0].Value!.Value.ShouldBeInRange(2700, 3300);
    }

    /// <summary>The controls of one step move together: an order that only turns them round is the same order.</summary>
    [Fact]
    public void The_order_of_controls_in_a_step_makes_no_other_test()
    {
        var (f, circuit) = Diagnose(Mixer, "main=ON start=PRESSED : sees \"mixer turns\" = dead");
        Setup Read(string text) => ReadingReader.Read(circuit, text + " : hears K1 = clicks").Value.ShouldNotBeNull().Test.Setup;
        Read("main=ON start=PRESSED").ShouldBe(Read("start=PRESSED main=ON"));
        Read("main=ON, start=PRESSED").ShouldNotBe(Read("start=PRESSED, main=ON"));
        f.Next.Select(n => n.Test).ShouldBeUnique();
    }

    /// <summary>
    /// IEC 60038 and EN 50160 let 230 V lie between 207 and 253 V; what is read at the supply is what the rest is compared with.
    /// </summary>
    [Theory]
    [InlineData(246)]
    [InlineData(213)]
    public void Mains_within_ten_per_cent_are_no_fault(double volts)
    {
        var (f, _) = Diagnose(
            Oven,
            "main=ON heat=LOW : sees \"lower heats\" = dead",
            FormattableString.Invariant($"main=ON : VAC N1.L N1.N = {volts}V"),
            FormattableString.Invariant($"main=ON heat=LOW : VAC S1.1 N1.N = {volts - 1}V"),
            FormattableString.Invariant($"main=ON heat=LOW : VAC X1:1 X1:2 = {volts - 1}V")
        );
        f.OffSheet.ShouldBeLessThan(0.05);
        ShareOn(f, "R1", "X1:1", "X1:2", "w6", "w7").ShouldBeGreaterThan(0.9);
        f.Verdicts.Skip(1).ShouldAllBe(v => v.Judgement == Judgement.Ok);
    }

    /// <summary>An open wire beside live ones shows what couples into it; that is no path of kilo-ohms.</summary>
    [Theory]
    [InlineData(12)]
    [InlineData(62)]
    [InlineData(105)]
    public void Stray_volts_on_an_open_wire_are_nothing(double volts)
    {
        var (f, _) = Diagnose(
            Oven,
            "main=ON heat=LOW : sees \"lower heats\" = dead",
            "main=ON heat=LOW : VAC S1.1 N1.N = 231V",
            "main=ON heat=LOW : VAC S1.2 N1.N = 230V",
            FormattableString.Invariant($"unplug X1, main=ON heat=LOW : VAC X1:1a N1.N = {volts}V")
        );
        f.OffSheet.ShouldBeLessThan(0.1);
        f.Suspects[0].Unit.ShouldBe("w5");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.5);
        f.Verdicts[3].Meaning.ShouldContain("low impedance");
    }

    /// <summary>A supply behind the mains is regulated: what they are off teaches nothing of it.</summary>
    [Fact]
    public void What_is_learnt_of_the_mains_by_hand()
    {
        var unknowns = new Unknowns(0.012 * 0.012, 0.04 * 0.04);
        var mains = new Foreseen(230, 1, 230, 0, 0, OfMains: true);
        // 9.2 V of prior and 1 V of meter: of 14 V off, 84.64 / 85.64 is taken for the mains.
        unknowns.Read(mains, 244, 1, 1e-12);
        (230 * unknowns.Mains).ShouldBe(14 * 84.64 / 85.64, 1e-3);
        unknowns.Variance(mains).ShouldBe(84.64 / 85.64, 1e-3);
        unknowns.Supply.ShouldBe(0);
    }

    /// <summary>A standing compressor draws its locked amps through the breaker for seconds, and is read in them.</summary>
    [Fact]
    public void What_hums_at_its_locked_amps_is_read_before_the_breaker_opens()
    {
        string[] seen = ["cool=CALL : sees \"compressor runs\" = dead", "cool=CALL : sees \"fan runs\" = works"];
        var (weak, _) = Diagnose(Cooler, [.. seen, "cool=CALL : clamp w3 = 43A", "off N1, unplug C1 : cap C1 = 9uF"]);
        weak.Suspects[0].Unit.ShouldBe("C1");
        weak.Suspects[0].Share.ShouldBeGreaterThan(0.9);
        weak.Suspects[0].Faults.ShouldHaveSingleItem();
        var (open, _) = Diagnose(Cooler, [.. seen, "off N1, unplug M1 : ohm M1.R M1.C = 1.6ohm", "off N1, unplug M1 : ohm M1.S M1.C = OL"]);
        open.Suspects[0].Unit.ShouldBe("M1");
        open.Suspects[0].Share.ShouldBeGreaterThan(0.7);
    }

    [Fact]
    public void A_wire_may_touch_the_common_of_a_circuit_that_stands_on_no_frame()
    {
        var (f, _) = Diagnose(
            Cooler,
            "cool=CALL : sees \"compressor runs\" = dead",
            " : looks F1 = bad",
            "off N1, unplug S1 : ohm S1.Y@loom T1.S2 = 0.6ohm",
            "off N1, unplug S1, unplug K1 : ohm S1.Y@loom T1.S2 = 0.6ohm"
        );
        f.Suspects.Where(s => s.Faults[0].Kind == FaultKind.Shorts).Sum(s => s.Share).ShouldBeGreaterThan(0.7);
        f.Suspects[0].Also.ShouldContain(a => a.Target == "F1");
    }

    private const string Trailer = """
        sheet "Clay trailer"
        nominal 24V dc
        control brake: OFF*, PRESSED held
        part G1 psu 24V internal=10mohm at "frame"
        part F1 fuse 10A blade at "cab"
        part S1 switch at "pedal"
          closed 1-2 when brake=PRESSED
        part X1 connector 2 "trailer socket" at "rear"
        part H1 lamp 24V 21W "stop lamp" at "trailer"
        part H2 lamp 24V 5W "brake lamp in the cab" at "cab"
        path G1.+ -[w1]- F1 -[w2]- S1 -[w3]- X1:1 -[w4]- H1 -[w5]- X1:2< -[w6]- G1.-
        path S1.2 -[w7]- H2 -[w8]- G1.-
        function "stop lamp lights": H1 when brake=PRESSED
        function "cab lamp lights": H2 when brake=PRESSED
        """;

    /// <summary>A filament of 27 Ω hot has two cold: tungsten has a tenth to a fifteenth; common practice, no source.</summary>
    [Fact]
    public void A_cold_filament_is_no_short()
    {
        var (f, _) = Diagnose(
            Trailer,
            "brake=PRESSED : sees \"stop lamp lights\" = dead",
            "brake=PRESSED : sees \"cab lamp lights\" = works",
            "off G1, unplug H1 : ohm H1 = 2.1ohm"
        );
        f.OffSheet.ShouldBeLessThan(0.1);
        ShareOn(f, "H1").ShouldBeLessThan(0.1);
        f.Verdicts[2].Meaning.ShouldContain("cold filament");
    }

    private const string Conveyor = """
        sheet "Brick conveyor"
        nominal 24V dc
        control start: OUT*, PRESSED held
        given brick: AWAY*, PRESENT
        part N1 mains 230V at "panel"
        part U1 psu 230V:24V 5A separated at "panel"
        part F1 fuse 2A "sensor fuse" at "panel"
        part S1 button at "door"
          closed 1-2 when start=PRESSED
        part B1 proximity pnp "brick sensor" at "middle" when brick=PRESENT
        part A1 module "controller" at "panel"
          supply 24 ground 0
          input 1 high>15V 5kohm
          input 2 high>15V 5kohm
          output 10 high 100mohm when powered and in1 and in2
        part K1 contactor 24V 60ohm at "panel"
        part H1 lamp 24V 2W at "door"
        path N1.L - U1.L
        path N1.N - U1.N
        path U1.+ -[w4]- F1 -[w5]- B1.1
        path B1.3 -[w7]- U1.-
        path B1.4 -[w9]- A1.2
        path U1.+ -[w11]- A1.24
        path A1.0 -[w12]- U1.-
        path U1.+ -[w13]- S1 -[w16]- A1.1
        path A1.10 -[w17]- K1.A1>A2 -[w18]- U1.-
        path S1.2 -[w23]- H1 -[w24]- U1.-
        function "conveyor pulls in": K1 when start=PRESSED and brick=PRESENT
        function "lamp lights": H1 when start=PRESSED
        """;

    /// <summary>
    /// One point of a circuit that has no connection with the mains is read on its own common, and what a sensor lets through when it is
    /// off
    /// acquits nothing: the model has half a volt, this one none.
    /// </summary>
    [Fact]
    public void A_point_alone_is_read_on_its_own_common_and_leakage_acquits_nobody()
    {
        const string run = "start=PRESSED brick=PRESENT";
        var (f, circuit) = Diagnose(
            Conveyor,
            $"{run} : sees \"conveyor pulls in\" = dead",
            $"{run} : sees \"lamp lights\" = works",
            $"{run} : V B1.1 = 23.9V",
            $"{run} : V B1.1 B1.3 = 23.9V",
            $"{run} : V B1.4 = 0V"
        );
        f.Suspects[0].Unit.ShouldBe("B1");
        ShareOn(f, "B1").ShouldBeGreaterThan(0.6);
        ReadingReader.Read(circuit, $"{run} : V B1.4").Value!.Test.Probe.ToString().ShouldBe("V B1.4 U1.-");
    }

    /// <summary>It jumps while the place at the sensor is moved and stays where it is while the panel is.</summary>
    [Fact]
    public void What_jumps_at_a_place_that_is_moved_is_there()
    {
        const string run = "start=PRESSED brick=PRESENT";
        var (f, _) = Diagnose(
            Conveyor,
            $"{run} : sees \"conveyor pulls in\" = flickers",
            $"{run}, move \"middle\" : V A1.2 = 0..23V",
            $"{run}, move \"panel\" : V A1.2 = 23.3V"
        );
        f.Suspects.Where(s => s.Faults[0].Kind == FaultKind.Intermittent)
            .Where(s => s.Unit is "B1" or "w5" or "w7" or "w9")
            .Sum(s => s.Share)
            .ShouldBeGreaterThan(0.7);
    }
}
