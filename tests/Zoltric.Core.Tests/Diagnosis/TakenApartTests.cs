using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>Wires that meet in a splice, and loads that take their fuse along. An invented barge.</summary>
public sealed class TakenApartTests
{
    private const string Barge = """
        sheet "barge deck lamps"
        nominal 24V dc
        drawn from traced
        control lamps: OFF*, ON
        part G1 battery 24V internal=10mohm at "engine room"
        part F1 fuse 20A blade "deck lamp fuse" at "wheelhouse"
        part S1 switch "lamp switch" at "wheelhouse"
          closed 1-2 when lamps=ON
        part X1 connector 2 at "deck box"
        part SP splice at "mast"
        part H1 lamp 24V 150W cold=0.3ohm "port lamp" at "mast" reach 15min
        part H2 lamp 24V 150W cold=0.3ohm "starboard lamp" at "mast" reach 15min
        part GND stud at "wheelhouse"
        path G1.+ -[w1 RD 6mm2 2m]- F1 -[w2 RD 4mm2 1m]- S1 -[w3 RD 4mm2 4m]- X1:1 -[w4 RD 4mm2 8m]- SP
        path SP -[w5 RD 2.5mm2 1m]- H1 -[w6 BK 2.5mm2 9m]- X1:2< -[w8 BK 4mm2 4m]- GND
        path SP -[w7 RD 2.5mm2 1m]- H2 -[w9 BK 2.5mm2 9m]- X1:2b
        path GND -[w10 BK 6mm2 2m]- G1.-
        function "port lamp lights": H1 when lamps=ON
        function "starboard lamp lights": H2 when lamps=ON
        """;

    private static readonly string[] Blown =
    [
        "lamps=ON : sees \"port lamp lights\" = dead",
        "lamps=ON : sees \"starboard lamp lights\" = dead",
        "lamps=ON : V F1.2 = 0V",
        "lamps=ON : drop F1 = 25.2V",
        "off G1 : V F1.1 X1:2a = 0V",
        "off G1, unplug X1 : ohm X1:1b GND = OL",
        "off G1, unplug X1 : ohm S1.2 GND = OL",
        "off G1, pull F1 : ohm S1.1 GND = OL",
        "off G1, pull F1 : ohm F1 = OL",
    ];

    /// <summary>The job to its end on a machine of which this part has this fault.</summary>
    private static FollowedJob Followed(string sheet, string unit, FaultKind kind, int seed)
    {
        var space = new FaultSpace(new Machine(SheetReader.Read(sheet).Value.ShouldNotBeNull()));
        var suspect = Enumerable
            .Range(0, space.Suspects.Count)
            .First(s => space.Suspects[s] is { Also: null } x && x.RepairUnit == unit && x.Template.Kind == kind);
        return FollowedJob.Run(space, suspect, seed).ShouldNotBeNull();
    }

    /// <summary>Each wire at the splice in turn, followed to the end on a machine that has that fault.</summary>
    [Theory]
    [InlineData("w4")]
    [InlineData("w5")]
    [InlineData("w7")]
    public void A_grounded_wire_at_a_splice_is_told_from_its_neighbours_with_both_ends_off(string wire)
    {
        var job = Followed(Barge, wire, FaultKind.Grounded, 11);
        (job.Solved, job.Right).ShouldBe((true, true), string.Join("\n", job.Log));
    }

    private const string Sprayer = """
        sheet "orchard sprayer work lights"
        nominal 12V dc
        drawn from traced
        control lights: OFF*, ON
        part G1 battery 12V internal=8mohm at "tractor"
        part F0 fuse 80A link "main link" at "tractor"
        part F2 fuse 30A blade "work light fuse" at "cab"
        part S1 switch "work light switch" at "cab"
          closed 1-2 when lights=ON
        part K1 relay 12V 90ohm "work light relay" at "cab"
        part X1 connector 3 "boom plug" at "rear"
        part SP splice at "boom" reach 6min
        part H1 lamp 12V 100W cold=0.13ohm "left light" at "boom, left" reach 8min
        part H2 lamp 12V 100W cold=0.13ohm "middle light" at "boom, middle" reach 8min
        part H3 lamp 12V 55W cold=0.25ohm "right light" at "boom, right" reach 8min
        part GB stud "boom earth" at "boom" reach 6min
        part GND stud "cab earth" at "cab"
        path G1.+ -[w1 RD 16mm2 1m]- F0 -[w2 RD 10mm2 2m]- F2 -[w3 RD 6mm2 0.3m]- K1.30>87 -[w4 RD 4mm2 2m]- X1:1 -[w5 RD 4mm2 4m]- SP
        path F0.2 -[w6 RD 1.5mm2 2m]- S1 -[w7 BU 1.5mm2 0.5m]- K1.86>85 -[w8 BK 1.5mm2 0.5m]- GND
        path SP -[w11 RD 2.5mm2 2m]- H1 -[w12 BK 2.5mm2 2m]- GB
        path SP -[w13 RD 2.5mm2 1m]- H2 -[w14 BK 2.5mm2 1m]- GB
        path SP -[w15 RD 2.5mm2 2m]- H3 -[w16 BK 2.5mm2 2m]- GB
        path GB -[w17 BK 6mm2 4m]- X1:2< -[w18 BK 6mm2 2m]- GND
        path GND -[w19 BK 16mm2 2m]- G1.-
        function "left light": H1 when lights=ON
        function "middle light": H2 when lights=ON
        function "right light": H3 when lights=ON
        """;

    /// <summary>
    /// A short in a lamp reads what a cold filament reads. On a machine that keeps its fuse blown a new one is put in, goes as well, and
    /// what is left off by turns tells which it is, without reading on and on behind a fuse that has gone again (31 readings before).
    /// </summary>
    [Theory]
    [InlineData("H1")]
    [InlineData("H2")]
    [InlineData("H3")]
    public void A_lamp_that_takes_its_new_fuse_along_is_found_by_what_is_left_off(string lamp)
    {
        var job = Followed(Sprayer, lamp, FaultKind.Shorted, 3);
        var said = $"{job.Fault}\n{string.Join("\n", job.Log)}";
        job.Right.ShouldBeTrue(said);
        job.Leader.Share.ShouldBeGreaterThan(0.9, said);
        job.Readings.ShouldBeLessThan(27, said);
    }

    /// <param name="onAtRest">The lamps' switch lies on by itself: then the machine is tried as it stands.</param>
    [Theory, InlineData(false), InlineData(true)]
    public void Where_no_reading_tells_a_cold_filament_from_a_short_the_new_fuse_is_what_is_tried(bool onAtRest)
    {
        var sheet = onAtRest ? Barge.Replace("OFF*, ON", "OFF, ON*", StringComparison.Ordinal) : Barge;
        string AsItLies(string line) => onAtRest ? line.Replace(", lamps=ON", "").Replace("lamps=ON", "") : line;
        Findings Diagnosed(params IEnumerable<string> lines) => Diagnosing.Diagnose(sheet, [.. Blown.Concat(lines).Select(AsItLies)]);

        var f = Diagnosed();
        f.Solved.ShouldBeFalse();
        f.Next.ShouldBeEmpty();
        f.Suspects[0].Unit.ShouldBe("F1");
        f.Stuck.ShouldNotBeNull().ShouldContain("Put one new one in, of the same rating");
        f.Stuck.ShouldContain("H1 or H2");
        f.PutIn.ShouldNotBeNull().ToString().ShouldBe(": replaced F1");
        // What is ordered with it in is the complaint itself.
        f = Diagnosed(" : replaced F1");
        f.Next.ShouldHaveSingleItem()
            .Test.ToString()
            .ShouldBe(onAtRest ? ": sees \"port lamp lights\"" : "lamps=ON : sees \"port lamp lights\"");
        const string tried = "lamps=ON : sees \"port lamp lights\" = ";
        Diagnosed(" : replaced F1", tried + "works").Solved.ShouldBeTrue();
        // It went again: with a load left off one more is put in, and no test is ordered that tells next to nothing.
        string[] again = [" : replaced F1", tried + "dead", "lamps=ON : looks F1 = bad"];
        f = Diagnosed(again);
        f.Next.ShouldBeEmpty();
        f.Stuck.ShouldNotBeNull().ShouldContain("put one more in and try it");
        f.PutIn.ShouldNotBeNull().ToString().ShouldMatch("^unplug H[12] : replaced F1$");
        f = Diagnosed([.. again, "unplug H1 : replaced F1"]);
        f.Next.ShouldHaveSingleItem().Test.Probe.ShouldBe(new Probe.Looks("F1"));
        f = Diagnosed([.. again, "unplug H1 : replaced F1", "unplug H1, lamps=ON : looks F1 = good"]);
        f.Suspects[0].Unit.ShouldBe("H1");
        f.Suspects[0].Share.ShouldBeGreaterThan(onAtRest ? 0.7 : 0.75);
    }

    /// <summary>
    /// A key switch that stays on start, proved on its own metal, beside a battery that the starter pulls down: whether that one is weak
    /// as well shows when the switch is mended.
    /// </summary>
    [Fact]
    public void What_is_in_every_pair_that_is_left_is_mended_first()
    {
        var f = Diagnosing.Diagnose(
            DemoSheets.Text("PH-1"),
            "key=RUN cutter=ON : sees \"cutter runs\" = weak",
            "horn=PRESSED : sees \"horn sounds\" = works",
            "key=START : sees H5 = works",
            "key=RUN lift=UP : sees \"lift rises\" = works",
            " : sees \"bus\" = dead",
            "key=START : sees \"engine cranks\" = works",
            "key=RUN lift=DOWN : sees \"lift lowers\" = works",
            "key=RUN : sees \"tracks drive\" = works",
            "key=RUN : V G1.+ = 21.63V",
            " : V G1.+ = 21.74V",
            "key=START : V G1.+ = 21.6V",
            "key=START : V Q1.1 = 21.37V",
            " : V K1.87 = 20.85V",
            "key=RUN : hears K1 = clicks",
            "off G1, off G2 : V Q1.2 G1.- = 0V",
            "off G1, off G2, park=OFF : ohm K1.86 G1.+ = 276.5ohm",
            " : V K1.86 = 20.8V",
            " : V X9:1a = 0.139V",
            "off G1, off G2 : V Q1.2 G1.- = 0V",
            "off G1, off G2, unplug S1 : ohm S1.30 S1.50 = 0.5ohm",
            " : V S1.15 = 0.138V"
        );
        f.Suspects[0].Unit.ShouldBe("S1");
        f.Suspects[0].Share.ShouldBeLessThan(0.95);
        f.Solved.ShouldBeTrue();
    }
}
