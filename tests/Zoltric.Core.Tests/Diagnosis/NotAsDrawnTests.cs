using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What does and what does not speak for a machine that is built otherwise than drawn (common practice, no source).</summary>
public class NotAsDrawnTests
{
    private static readonly Circuit Tipper = DemoSheets.Read(
        """
        sheet "tipper"
        nominal 12V dc
        drawn from maker
        reference G1.-
        control key: OFF*, RUN, START held
        control lamp: OFF*, ON
        part G1 battery 12V
        part F1 fuse 10A
        part F2 fuse 10A
        part S1 switch
          closed 30-50 when key=START
        part S2 switch
          closed 1-2 when lamp=ON
        part X1 connector 4
        part H1 lamp 12V 35W
        part H2 lamp 12V 10W
        part K1 relay 12V
        part M1 motor 12V 120A
        part GND1 stud
        path G1.+ -[w1 RD 50mm2 1m]- K1.30>87 -[w2 RD 50mm2 1m]- M1 -[w3 BK 50mm2 1m]- GND1 -[w4 BK 50mm2 1m]- G1.-
        path G1.+ -[w5 4mm2 1m]- F1 -[w6 1mm2 1m]- S1.30
        path S1.50 -[w7 1mm2 2m]- X1:1 -[w8 1mm2 2m]- K1.86>85 -[w9 1mm2 1m]- GND1
        path F1.2 -[w10 1mm2 1m]- F2 -[w11 1mm2 1m]- S2 -[w12 1mm2 2m]- X1:2 -[w13 1mm2 3m]- H1 -[w14 1mm2 1m]- GND1
        path S2.2 -[w15 1mm2 1m]- X1:3 -[w16 1mm2 3m]- H2 -[w17 1mm2 1m]- GND1
        function "engine cranks": M1 when key=START
        function "work lamp lights": H1 when lamp=ON
        function "marker lights": H2 when lamp=ON
        """
    );

    private static Findings Of(params string[] lines) =>
        Diagnostician.Diagnose(new FaultSpace(new Machine(Tipper)), [.. lines.Select(l => DemoSheets.Line(Tipper, l))]);

    [Theory]
    [InlineData("key=START : sees \"engine cranks\" = dead")]
    [InlineData("key=START : sees \"engine cranks\" = weak")]
    public void The_complaint_alone_says_nothing_of_the_drawing(string complaint) =>
        // There is a job because of it, on a machine as drawn and on one that is not: the maker's sheet stands at four in a hundred.
        Of(complaint).OffSheet.ShouldBe(0.04, 0.005);

    [Fact]
    public void A_wire_read_by_itself_is_what_it_shows()
    {
        var open = Of("lamp=ON : sees \"work lamp lights\" = dead", "off G1, unplug H1 : beep w13 = silent");
        open.Suspects[0].Faults.ShouldAllBe(f => f.Target == "w13");
        open.Suspects[0].Share.ShouldBeGreaterThan(0.6);
        open.OffSheet.ShouldBeLessThan(0.12);
        // A reading of the whole string may meet what is not drawn anywhere in it.
        Of("lamp=ON : sees \"work lamp lights\" = dead", "lamp=ON : V H1.1 H1.2 = 6V").OffSheet.ShouldBeGreaterThan(open.OffSheet);
    }

    [Fact]
    public void A_battery_that_rests_well_and_falls_under_load_is_the_battery()
    {
        // Resistance of its own within what still lets something through; the cable that loses little is no ohmmeter.
        var findings = Of(
            "key=START : sees \"engine cranks\" = weak",
            " : V G1.+ G1.- = 12.5V",
            "key=START : V G1.+ G1.- = 6.8V",
            "key=START : drop w4 = 40mV"
        );
        findings.Suspects[0].Faults.ShouldAllBe(f => f.Target == "G1");
        findings.Suspects[0].Share.ShouldBeGreaterThan(0.6);
    }
}
