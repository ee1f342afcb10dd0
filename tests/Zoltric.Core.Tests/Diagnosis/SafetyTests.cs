using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Practice;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>Nothing forbidden is ever ordered, whatever the fault and however far the job has come.</summary>
public class SafetyTests
{
    public static TheoryData<string> Sheets => [.. DemoSheets.All];

    [Theory, MemberData(nameof(Sheets))]
    public void Ohms_come_only_after_off_and_volts_near_zero_and_nothing_is_bridged(string sheet)
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
        var circuit = space.Circuit;
        // Where the sheet has one, a complaint of a draw: it has tests of its own.
        var function = circuit.Functions.FirstOrDefault(f => f.Test is FunctionTest.Measured { Probe: Probe.Amps }) ?? circuit.Functions[0];
        var setup = FunctionState.SetupFor(circuit, function)!;
        var orders = 0;
        // Every seventh suspect, six in all on the large sheets; each strategy in turn.
        var every = space.Suspects.Count > 250 ? space.Suspects.Count / 6 : 7;
        Parallel.ForEach(Enumerable.Range(0, space.Suspects.Count).Where(i => i % every == 0), i =>
        {
            Suspect suspect = space.Suspects[i];
            var fault = suspect.Values.Count == 0 ? suspect.Template : suspect.With(suspect.Values[suspect.Values.Count / 2]);
            var test = new Test(setup, new Probe.Sees(function.Name, true));
            var readings = new List<Reading> { new(test, new ReadingResult.Word("dead")) };
            for (var step = 0; step < 10; step++)
            {
                var findings = Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Strategy = (Strategy)(i / every % 5), Verdicts = false });
                foreach (var advice in findings.Next)
                {
                    Interlocked.Increment(ref orders);
                    Check(circuit, advice.Test, readings);
                }
                if (findings.Next.Count == 0) break;
                var next = findings.Next[0].Test;
                var shown = Meter.Read(space.Machine, next, [fault]);
                shown.Refused.ShouldBeFalse($"{next}: {shown.Text}");
                readings.Add(new Reading(next, shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension) : shown.OverLimit ? new ReadingResult.OverLimit() : new ReadingResult.Word(shown.Text)));
            }
        });
        orders.ShouldBeGreaterThan(100);
    }

    private static void Check(Circuit circuit, Test test, List<Reading> readings)
    {
        test.Setup.Interventions.ShouldAllBe(i => i is Intervention.Off || i is Intervention.Unplug || i is Intervention.Pull || i is Intervention.Lift, test.ToString());
        test.Probe.ShouldNotBeOfType<Probe.Amps>();
        test.Probe.ShouldNotBeOfType<Probe.Lamp>();
        if (test.Probe is Probe.Clamp) (circuit.Alternating || circuit.NominalVolts > 120).ShouldBeFalse(test.ToString());
        if (test.Probe is not Probe.Ohms ohms) return;
        foreach (var source in circuit.Sources) test.Setup.Interventions.ShouldContain(new Intervention.Off(source.Tag), test.ToString());
        foreach (var tip in new[] { ohms.X.P.Terminal, ohms.X.Q.Terminal })
        {
            if (tip == circuit.ReferencePoint) continue;
            readings.ShouldContain(r => r.Test.Probe is Probe.Volts && ((Probe.Volts)r.Test.Probe).P == tip && r.Test.Setup.Interventions.Any(i => i is Intervention.Off)
                && r.Result is ReadingResult.Number && Math.Abs(((ReadingResult.Number)r.Result).Value) < 0.5, $"{test}: {tip} was never proved dead");
        }
    }

    [Theory]
    [InlineData("BP-2", "jumper S0.1 S0.2", "safety")]
    [InlineData("BP-2", "jumper F1.2 S1.11", "safety")]
    [InlineData("PR-3", "jumper S2.1 S2.2", "interlock")]
    [InlineData("PR-3", "jumper X3:4b K1.86", "interlock")]
    [InlineData("PR-3", "feed K1.86", "interlock")]
    [InlineData("PR-3", "lift M1.S, jumper S2.1 S2.2", null)]
    [InlineData("PR-3", "jumper X3:1a X3:1b", null)]
    [InlineData("PR-3", "jumper F1.1 F1.2", null)]
    public void Bridges_across_safety_parts_are_refused_and_around_interlocks_only_with_the_load_off(string sheet, string setup, string? why)
    {
        var c = DemoSheets.Circuit(sheet);
        var said = Bridges.Forbidden(c, Core.Notation.ReadingReader.ReadSetup(c, setup).Value!);
        if (why is null) said.ShouldBeNull();
        else said.ShouldNotBeNull().ShouldContain(why);
    }

    [Fact]
    public void The_list_to_go_through_after_a_repair_names_every_interlock_and_tries_it_in_the_functions_state()
    {
        var machine = new Machine(DemoSheets.Circuit("PR-3"));
        var items = Verification.Of(machine, [], machine.Circuit.Functions[0]);
        items.Count(i => i.Kind == VerificationKind.Interlock).ShouldBe(3);
        foreach (var i in items.Where(i => i.Kind == VerificationKind.Interlock))
            Meter.Read(machine, i.Test!).Text.ShouldBe("dead", $"{i.Name}: {i.Test} on a healthy machine");
        var tried = items.First(i => i.Name.Contains("gear", StringComparison.Ordinal)).Test!.Setup.ToString();
        tried.ShouldContain("key=START");
        tried.ShouldContain("gear=ENGAGED");
        // A machine whose neutral switch is stuck closed fails the trial: the function is stuck on.
        Meter.Read(machine, items.First(i => i.Name.Contains("gear", StringComparison.Ordinal)).Test!, [new Fault("S2", "stuck-closed")]).Text.ShouldBe("stuck-on");
    }
}
