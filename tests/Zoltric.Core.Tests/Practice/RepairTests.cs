using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Practice;

/// <summary>Bench tests by the sheet's own ohms, causes that are asked for, and what a mended machine must show.</summary>
public class RepairTests
{
    private static Machine Of(string sheet) => new(DemoSheets.Circuit(sheet));

    [Fact]
    public void A_relay_a_switch_and_a_fuse_are_tested_on_their_own()
    {
        var relay = BenchTests.For(Of("PR-3"), "K1");
        // 85 Ω by the sheet, ± 10 %, read by the leads and the meter besides.
        var coil = relay.Single(t =>
            t.Line?.Contains("K1.86", StringComparison.Ordinal) == true || t.Line?.Contains("K1.85", StringComparison.Ordinal) == true
        );
        coil.Band!.Low!.Value.ShouldBeInRange(60, 85);
        coil.Band.High!.Value.ShouldBeInRange(85, 110);
        relay.Single(t => t.Name == "contact 30–87 at rest").Good.ShouldBe("OL");
        relay.ShouldNotContain(t => t.Name.Contains("87a", StringComparison.Ordinal), "nothing is wired to it on this machine");
        relay.Count(t => t.Line is null).ShouldBe(2, "with volts on its coil, and to its case");
        var key = BenchTests.For(Of("PR-3"), "S1").Select(t => (t.Name, t.Good)).ToList();
        key.Single(t => t.Name == "contact B–R, key OFF").Good.ShouldBe("OL");
        key.Single(t => t.Name == "contact B–R, key RUN").Good.ShouldNotBe("OL");
        key.Single(t => t.Name == "contact B–S, key RUN").Good.ShouldBe("OL");
        key.Single(t => t.Name == "contact B–S, key START").Good.ShouldNotBe("OL");
        BenchTests.For(Of("PR-3"), "F1").Single().Line!.ShouldContain("pull F1");
        BenchTests.For(Of("PR-3"), "w20").Single().Line!.ShouldContain("ohm w20");
        BenchTests.For(Of("PR-3"), "GND1").ShouldBeEmpty();
        foreach (var sheet in DemoSheets.All)
        foreach (var part in DemoSheets.Circuit(sheet).Parts)
        foreach (var t in BenchTests.For(Of(sheet), part.Tag).Where(t => t.Line is not null))
            ReadingReader
                .Read(DemoSheets.Circuit(sheet), t.Line!.StartsWith(':') ? " " + t.Line : t.Line)
                .Value.ShouldNotBeNull($"{sheet}: {t.Line}");
    }

    [
        Theory,
        InlineData("F1 blown", true),
        InlineData("K1 contact 30-87 resists 5ohm", true),
        InlineData("K2 welded 30-87", true),
        InlineData("S2 open", false),
        InlineData("w20 grounded 0.5ohm", false)
    ]
    public void What_is_often_the_victim_asks_for_what_did_it(string finding, bool victim)
    {
        Causes.IsOftenVictim(finding).ShouldBe(victim);
        Causes.Usual(DemoSheets.Circuit("PR-3"), finding).Count.ShouldBeGreaterThan(1);
    }

    [Fact]
    public void A_mended_wire_is_read_under_load_and_every_interlock_is_tried_twice()
    {
        var machine = Of("PR-3");
        var circuit = machine.Circuit;
        var readings = new[]
        {
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V K1.86 = 0.1V",
            "off G1, unplug S2 : ohm S2 = OL",
        }
            .Select(l => ReadingReader.Read(circuit, l).Value!)
            .ToList();
        var findings = Diagnostician.Diagnose(new FaultSpace(machine), readings);
        var items = Verification.Items(machine, findings.Verdicts, findings.Function, "w21 open", codes: true);
        items.Count(i => i.Kind == VerificationKind.Interlock).ShouldBe(circuit.Interlocks.Count);
        items.Count(i => i.Kind == VerificationKind.Unloaded).ShouldBe(circuit.Interlocks.Count);
        items.Single(i => i.Kind == VerificationKind.Codes).Name.ShouldBe("codes");
        items.ShouldContain(i => i.Kind == VerificationKind.Leads);
        items.Single(i => i.Kind == VerificationKind.Reading).Test!.ToString().ShouldContain("V K1.86");
        var drop = items.Single(i => i.Kind == VerificationKind.Drop);
        drop.Test!.Probe.ToString().ShouldBe("drop w21");
        // The healthy machine passes all of it; interlocks stop it.
        foreach (var i in items.Where(i => i.Test is not null))
        {
            var shown = Meter.Read(machine, i.Test!);
            i.Passes(
                    new Reading(
                        i.Test!,
                        shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension) : new ReadingResult.Word(shown.Answer!.Value)
                    )
                )
                .ShouldBeTrue(i.Name);
        }
        // An interlock that does not stop it is seen.
        var gear = items.First(i => i.Kind == VerificationKind.Interlock);
        gear.Passes(new Reading(gear.Test!, new ReadingResult.Word(Answer.Works))).ShouldBeFalse();
    }

    [Fact]
    public void A_function_worked_from_two_stations_is_shown_from_both()
    {
        var circuit = DemoSheets.Circuit("BT-7");
        var cabin = circuit.FindFunction("cabin lamp lights")!;
        FunctionSetups.SetupsFor(circuit, cabin).Select(s => s.ToString()).ShouldBe(["door=OPEN", "cabin=ON"]);
        Verification.Items(new Machine(circuit), [], cabin).Count(i => i.Kind == VerificationKind.Function).ShouldBe(2);
    }

    [Fact]
    public void A_jumper_past_a_guard_is_named_and_the_guard_must_be_shown()
    {
        var circuit = DemoSheets.Circuit("BT-7");
        Reading Of(string line) => ReadingReader.Read(circuit, line).Value!;
        Verification
            .PastGuards(
                circuit,
                [
                    Of("key=RUN, jumper B2.1 B2.2 : sees \"vent opens\" = works"),
                    Of("key=RUN, jumper F21.1 F21.2 : sees \"vent opens\" = works"),
                ]
            )
            .ShouldBe(["jumper B2.1 B2.2"]);
    }
}
