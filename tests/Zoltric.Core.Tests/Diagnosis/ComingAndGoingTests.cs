using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>Figures that jump or are watched, when the machine fails as people say it, and what was mended meanwhile.</summary>
public class ComingAndGoingTests
{
    private const string Bilge = """
        sheet "bilge"
        nominal 24V dc
        drawn from traced
        control on: OFF*, ON
        part G1 battery 24V at "hold" reach 5min
        part F1 fuse 10A at "panel"
        part S1 switch at "panel"
          closed 1-2 when on=ON
        part X1 connector 2 at "bulkhead" reach 3min
        part X2 connector 2 at "pump well" reach 6min
        part M1 motor 24V 5A at "pump well" reach 8min
        part GND1 stud at "hold" reach 5min
        path G1.+ -[w1 RD 4mm2 2m]- F1 -[w2 RD 2.5mm2 1m]- S1 -[w3 RD 2.5mm2 4m]- X1:1 -[w4 RD 2.5mm2 3m]- X2:1 -[w5 RD 2.5mm2 1m]- M1
        path M1.2 -[w6 BK 2.5mm2 1m]- X2:2< -[w7 BK 2.5mm2 3m]- X1:2< -[w8 BK 2.5mm2 4m]- GND1 -[w9 BK 4mm2 1m]- G1.-
        function "pumps": M1 when on=ON
        """;

    private static readonly FaultSpace Space = new(new Machine(DemoSheets.Read(Bilge)));

    private static Findings Diagnose(Circumstances circumstances, params string[] lines) =>
        Diagnostician.Diagnose(
            Space,
            [.. lines.Select(l => DemoSheets.Line(Space.Circuit, l))],
            new DiagnosisOptions { Circumstances = circumstances, Alternatives = 0 }
        );

    private static double Share(Findings f, string words) =>
        f.Suspects.Where(g => g.Words.Any(w => w.StartsWith(words, StringComparison.Ordinal))).Sum(g => g.Share);

    private static double Coming(Findings f) => f.Suspects.Where(g => g.Words.Any(w => w.Contains("intermittent"))).Sum(g => g.Share);

    [Theory]
    [InlineData("off G1, move \"pump well\" : ohm X2:1a X2:1b = 0.4..OL")]
    [InlineData("off G1, move \"pump well\" : ohm X2:1a X2:1b = 0.4..900ohm")]
    [InlineData("on=ON, move \"pump well\" : drop X2:1 = 0.1..22V")]
    [InlineData("on=ON, move \"pump well\" : drop X2:1 = flickers")]
    [InlineData("on=ON, move \"pump well\" : drop X2:1 max = 23V", 0.55)]
    public void A_figure_across_a_joint_that_jumps_while_it_is_moved_is_that_joint(string line, double atLeast = 0.7)
    {
        var f = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = flickers", line);
        Share(f, "X2:1 intermittent").ShouldBeGreaterThan(atLeast);
        f.OffSheet.ShouldBeLessThan(0.1);
    }

    /// <summary>What stands still while the load flickers is before the joint, what jumps behind it.</summary>
    [Theory]
    [InlineData("X1:1", "on=ON : V X1:1a = 24.2V", "on=ON : V X1:1b = 6..24V")]
    [InlineData("X2:1", "on=ON : V X1:1b = 24.2V", "on=ON : V X2:1a = 24.1V", "on=ON : V X2:1b = 0..24V")]
    [InlineData("X1:2", "on=ON : V X1:2a = 0V", "on=ON : V X1:2b = 0..24V")]
    public void A_figure_that_stands_still_meanwhile_is_before_what_jumps(string joint, params string[] lines)
    {
        var f = Diagnose(Circumstances.None, ["on=ON : sees \"pumps\" = flickers", .. lines]);
        f.Suspects[0].Words.ShouldContain(w => w.StartsWith($"{joint} intermittent", StringComparison.Ordinal));
    }

    [Fact]
    public void A_range_of_a_one_key_answer_is_a_band_and_no_jump()
    {
        foreach (var line in new[] { "on=ON : V X1:1a = 23.1..24.9V", "on=ON : V X1:1a = -0.1..1.2V", "on=ON : V M1.2 = 19.2..28.8V" })
            DemoSheets.Line(Space.Circuit, line).Result.ShouldBeOfType<Core.Circuits.ReadingResult.Range>();
        DemoSheets.Line(Space.Circuit, "on=ON : V X1:1a = 0..24V").Result.ShouldBeOfType<Core.Circuits.ReadingResult.Jumps>();
        DemoSheets.Line(Space.Circuit, "on=ON : V X1:1a = 0..24V").ToString().ShouldEndWith("= 0..24V");
    }

    [Fact]
    public void The_lowest_of_a_watch_is_one_side_of_the_steady_figure()
    {
        // Half the volts at the lowest: the joints before it, or a dip; the way home is not said to be bad.
        var low = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = weak", "on=ON : V X2:1a min = 11V");
        var good = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = weak", "on=ON : V X2:1a min = 24.2V");
        (Share(low, "w6") + Share(low, "w7") + Share(low, "w8")).ShouldBeLessThan(
            0.5 * (Share(good, "w6") + Share(good, "w7") + Share(good, "w8"))
        );
        (Share(low, "w3") + Share(low, "S1")).ShouldBeGreaterThan(2 * (Share(good, "w3") + Share(good, "S1")));
    }

    [Fact]
    public void Circumstances_shift_the_odds_mildly_and_in_their_direction()
    {
        var plain = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead");
        var now = Diagnose(Circumstances.NowAndThen, "on=ON : sees \"pumps\" = dead");
        var cold = Diagnose(Circumstances.Standing, "on=ON : sees \"pumps\" = dead");
        Coming(plain).ShouldBe(0);
        Coming(now).ShouldBeInRange(0.2, 0.75);
        (Share(cold, "G1") / Share(plain, "G1")).ShouldBeInRange(1.3, 2.1);
        // A reading outweighs what was said: volts lost over the fuse, and it stays so.
        var read = Diagnose(
            Circumstances.NowAndThen,
            "on=ON : sees \"pumps\" = dead",
            "on=ON : drop F1 = 25.1V",
            "on=ON : sees \"pumps\" = dead",
            "off G1 : ohm F1 = OL"
        );
        read.Suspects.Where(g => g.Words.Any(w => w.Contains("F1"))).Sum(g => g.Share).ShouldBeGreaterThan(0.95);
    }

    [Fact]
    public void What_was_repaired_opens_a_period_of_its_own()
    {
        var found = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead", "on=ON : drop w4 = 25V");
        Share(found, "w4").ShouldBeGreaterThan(0.9);
        var mended = Diagnose(
            Circumstances.None,
            "on=ON : sees \"pumps\" = dead",
            "on=ON : drop w4 = 25V",
            " : repaired w4",
            "on=ON : sees \"pumps\" = works"
        );
        Share(mended, "w4").ShouldBeGreaterThan(0.9);
        mended.OffSheet.ShouldBeLessThan(0.05);
        // Still dead after it: the wire that was mended is not the answer any more.
        var still = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead", " : repaired w4", "on=ON : sees \"pumps\" = dead");
        Share(still, "w4").ShouldBeLessThan(0.5 * Share(Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead"), "w4"));
    }

    /// <summary>Nothing that is drawn about a load can keep it dead while all of the supply stands at its own terminals.</summary>
    [Fact]
    public void A_load_that_has_its_volts_and_is_dead_is_the_load()
    {
        var fed = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead", "on=ON : V M1.1 M1.2 = 24.6V");
        Share(fed, "M1").ShouldBeGreaterThan(0.85);
        fed.OffSheet.ShouldBeLessThan(0.1);
        // Half the volts are another matter.
        var half = Diagnose(Circumstances.None, "on=ON : sees \"pumps\" = dead", "on=ON : V M1.1 M1.2 = 12V");
        Share(half, "M1").ShouldBeLessThan(0.3);
    }

    [Fact]
    public void A_joint_built_for_the_starter_does_not_age_with_its_control_string()
    {
        var strings = Core.Faults.AgedStrings.Suspects(new Machine(DemoSheets.Circuit("PR-3"))).ToList();
        var control = strings.Single(s => s.String == "K1");
        var joints = control.Together.Select(f => f.Target).Prepend(control.Template.Target).ToList();
        joints.ShouldContain("S2");
        joints.ShouldContain("X3:4");
        // The isolator and the engine's ground carry the starter.
        joints.ShouldNotContain("Q1");
        joints.ShouldNotContain("GND1");
    }
}
