using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>A machine that takes current at rest, followed by clamp.</summary>
public class DrawTestTests
{
    private static readonly FaultSpace Bt7 = new(new Machine(DemoSheets.Circuit("BT-7")));
    private const string Complaint = "after 15min : sees \"sleeps\" = dead";

    private static Findings Diagnose(params string[] lines) =>
        Diagnostician.Diagnose(
            Bt7,
            [.. lines.Select(l => DemoSheets.Line(Bt7.Circuit, l))],
            new DiagnosisOptions { Alternatives = 12, Verdicts = false }
        );

    [Fact]
    public void A_draw_is_clamped_first_where_it_differs_and_then_round_the_feed_with_fuses_pulled()
    {
        var first = Diagnose(Complaint);
        first.Next[0].Test.Probe.ShouldBeOfType<Probe.Clamp>(first.Next[0].Test.ToString());
        first.Next[0].Test.Setup.ToString().ShouldBe("after 15min");
        // 14 A that go through the link to the body: the rest of the road is told by what ends the draw.
        var far = Diagnose(Complaint, "after 15min : clamp w7 = 14.0A", "after 15min : clamp w16 = 14.1A");
        far.Next.ShouldContain(a =>
            a.Test.Probe is Probe.Clamp && a.Test.Setup.Interventions.Count == 1 && a.Test.Setup.Interventions[0] is Intervention.Pull
        );
        var pulled = far
            .Next.Select(a => a.Test.Setup.Interventions.OfType<Intervention.Pull>().FirstOrDefault())
            .OfType<Intervention.Pull>()
            .ToList();
        pulled.ShouldAllBe(
            p => Bt7.Circuit.FindPart(p.Tag)!.Kind is Fuse && Bt7.Circuit.FindPart(p.Tag)!.Value(Dimension.Ampere) <= 60,
            "what is bolted down is not drawn under load"
        );
    }

    /// <summary>
    /// A meter on volts in the ground lead is a screen: 1 µA through its 10 MΩ shows 10 V. Neither full nor no volts say which circuit.
    /// </summary>
    [Theory]
    [InlineData("12.4", "something draws")]
    [InlineData("0.02", "next to nothing is drawn")]
    public void Volts_in_the_batterys_lead_are_said_to_be_a_screen_and_weigh_nothing(string volts, string said)
    {
        var before = Diagnose(Complaint);
        var line = DemoSheets.Line(Bt7.Circuit, $"lift G1.-, after 15min : V G1.- G1.-@lead = {volts}V");
        var after = Diagnostician.Diagnose(
            Bt7,
            [DemoSheets.Line(Bt7.Circuit, Complaint), line],
            new DiagnosisOptions { Alternatives = 12 }
        );
        after.Suspects[0].Share.ShouldBe(before.Suspects[0].Share, 1e-9);
        after.OffSheet.ShouldBe(before.OffSheet, 1e-9);
        var verdict = after.Verdicts[1];
        verdict.Judgement.ShouldBe(Judgement.Unsure);
        verdict.Meaning.ShouldContain("A screen only");
        verdict.Meaning.ShouldContain(said);
        // Amps in the same gap are a figure.
        Math.Abs(Diagnose(Complaint, "lift G1.-, after 15min : A G1.- = 0.9A").Suspects[0].Share - before.Suspects[0].Share)
            .ShouldBeGreaterThan(1e-6);
    }

    [Fact]
    public void No_draw_is_clamped_for_another_complaint_nor_on_dangerous_volts()
    {
        Diagnose("key=RUN outlet=OPEN : sees \"outlet valves open\" = dead").Next.ShouldNotContain(a => a.Test.Probe is Probe.Clamp);
        var mains = new FaultSpace(
            new Machine(
                DemoSheets.Read(
                    """
                    sheet "heater at rest"
                    nominal 230V ac
                    drawn from traced
                    control on: OFF*, ON
                    part T0 mains 230V ac
                    part F1 fuse 10A
                    part S1 switch
                      closed 1-2 when on=ON
                    part E1 heater 230V 1000W
                    path T0.L -[w1]- F1 -[w2]- S1 -[w3]- E1 -[w4]- T0.N
                    function "rests": A T0 <= 0.1A
                    """
                )
            )
        );
        var f = Diagnostician.Diagnose(
            mains,
            [DemoSheets.Line(mains.Circuit, ": sees \"rests\" = dead")],
            new DiagnosisOptions { Alternatives = 20 }
        );
        f.Next.ShouldNotBeEmpty();
        f.Next.ShouldNotContain(a => a.Test.Probe is Probe.Clamp);
    }

    /// <summary>
    /// A cabin lamp of 10 W left on by its door contact: 24²/10 = 57.6 Ω, and 2 × 12.6 V of a full pair behind that draw 0.44 A (by hand).
    /// </summary>
    [Fact]
    public void What_is_drawn_is_told_feed_by_feed()
    {
        var f = Diagnose(Complaint, "after 15min : clamp w7 = 0.46A", "after 15min : clamp w45 = -0.44A");
        var feeds = FeedDraw.Of(f);
        var cabin = feeds.Single(x => x.Feed?.Tag == "F14");
        cabin.Healthy.ShouldBe(0, 0.001);
        cabin.Behind.ShouldBeGreaterThan(0.9);
        cabin.High.ShouldBe(25.2 / 57.6, 0.01);
        feeds.Single(x => x.Feed?.Tag == "F1").Behind.ShouldBeGreaterThanOrEqualTo(cabin.Behind, "F14 hangs on F1");
        // What sleeps draws what its sheet says: 8 and 14 mA at nominal 24 V.
        feeds.Single(x => x.Feed?.Tag == "F15").Healthy.ShouldBe(0.008 * 25.2 / 24, 0.0002);
        feeds.Single(x => x.Feed?.Tag == "F16").Healthy.ShouldBe(0.014 * 25.2 / 24, 0.0003);
        feeds.Where(x => x.Feed?.Tag is "F15" or "F16" or "F21").ShouldAllBe(x => x.Behind < 0.02);
        FeedDraw.Of(Diagnose("key=RUN outlet=OPEN : sees \"outlet valves open\" = dead")).ShouldBeEmpty();
    }

    /// <summary>
    /// A wire that touches ground carries the current of that up to the place and not beyond it: where along the wire the clamp sits is not
    /// known.
    /// </summary>
    [Fact]
    public void A_wire_that_touches_ground_may_be_clamped_on_either_side_of_the_place()
    {
        var s = Enumerable.Range(0, Bt7.Suspects.Count).First(i => Bt7.Suspects[i].Template is { Target: "w91", Words: "grounded" });
        var point = Bt7.Points(s) - 1;
        var amps = Bt7.Predict(DemoSheets.Line(Bt7.Circuit, "after 15min : clamp w16").Test, s, point).Mean;
        amps.ShouldBeGreaterThan(1);
        var own = Bt7.Predict(DemoSheets.Line(Bt7.Circuit, "after 15min : clamp w91").Test, s, point);
        own.Mean.ShouldBe(amps / 2, 0.05 * amps);
        own.Spread.ShouldBeGreaterThan(0.45 * amps);
    }

    /// <summary>
    /// A module that stays awake takes 25.2 V over 400 Ω where it should take its 8 mA; before it would fall asleep it is as it always was
    /// (by hand).
    /// </summary>
    [Fact]
    public void A_module_that_stays_awake_is_one_only_where_it_should_sleep()
    {
        Fault[] awake = [new("A1", "awake", 400, Dimension.Ohm)];
        double Amps(string line, params Fault[] faults) =>
            Meter.Read(Bt7.Machine, DemoSheets.Line(Bt7.Circuit, line).Test, faults).Value!.Value;
        Amps("after 15min : clamp w47", awake).ShouldBe(25.2 / 400, 0.0005);
        Amps("after 15min : clamp w47").ShouldBe(0.008 * 25.2 / 24, 0.0002);
        Amps(": clamp w47", awake).ShouldBe(Amps(": clamp w47"), 1e-9);
        Bt7.Suspects.Where(s => s.Template.Kind == FaultKind.Awake).Select(s => s.Template.Target).ShouldBe(["A1", "A2"]);
        // 0.12 A behind the tracker's fuse and nothing else there that could take it.
        var f = Diagnose(
            Complaint,
            "after 15min : clamp w7 = 0.14A",
            "after 15min : clamp w15 = 0.14A",
            "after 15min : clamp w50 = 0.01A",
            "pull F15, after 15min : clamp w15 = 0.02A"
        );
        f.Suspects[0].Faults[0].Words.ShouldBe("awake", $"{f.Suspects[0].Unit} {f.Suspects[0].Share}, off {f.OffSheet}");
        f.Suspects[0].Unit.ShouldBe("A1");
    }

    [Fact]
    public void Waiting_is_counted_once_and_anew_after_anything_that_wakes()
    {
        Reading Line(string text) => DemoSheets.Line(Bt7.Circuit, text);
        double Minutes(string test, params string[] before) => new TestCosts(Bt7.Circuit, before.Select(Line)).Minutes(Line(test).Test);
        var still = Minutes("after 15min : clamp w7", Complaint);
        Minutes("pull F14, after 15min : clamp w7", Complaint)
            .ShouldBe(still + 2 + TestCosts.Pull, 1e-9, "to the fuse and pulled; nothing wakes");
        Minutes("after 15min : clamp w7", Complaint, "pull F14, after 15min : clamp w16 = 0A").ShouldBeGreaterThan(15, "the fuse put back");
        Minutes("after 15min : clamp w7", Complaint, "key=RUN : sees \"tail is live\" = works").ShouldBeGreaterThan(15, "the key");
    }
}
