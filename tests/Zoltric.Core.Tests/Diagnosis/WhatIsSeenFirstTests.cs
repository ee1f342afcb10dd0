using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What anybody sees from where he stands is asked before he climbs to it; nothing is asked that tells nothing.</summary>
public class WhatIsSeenFirstTests
{
    private const string Mast = """
        sheet "signal mast"
        nominal 24V dc
        drawn from traced
        control lamps: OFF*, ON
        given mast: UP*, DOWN
        part G1 battery 24V internal=8mohm at "base" reach 2min
        part F1 fuse 15A at "base" reach 1min
        part S1 switch at "base" reach 1min
          closed 1-2 when lamps=ON
        part X1 connector 2 at "mast foot" reach 3min
        part SP1 splice at "head" reach 25min
        part H1 lamp 24V 70W "upper lamp" at "head" reach 25min
        part H2 lamp 24V 70W "lower lamp" at "head" reach 25min
        path G1.+ -[w1 RD 4mm2 1m]- F1 -[w2 RD 2.5mm2 1m]- S1 -[w3 RD 2.5mm2 3m]- X1:1 -[w4 RD 2.5mm2 9m]- SP1 -[w5 RD 1.5mm2 1m]- H1
        path SP1 -[w6 RD 1.5mm2 1m]- H2 -[w7 BK 1.5mm2 1m]- X1:2b
        path H1.2 -[w8 BK 1.5mm2 1m]- X1:2< -[w9 BK 2.5mm2 3m]- G1.-
        function "upper lamp lights": H1 when lamps=ON and mast=UP
        """;

    private static readonly FaultSpace Space = new(new Machine(DemoSheets.Read(Mast)));

    private static Findings Diagnose(params string[] lines) =>
        Diagnostician.Diagnose(Space, [.. lines.Select(l => DemoSheets.Line(Space.Circuit, l))]);

    [Fact]
    public void The_other_lamp_of_the_pair_is_looked_at_before_anybody_climbs()
    {
        var f = Diagnose("lamps=ON : sees \"upper lamp lights\" = dead", "lamps=ON : V X1:1a = 24.1V");
        f.Next[0].Test.Probe.ShouldBe(new Probe.Sees("H2", false));
        var lit = Diagnose("lamps=ON : sees \"upper lamp lights\" = dead", "lamps=ON : V X1:1a = 24.1V", "lamps=ON : sees H2 = works");
        lit.Suspects.Where(g => g.Unit is "H1" or "w5" or "w8").Sum(g => g.Share).ShouldBeGreaterThan(0.95);
    }

    /// <summary>A few millivolts at the ground have one name and leave the same: no order while another parts what is left.</summary>
    [Fact]
    public void What_would_leave_the_same_whatever_it_showed_is_not_ordered_while_anything_else_is_left()
    {
        foreach (var lamp in new[] { "works", "dead" })
        {
            var f = Diagnose("lamps=ON : sees \"upper lamp lights\" = dead", "lamps=ON : V X1:1b = 24.1V", $"lamps=ON : sees H2 = {lamp}");
            f.Next.ShouldNotBeEmpty();
            foreach (var a in f.Next.Where(a => a.Kind == AdviceKind.Find))
                a.Outcomes.Count.ShouldBeGreaterThan(1, $"{a.Test}");
        }
    }

    [Fact]
    public void A_setting_that_says_what_stands_so_anyway_is_the_same_setting()
    {
        var said = Diagnose("mast=UP, lamps=ON : sees \"upper lamp lights\" = dead", "lamps=ON, mast=UP : V X1:1a = 24.1V");
        var plain = Diagnose("lamps=ON : sees \"upper lamp lights\" = dead", "lamps=ON : V X1:1a = 24.1V");
        said.Next.Select(a => a.Test).ShouldBe(plain.Next.Select(a => a.Test));
        said.Suspects.Select(g => g.Share).ShouldBe(plain.Suspects.Select(g => g.Share), 1e-9);
        said.Next.Select(a => a.Test.Probe.ToString()).ShouldBeUnique();
    }
}
