using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Training;

namespace Zoltric.Core.Tests.Training;

/// <summary>The trainer's exercises: each can be met and solved, what is unsafe stops it, and the bill adds up.</summary>
public class ExerciseTests(ITestOutputHelper output)
{
    private static readonly ConcurrentDictionary<string, FaultSpace> Spaces = new();

    private static FaultSpace Space(string sheet) => Spaces.GetOrAdd(sheet, s => new FaultSpace(new Machine(DemoSheets.Circuit(s))));

    public static TheoryData<string> Library =>
        [
            .. Directory
                .EnumerateFiles(Path.Combine(DemoSheets.Root, "scenario", "exercises"), "*.exercise")
                .Select(f => Path.GetFileNameWithoutExtension(f)!)
                .Order(StringComparer.Ordinal),
        ];

    private static Exercise Read(string name) =>
        ExerciseText.Read(File.ReadAllText(Path.Combine(DemoSheets.Root, "scenario", "exercises", name + ".exercise"))).Value!;

    private static ExerciseRun Start(Exercise e) => ExerciseRun.Follow(e, Space(e.Sheet), []);

    /// <summary>
    /// Of each exercise: it reads as it is written, its sheet has what it names, the machine shows what is complained of, and who follows
    /// the orders finds it, without a part in vain and without an unsafe act.
    /// </summary>
    [Theory]
    [MemberData(nameof(Library))]
    public void Every_exercise_of_the_library_can_be_met_and_is_solved_by_following_the_orders(string name)
    {
        var e = Read(name);
        ExerciseText.Write(ExerciseText.Read(ExerciseText.Write(e)).Value!).ShouldBe(ExerciseText.Write(e));
        var space = Space(e.Sheet);
        ExerciseText.Against(e, space.Circuit).ShouldBeEmpty();
        e.Skills.ShouldNotBeEmpty();
        e.Lesson.ShouldNotBeEmpty();
        var run = Start(e);
        var complaint = run.Complaint.ShouldNotBeNull();
        if (run.Hidden.Count > 0)
            // What does not stop is seen to work where it should not.
            Meter
                .Read(run.Machine, complaint.Test, run.Hidden)
                .Text.ShouldBe(
                    e.ComesAndGoes ? "dead"
                        : e.Seen == "stuck-on" ? "works"
                        : e.Seen,
                    "what is complained of"
                );
        Follow(run);
        foreach (var act in run.Acts)
            output.WriteLine($"{act.Kind} {act.Text}: {act.Shown} ({act.Minutes:0.#} min)");
        run.Stopped.ShouldBeNull();
        run.Right.ShouldBeTrue(name);
        ExerciseBill.Of(run).InVain.ShouldBeEmpty();
    }

    /// <summary>
    /// What blew a fuse when the complaint was tried has blown it for good: no volts behind it at rest either, a new one goes the same way
    /// until its cause is mended, and both may be named.
    /// </summary>
    [Fact]
    public void A_fuse_stays_blown_until_its_cause_is_mended()
    {
        var run = Start(new Exercise("it pumps no more", "BP-2", "pump starts", "dead", ["M1 seized"]));
        run.Do("safe");
        // From the sheet: F2 lies before the contactor, live with nothing pressed.
        run.Do(": V F2.1")!.Shown.ShouldStartWith("24");
        run.Do(": V F2.2")!.Shown.ShouldStartWith("0");
        run.Do("replace F2")!.Mended.ShouldBeTrue();
        run.Do(": V F2.2")!.Shown.ShouldStartWith("24");
        run.Do("start=PRESSED : sees \"pump starts\"")!.Shown.ShouldBe("dead");
        run.Do(": V F2.2")!.Shown.ShouldStartWith("0", Case.Sensitive, "the new one has gone too");
        run.Do("found M1, F2");
        run.Right.ShouldBeTrue();
    }

    /// <summary>A swap is an act: with the dead relay's coil in the other socket the fault goes along.</summary>
    [Fact]
    public void Two_relays_are_swapped_and_the_fault_moves()
    {
        var run = Start(new Exercise("no horn", "PH-1", "engine cranks", "dead", ["K1 coil-open"]));
        run.Do("safe");
        var setup = run.Complaint!.Test.Setup;
        run.Do($"{setup} : hears K1")!.Shown.ShouldBe("silent");
        run.Do($"swap K1 K2, {setup} : hears K1")!.Shown.ShouldBe("clicks");
    }

    /// <summary>The learner reads on the machine as it is built, and names or mends the wire in which the drawing has nothing.</summary>
    [Fact]
    public void A_part_that_nobody_drew_is_met_in_its_wire()
    {
        var run = Start(Read("26-part-not-on-the-drawing"));
        run.Do("safe");
        run.Do("key=RUN : V SP1")!.Shown.ShouldStartWith("12.");
        run.Do("key=RUN : V H2.1")!.Shown.ShouldNotStartWith("12.");
        run.Do("V F9.1")!.Kind.ShouldBe(ActKind.Refused);
        run.Do("repair w25")!.Shown.ShouldContain("in-line fuse");
        run.Acts[^1].Mended.ShouldBeTrue();
        run.Do("key=RUN : sees \"beacon lights\"")!.Shown.ShouldBe("works");
        run.Do("found w25 90%");
        run.Right.ShouldBeTrue();
        ExerciseReview.Play(run, Space("QS-5"), Core.Diagnosis.Planning.Strategy.BestValue)!.Right.ShouldBeTrue();
        PaperPoints.Of(Space("QS-5").Circuit, run, run.Complaint!.Test.Setup).ShouldNotContain(p => p.Point.StartsWith("F9"));
        var nowhere = run.Exercise with { Undrawn = new UndrawnPart("w99", "part F9 fuse 5A") };
        ExerciseText.Against(nowhere, Space("QS-5").Circuit).ShouldContain(w => w.Contains("w99"));
    }

    /// <summary>Stored codes are read and count for little; what was not written is absent; who reads them still finds the fault.</summary>
    [Fact]
    public void Codes_of_another_day_are_read_and_do_not_mislead()
    {
        var run = Start(Read("25-code-of-another-day"));
        run.Do("safe");
        run.Do("codes")!.Shown.ShouldBe("2602-5 stored");
        run.Do("code 639-9")!.Shown.ShouldBe("absent");
        run.Findings().Suspects.Where(g => g.Faults[0].Target is "Y2" or "w63").Sum(g => g.Share).ShouldBeLessThan(0.05);
        Follow(run);
        run.Right.ShouldBeTrue();
        ExerciseReview.Readings(run).ShouldContain(r => r.Act.Text == "code 639-9");
        ExerciseText.Read(ExerciseText.Write(run.Exercise)).Value!.Codes.ShouldBe(run.Exercise.Codes);
        var odd = run.Exercise with { Codes = [new("1-1", Core.Circuits.Answer.Active)] };
        ExerciseText.Against(odd, Space("PH-1").Circuit).ShouldHaveSingleItem();
        Start(Read("01-fuse-that-is-blown")).Do("codes")!.Kind.ShouldBe(ActKind.Refused);
    }

    /// <summary>Does what the orders say, mends what is found, and looks whether it works.</summary>
    private static void Follow(ExerciseRun run)
    {
        run.Do("safe");
        run.Do(run.Complaint!.Test.ToString());
        if (run.Acts[^1].Shown == "works" && run.Exercise.Seen != "stuck-on")
        {
            // It does not fail here: move what can be moved, else there is nothing wrong.
            if (!run.Exercise.ComesAndGoes)
            {
                run.Do("found nothing");
                return;
            }
            foreach (var place in Space(run.Exercise.Sheet).Circuit.Parts.Select(p => p.Place).OfType<string>().Distinct())
            {
                run.Do($"{run.Complaint!.Test.Setup}, move \"{place}\" : {run.Complaint.Test.Probe}");
                if (run.Acts[^1].Shown != "works")
                    break;
            }
        }
        for (var i = 0; i < 60 && !run.Ended; i++)
        {
            var findings = run.Findings();
            if (findings.Solved)
            {
                var lead = findings.Suspects[0];
                var units = new[] { lead.Faults[0] }.Concat(lead.Also).Select(f => f.Target.Split('/')[0]).Distinct().ToList();
                if (run.Exercise.Faults.Count <= units.Count)
                {
                    run.Do($"found {string.Join(", ", units)}");
                    return;
                }
                foreach (var unit in units)
                    run.Do($"repair {unit}");
                run.Do(run.Complaint!.Test.ToString());
                continue;
            }
            if (findings.Next is not [var next, ..])
                return;
            if (next.Kind == AdviceKind.ProveDead)
                run.Do("prove dead");
            else
                run.Do(next.Test.ToString());
            if (run.Acts[^1].Kind == ActKind.Refused)
                return;
        }
    }

    /// <summary>Each rule of safety stops it, and nothing is done after it.</summary>
    [Theory]
    [InlineData("03-switch-that-does-not-close", "safe", "key=RUN, jumper B1.1 B1.2 : V K1.86", "safety device")]
    [InlineData("03-switch-that-does-not-close", "safe", "key=RUN brush=ON : ohm S3", "Live")]
    [InlineData("18-no-heat", "safe", "off T0 : ohm E1", "proved dead")]
    [InlineData("18-no-heat", "hint", "timer=DRY : VAC F1.2", "dangerous volts")]
    [InlineData("18-no-heat", "safe", "timer=DRY, jumper F1.1 F1.2 : VAC F1.2", "No")]
    public void What_would_hurt_somebody_ends_the_exercise_with_its_reason(string name, string first, string act, string why)
    {
        var run = Start(Read(name));
        run.Do(first);
        run.Do(act)!.Kind.ShouldBe(ActKind.Unsafe, run.Acts[^1].Shown);
        run.Stopped.ShouldNotBeNull().ShouldContain(why);
        run.Ended.ShouldBeTrue();
        run.Do("found S3").ShouldBeNull();
        run.Right.ShouldBeFalse();
    }

    /// <summary>Ohms after the proof are no unsafe act, and after energy came back they are again.</summary>
    [Fact]
    public void A_proof_of_dead_holds_until_energy_comes_back()
    {
        var run = Start(Read("18-no-heat"));
        run.Do("prove dead")!.Shown.ShouldContain("read dead");
        run.IsProvedDead.ShouldBeTrue();
        run.Do("off T0, lift E1.1 : ohm E1")!.Kind.ShouldBe(ActKind.Reading, run.Acts[^1].Shown);
        run.Do("timer=DRY : sees \"drum lamp lights\"")!.Kind.ShouldBe(ActKind.Reading, run.Acts[^1].Shown);
        run.IsProvedDead.ShouldBeFalse();
        run.Do("off T0 : ohm E1")!.Kind.ShouldBe(ActKind.Unsafe);
    }

    /// <summary>
    /// What a proof of dead reads is counted too: the reading after it is looked back at with what it left, not with less.
    /// </summary>
    [Fact]
    public void A_reading_after_a_proof_of_dead_is_reviewed_with_its_own_suspects()
    {
        var run = Start(Read("18-no-heat"));
        run.Do("prove dead");
        run.Do("off T0, lift E1.1 : ohm E1")!.Shown.ShouldBe("OL");
        var reviewed = ExerciseReview.Readings(run).ShouldHaveSingleItem();
        var left = run.Findings().Suspects[0];
        reviewed.Left[0].ShouldBe((left.Words.First(), left.Share));
        reviewed.Told.ShouldBe(Told.Useful);
    }

    /// <summary>
    /// By hand, on "Volts that nothing draws": a clutch and a relay bought in vain are 45 and 15; the fault is a joint of 20 Ω in series
    /// with
    /// 3.4 Ω, so that of 12.6 V about 12.6 × 20 / 23.4 = 10.8 V stand across it.
    /// </summary>
    [Fact]
    public void Parts_bought_at_random_are_billed_and_the_review_says_what_each_reading_told()
    {
        var run = Start(Read("04-unloaded-volts-deceive"));
        run.Do("key=RUN brush=ON : V Y1.1")!.Kind.ShouldBe(ActKind.Refused, "nothing was said before a control that sets it going");
        run.Do("safe");
        run.Do("replace Y1")!.Mended.ShouldBeFalse();
        run.Do("replace K1")!.Mended.ShouldBeFalse();
        run.Do("key=RUN brush=ON : drop X2:1")!.Reading.ShouldNotBeNull();
        ((Reading)run.Acts[^1].Reading!).Result.ShouldBeOfType<ReadingResult.Number>().Value.ShouldBe(7.5, 0.3);
        run.Do("key=RUN brush=ON : drop X2:1");
        run.Do("found X2:1 90%")!.Kind.ShouldBe(ActKind.Finding);
        run.Right.ShouldBeTrue();
        run.Sure.ShouldBe(0.9);
        var bill = ExerciseBill.Of(run);
        bill.InVain.ShouldBe(["replace Y1", "replace K1"]);
        bill.PriceInVain.ShouldBe(60);
        bill.Readings.ShouldBe(2);
        bill.Minutes.ShouldBe(run.Acts.Sum(a => a.Minutes), 1e-9);
        var review = ExerciseReview.Readings(run);
        review[0].Told.ShouldBe(Told.Useful);
        review[0].Share.ShouldBeGreaterThan(0.7);
        review[1].Told.ShouldBe(Told.Known);
        var best = ExerciseReview.Play(run, Space("QS-5"), Strategy.BestValue)!;
        best.Right.ShouldBeTrue();
        best.Minutes.ShouldBeLessThan(bill.Minutes);
    }

    /// <summary>
    /// By hand, on "Half the volts": 8 Ω of wire before a coil of 8 Ω leave each half of 12.6 V. Minutes by docs/costs.md and the sheet:
    /// volts 0.4 at the pump, 6 away; a coil bought in vain 20 there, 6 away; a drop 0.5, whose other end is 1 away, the key
    /// turned on again 0.1; a wire 15, 2 away. Being safe costs nothing.
    /// The drop leaves the wire alone: as many bits as were open before it.
    /// </summary>
    [Fact]
    public void A_bill_and_its_review_are_what_one_reckons_by_hand()
    {
        var run = Start(Read("07-series-division"));
        run.Do("safe");
        run.Do("key=RUN : V Y1.1")!.Reading.ShouldNotBeNull().Result.ShouldBeOfType<ReadingResult.Number>().Value.ShouldBe(6.3, 0.1);
        run.Do("replace Y1")!.Mended.ShouldBeFalse();
        var before = run.Findings().Suspects.Where(g => g.Share > 0).Select(g => g.Share).Append(run.Findings().OffSheet).ToList();
        run.Do("key=RUN : drop w48")!.Reading.ShouldNotBeNull().Result.ShouldBeOfType<ReadingResult.Number>().Value.ShouldBe(6.3, 0.1);
        run.Do("repair w48")!.Mended.ShouldBeTrue();
        run.Do("found w48 80%")!.Shown.ShouldBe("That is it.");
        run.Acts.Select(a => Math.Round(a.Minutes, 6)).ShouldBe([0, 6.4, 26, 1.6, 17, 0]);
        var bill = ExerciseBill.Of(run);
        (bill.Readings, bill.PriceInVain, Math.Round(bill.Minutes, 6)).ShouldBe((2, 45, 51));
        var review = ExerciseReview.Readings(run);
        review.Select(r => r.Told).ShouldBe([Told.Useful, Told.Useful]);
        review[1].Share.ShouldBeGreaterThan(0.95);
        review[1].Bits.ShouldBe(-before.Where(p => p > 0).Sum(p => p * Math.Log2(p)), 0.3);
    }

    /// <summary>
    /// What a reading would tell is told before it is made, costs minutes, and counts as a hint. By the law of total probability the shares
    /// that the answers would leave, each by its chance, add up to the share that stands now.
    /// </summary>
    [Fact]
    public void What_a_reading_would_tell_is_what_its_answers_leave_in_the_mean()
    {
        var (run, space) = (Start(Read("04-unloaded-volts-deceive")), Space("QS-5"));
        foreach (var line in (string[])["key=RUN brush=ON : V X2:1", "key=RUN brush=ON : hears K1"])
        {
            var test = ReadingReader.Read(space.Circuit, line).Value!.Test;
            var outcomes = Diagnostician.WouldTell(space, run.Readings, test);
            outcomes.Count.ShouldBeGreaterThan(1, line);
            outcomes.Sum(o => o.Chance).ShouldBe(1, 0.02, line);
            double Of(Findings f) => f.Suspects.Where(g => g.Unit == "K1").Sum(g => g.Share);
            var after = outcomes.Sum(o =>
                o.Chance
                * Of(Diagnostician.Diagnose(space, [.. run.Readings, ReadingReader.Read(space.Circuit, $"{line} = {o.Result}").Value!]))
            );
            after.ShouldBe(Of(run.Findings()), 0.05, line);
        }
        var told = run.Do("tell key=RUN brush=ON : V X2:1")!;
        (told.Kind, told.Minutes).ShouldBe((ActKind.Hint, ExerciseRun.KnowMinutes));
        told.Shown.ShouldContain("%");
        run.Readings.Count.ShouldBe(1, "it was only asked");
        ExerciseBill.Of(run).Hints.ShouldBe(1);
        run.Do("tell key=RUN : V X2:1 = 12V")!.Kind.ShouldBe(ActKind.Refused);
        run.Do("tell V nowhere")!.Kind.ShouldBe(ActKind.Refused);
        Start(Read("04-unloaded-volts-deceive") with { Without = ["hints"] }).Do("tell key=RUN : V X2:1")!.Kind.ShouldBe(ActKind.Refused);
    }

    /// <summary>After the first of two is mended the second is found, on machines that no exercise is made of.</summary>
    [Theory]
    [InlineData("QS-5", "brush turns", "B2 open", "K1 contact 30-87 open")]
    [InlineData("BP-2", "pump starts", "S2 open", "M1 open")]
    [InlineData("SL-9", "horn sounds", "w22 open", "H1 open")]
    [InlineData("RG-1", "travels left", "S1 open", "w32 open")]
    public void A_second_fault_shows_when_the_first_is_mended(string sheet, string function, string first, string second)
    {
        var run = Start(new Exercise("two", sheet, function, "dead", [first, second]));
        run.Hidden.Count.ShouldBe(2);
        Follow(run);
        foreach (var act in run.Acts)
            output.WriteLine($"{act.Kind} {act.Text}: {act.Shown}");
        run.Right.ShouldBeTrue();
        ExerciseBill.Of(run).InVain.ShouldBeEmpty();
    }

    [Fact]
    public void A_part_that_mends_one_of_two_leaves_the_other_and_both_must_be_known()
    {
        var run = Start(Read("23-two-faults"));
        run.Do("safe");
        run.Do("replace S4")!.Mended.ShouldBeTrue();
        run.Do("key=START : hears K1")!.Shown.ShouldBe("clicks");
        run.Do("key=START : sees \"engine cranks\"")!.Shown.ShouldBe("dead");
        run.Do("found S4")!.Shown.ShouldBe("That is not it.");
        var other = Start(Read("23-two-faults"));
        other.Do("replace S4");
        other.Do("found K1");
        other.Right.ShouldBeTrue();
    }

    /// <summary>What was missed is due at once; each time in a row that it is solved it is let rest longer.</summary>
    [Fact]
    public void What_was_missed_comes_again()
    {
        Progress.DaysUntilDue([]).ShouldBeNull();
        Progress.DaysUntilDue([false]).ShouldBe(0);
        Progress.DaysUntilDue([false, true]).ShouldBe(3);
        Progress.DaysUntilDue([true, true, true]).ShouldBe(30);
        Progress.DaysUntilDue([true, true, false]).ShouldBe(0);
        Progress.DaysUntilDue([.. Enumerable.Repeat(true, 9)]).ShouldBe(90);
    }

    /// <summary>
    /// F1 blown: its near side at the battery's volts, its far side at nothing, and both at the battery's where it is sound.
    /// </summary>
    [Fact]
    public void The_sealed_sheet_shows_what_the_machine_shows()
    {
        var run = Start(Read("01-fuse-that-is-blown"));
        var points = PaperPoints.Of(Space("QS-5").Circuit, run, run.Complaint!.Test.Setup).ToDictionary(p => p.Point);
        points["F1.1"].Shows.ShouldStartWith("12.");
        points["F1.2"].Shows.ShouldEndWith(" mV");
        points["F1.2"].Sound.ShouldStartWith("12.");
    }

    [Theory]
    [InlineData("exercise \"x\"\nsheet QS-5\ncomplaint \"brush turns\" dead\nfish", "fish")]
    [InlineData("exercise \"x\"\nsheet QS-5\ncomplaint \"brush turns\" purple", "complaint")]
    [InlineData("exercise \"x\"\nsheet QS-5\nlevel 9\ncomplaint \"brush turns\" dead", "level 9")]
    [InlineData("exercise \"x\"\ncomplaint \"brush turns\" dead", "sheet")]
    [InlineData("", "missing")]
    public void What_is_no_exercise_is_said_by_its_line(string text, string said) =>
        ExerciseText.Read(text).Problems.ShouldContain(p => p.Message.Contains(said, StringComparison.Ordinal));

    [Fact]
    public void What_does_not_go_with_the_sheet_is_said()
    {
        var e = new Exercise("x", "QS-5", "brush flies", "dead", ["w999 open"]) { Moved = "nowhere" };
        ExerciseText.Against(e, Space("QS-5").Circuit).Count.ShouldBe(3);
    }
}
