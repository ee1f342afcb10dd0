using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>A wire that has rubbed through and meets the frame by turns: the fuse goes now and then, and all is sound at rest.</summary>
public class TouchingByTurnsTests
{
    private const string Gate = """
        sheet "tail gate"
        nominal 24V dc
        drawn from traced
        control gate: OFF*, UP held
        part G1 battery 24V at "chassis" reach 3min
        part F1 fuse 10A at "cab" reach 2min
        part F2 fuse 10A at "cab" reach 2min
        part S1 switch at "cab" reach 2min
          closed 1-2 when gate=UP
        part X1 connector 2 at "hinge" reach 4min
        part Y1 coil 24V 20ohm "lift valve" at "gate" reach 5min
        part H1 lamp 24V 21W "work lamp" at "gate" reach 5min
        part GND1 stud at "chassis" reach 3min
        path G1.+ -[w1 RD 4mm2 1m]- F1 -[w2 RD 1.5mm2 4m]- X1:1 -[w3 RD 1.5mm2 2m]- S1 -[w4 BU 1.5mm2 2m]- Y1 -[w5 BK 1.5mm2 4m]- GND1
        path G1.+ -[w6 RD 4mm2 1m]- F2 -[w7 RD 1.5mm2 4m]- X1:2 -[w8 RD 1.5mm2 1m]- H1 -[w9 BK 1.5mm2 4m]- GND1
        path GND1 -[w10 BK 16mm2 1m]- G1.-
        function "lifts": Y1 when gate=UP
        function "lights": H1 when gate=OFF
        """;

    private static readonly FaultSpace Space = new(new Machine(DemoSheets.Read(Gate)));

    private static Findings Diagnose(Circumstances circumstances, params string[] lines) =>
        Diagnostician.Diagnose(
            Space,
            [
                .. lines
                    .Prepend(": looks F1 = bad")
                    .Prepend("gate=UP : sees \"lifts\" = dead")
                    .Select(l => DemoSheets.Line(Space.Circuit, l)),
            ],
            new DiagnosisOptions { Circumstances = circumstances, Alternatives = 0 }
        );

    /// <summary>Of what touches the frame, for good or by turns, on the run between the fuse and the lever.</summary>
    private static double Chafed(Findings f) =>
        f.Suspects.Where(g => g.Faults.Any(x => x.Kind == FaultKind.Grounded && x.Target is "w2" or "w3" or "w4")).Sum(g => g.Share);

    [Theory]
    [InlineData("pull F1 : ohm X1:1a GND1 = OL", "pull F1, move \"hinge\" : ohm X1:1a GND1 = 0.6ohm")]
    [InlineData("pull F1 : ohm F1.2 GND1 = OL", "pull F1, move \"hinge\" : ohm F1.2 GND1 = 0.6ohm")]
    [InlineData("pull F1, move \"hinge\" : ohm X1:1a GND1 = 0.3..OL")]
    public void Ohms_to_the_frame_that_come_while_a_place_is_moved_are_a_wire_rubbed_through_there(params string[] lines)
    {
        var f = Diagnose(Circumstances.NowAndThen, lines);
        Chafed(f).ShouldBeGreaterThan(0.85);
        f.Suspects[0].Faults.ShouldContain(x => x.TouchesByTurns);
        f.OffSheet.ShouldBeLessThan(0.05);
    }

    /// <summary>The story says that it comes and goes, without the word.</summary>
    [Fact]
    public void A_new_fuse_that_held_and_went_later_has_a_cause_that_comes_and_goes()
    {
        var before = Diagnose(Circumstances.None, ": replaced F1", "gate=UP : sees \"lifts\" = works");
        Chafed(before).ShouldBeLessThan(0.05);
        var f = Diagnose(Circumstances.None, ": replaced F1", "gate=UP : sees \"lifts\" = works", ": looks F1 = bad");
        Chafed(f).ShouldBeGreaterThan(0.5);
    }

    [Fact]
    public void It_is_said_and_read_in_fault_words()
    {
        var fault = FaultReader.Read(Space.Circuit, "w2 grounded 0.5ohm when moved").Value.ShouldNotBeNull().Single();
        fault.TouchesByTurns.ShouldBeTrue();
        fault.ToString().ShouldBe("w2 grounded 0.5ohm when moved");
        Should.Throw<FaultException>(() => Space.Machine.Run(Setup.Rest, FaultReader.Read(Space.Circuit, "w2 grounded when wet").Value!));
    }

    [Fact]
    public void The_machine_shows_it_while_the_place_is_moved_and_not_at_rest()
    {
        Fault[] chafe = [.. FaultReader.Read(Space.Circuit, "w2 grounded 0.5ohm when moved").Value!];
        MeterReading Shown(string line) => Meter.Read(Space.Machine, DemoSheets.Line(Space.Circuit, line).Test, chafe);
        Shown("pull F1 : ohm X1:1a GND1").Answer.ShouldBe(Answer.OverLimit);
        Shown("pull F1, move \"hinge\" : ohm X1:1a GND1").Value.ShouldNotBeNull().ShouldBe(0.5, 0.1);
        Shown("gate=UP : sees \"lifts\"").Answer.ShouldBe(Answer.Works);
        Shown("gate=UP, move \"hinge\" : sees \"lifts\"").Answer.ShouldBe(Answer.Dead);
    }

    /// <summary>With both tips on it, a pulled part is read by itself; with one, nobody can have held it.</summary>
    [Theory]
    [InlineData("pull F1 : ohm F1.2 GND1 = 0.4ohm", "pull F1 : ohm F1.2@loom GND1 = 0.4ohm")]
    [InlineData("pull F1 : beep GND1 F1.1 = silent", "pull F1 : beep GND1 F1.1@loom = silent")]
    [InlineData("pull F1 : ohm F1.1 F1.2 = OL", "pull F1 : ohm F1.1 F1.2 = OL")]
    [InlineData("pull F1 : ohm F1.2@part GND1 = OL", "pull F1 : ohm F1.2@part GND1 = OL")]
    [InlineData("unplug Y1 : ohm Y1.1 GND1 = OL", "unplug Y1 : ohm Y1.1 GND1 = OL")]
    public void Ohms_from_a_pulled_fuses_terminal_to_elsewhere_were_read_at_its_socket(string said, string meant) =>
        DemoSheets.Line(Space.Circuit, said).ToString().ShouldBe(DemoSheets.Line(Space.Circuit, meant).ToString());
}
