using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Faults;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What symptoms share, easy checks, and odds that learn.</summary>
public class BeforeTheTraceTests
{
    private static FaultSpace Space(string sheet, LearntOdds? learnt = null) => new(new Machine(DemoSheets.Circuit(sheet)), learnt);

    [Fact]
    public void Three_dead_functions_and_three_codes_point_at_feed_and_earth_of_the_tail_and_nowhere_else()
    {
        var space = Space("BT-7");
        var circuit = space.Circuit;
        Symptom Dead(string name) => new(name, circuit.FindFunction(name), null);
        List<Symptom> symptoms =
        [
            Dead("work lamps light"),
            Dead("outlet valves open"),
            Dead("pump runs"),
            .. circuit.Codes.Where(c => c.Code is "1551-5" or "1552-18" or "1550-5").Select(c => new Symptom(c.Code, null, c)),
        ];
        var causes = CommonCauses.Find(
            space,
            symptoms,
            [circuit.FindFunction("dip lamps light")!, circuit.FindFunction("cabin lamp lights")!]
        );
        var all = causes.Where(c => c.Count == 6 && c.WouldStop.Count == 0).Select(c => c.Unit).ToList();
        all.ShouldBe(["F2", "w16", "w17", "SPD", "GND4", "w13"], ignoreOrder: true);
        // The ignition fuse would explain all of it, and stop the dip lamps that were seen to light.
        causes.Single(c => c.Unit == "F11").WouldStop.ShouldBe(["dip lamps light"]);
        CommonCauses.Find(space, [], []).ShouldBeEmpty();
    }

    [Fact]
    public void Easy_checks_are_quick_undo_nothing_and_tell_something()
    {
        foreach (
            var (sheet, line) in new[]
            {
                ("PR-3", "key=START : sees \"engine cranks\" = dead"),
                ("BT-7", "key=RUN outlet=OPEN : sees \"outlet valves open\" = dead"),
                ("DO-4", "heat=LOW : sees \"low bank heats\" = weak"),
            }
        )
        {
            var space = Space(sheet);
            var readings = new[] { ReadingReader.Read(space.Circuit, line).Value! };
            var checks = EasyChecks.List(space, readings);
            checks.Count.ShouldBeGreaterThan(3, sheet);
            checks.ShouldAllBe(c => c.Minutes <= 3 && c.Test.Setup.Interventions.Count == 0);
            checks.Count(c => c.Bits > 0).ShouldBeGreaterThan(0, sheet);
            checks.Select(c => c.Bits / Math.Max(c.Minutes, 0.1)).ShouldBeInOrder(SortDirection.Descending);
            if (sheet == "DO-4")
                checks.ShouldAllBe(
                    c => c.Test.Probe is Probe.Sees || c.Test.Probe is Probe.Hears || c.Test.Probe is Probe.Looks,
                    "a live test on mains is no easy check"
                );
            var before = EasyChecks.Left(space, readings);
            before.ShouldBeGreaterThan(5);
        }
    }

    /// <summary>
    /// (found + 5) / (expected + 5), by hand: 14 jobs of which 3 fuses where the sheets would have 1.4; within trucks 3 of 4 against 0.4
    /// times what all taught.
    /// </summary>
    [Fact]
    public void Counts_shift_the_odds_as_worked_out_by_hand()
    {
        static FamilyCount Jobs(string family, params (string Kind, int Jobs)[] found)
        {
            var jobs = found.Sum(f => f.Jobs);
            return new(
                family,
                found.ToDictionary(f => f.Kind, f => f.Jobs),
                new Dictionary<string, double>
                {
                    ["fuse"] = 0.1 * jobs,
                    ["wire"] = 0.5 * jobs,
                    ["switch"] = 0.4 * jobs,
                }
            );
        }
        var learnt = LearntOdds.From([Jobs("truck", ("fuse", 3), ("wire", 1)), Jobs("lift", ("wire", 8), ("switch", 2))]);
        var fuse = learnt.Kinds.Single(k => k is { Family: "", Kind: "fuse" });
        (fuse.Found, fuse.Jobs).ShouldBe((3, 14));
        fuse.Expected.ShouldBe(1.4, 1e-12);
        fuse.Factor.ShouldBe(8 / 6.4, 1e-12);
        var truck = learnt.Kinds.Single(k => k is { Family: "truck", Kind: "fuse" });
        truck.Expected.ShouldBe(0.4 * 1.25, 1e-12);
        truck.Factor.ShouldBe(8 / 5.5, 1e-12);
        learnt.Factor("truck", "fuse").ShouldBe(1.25 * 8 / 5.5, 1e-12);
        learnt.Factor("lift", "fuse").ShouldBe(1.25 * 5 / (10 * 0.1 * 1.25 + 5), 1e-12);
        learnt.Factor("offroad", "fuse").ShouldBe(1.25, 1e-12);
        learnt.Factor("truck", "relay").ShouldBe(1);
        var back = LearntOdds.Read(learnt.Write());
        back.Write().ShouldBe(learnt.Write());
        back.Factor("truck", "fuse").ShouldBe(learnt.Factor("truck", "fuse"));
    }

    [Fact]
    public void Off_is_exactly_the_base_odds_and_on_shifts_them_by_kind()
    {
        var plain = Space("PR-3");
        Space("PR-3", LearntOdds.None).Suspects.Select(s => s.Odds).ShouldBe(plain.Suspects.Select(s => s.Odds));
        LearntOdds.Read("").ShouldBeSameAs(LearntOdds.None);
        LearntOdds.Read("no odds of ours").ShouldBeSameAs(LearntOdds.None);
        var learnt = LearntOdds.From([
            new FamilyCount(
                "offroad",
                new Dictionary<string, int> { ["switch"] = 1 },
                LearntOdds.BaseShares(plain.Circuit, plain.Suspects)
            ),
        ]);
        var shifted = Space("PR-3", learnt);
        for (var i = 0; i < plain.Suspects.Count; i++)
            shifted
                .Suspects[i]
                .Odds.ShouldBe(
                    plain.Suspects[i].Odds * learnt.Factor("offroad", LearntOdds.KindOf(plain.Circuit, plain.Suspects[i].RepairUnit)),
                    1e-12
                );
        LearntOdds.BaseShares(plain.Circuit, plain.Suspects).Values.Sum().ShouldBe(1, 1e-12);
    }
}
