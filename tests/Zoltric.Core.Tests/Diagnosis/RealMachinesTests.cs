using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
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
        ShareOn(f, "M1").ShouldBeLessThan(0.05);
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
}
