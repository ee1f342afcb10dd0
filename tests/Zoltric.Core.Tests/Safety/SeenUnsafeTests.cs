using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>What was once seen to be unsafe on mains and mixed machines, each by itself.</summary>
public class SeenUnsafeTests
{
    private static Test TestOf(Circuit c, string line) => ReadingReader.Read(c, line).Value.ShouldNotBeNull().Test;

    private static Reading ReadingOf(Circuit c, string line) => ReadingReader.Read(c, line).Value.ShouldNotBeNull();

    private static IsolationState State(Circuit c, params string[] lines) => IsolationState.Of(c, lines.Select(l => ReadingOf(c, l)));

    [Fact]
    public void Danger_is_read_from_the_circuit_and_not_from_the_header()
    {
        var mixed = SafetySheets.Read(SafetySheets.Mixed);
        // 230 V behind a header that says 24 V: gate, no jumper, AC dial, a sweep by alternating volts.
        MakeSafe.Needed(mixed, TestOf(mixed, "pump=ON : VAC F1.2 T1.N")).ShouldContain(i => i.Id == "permitted");
        Bridges
            .Forbidden(new Machine(mixed), ReadingReader.ReadSetup(mixed, "jumper F1.1 F1.2").Value!)
            .ShouldNotBeNull()
            .Why.ShouldContain("230 V AC");
        Nets.Of(mixed).FunctionAt(new Terminal("F1", "2")).ShouldBe(VoltsFunction.Ac);
        var plan = IsolationPlan.Of(mixed);
        plan.IsShort.ShouldBeFalse();
        plan.Sweep.ShouldContain(c => c.Function == VoltsFunction.LowImpedance && c.P.Tag == "Q1");
        SheetChecker
            .Check(mixed, SafetySheets.Mixed)
            .ShouldContain(p => p.Message.Contains("The header says 24 V DC; T1 gives 230 V AC", StringComparison.Ordinal));
        // A 24 V side of a 400 V sheet: bridges there are harmless, and live work there is no mains work.
        var conveyor = SafetySheets.Read(SafetySheets.Conveyor);
        Bridges.Forbidden(new Machine(conveyor), ReadingReader.ReadSetup(conveyor, "jumper S1.1 S1.2").Value!).ShouldBeNull();
        MakeSafe.Needed(conveyor, TestOf(conveyor, "start=RUN : VAC K1.A1 T1.S2")).ShouldNotContain(i => i.Id == "permitted");
        SheetChecker
            .Check(SafetySheets.Read(SafetySheets.Mixed), SafetySheets.Mixed)
            .ShouldContain(p => p.Suggestion!.Contains("separated", StringComparison.Ordinal));
        SheetChecker
            .Check(conveyor, SafetySheets.Conveyor)
            .ShouldNotContain(p =>
                p.Message.Contains("header", StringComparison.Ordinal) || p.Message.Contains("separated", StringComparison.Ordinal)
            );
    }

    [Fact]
    public void A_dead_check_on_the_wrong_dial_proves_nothing()
    {
        var mixed = SafetySheets.Read(SafetySheets.Mixed);
        TestRules.WrongDial(mixed, TestOf(mixed, "off U1, off T1 : V F1.2 T1.N")).ShouldNotBeNull();
        TestRules.WrongDial(mixed, TestOf(mixed, "off U1, off T1 : VAC F1.2 T1.N")).ShouldBeNull();
        TestRules.WrongDial(mixed, TestOf(mixed, "off U1, off T1 : VAC F2.2 U1.-")).ShouldNotBeNull();
        // 0.00 by direct volts at a point where 230 V AC may stand leaves the check open.
        var before = State(mixed, "off U1, off T1 : V Q1.2 M1.2 = 0V").Pending.Count;
        before.ShouldBe(IsolationPlan.Of(mixed).Sweep.Count);
        State(mixed, "off U1, off T1 : loz Q1.2 M1.2 = 0V").Pending.Count.ShouldBe(before - 1);
    }

    [Fact]
    public void Seventy_two_volts_have_the_gate_that_their_caution_asks_for()
    {
        var truck = SafetySheets.Read(SafetySheets.Traction);
        var test = TestOf(truck, "key=ON seat=SAT : V K1.A1");
        MakeSafe.Needed(truck, test).ShouldContain(i => i.Id == "permitted");
        Cautions
            .For(truck, test, new Machine(truck).Run(test.Setup))
            .ShouldContain(c => c.StartsWith("Live, up to", StringComparison.Ordinal));
        // In the wet the limits are lower: a 24 V alternating control is gated there, and not in the dry.
        var conveyor = SafetySheets.Read(SafetySheets.Conveyor);
        var control = TestOf(conveyor, "start=RUN : VAC K1.A1 T1.S2");
        MakeSafe.Needed(conveyor, control, new SafetyFacts(true, new HashSet<string>())).ShouldContain(i => i.Id == "permitted");
    }

    private static string[] Sweep(Circuit c) =>
        [
            .. IsolationPlan
                .Of(c)
                .Sweep.Select(x =>
                    $"{string.Join(", ", c.SourcesOff)} : {(x.Function == VoltsFunction.Dc ? "V" : "loz")} {x.P} {x.Q} = 0V"
                ),
        ];

    [Fact]
    public void Proof_of_dead_ends_with_the_next_live_step()
    {
        var dryer = DemoSheets.Circuit("TD-2");
        State(dryer, Sweep(dryer)).IsProvedDead.ShouldBeTrue();
        var after = State(dryer, [.. Sweep(dryer), "timer=DRY : VAC F1.2 = 120V"]);
        after.IsProvedDead.ShouldBeFalse();
        after.Ended.ShouldNotBeNull().ShouldContain("timer=DRY");
        // And so it is ordered: a live reading, then ohms, has the whole sweep again.
        State(dryer, [.. Sweep(dryer), "timer=DRY : VAC F1.2 = 120V", Sweep(dryer)[0]])
            .Pending.Count.ShouldBe(IsolationPlan.Of(dryer).Sweep.Count - 1);
        // Moving the device that isolates is a step that can bring energy back.
        State(dryer, [.. Sweep(dryer), "off T0, plug=IN : ohm F1 = 0.2ohm"]).IsProvedDead.ShouldBeFalse();
    }

    [Fact]
    public void Dead_is_proved_behind_what_was_opened_and_against_a_reference_that_is_still_bonded()
    {
        // The wall outlet stays live: the pairs are at the machine's own cord terminals.
        var dryer = IsolationPlan.Of(DemoSheets.Circuit("TD-2"));
        dryer.Sweep.ShouldAllBe(c => c.P.Tag == "X1" && (c.Q.Tag == "X1" || c.Q.Name == "PE"));
        dryer.StaysLive.Select(t => t.ToString()).ShouldBe(["T0.L1", "Q1.1", "T0.L2", "Q2.1"], ignoreOrder: true);
        TestRules.IsForbidden(DemoSheets.Circuit("TD-2"), TestOf(DemoSheets.Circuit("TD-2"), "off T0 : ohm T0.L1 X1:1a")).ShouldNotBeNull();
        // Ground lead off: the black tip goes to what is still on the frame, not to the post.
        var sweeper = IsolationPlan.Of(DemoSheets.Circuit("QS-5"));
        sweeper.Supplies.Single().Devices.ShouldBeEmpty();
        sweeper.Sweep.ShouldAllBe(c => c.Q.Tag != "G1" && c.P.Tag != "G1");
    }

    [Theory]
    [InlineData("TD-2", "timer=DRY : VAC K1.21 T0.N", "ACV", "600 V")]
    [InlineData("DO-4", "heat=LOW : VAC K1.A1 T1.S2", "ACV", "60 V")]
    [InlineData("DO-4", "off T0 : loz Q1.2 Q2.2", "LOZ", "600 V")]
    [InlineData("PR-3", "key=START : V K1.86", "DCV", "60 V")]
    [InlineData("PR-3", "off G1 : ohm S2", "OHM", "600 Ω")]
    [InlineData("BT-7", ": clamp w1", "CLAMP_DC", "600 A")]
    public void Every_order_names_function_and_range(string sheet, string line, string function, string range)
    {
        var circuit = DemoSheets.Circuit(sheet);
        var order = ProbeOrder.Of(circuit, TestOf(circuit, line), function == "CLAMP_DC" ? 200 : null);
        order.Meter.Function.ShouldBe(function);
        order.Meter.Range.ShouldBe(range);
        order.Meter.Dial.ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("jumper S0.1 S0.2 : sees \"pump runs\" = works")]
    [InlineData("jumper F1.2 S1.11 : hears K1 = clicks")]
    public void A_bridge_past_a_safety_part_is_refused_whatever_the_probe_and_must_be_shown_out(string line)
    {
        var circuit = DemoSheets.Circuit("BP-2");
        var machine = new Machine(circuit);
        var reading = ReadingOf(
            circuit,
            line.Contains("pump runs", StringComparison.Ordinal)
                ? line.Replace("pump runs", circuit.Functions[0].Name, StringComparison.Ordinal)
                : line
        );
        Bridges.Forbidden(machine, reading.Test).ShouldNotBeNull().Past.ShouldContain("S0");
        var findings = Diagnostician.Diagnose(new FaultSpace(machine), [reading]);
        var items = Verification.Items(machine, findings.Verdicts, circuit.Functions[0]);
        items.ShouldContain(i => i.Kind == VerificationKind.Leads);
        // The guard is shown to stop the machine: by its interlock, or by an item of its own.
        items.ShouldContain(i =>
            i.Kind == VerificationKind.Interlock && (i.Name == "guard S0" || i.Name.Contains("estop", StringComparison.OrdinalIgnoreCase))
        );
    }

    [Fact]
    public void A_gentler_test_past_an_interlock_is_allowed_with_the_load_off()
    {
        var machine = new Machine(DemoSheets.Circuit("PR-3"));
        Bridges.Forbidden(machine, TestOf(machine.Circuit, "unplug M1, key=START, jumper S2.1 S2.2 : hears K1")).ShouldBeNull();
        Bridges.Forbidden(machine, TestOf(machine.Circuit, "key=START, jumper S2.1 S2.2 : hears K1")).ShouldNotBeNull();
    }

    [Fact]
    public void Cautions_name_what_moves_in_this_setup_and_who_can_start_it()
    {
        var light = DemoSheets.Circuit("LT-1");
        // The mast lamps run; nothing turns, and the alternator least of all.
        foreach (var f in light.Functions)
            if (
                FunctionSetups.SetupFor(light, f) is { } setup
                && f.Test is FunctionTest.LoadWorks { Tag: var tag }
                && light.FindPart(tag)!.Kind is Circuits.Kinds.Lamp
            )
                Cautions
                    .For(light, new Test(setup, new Probe.Sees(f.Name, true)), new Machine(light).Run(setup))
                    .ShouldNotContain(c => c.Contains("alternator", StringComparison.Ordinal));
        // Sensors start nothing: the neutral switch on the gearbox and the seat switch are not where it is started from.
        var roller = MakeSafe.Items(DemoSheets.Circuit("PR-3"));
        roller.Single(i => i.Id == "others").Say.ShouldNotContain("transmission");
        roller.Single(i => i.Id == "others").Say.ShouldContain("dash");
        MakeSafe.Items(DemoSheets.Circuit("TD-2")).ShouldNotContain(i => i.Say.Contains("ngine", StringComparison.Ordinal));
    }

    [Fact]
    public void A_bench_test_is_for_the_part_it_is_for()
    {
        var dryer = new Machine(DemoSheets.Circuit("TD-2"));
        var tests = BenchTests.For(dryer, "K1");
        // A 120 V coil is not fed on a bench, least of all with 240 V; its changeover contacts that the sheet does not wire are left out.
        tests.ShouldNotContain(t =>
            t.Name.Contains("240", StringComparison.Ordinal) || t.Name.StartsWith("with ", StringComparison.Ordinal)
        );
        tests.ShouldContain(t => t.Name.Contains("not energised", StringComparison.Ordinal));
        tests.ShouldNotContain(t =>
            t.Name.Contains("12", StringComparison.Ordinal)
            && t.Name.StartsWith("contact 11", StringComparison.Ordinal)
            && t.Name.Contains("11–12", StringComparison.Ordinal)
        );
        BenchTests
            .For(new Machine(DemoSheets.Circuit("PR-3")), "K1")
            .ShouldContain(t => t.Name.StartsWith("with 12 V DC", StringComparison.Ordinal));
        // No range is invented for a module.
        var line = new Machine(DemoSheets.Circuit("BL-1"));
        BenchTests.For(line, line.Circuit.Parts.First(p => p.Kind is Circuits.Kinds.Module).Tag).ShouldBeEmpty();
    }

    [Fact]
    public void Dead_checks_weigh_nothing_until_one_reads_live_and_then_everything_stops()
    {
        var circuit = DemoSheets.Circuit("TD-2");
        var space = new FaultSpace(new Machine(circuit));
        Reading[] Readings(params string[] lines) => [.. lines.Select(l => ReadingOf(circuit, l))];
        string[] evidence = ["timer=DRY heat=HIGH start=PRESSED : sees \"heats\" = dead", "timer=DRY : sees \"drum lamp lights\" = works"];
        var without = Diagnostician.Diagnose(space, Readings(evidence));
        var with = Diagnostician.Diagnose(
            space,
            Readings([evidence[0], .. Enumerable.Range(0, 6).SelectMany(_ => Sweep(circuit)), evidence[1]])
        );
        with.OffSheet.ShouldBe(without.OffSheet, 1e-9);
        with.Suspects[0].Share.ShouldBe(without.Suspects[0].Share, 1e-9);
        var live = Diagnostician.Diagnose(space, Readings([.. evidence, "off T0 : loz X1:1a X1:2a = 118V"]));
        live.Next.ShouldBeEmpty();
        live.Stop.ShouldNotBeNull().ShouldContain("T0");
        // Read dead again, it goes on.
        Diagnostician
            .Diagnose(space, Readings([.. evidence, "off T0 : loz X1:1a X1:2a = 118V", "off T0 : loz X1:1a X1:2a = 0V"]))
            .Stop.ShouldBeNull();
        // Eight volts that only a high-impedance meter shows are not proved, and no alarm.
        var ghost = State(circuit, "off T0 : VAC X1:1a X1:2a = 8V");
        ghost.Live.ShouldBeNull();
        ghost.Ghost.ShouldNotBeNull();
        ghost.Pending.Count.ShouldBe(IsolationPlan.Of(circuit).Sweep.Count);
    }

    [Fact]
    public void One_sweep_serves_all_ohms_of_an_isolation()
    {
        var circuit = DemoSheets.Circuit("TD-2");
        var space = new FaultSpace(new Machine(circuit));
        var fault = new Fault("B1", "open");
        var readings = new List<Reading>
        {
            ReadingOf(circuit, "timer=DRY heat=HIGH start=PRESSED : sees \"heats\" = dead"),
            ReadingOf(circuit, "timer=DRY start=PRESSED : sees \"drum starts\" = works"),
        };
        var sweeps = 0;
        for (var n = 0; n < 30; n++)
        {
            var findings = Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Verdicts = false });
            if (findings.Solved || findings.Next.Count == 0)
                break;
            var next = findings.Next[0];
            if (next.Kind == AdviceKind.ProveDead)
                sweeps++;
            var shown = Meter.Read(space.Machine, next.Test, [fault]);
            readings.Add(
                new Reading(
                    next.Test,
                    shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension)
                        : shown.Answer == Answer.OverLimit ? new ReadingResult.OverLimit()
                        : new ReadingResult.Word(shown.Answer!.Value)
                )
            );
        }
        Diagnostician.Diagnose(space, readings).Solved.ShouldBeTrue();
        sweeps.ShouldBe(IsolationPlan.Of(circuit).Sweep.Count);
        (readings.Count - sweeps - 2).ShouldBeLessThanOrEqualTo(12);
    }
}
