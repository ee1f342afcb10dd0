using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What readings must come to, case by case.</summary>
public class EvidenceTests
{
    private static readonly FaultSpace Pr3 = new(new Machine(DemoSheets.Circuit("PR-3")));
    private static readonly FaultSpace Bp2 = new(new Machine(DemoSheets.Circuit("BP-2")));

    [Fact]
    public void Shares_add_to_one_from_the_first_reading_on()
    {
        foreach (
            var f in new[]
            {
                Diagnose(Pr3),
                Diagnose(Pr3, "key=START : sees \"engine cranks\" = dead"),
                Diagnose(Pr3, "key=START : V K1.86 = 5V", "key=START : V S1.S = 0.1V"),
            }
        )
            (f.Suspects.Sum(g => g.Share) + f.OffSheet).ShouldBe(1, 1e-9);
    }

    /// <summary>
    /// Two fuses and a lamp in a row, odds 1, 1 and 2, dead: shares 1/4, 1/4, 1/2 by hand; then volts behind the first fuse clear it.
    /// </summary>
    [Fact]
    public void Bayes_by_hand_on_three_parts()
    {
        var c = DemoSheets.Read(
            """
            sheet "three"
            nominal 12V dc
            drawn from traced
            control on: OFF*, ON
            part G1 battery 12V odds 0.0001
            part S1 switch odds 0.0001
              closed 1-2 when on=ON
            part F1 fuse 5A
            part F2 fuse 5A
            part H1 lamp 12V 12W odds 2
            path G1.+ = S1 = F1 = F2 = H1 = G1.-
            function "lamp lights": H1 when on=ON
            """
        );
        var space = new FaultSpace(new Machine(c));
        var f = Diagnose(space, "on=ON : sees \"lamp lights\" = dead");
        // Fuses: blown 6 and part of resists 1.5; the lamp: open 6, its other modes do not make it dead in the same measure.
        var (f1, f2, h1) = (Share(f, "F1"), Share(f, "F2"), Share(f, "H1"));
        f1.ShouldBe(f2, 1e-6);
        (h1 / f1).ShouldBeInRange(1.6, 2.1);
        var behind = Diagnose(space, "on=ON : sees \"lamp lights\" = dead", "on=ON : V F1.2 = 12.5V");
        Share(behind, "F1").ShouldBeLessThan(0.01);
        (Share(behind, "H1") / Share(behind, "F2")).ShouldBe(h1 / f2, 0.15 * h1 / f2);
    }

    /// <summary>Starter contact with 12 V across it while the solenoid is in: it is open (common practice, no source).</summary>
    [Fact]
    public void Battery_volts_across_a_pulled_in_starter()
    {
        var f = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears K1 = clicks",
            "key=START : hears M1 = clicks",
            "key=START : V M1.B = 12.4V",
            "key=START : V M1.S = 12.1V"
        );
        Share(f, "M1").ShouldBeGreaterThan(0.95);
    }

    /// <summary>A relay that clicks and does not conduct: a click proves the coil side only.</summary>
    [Fact]
    public void A_relay_that_clicks_without_conducting()
    {
        var f = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears K1 = clicks",
            "key=START : V K1.30 = 12.4V",
            "key=START : V K1.87 = 0.02V",
            "key=START : V K1.86 = 12.3V"
        );
        f.Suspects[0].Faults[0].ToString().ShouldStartWith("K1 contact 30-87");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.95);
    }

    /// <summary>
    /// 26 V in and 6 V out: a fuse that looks good and is not. The look nudges, the volts decide, and the ohms come with a figure.
    /// </summary>
    [Fact]
    public void A_fuse_that_looks_good_and_is_not()
    {
        var looked = Diagnose(Bp2, "press start : sees \"pump starts\" = dead", " : looks F1 = good");
        Share(looked, "F1").ShouldBeGreaterThan(0.2 * Share(Diagnose(Bp2, "press start : sees \"pump starts\" = dead"), "F1"));
        var f = Diagnose(
            Bp2,
            "press start : sees \"pump starts\" = dead",
            " : looks F1 = good",
            " : V F1.1 = 23.9V",
            " : V F1.2 = 6V",
            " : sees \"supply lamp lights\" = dead"
        );
        f.Suspects[0].Faults[0].ToString().ShouldStartWith("F1 resists");
        // 6 V across the lamp's 288 Ω, 17.9 V across the fuse: about 860 Ω, worked by hand.
        f.Suspects[0].Ohms!.Value.Best.ShouldBe(860, 130);
        f.Cautions.ShouldContain(c => c.Contains("local codes", StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>
    /// The trap of the sketch: a good 12.5 V upstream of a machine that is not cranking is not high, though a cranking one shows 11 V.
    /// </summary>
    [Fact]
    public void Volts_upstream_of_an_open_are_present_not_high_and_not_proved()
    {
        var f = Diagnose(Pr3, "key=START : sees \"engine cranks\" = dead", "key=START : V X3:4b = 12.5V", "key=START : V K1.86 = 0.05V");
        f.Verdicts[1].Judgement.ShouldBe(Judgement.Ok);
        f.Verdicts[1].ProvedUnderLoad.ShouldBeFalse();
        f.Verdicts[1].Expected.Differ.ShouldBeTrue();
        f.Verdicts[2].Judgement.ShouldBe(Judgement.Low);
        f.Stretch!.FromTerminal.ToString().ShouldBe("X3:4b");
        var working = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears K1 = clicks",
            "key=START : V K1.86 = 12.3V"
        );
        working.Verdicts[2].ProvedUnderLoad.ShouldBeTrue("the coil's current flowed past the point");
    }

    [Fact]
    public void One_contradictory_reading_never_lifts_off_sheet_above_thirty_percent_and_several_do()
    {
        var one = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V K1.86 = 12.4V",
            "key=START : hears K1 = clicks",
            "key=START : V K1.87 = 12.3V",
            "key=START : V GND1 = 6V"
        );
        one.OffSheet.ShouldBeLessThanOrEqualTo(0.30 + 1e-9);
        var several = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V S2.1 = 4V",
            "key=START : V S1.S = 9V",
            "key=START : V S2.2 = 11V",
            "key=START : V K1.86 = 2V",
            "key=START : V S4.1 = 7V"
        );
        several.OffSheet.ShouldBeGreaterThan(0.5);
    }

    /// <summary>
    /// Two joints that stray by themselves, read together and then one alone: the posterior of a normal distribution under two linear
    /// readings, by its closed form (covariance after a reading = P − P·h·hᵀ·P / s).
    /// </summary>
    [Fact]
    public void Joints_learn_as_a_normal_distribution_does()
    {
        const double noise = 0.25;
        var joints = new Joints(2);
        double[] both = [1, 1],
            first = [2, 0];
        joints.Variance(both).ShouldBe(2, 1e-12);
        joints = joints.Learn(both, 1.5, joints.Variance(both) + noise, 1);
        // P·h = (1, 1), s = 2.25: means 1.5 / 2.25, variance of the sum 2 − 4 / 2.25.
        joints.Mean(both).ShouldBe(2 * 1.5 / 2.25, 1e-12);
        joints.Variance(both).ShouldBe(2 - 4 / 2.25, 1e-12);
        joints.Mean([1, -1]).ShouldBe(0, 1e-12);
        joints.Variance([1, -1]).ShouldBe(2, 1e-12, "their difference was not read");
        var (mean, variance) = (joints.Mean(first), joints.Variance(first));
        variance.ShouldBe(4 * (1 - 1 / 2.25), 1e-12);
        var unread = joints.Learn(first, 3 - mean, variance + noise, 0);
        unread.Mean(first).ShouldBe(mean, 1e-12, "a reading that is not believed teaches nothing");
        joints = joints.Learn(first, 3 - mean, variance + noise, 1);
        joints.Mean(first).ShouldBe(mean + variance / (variance + noise) * (3 - mean), 1e-12);
        joints.Mean([0, 1]).ShouldBeLessThan(1.5 / 2.25, "what the first joint does the second does not");
    }

    /// <summary>
    /// An added contact before the buttons, failed open: the strip's pin reads sound whenever it is read across, moved or not. It is not
    /// said to come and go, and the sheet is doubted.
    /// </summary>
    [Fact]
    public void What_never_changes_its_mind_does_not_come_and_go()
    {
        string[] told =
        [
            "up=PRESSED : sees \"travels up\" = dead",
            " : sees \"doors shut lamp lights\" = dead",
            "off T0 : VAC H1.1 = 0V",
            "off T0 : VAC H1.2 = 0V",
            "off T0 : ohm H1.1 H1.2 = 2237ohm",
            "off T0 : VAC X1:4a = 0V",
            "off T0 : ohm X1:4a H1.1 = 2241ohm",
            "off T0 : VAC X1:5a = 0V",
            "off T0 : ohm X1:5a H1.1 = 2229ohm",
            "off T0 : VAC X1:5b = 0V",
            "off T0 : ohm X1:5 = 0.21ohm",
            "off T0, up=PRESSED : ohm X1:5a H1.1 = 901ohm",
            "off T0 : ohm w40 = 0.2ohm",
            "down=PRESSED : sees \"travels down\" = works",
        ];
        var space = new FaultSpace(new Core.Solving.Machine(DemoSheets.Circuit("GH-2")));
        var contradicted = Diagnose(space, told);
        contradicted.Solved.ShouldBeFalse(string.Join("; ", contradicted.Suspects.Take(3).Select(g => $"{g.Faults[0]} {g.Share:0.000}")));
        contradicted.Suspects[0].Faults[0].Words.ShouldBe("intermittent");
        var steady = Diagnose(
            space,
            [
                .. told,
                "off T0, move \"panel, terminals\" : ohm X1:5 = 0.2ohm",
                "up=PRESSED, move \"panel, terminals\" : sees \"travels up\" = dead",
                "up=PRESSED, move \"panel, terminals\" : drop X1:5 = 0.01V",
                "off T0, move \"panel, terminals\" : ohm X1:5a X1:5b = 0.3ohm",
            ]
        );
        steady.Solved.ShouldBeFalse();
        // One contradiction alone lifts it no higher than this (Belief.MostFromOneReading); proofs of dead are none.
        steady.OffSheet.ShouldBeGreaterThan(0.2);
    }

    /// <summary>
    /// A pin that read open and reads sound may come and go: what is ordered is to move it, and only then is it believed.
    /// </summary>
    [Fact]
    public void What_is_said_to_come_and_go_is_moved_before_it_is_believed()
    {
        var f = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V X3:4b = 12.4V",
            "key=START : V X3:4a = 0.03V",
            "key=START : V S2.1 = 12.3V",
            "key=START : V S4.2 = 12.3V",
            "key=START : V K1.86 = 0.02V",
            "key=START : drop w20 = 0.01V",
            "key=START : drop w21 = 0V",
            "key=START, move \"bulkhead, left\" : sees \"engine cranks\" = dead",
            "key=START, move \"bulkhead, left\" : drop X3:4 = 12.3V"
        );
        f.Solved.ShouldBeFalse();
        f.Next[0].Test.Setup.Moved.ShouldNotBeEmpty(f.Next[0].Test.ToString());
        var pin = Enumerable
            .Range(0, f.Belief.Space.Suspects.Count)
            .First(s => f.Belief.Space.Suspects[s] is { Template: { Words: "intermittent", Target: "X3:4" } });
        f.Belief.SeenToComeAndGo(pin).ShouldBeTrue("it read open while it was moved");
        var other = Enumerable
            .Range(0, f.Belief.Space.Suspects.Count)
            .First(s => f.Belief.Space.Suspects[s] is { Template: { Words: "intermittent", Target: "w26" } });
        f.Belief.SeenToComeAndGo(other).ShouldBeFalse("its place was not moved");
    }

    /// <summary>
    /// A stud read live and what hangs on it dead, one after the other, at last as if the cable before them came and went. One reading
    /// right across them, which that cable cannot make, tells.
    /// </summary>
    [Fact]
    public void What_was_live_and_dead_in_turn_is_read_across_at_once()
    {
        string[] told =
        [
            "key=RUN : sees \"run lamp lights\" = dead",
            "key=RUN : sees \"fuel solenoid holds\" = dead",
            "key=RUN : V F1.2 = 0.02V",
            "key=RUN : drop F1 = 0.02V",
            "key=RUN : V G1.+ = 12.56V",
            "key=RUN : V Q1.2 = 12.62V",
            "key=RUN : V F2.1 = -0.01V",
            "key=RUN : V Q1.1 = 12.64V",
            "key=RUN : V F2.2 = -0.02V",
            "key=RUN : drop w2 = -0.01V",
            " : V Q1.2 = 12.55V",
            "key=RUN, move \"behind seat, left\" : drop w2 = 0.01V",
            "key=RUN : V F1.1 = 0V",
            "key=RUN : V M1.B = 12.6V",
        ];
        double ComesAndGoes(Findings f) => f.Suspects.Where(g => g.Faults[0].Kind == FaultKind.Intermittent).Sum(g => g.Share);
        var f = Diagnose(Pr3, told);
        ComesAndGoes(f).ShouldBeGreaterThan(0.4);
        var readings = told.Select(t => DemoSheets.Line(Pr3.Circuit, t)).ToList();
        int OpenOf(string wire) =>
            Enumerable
                .Range(0, Pr3.Suspects.Count)
                .First(s => Pr3.Suspects[s] is { Also: null, Template.Kind: FaultKind.Open } x && x.Template.Target == wire);
        var before = LiveAndDead.Across(Pr3, readings, [OpenOf("w2")]).Select(t => t.ToString()).ToList();
        before.ShouldContain("key=RUN : V M1.B F1.1");
        before.ShouldNotContain(t => t.Contains("Q1.", StringComparison.Ordinal), "w2 itself lies between");
        ComesAndGoes(Diagnose(Pr3, [.. told, "key=RUN : V M1.B F1.1 = 12.58V"])).ShouldBeLessThan(0.01);
        ComesAndGoes(Diagnose(Pr3, [.. told, "key=RUN : V M1.B F1.1 = 0.01V"])).ShouldBeGreaterThan(0.9);
    }

    /// <summary>
    /// A pin that read open, and once let the engine crank: open for good or by turns, it is the same pin to mend, and there is an end to
    /// measuring.
    /// </summary>
    [Fact]
    public void Open_for_good_or_by_turns_is_one_mending()
    {
        var f = Diagnose(
            Pr3,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V X3:4b = 12.4V",
            "key=START : V X3:4a = 0.03V",
            "key=START : sees \"engine cranks\" = works",
            "key=START : drop X3:4 = 12.3V",
            "off G1 : ohm X3:4 = OL",
            "off G1 : ohm X3:4b X3:4a = OL",
            "key=START : V S2.1 = 0.02V",
            "key=START : V K1.86 = 0V",
            "key=START : V X3:4b X3:4a = 12.3V",
            "key=START : hears K1 = silent",
            "key=START : V S2.2 = 0V"
        );
        f.Solved.ShouldBeTrue();
        f.Suspects[0].Share.ShouldBeGreaterThan(0.95);
        f.Suspects[0].Faults.Select(x => x.ToString()).ShouldContain("X3:4 intermittent");
        f.Suspects[0].Faults[0].ToString().ShouldBe("X3:4 open");
        f.Suspects[0].Faults.ShouldAllBe(x => x.Target == "X3:4");
    }

    /// <summary>
    /// A part that is not drawn, open between F1.2 and two of the wires there: the same points stay live and the same stay dead, however
    /// often they are read. A cable before them that came and went would have had to come and go each time.
    /// </summary>
    [Fact]
    public void What_is_built_otherwise_is_so_at_every_reading()
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit("RG-1")));
        string[] told =
        [
            "left=PRESSED : sees \"travels left\" = dead",
            "left=PRESSED : sees \"left lamp lights\" = dead",
            ": sees \"supply lamp lights\" = dead",
            ": V F1.1 = 24.07V",
            "left=PRESSED : drop F1 = 0.01V",
            "left=PRESSED : drop w55 = 0.01V",
            "left=PRESSED : V SP0 = -0.02V",
            "right=PRESSED : sees \"right lamp lights\" = dead",
            "right=PRESSED : V F1.2 = 24.13V",
            "right=PRESSED : V S0.1 = 0.01V",
            ": V X1:1a = 0V",
            ": V U1.+ = 24.25V",
            "off U1 : V S0.1 = -0.01V",
            "off U1 : ohm S0.1 U1.- = 298.73ohm",
            ": V F2.1 = 24.05V",
            ": V F2.1 X1:1a = 24.16V",
            "right=PRESSED : V F1.2 S0.1 = 24.22V",
            ": V F1.2 = 24.11V",
            ": V X1:1b = -0.02V",
            ": V S0.1 = 0.02V",
        ];
        var remembered = new ReadingsByPoint(space, told.Select(t => DemoSheets.Line(space.Circuit, t)));
        double Again(string line) => remembered.Find(DemoSheets.Line(space.Circuit, line).Test)?.Mean ?? double.NaN;
        Again("right=PRESSED : V F1.2").ShouldBe(24.13);
        Again("left=PRESSED : V F1.2").ShouldBe(24.12, 0.02, "a sound machine has it alike there");
        Again("right=PRESSED, move \"cabinet door\" : V F1.2 S0.1").ShouldBe(24.12, 1e-9);
        Again(": V X1:1a").ShouldBe(0, "what is left of nothing is the meter's");
        Again(": V S0.1").ShouldBe(0, "read there");
        Again("right=PRESSED : V X1:1b").ShouldBe(0, "two conductors from S0.1, which was dead");
        Again(": V Q1.2").ShouldBe(double.NaN, "its neighbours were as on a sound machine");
        var f = Diagnose(space, told);
        f.OffSheet.ShouldBeGreaterThan(2 * f.Suspects.Where(g => g.Faults[0].Kind == FaultKind.Intermittent).Sum(g => g.Share));
    }

    /// <summary>
    /// A range that no reading tells apart is weighed by one value: whatever value of it the machine is run with, no meter or eye tells
    /// what is shown from what that one shows.
    /// </summary>
    [Theory]
    [InlineData("PR-3", "key=START : V K1.86")]
    [InlineData("PR-3", "key=START : drop w26")]
    [InlineData("PR-3", "key=RUN : sees \"run lamp lights\"")]
    [InlineData("BP-2", "off U1 : ohm K1.A1 K1.A2")]
    [InlineData("GH-2", "up=PRESSED : VAC K1.A1")]
    [InlineData("PH-1", "key=RUN : V X9:1a")]
    public void A_range_weighed_by_one_value_shows_the_same_throughout(string sheet, string line)
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
        var test = DemoSheets.Line(space.Circuit, line).Test;
        var curves = space.Curves(test);
        var flat = Enumerable.Range(0, curves.Length).Where(s => space.Curved(s) && curves[s].IsFlat).ToList();
        flat.ShouldNotBeEmpty();
        foreach (var s in flat)
        foreach (var point in new[] { 0, space.Points(s) / 4, space.Points(s) / 2, space.Points(s) - 1 })
        {
            var (one, shown) = (curves[s].At(0), space.Predict(test, s, point));
            var at = $"{sheet} {line}: {space.Suspects[s]} at {space.Suspects[s].Values[point]:G3}";
            shown.Word.ShouldBe(one.Word, at);
            if (one.Word is null)
                shown.Mean.ShouldBe(one.Mean, 1e-4 * space.Circuit.NominalVolts + 3e-4 * Math.Abs(one.Mean), at);
            if (!double.IsNaN(one.Share) && Math.Abs(one.Share) < 5)
                shown.Share.ShouldBe(one.Share, 0.002, at);
        }
    }

    [Fact]
    public void A_doubted_reading_counts_little_and_the_same_reading_twice_is_not_two_proofs()
    {
        string[] head = ["key=START : sees \"engine cranks\" = dead"];
        double S2(params string[] more) => Share(Diagnose(Pr3, [.. head, .. more]), "S2");
        S2("key=START : drop S2 = 12.4V").ShouldBeGreaterThan(S2("key=START : drop S2 = 12.4V?"));
        var once = Diagnose(Pr3, [.. head, "key=START : drop S2 = 12.4V"]);
        var twice = Diagnose(Pr3, [.. head, "key=START : drop S2 = 12.4V", "key=START : drop S2 = 12.4V"]);
        once.Solved.ShouldBeFalse("one reading decides nothing");
        twice.Solved.ShouldBeFalse("the same reading again is no second proof");
    }

    /// <summary>
    /// The fourth reading slipped, to volts that a supply somewhat low could explain. The honest ones after it say so, and are not
    /// contradictions.
    /// </summary>
    [Fact]
    public void One_slip_does_not_teach_a_supply_that_all_other_readings_contradict()
    {
        const string On = "key=RUN lamps=ON engine=RUNNING";
        var f = Diagnose(
            new FaultSpace(new Machine(DemoSheets.Circuit("LT-1"))),
            $"{On} : sees \"left lamps light\" = dead",
            "key=RUN : sees \"oil lamp lights\" = works",
            $"{On} : V X2:3b = 0.01V",
            $"{On} : V B1.1 = 13.2V",
            $"{On} : V X2:2a = -0.02V",
            $"{On} : V B1.2 = 13.87V",
            $"{On} : V X2:2b = 13.85V",
            $"{On} : drop X2:2 = 13.93V",
            $"{On} : V X2:2b X2:3b = 13.79V"
        );
        Share(f, "X2:2").ShouldBeGreaterThan(0.95);
        f.OffSheet.ShouldBeLessThan(0.05);
    }

    /// <summary>
    /// Two readings of one supply in a row: means and variances by hand (Kalman, 1960), and a third that fits only if the first was a slip.
    /// </summary>
    [Fact]
    public void What_is_learnt_of_the_supply_by_hand()
    {
        var unknowns = new Unknowns(0.025 * 0.025, 0);
        var f = new Foreseen(12, 0.05 * 0.05, 12, 0, 0);
        // 0.3 V of prior and 0.05 V of meter: 0.24 V off is taken for 0.24 · 0.09 / 0.0925.
        unknowns.Read(f, 12.24, 0.97, 1e-12);
        (12 * unknowns.Supply).ShouldBe(0.24 * 0.09 / 0.0925, 1e-6);
        unknowns.Variance(f).ShouldBe(0.09 * 0.0025 / 0.0925, 1e-9);
        unknowns = new Unknowns(0.025 * 0.025, 0);
        foreach (var volts in new[] { 12.6, 12.0, 12.02 })
            unknowns.Read(f, volts, 0.97, 0.03 / 16.8);
        (12 * unknowns.Supply).ShouldBe(0.01, 0.01);
        // A supply that drifts is followed, and is never known better than it drifts.
        unknowns = new Unknowns(0.025 * 0.025, 0);
        for (var i = 0; i < 20; i++)
            unknowns.Read(f with { Drift = 0.002 * 0.002 }, 12.4 - 0.03 * i, 0.97, 0.03 / 16.8);
        (12 * unknowns.Supply).ShouldBe(12.4 - 0.03 * 19 - 12, 0.06);
        Math.Sqrt(unknowns.Variance(f with { Drift = 0.002 * 0.002 })).ShouldBeGreaterThan(0.024);
    }

    /// <summary>
    /// Lamps stray by a tenth, and a clamp by 2 %: an ampere and a half less than computed is no fault, half of it is a lamp.
    /// </summary>
    [Fact]
    public void Amps_are_judged_with_the_spread_of_the_loads()
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit("LT-1")));
        Judgement Of(string amps) => Diagnose(space, $"key=RUN lamps=ON engine=RUNNING : clamp w42 = {amps}").Verdicts[0].Judgement;
        Of("17.7A").ShouldBe(Judgement.Ok);
        Of("9.6A").ShouldBe(Judgement.Low);
        Of("24A").ShouldBe(Judgement.High);
    }

    /// <summary>
    /// Volts of both kinds and ohms, dead and live, read at nodes looked up once for all machines weighed, against each of them read by the
    /// meter.
    /// </summary>
    [Theory]
    [InlineData("DR-6", "main=ON : sees \"drum is ready\" = dead", true)]
    [InlineData("DO-4", "main=ON : sees \"fan turns\" = dead", false)]
    public void Nodes_looked_up_once_tell_what_each_reading_tells(string sheet, string complaint, bool mixed)
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
        List<Reading> readings = [DemoSheets.Line(space.Circuit, complaint)];
        var weights = Belief.Of(space, MeterClass.Service, readings).Weigh();
        var tests = new Candidates(space, readings, Limits.None).All(weights).ToList();
        // Ohms are no candidates where the sheet is live; there each is refused.
        var ohms = tests.Where(t => t.Probe.OhmsAcross is not null).ToList();
        tests.AddRange(ohms.Take(30).Select(t => t with { Setup = readings[0].Test.Setup }));
        using var table = new Gain(space, weights, readings);
        using var each = new Gain(space, weights, readings);
        table.Prepare(tests);
        foreach (var test in tests)
            table.Bits(test).ShouldBe(each.Bits(test), 1e-4, test.ToString());
        var told = tests.Where(t => each.Bits(t) > 0.01).ToList();
        told.Count(t => t.Probe.OhmsAcross is not null).ShouldBeGreaterThan(10);
        foreach (var function in mixed ? [VoltsFunction.Ac, VoltsFunction.Dc] : new[] { VoltsFunction.Ac })
            told.Count(t => t.Probe.VoltsOn(space.Circuit)?.Function == function).ShouldBeGreaterThan(10, function.ToString());
    }

    /// <summary>
    /// What a test is worth against the definition of mutual information (Shannon, 1948), summed cell by cell: from one table of
    /// potentials, and run by run.
    /// </summary>
    [Fact]
    public void Bits_are_the_mutual_information_of_site_and_reading()
    {
        var readings = new[] { "key=START : sees \"engine cranks\" = dead", "key=START : V S1.S = 12.2V" }
            .Select(l => DemoSheets.Line(Pr3.Circuit, l))
            .ToList();
        var weights = Belief.Of(Pr3, MeterClass.Service, readings).Weigh() with { OffSheet = 0 };
        var tests = new Candidates(Pr3, readings, Limits.None).All(weights).ToList();
        var (table, each) = (new Gain(Pr3, weights, readings), new Gain(Pr3, weights, readings));
        table.Prepare(tests);
        double[] blur = [0.0545, 0.2442, 0.4026, 0.2442, 0.0545];
        var compared = 0;
        foreach (var test in tests)
        {
            table.Bits(test).ShouldBe(each.Bits(test), 1e-4, test.ToString());
            var values = each.Values(test);
            if (Array.Exists(values, v => v is null or { Word: not null }))
                continue;
            var (cells, sites, answers) = (
                new Dictionary<(RepairSite, int), double>(),
                new Dictionary<RepairSite, double>(),
                new Dictionary<int, double>()
            );
            var total = each.Points.Sum(p => p.Weight);
            for (var i = 0; i < values.Length; i++)
            {
                var (site, weight) = (Pr3.Sites[each.Points[i].Counts], each.Points[i].Weight / total);
                var centre = (int)Math.Round(each.Coordinate(values[i]!.Value.Mean, test.Probe.Dimension));
                sites[site] = sites.GetValueOrDefault(site) + weight;
                for (var k = 0; k < blur.Length; k++)
                {
                    cells[(site, centre + k)] = cells.GetValueOrDefault((site, centre + k)) + weight * blur[k];
                    answers[centre + k] = answers.GetValueOrDefault(centre + k) + weight * blur[k];
                }
            }
            var bits = cells.Sum(c => c.Value * Math.Log2(c.Value / (sites[c.Key.Item1] * answers[c.Key.Item2])));
            each.Bits(test).ShouldBe(bits * (1 - 2 * Likelihood.Slip), 1e-6, test.ToString());
            compared++;
        }
        compared.ShouldBeGreaterThan(100);
        // Nothing on the sheet is left that could be told apart.
        var nothing = new Gain(
            Pr3,
            Belief.Of(Pr3, MeterClass.Service, readings).Weigh() with
            {
                Each = new double[weights.Each.Length],
                OffSheet = 1,
            },
            readings
        );
        nothing.Points.ShouldBeEmpty();
        nothing.Prepare(tests);
        foreach (var test in tests)
            nothing.Bits(test).ShouldBe(0, 1e-9, test.ToString());
    }

    /// <summary>
    /// The entropy bound: no reading splits n equal suspects better than in two; on a plain chain the advice comes near ⌈log2 n⌉ (Shannon).
    /// </summary>
    [Fact]
    public void A_chain_of_equal_suspects_is_halved()
    {
        const int n = 16;
        var sheet =
            "sheet \"chain\"\nnominal 12V dc\ndrawn from traced\npart G1 battery 12V odds 0.0001\npart H1 lamp 12V 12W "
            + "odds 0.0001\ncontrol on: OFF*, ON\npart S0 switch odds 0.0001\n  closed 1-2 when on=ON\n"
            + string.Concat(Enumerable.Range(1, n).Select(i => $"part F{i} fuse 5A\n"))
            + "path G1.+ = S0 = "
            + string.Join(" = ", Enumerable.Range(1, n).Select(i => $"F{i}"))
            + " = H1 = G1.-\nfunction \"lamp lights\": H1 when on=ON\n";
        var space = new FaultSpace(new Machine(DemoSheets.Read(sheet)));
        var machine = space.Machine;
        var options = new DiagnosisOptions
        {
            Strategy = Strategy.SplitMiddle,
            Alternatives = 0,
            Verdicts = false,
        };
        var total = 0;
        for (var i = 1; i <= n; i++)
        {
            var fault = new Fault($"F{i}", "blown");
            var readings = new List<Reading> { DemoSheets.Line(space.Circuit, "on=ON : sees \"lamp lights\" = dead") };
            var steps = 0;
            while (true)
            {
                var f = Diagnostician.Diagnose(space, readings, options);
                if (f.Suspects[0].Share > 0.85)
                {
                    f.Suspects[0].Unit.ShouldBe($"F{i}");
                    break;
                }
                f.Next[0]
                    .Gain.ShouldBeLessThanOrEqualTo(
                        1.05,
                        "a reading of two outcomes tells one bit at most; a machine not as drawn may give a third"
                    );
                var shown = Core.Metering.Meter.Read(machine, f.Next[0].Test, [fault]);
                readings.Add(
                    new Reading(
                        f.Next[0].Test,
                        shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension) : new ReadingResult.Word(shown.Answer!.Value)
                    )
                );
                (++steps).ShouldBeLessThan(12);
            }
            total += steps;
        }
        ((double)total / n).ShouldBeInRange(4, 5.2, "log2 16 is 4; a slip margin of 3 % asks for a little more");
    }
}
