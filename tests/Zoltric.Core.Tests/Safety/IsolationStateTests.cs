using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>Isolation as a state that lives: live–dead–live under a person's own lock (29 CFR 1910.147 and 1910.333, EN 50110-1).</summary>
public class IsolationStateTests
{
    private static readonly Circuit Dryer = DemoSheets.Circuit("TD-2");

    private static IEnumerable<SafetyEvent> Proof(string who, string number = "14") =>
        [
            new SafetyEvent.Locked(number, who),
            new SafetyEvent.TesterShownLive("230 V, bench socket", who),
            .. IsolationPlan.Of(Dryer).Sweep.Select(c => new SafetyEvent.SweepRead(c.Key, 0.1, who)),
            new SafetyEvent.TesterShownLive("230 V, bench socket", who),
        ];

    private static IsolationState Of(string who, params IEnumerable<SafetyEvent>[] events) =>
        IsolationState.Of(Dryer, events.SelectMany(e => e), who);

    private static SafetyEvent.Line Line(string text, string who) => new(ReadingReader.Read(Dryer, text).Value!, who);

    [Fact]
    public void It_takes_lock_tester_every_pair_and_tester_again()
    {
        var all = Proof("Ann").ToList();
        Of("Ann", all).Stage.ShouldBe(IsolationStage.ProvedDead);
        for (var left = 0; left < all.Count; left++)
            Of("Ann", all.Where((_, i) => i != left)).IsProvedDead.ShouldBeFalse($"without {all[left]}");
        Of("Ann", all.Take(1)).Stage.ShouldBe(IsolationStage.Locked);
        Of("Ann", all.Take(2)).Stage.ShouldBe(IsolationStage.TesterShown);
        Of("Ann", all.Take(all.Count - 1)).Stage.ShouldBe(IsolationStage.ReadDead);
    }

    /// <summary>Each supply by itself: one that is not locked can be put on by anybody (29 CFR 1910.147(d)(3) and (4)).</summary>
    [Fact]
    public void Every_supply_has_to_have_its_own_lock()
    {
        var fan = DemoSheets.Read(
            """
            sheet "fan with a control feed from elsewhere"
            nominal 230V ac
            drawn from traced
            control on: OFF*, ON
            part T1 mains 230V ac
            part Q1 isolator
              closed 1-2
            part M1 motor 230V 500W
            part K1 contactor 230V
            part T2 mains 230V ac
            part Q2 isolator
              closed 1-2
            part S1 switch
              closed 1-2 when on=ON
            path T1.L -[w1]- Q1 -[w2]- K1.1>2 -[w3]- M1 -[w4]- T1.N
            path T2.L -[w5]- Q2 -[w6]- S1 -[w7]- K1.A1>A2 -[w8]- T2.N
            function "fan turns": M1 when on=ON
            """
        );
        var keys = IsolationPlan.Of(fan).Supplies.Select(s => s.Key).ToList();
        keys.ShouldBe(["T1", "T2"]);
        IsolationState State(params SafetyEvent[] events) => IsolationState.Of(fan, events, "Ann");
        SafetyEvent Lock(string supply, string number) => new SafetyEvent.Locked(number, "Ann") { Supply = supply };
        var half = State(Lock("T1", "14"));
        (half.Stage, half.Lock, half.OwnLocks, half.NextSupply?.Key).ShouldBe((IsolationStage.Energised, null, "14", "T2"));
        half.Say.ShouldStartWith("Locked: 14, Ann. Not locked yet, treat as live: ");
        half.OwnLockCount.ShouldBe(1);
        half.IsLockedOut.ShouldBeTrue("nobody may work what one lock holds");
        State(Lock("T1", "14"), new SafetyEvent.TesterShownLive("230 V", "Ann")).TesterBefore.ShouldBeNull();
        var both = State(Lock("T1", "14"), Lock("T2", "15"));
        (both.Stage, both.Lock, both.NextSupply, both.OwnLockCount).ShouldBe((IsolationStage.Locked, "14, 15", null, 2));
        State(Lock("T1", "14"), Lock("T2", "15"), new SafetyEvent.Unlocked("14, 15", "Ann")).OwnLocks.ShouldBeNull();
        // As it was recorded before supplies had locks of their own: one for all.
        State(Lock("", "14")).Stage.ShouldBe(IsolationStage.Locked);
    }

    [Fact]
    public void Nobodys_lock_or_proof_stands_for_anothers()
    {
        Of("Ben", Proof("Ann")).IsProvedDead.ShouldBeFalse();
        Of("Ben", Proof("Ann")).IsLockedOut.ShouldBeTrue();
        // Ann's lock taken off does not end Ben's proof while his own is on.
        Of("Ben", Proof("Ann"), Proof("Ben", "15"), [new SafetyEvent.Unlocked("14", "Ann")]).IsProvedDead.ShouldBeTrue();
        Of("Ann", Proof("Ann"), Proof("Ben", "15"), [new SafetyEvent.Unlocked("14", "Ann")]).IsProvedDead.ShouldBeFalse();
    }

    [Fact]
    public void What_can_bring_energy_back_ends_it_for_everybody()
    {
        Of("Ann", Proof("Ann"), [Line("timer=DRY : VAC F1.2 = 120V", "Ben")]).IsProvedDead.ShouldBeFalse();
        Of("Ann", Proof("Ann"), [new SafetyEvent.Energised("Energy came back.", "Ben")]).Ended.ShouldBe("Energy came back.");
        Of("Ann", Proof("Ann"), [Line("off T0 : ohm F1 = 0.2ohm", "Ann")]).IsProvedDead.ShouldBeTrue();
        // A pair that is read live again stops everything, whatever was proved.
        var live = Of("Ann", Proof("Ann"), [new SafetyEvent.SweepRead(IsolationPlan.Of(Dryer).Sweep[0].Key, 118, "Ann")]);
        (live.IsProvedDead, live.Live?.Volts).ShouldBe((false, 118));
    }

    [Fact]
    public void With_a_lock_on_no_live_step_is_ordered_and_its_owner_is_told()
    {
        var space = new FaultSpace(new Machine(Dryer));
        Reading[] readings = [ReadingReader.Read(Dryer, "timer=DRY heat=HIGH start=PRESSED : sees \"heats\" = dead").Value!];
        foreach (var (who, events) in new[] { ("Ann", Proof("Ann")), ("Ben", Proof("Ann")) })
        {
            var state = IsolationState.Of(Dryer, readings.Select(r => new SafetyEvent.Line(r, who)).Concat(events), who);
            var findings = Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Isolation = state });
            findings.Next.ShouldAllBe(a => !state.Energises(a.Test));
            // Ben has no proof of his own: what is ordered for him first is to make one.
            if (who == "Ben")
                findings.Next.ShouldAllBe(a => a.Kind == AdviceKind.ProveDead || !a.Test.Probe.SendsCurrent);
        }
    }

    [Fact]
    public void The_short_form_is_for_one_extra_low_supply_with_nothing_stored()
    {
        IsolationPlan.Of(DemoSheets.Circuit("PR-3")).IsShort.ShouldBeTrue();
        IsolationPlan.Of(DemoSheets.Circuit("PR-3")).Sweep.Count.ShouldBe(1);
        IsolationPlan.Of(SafetySheets.Read(SafetySheets.Traction)).IsShort.ShouldBeFalse();
        IsolationPlan
            .Of(
                SafetySheets.Read(
                    DemoSheets.Text("PR-3").Replace("hazard rotating", "hazard rotating hazard hydraulic", StringComparison.Ordinal)
                )
            )
            .IsShort.ShouldBeFalse();
        IsolationPlan
            .Of(SafetySheets.Read(DemoSheets.Text("PR-3").Replace("family offroad", "family lift", StringComparison.Ordinal)))
            .IsShort.ShouldBeFalse();
        IsolationPlan.Of(DemoSheets.Circuit("DO-4")).Sweep.Count.ShouldBe(11);
    }

    [Fact]
    public void What_is_beyond_a_tester_is_never_measured()
    {
        var oven = SafetySheets.Read(
            """
            sheet "Salt drier, microwave"
            nominal 230V ac
            part T0 mains 230V
            part Q1 isolator
            part T1 transformer 230V:2100V 1kVA separated "high-voltage transformer"
            part E1 resistor 10kohm "magnetron"
            path T0.L -[w1]- Q1 -[w2]- T1.P1
            path T1.P2 -[w3]- T0.N
            path T1.S1 -[w4]- E1 -[w5]- T1.S2
            """
        );
        var plan = IsolationPlan.Of(oven);
        plan.NeverMeasured.Select(p => p.Tag).ShouldContain("E1");
        plan.Sweep.ShouldNotContain(c => c.P.Tag == "T1" && c.P.Name.StartsWith('S'));
        TestRules.IsForbidden(oven, ReadingReader.Read(oven, "off T0 : loz E1.1 E1.2").Value!.Test).ShouldNotBeNull();
        TestRules.IsForbidden(oven, ReadingReader.Read(oven, "off T0 : ohm E1").Value!.Test).ShouldNotBeNull();
    }

    [Theory]
    [InlineData("S9 button \"emergency stop, rear\"", true)]
    [InlineData("S9 switch \"landing door lock\"", true)]
    [InlineData("S9 limit \"slack-rope contact\"", true)]
    [InlineData("S9 limit \"platform tilt switch\"", true)]
    [InlineData("S9 cutout 90C", true)]
    [InlineData("S9 switch \"door switch\"", true)]
    [InlineData("S9 switch \"door lamp switch\"", false)]
    [InlineData("S9 switch \"cooling fan switch\"", false)]
    public void Safety_parts_are_known_by_what_they_are_unless_a_person_denies_it(string part, bool safety)
    {
        var circuit = SafetySheets.Read(
            $"sheet \"x\"\nmachine \"x\" family industrial\nnominal 24V dc\npart G1 battery 24V\npart {part}\npart H1 lamp "
                + $"5W\npath G1.+ - S9 - H1 - G1.-"
        );
        var s9 = circuit.FindPart("S9")!;
        SafetyParts.IsSafety(circuit, s9).ShouldBe(safety);
        // Denied by a person; what the sheet marks cannot be denied.
        SafetyParts.IsSafety(circuit, s9, new HashSet<string> { "S9" }).ShouldBeFalse();
        SafetyParts.IsSafety(circuit, s9 with { Safety = true }, new HashSet<string> { "S9" }).ShouldBeTrue();
    }
}
