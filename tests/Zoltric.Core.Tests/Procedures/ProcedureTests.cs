using Zoltric.Core.Notation;
using Zoltric.Core.Procedures;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Procedures;

/// <summary>Procedures as people have them, read, checked and run; all of them made up for the machines of the demo.</summary>
public sealed class ProcedureTests
{
    private const string Own = """
        procedure "roller does not crank"
        for "Pan roller PR-3"
        caution "Chock it: it starts in gear."

        step 1 "Volts at start relay K1, terminal 86"
          set "key at START, gear NEUTRAL"
          meter "V DC"
          where "fuse panel, slot R2"
          reading key=START : V K1.86
          minutes 2
          if under 6 V then step 2
          if 6 V to 11 V then repair "a joint of the string resists"
          if 11 V or more then step 3
        step 2 "Volts at key switch S1, terminal S"
          reading key=START : V S1.S
          if under 6 V then repair "renew the key switch" of S1
          if 6 V or more then ask "halve the string"
        step 3 "Does K1 click?"
          reading key=START : hears K1
          if clicks then ask "go on with the starter"
          if silent then repair "renew the relay" of K1
        """;

    private const string Paragraphs = """
        Lamp does not light
        1. Is there 12 V at X3 pin 1 with the key at RUN? Yes: go to step 2. No: renew fuse F1.
        2. Measure volts at H1 terminal 1.
           under 6 V: replace wire w43
           6 V or more: go to 3
        3) No volts on any of three supply pins: continuity from there to the fuse holder; none: renew that loom
        4. Check the ground splice. Good: call the maker. Bad: clean it.
        """;

    private const string YesNo = """
        | Step | Check | Yes | No |
        |------|-------|-----|----|
        | 1 | Do the lamps light? | 2 | 4 |
        | 2 | Does the starter click? | go to step 3 | replace start relay K1 |
        | 3 | More than 10 V at M1 terminal S? | renew the starter | next |
        | 4 | Is F1 whole? | call the maker | renew F1 |
        """;

    private const string Pins = "Pin\tExpect\tIf not\n1\t11 V or more\trenew fuse F3\n2\tunder 0.2 V\tclean ground GND1\n3\tground\t\n";

    private const string Csv =
        "step,check,yes,no\n1,\"Seat pressed, gear in neutral?\",2,press it and try again\n2,Click heard?,renew the starter,renew K1\n";

    private static ProposedProcedure Proposed(string text) => ProcedureReader.Propose(text, "chart").Value.ShouldNotBeNull();

    private static StepLead? End(Procedure p, params string[] answers)
    {
        var given = new List<GivenAnswer>();
        foreach (var a in answers)
        {
            var state = ProcedureRun.Follow(p, given);
            state.Trouble.ShouldBeNull();
            given.Add(new GivenAnswer(state.At!.Number, a));
        }
        var end = ProcedureRun.Follow(p, given);
        end.Trouble.ShouldBeNull();
        return end.End;
    }

    [Fact]
    public void Our_own_text_runs_by_values_and_words_and_goes_round_through_both_forms()
    {
        var p = ProcedureText.Read(Own).Value.ShouldNotBeNull();
        End(p, "12,4 V", "silent").ShouldBe(new StepLead.Repair("renew the relay", "K1"));
        End(p, "5.99", "0.1").ShouldBe(new StepLead.Repair("renew the key switch", "S1"));
        End(p, "6").ShouldBeOfType<StepLead.Repair>();
        ProcedureRun.Follow(p, [new("1", "blue")]).Trouble!.ShouldContain("none of its answers");
        var text = ProcedureText.Write(p);
        ProcedureText.Write(ProcedureText.Read(text).Value!).ShouldBe(text);
        ProcedureText.Write(ProcedureJson.Read(ProcedureJson.Write(p)).Value.ShouldNotBeNull()).ShouldBe(text);
        ProcedureCheck.Of(p, DemoSheets.Read(DemoSheets.Text("PR-3"))).ShouldBeEmpty();
    }

    private const string SeveralPins = """
        procedure "start relay"
        step 1 "Pins of the start relay"
          set "key at START"
          pin K1.86 11 V or more
          pin "K1.30, always fed" 11 V or more
          pin "the frame" under 0.5 V
          if all then repair "renew the relay" of K1
          if some then step 2
          if none then repair "charge the battery" of G1
        step 2 "Which of them?"
          if yes then ask "go on with the trace"
          if no then ask "go on with the trace"
        """;

    /// <summary>Several pins of one step: ticked or with their values, one answer of all, some or none of them.</summary>
    [Fact]
    public void Several_pins_come_to_one_answer()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var p = ProcedureText.Read(SeveralPins).Value.ShouldNotBeNull();
        ProcedureText.Write(ProcedureJson.Read(ProcedureJson.Write(p)).Value.ShouldNotBeNull()).ShouldBe(ProcedureText.Write(p));
        ProcedureCheck.Of(p, circuit).ShouldBeEmpty();
        var step = p.Steps[0];
        StepPins.Answer(step, ["12,3 V", "good", "0.1"]).Answer.ShouldBe("all (K1.86 12,3 V, K1.30, always fed good, the frame 0.1)");
        // Each limit belongs to one side: 11 V is enough, 0.5 V too much.
        StepPins.Answer(step, ["11", "10.9", "0.5"]).Answer!.ShouldStartWith("some (");
        StepPins.Answer(step, ["0.2 V", "bad", "3"]).Answer!.ShouldStartWith("none (");
        StepPins.Answer(step, ["12", "", "0"]).Problem!.ShouldContain("K1.30");
        StepPins.Answer(step, ["12", "4 ohm", "0"]).Problem!.ShouldContain("11.0 V or more");
        End(p, StepPins.Answer(step, ["12", "12", "0"]).Answer!).ShouldBe(new StepLead.Repair("renew the relay", "K1"));
        ProcedureRun.Follow(p, [new("1", StepPins.Answer(step, ["0", "12", "0"]).Answer!)]).At!.Number.ShouldBe("2");
        // What is a point of the sheet is its reading, with the control that the step speaks of.
        var tied = StepTies.Tie(step, circuit);
        tied.Pins.Select(x => x.Reading).ShouldBe(["key=START : V K1.86", "key=START : V K1.30", ""]);
        ProcedureCheck
            .Of(ProcedureText.Read("procedure \"t\"\nstep 1 \"a\"\n pin K1.86 11 V or more\n if all then ask \"x\"").Value!)
            .ShouldBe(["Step 1: nothing is said of none of its pins being good."]);
    }

    /// <summary>Run on hidden faults by a program that follows nothing but the text: every branch of a step of several pins.</summary>
    [Theory]
    [InlineData("G1 dead", "charge the battery")]
    [InlineData("K1 coil-open", "renew the relay")]
    [InlineData("S1 open B-S", "go on with the trace")]
    public void Each_branch_of_several_pins_is_met_by_a_fault(string fault, string ends)
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var p = ProcedureText.Read(SeveralPins.Replace("  pin \"the frame\" under 0.5 V\n", "", StringComparison.Ordinal)).Value!;
        p = p with { Steps = [.. p.Steps.Select(s => StepTies.Tie(s, circuit))] };
        var step = p.Steps[0];
        var machine = new Machine(circuit);
        var shown = step.Pins.Select(pin =>
        {
            var test = ReadingReader.Read(circuit, pin.Reading).Value!.Test;
            return Core.Metering.Meter.Read(machine, test, [.. FaultReader.Read(circuit, fault).Value!]).Value!.Value.ToString("0.###");
        });
        var given = new List<GivenAnswer> { new("1", StepPins.Answer(step, [.. shown]).Answer!) };
        if (ProcedureRun.Follow(p, given).At is not null)
            given.Add(new("2", "yes"));
        var end = ProcedureRun.Follow(p, given).End;
        (end is StepLead.Repair r ? r.Text : ((StepLead.Ask)end!).Text).ShouldBe(ends);
    }

    [Fact]
    public async Task The_twin_is_as_its_schema_says()
    {
        var file = Path.Combine(DemoSheets.Root, "docs", "data", "procedure.schema.json");
        var schema = await NJsonSchema.JsonSchema.FromFileAsync(file, TestContext.Current.CancellationToken);
        foreach (var text in new[] { Own, Paragraphs, YesNo, Pins, Csv, SeveralPins })
            schema.Validate(ProcedureJson.Write(Proposed(text).Procedure)).ShouldBeEmpty();
        schema.Validate("{\"title\":\"t\",\"steps\":[]}").ShouldNotBeEmpty();
    }

    [Fact]
    public void Numbered_paragraphs_become_steps_and_their_answers()
    {
        var read = Proposed(Paragraphs);
        read.NotUnderstood.ShouldBeEmpty();
        var p = read.Procedure;
        p.Steps.Select(s => s.Number).ShouldBe(["1", "2", "3", "3a", "4"]);
        End(p, "no").ShouldBe(new StepLead.Repair("renew fuse F1"));
        End(p, "yes", "2 V").ShouldBe(new StepLead.Repair("replace wire w43"));
        End(p, "yes", "12 V", "No volts on any of three supply pins", "none").ShouldBe(new StepLead.Repair("renew that loom"));
        End(p, "yes", "12 V", "otherwise", "bad").ShouldBe(new StepLead.Repair("clean it"));
        ProcedureCheck.Of(p).ShouldBeEmpty();
    }

    [Fact]
    public void Tables_of_yes_and_no_of_pins_and_out_of_a_file_become_steps()
    {
        var p = Proposed(YesNo).Procedure;
        End(p, "yes", "no").ShouldBe(new StepLead.Repair("replace start relay K1"));
        End(p, "yes", "yes", "no", "n").ShouldBe(new StepLead.Repair("renew F1"));
        var pins = Proposed(Pins).Procedure;
        End(pins, "0.3").ShouldBe(new StepLead.Repair("renew fuse F3"));
        End(pins, "12.1", "0.3").ShouldBe(new StepLead.Repair("clean ground GND1"));
        End(pins, "12.1", "0.1", "bad").ShouldBe(new StepLead.Repair("the way to pin 3"));
        End(Proposed(Csv).Procedure, "yes", "no").ShouldBe(new StepLead.Repair("renew K1"));
    }

    [Fact]
    public void A_step_that_speaks_of_a_point_of_the_sheet_becomes_its_reading()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var steps = ProcedureReader.Propose(Paragraphs, "chart", circuit).Value!.Procedure.Steps;
        steps[0].Reading.ShouldBe("key=RUN : V X3:1a");
        steps[1].Reading.ShouldStartWith(": V H1.1");
        steps[3].Reading.ShouldBeEmpty();
        StepTies.Expected(steps[0], new Machine(circuit))!.ShouldContain("V");
    }

    /// <summary>Each kind of mistake is said, once, where it stands.</summary>
    [Fact]
    public void Mistakes_of_a_procedure_are_said()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        IReadOnlyList<string> Said(string steps) => ProcedureCheck.Of(ProcedureText.Read($"procedure \"t\"\n{steps}").Value!, circuit);
        Said("step 1 \"a\"\n if yes then step 9\n if no then ask \"x\"").ShouldBe(["Step 1, yes: there is no step 9."]);
        Said("step 1 \"a\"\n if yes then ask \"x\"\nstep 2 \"b\"\n if yes then ask \"x\"").ShouldBe(["Step 2 is never reached."]);
        Said("step 1 \"a\"\n if yes then step 2\nstep 2 \"b\"\n if no then step 1").ShouldBe(["It goes in a circle: 1 → 2 → 1."]);
        Said("step 1 \"a\"").ShouldBe(["Step 1 has no answer: it leads nowhere."]);
        Said("step 1 \"a\"\n if under 5 V then ask \"x\"\n if 6 V or more then ask \"y\"").ShouldHaveSingleItem().ShouldContain("between");
        Said("step 1 \"a\"\n if under 7 V then ask \"x\"\n if 6 V or more then ask \"y\"").ShouldHaveSingleItem().ShouldContain("same");
        Said("step 1 \"a\"\n if yes then repair \"renew F77\"").ShouldBe(["Step 1, yes: F77 is not on this sheet."]);
        Said("step 1 \"a\"\n reading V K77.86\n if yes then ask \"x\"")
            .ShouldHaveSingleItem()
            .ShouldContain("its reading is none of this sheet");
    }

    /// <summary>Whatever is pasted is answered: a procedure that can be written again, or what is wrong and where.</summary>
    [Fact]
    public void Nothing_that_is_pasted_breaks_it()
    {
        var random = new Random(25);
        string[] seeds =
        [
            Own,
            Paragraphs,
            YesNo,
            Pins,
            SeveralPins,
            Csv,
            ProcedureJson.Write(ProcedureText.Read(Own).Value!),
            "",
            "1.",
            "{",
            "{\"title\":1}",
            "a:b:c",
            "\0\uD800",
        ];
        for (var n = 0; n < 2000; n++)
        {
            var text = seeds[random.Next(seeds.Length)].ToCharArray();
            for (var k = random.Next(6); k > 0 && text.Length > 0; k--)
                text[random.Next(text.Length)] = "|;:.,\n\t\"01stepif yesΩ{}"[random.Next(23)];
            var read = ProcedureReader.Propose(new string(text), "t");
            if (read.Value is { } p)
            {
                ProcedureCheck.Of(p.Procedure);
                if (p.Procedure.Steps.Select(s => s.Number).Distinct().Count() == p.Procedure.Steps.Count)
                    ProcedureText.Write(p.Procedure).ShouldNotBeEmpty();
            }
            else
                read.Problems.ShouldNotBeEmpty();
        }
    }

    /// <summary>A minus says which way the tips lie; only a rule with a minus of its own asks for it.</summary>
    [Theory]
    [InlineData("6 V or more", "-12.4", true)]
    [InlineData("under 6 V", "-12,4 V", false)]
    [InlineData("under -5 V", "12.4", false)]
    [InlineData("under -5 V", "-12.4", true)]
    [InlineData("under 30 mA", "-2 A", true)]
    public void Volts_are_judged_by_their_size(string rule, string answer, bool taken) =>
        ProcedureText.Rule(rule).ShouldNotBeNull().Takes(answer).ShouldBe(taken);

    /// <summary>Two procedures on one machine: one by the string, one that blames the relay whatever is read.</summary>
    [Fact]
    public void Two_procedures_are_compared_over_hidden_faults()
    {
        var machine = new Machine(DemoSheets.Read(DemoSheets.Text("PR-3")));
        var good = ProcedureText.Read(Own).Value!;
        var bad = ProcedureText
            .Read(
                "procedure \"p\"\nstep 1 \"Does K1 click?\"\n reading key=START : hears K1\n if clicks then repair \"renew M1\" of "
                    + "M1\n if silent then repair \"renew K1\" of K1"
            )
            .Value!;
        Core.Circuits.Fault Fault(string words) => Core.Notation.FaultReader.Read(machine.Circuit, words).Value![0];
        (string Words, string Unit)[] faults = [("K1 coil-open", "K1"), ("S1 open B-S", "S1")];
        TrialSum Sum(Procedure p) => ProcedureTrial.Sum([.. faults.Select(f => ProcedureTrial.Run(p, machine, Fault(f.Words), f.Unit))]);
        (Sum(good).Right, Sum(good).Wrong).ShouldBe((2, 0));
        (Sum(bad).Right, Sum(bad).Wrong).ShouldBe((1, 1));
        // Over every fault that leaves it dead: the one that blames the relay buys in vain whenever it is not the relay or the starter.
        var complaint = DemoSheets.Line(machine.Circuit, "key=START : sees \"engine cranks\" = dead").Test;
        var space = new Core.Diagnosis.Hypotheses.FaultSpace(machine);
        var stop = TestContext.Current.CancellationToken;
        var (own, blames) = (ProcedureTrial.OverAll(good, space, complaint, stop), ProcedureTrial.OverAll(bad, space, complaint, stop));
        own.Faults.ShouldBe(blames.Faults);
        own.Faults.ShouldBeGreaterThan(40);
        own.Wrong.ShouldBeLessThan(blames.Wrong);
        // A relay that chatters is none of its answers.
        (blames.Faults - blames.Right - blames.Wrong).ShouldBeLessThan(3);
    }
}
