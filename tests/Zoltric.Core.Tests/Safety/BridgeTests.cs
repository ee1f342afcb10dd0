using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Practice;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>Leads past guards: refused at safety parts, past interlocks only with the load that moves off.</summary>
public class BridgeTests
{
    [Theory]
    [InlineData("BP-2", "jumper S0.1 S0.2", "safety")]
    [InlineData("BP-2", "jumper F1.2 S1.11", "safety")]
    [InlineData("PR-3", "jumper S2.1 S2.2", "interlock")]
    [InlineData("PR-3", "jumper X3:4a K1.86", "interlock")]
    [InlineData("PR-3", "feed K1.86", "interlock")]
    [InlineData("PR-3", "lift M1.S, jumper S2.1 S2.2", null)]
    [InlineData("PR-3", "jumper X3:1a X3:1b", null)]
    [InlineData("PR-3", "jumper F1.1 F1.2", null)]
    // Past the contact of a relay is past all that its coil hangs on.
    [InlineData("PR-3", "feed M1.S", "interlock")]
    [InlineData("PR-3", "jumper K1.30 K1.87", "interlock")]
    [InlineData("PR-3", "unplug M1, jumper S2.1 S2.2", null)]
    // Two ways lead around the start button; each is passed.
    [InlineData("TD-2", "jumper S2.1 S2.2", "can stand")]
    [InlineData("DO-4", "jumper S0.1 S0.2", "safety")]
    [InlineData("DO-4", "jumper B3.1 B3.2", null)]
    [InlineData("DO-4", "jumper K3.1 K3.2", "can stand")]
    public void Bridges_across_safety_parts_are_refused_and_around_interlocks_only_with_the_load_off(
        string sheet,
        string setup,
        string? why
    )
    {
        var c = DemoSheets.Circuit(sheet);
        var said = Bridges.Forbidden(new Machine(c), Core.Notation.ReadingReader.ReadSetup(c, setup).Value!)?.Why;
        if (why is null)
            said.ShouldBeNull();
        else
            said.ShouldNotBeNull().ShouldContain(why);
    }

    [Fact]
    public void The_list_to_go_through_after_a_repair_names_every_interlock_and_tries_it_in_the_functions_state()
    {
        var machine = new Machine(DemoSheets.Circuit("PR-3"));
        var items = Verification.Items(machine, [], machine.Circuit.Functions[0]);
        items.Count(i => i.Kind == VerificationKind.Interlock).ShouldBe(3);
        foreach (var i in items.Where(i => i.Kind == VerificationKind.Interlock))
            Meter.Read(machine, i.Test!).Text.ShouldBe("dead", $"{i.Name}: {i.Test} on a healthy machine");
        var tried = items.First(i => i.Name.Contains("gear", StringComparison.Ordinal)).Test!.Setup.ToString();
        tried.ShouldContain("key=START");
        tried.ShouldContain("gear=ENGAGED");
        // A machine whose neutral switch is stuck closed fails the trial: the function is stuck on.
        Meter
            .Read(machine, items.First(i => i.Name.Contains("gear", StringComparison.Ordinal)).Test!, [new Fault("S2", "stuck-closed")])
            .Text.ShouldBe("stuck-on");
    }
}
