using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Tests.Safety;

/// <summary>
/// What is asked before which test, and between which points dead is proved (live–dead–live: OSHA 29 CFR 1910.333, EN 50110-1).
/// </summary>
public class MakeSafeTests
{
    private static string[] Needed(string sheet, string line) =>
        [.. MakeSafe.Needed(DemoSheets.Circuit(sheet), ReadingReader.Read(DemoSheets.Circuit(sheet), line).Value!.Test).Select(i => i.Id)];

    [Fact]
    public void Each_test_asks_for_what_it_needs()
    {
        Needed("DO-4", "heat=LOW : VAC K1.2")
            .ShouldBe(["local", "others", "stand", "self-start", "hot", "moving", "permitted"], ignoreOrder: true);
        Needed("DO-4", "off T0, unplug E1 : ohm E1.U E1.V")
            .ShouldBe(["local", "others", "stand", "self-start", "hot", "locked"], ignoreOrder: true);
        // Volts with the sources off are what proves it dead: they ask for no proof themselves.
        Needed("DO-4", "off T0 : VAC K1.2").ShouldNotContain("locked");
        Needed("DO-4", "heat=LOW : sees \"low bank heats\" = weak").ShouldNotContain("permitted");
        Needed("PR-3", "key=START : V K1.86").ShouldContain("moving");
        Needed("PR-3", ": V G1.+").ShouldNotContain("moving");
        Needed("PR-3", "key=START : V K1.86").ShouldNotContain("permitted");
        Needed("BT-7", ": code 168-1 = active").ShouldBeEmpty();
    }

    [Fact]
    public void Every_demo_machine_says_its_family_and_its_volts()
    {
        foreach (var sheet in DemoSheets.All)
        {
            var circuit = DemoSheets.Circuit(sheet);
            var ids = MakeSafe.Items(circuit).Select(i => i.Id).ToList();
            ids.ShouldContain("local");
            if (circuit.Parts.Any(p => p.Kind.IsMains))
                ids.ShouldContain("permitted", sheet);
            else
                ids.ShouldNotContain("permitted", sheet);
            ids.ShouldContain(MachineFamily.IsLift(circuit.Family) ? "lift" : "stand", sheet);
            IsolationPlan.Of(circuit).Supplies.ShouldNotBeEmpty(sheet);
        }
    }

    [Fact]
    public void Dead_is_proved_behind_the_isolators_each_to_each_and_to_earth_and_once_behind_the_transformer()
    {
        var oven = IsolationPlan.Of(DemoSheets.Circuit("DO-4"));
        oven.Supplies.Single().Devices.Select(d => d.Tag).ShouldBe(["Q1", "Q2", "Q3"]);
        // The neutral at the cabinet lamp, earth at the bonded common: points in the machine, not at the feed.
        oven.Sweep.Select(c => c.Key)
            .ShouldBe(
                [
                    "Q1.2 Q2.2 AC",
                    "Q1.2 Q3.2 AC",
                    "Q1.2 H3.2 AC",
                    "Q1.2 K3.A2 AC",
                    "Q2.2 Q3.2 AC",
                    "Q2.2 H3.2 AC",
                    "Q2.2 K3.A2 AC",
                    "Q3.2 H3.2 AC",
                    "Q3.2 K3.A2 AC",
                    "H3.2 K3.A2 AC",
                    "T1.S1 T1.S2 AC",
                ],
                ignoreOrder: true
            );
        IsolationPlan.Of(DemoSheets.Circuit("PR-3")).Sweep.Select(c => c.Key).ShouldBe(["Q1.2 G1.- DC"]);
    }
}
