using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// What people say and leave out: how much and not which way, what clicks, a starter that runs all the time. Common practice, no source.
/// </summary>
public sealed class SaidAndUnsaidTests
{
    private const string Digger = """
        sheet "Pond digger"
        machine "Pond digger" family off-road
        nominal 12V dc
        control key: OFF*, ON, START held
        control seat: UP*, DOWN
        control lever: IN*, OUT
        given engine: STOPPED*, RUNNING
        part G1 battery 12V at "side box"
        part G2 charger 14.2V field 15 "alternator" at "engine" when engine=RUNNING
        part F1 fuse 60A at "side box"
        part F3 fuse 10A at "fuse box"
        part S1 switch "key switch" at "console"
          closed 30-15 when key=ON or key=START
          closed 30-50 when key=START
        part S2 switch "seat switch" at "seat" safety
          closed 1-2 when seat=DOWN
        part S3 switch "lever switch" at "console" safety
          closed 1-2 when lever=OUT
        part K1 relay 12V 85ohm "start relay" at "fuse box"
        part M1 starter 12V 200A solenoid=0.6ohm "starter" at "engine"
        part Y1 coil 12V 7ohm "lock valve" at "pump"
        part GND1 stud at "engine"
        path G1.+ -[w1 50mm2 1.5m]- M1.B
        path G1.+ -[w2 16mm2 1m]- F1 -[w3 10mm2 2m]- S1.30
        path M1.G = GND1 -[w5 50mm2 1m]- G1.-
        path S1.50 -[w7 1.5mm2 2m]- K1.86>85 -[w8 1mm2 1m]- GND1
        path F1.2 -[w9 4mm2 1m]- K1.30>87 -[w10 4mm2 1m]- M1.S
        path M1.B -[w12 16mm2 1m]- G2.+
        path G2.- = GND1
        path S1.15 -[w13 1mm2 1m]- G2.15
        path S1.15 -[w15 1.5mm2 0.5m]- F3 -[w18 1mm2 1m]- S2 -[w19 1mm2 1m]- S3 -[w20 1mm2 1m]- Y1 -[w21 1mm2 3m]- GND1
        function "engine cranks": M1 when key=START
        function "hydraulics work": Y1 when key=ON and seat=DOWN and lever=OUT
        function "charges": V G1.+ G1.- >= 13.6V when engine=RUNNING and key=ON
        """;

    private static Findings Diagnose(params string[] lines) => Diagnosing.Diagnose(Digger, lines);

    private static double Share(Findings f, string tag) => f.Suspects.Where(g => g.Faults[0].Target == tag).Sum(g => g.Share);

    /// <summary>
    /// A sound starter has less than its rated volts, and nobody calls that weak: who complains has something to complain of, and what
    /// else may be broken on the machine is not it.
    /// </summary>
    [Theory]
    [InlineData("key=START : sees \"engine cranks\" = weak")]
    [InlineData("key=START : sees \"engine cranks\" = works", "key=START : sees \"engine cranks\" = dead")]
    public void A_weak_start_is_not_explained_by_a_seat_switch(params string[] lines)
    {
        var f = Diagnose(lines);
        (Share(f, "S2") + Share(f, "S3") + Share(f, "Y1") + Share(f, "F3")).ShouldBeLessThan(0.05);
        f.OffSheet.ShouldBeLessThan(0.1);
    }

    /// <summary>
    /// With 11.4 V at the posts while it cranks, 9.2 V at the starter is volts lost, whatever a weak machine would have there; 10.9 V is
    /// not.
    /// </summary>
    [Theory]
    [InlineData("11.4V", "9.2V", Judgement.Low)]
    [InlineData("11.4V", "10.9V", Judgement.Ok)]
    [InlineData("9.4V", "9.0V", Judgement.Ok)]
    public void What_is_lost_from_the_posts_on_is_lost(string posts, string starter, Judgement judged)
    {
        var f = Diagnose(
            "key=START : sees \"engine cranks\" = weak",
            $"key=START : V G1.+ G1.- = {posts}",
            $"key=START : V M1.B M1.G = {starter}"
        );
        f.Verdicts[2].Judgement.ShouldBe(judged, f.Verdicts[2].Meaning);
    }

    /// <summary>The wire is drawn from the starter to the alternator, and the current comes the other way.</summary>
    [Theory]
    [InlineData("1.1V")]
    [InlineData("-1.1V")]
    public void Volts_lost_across_a_wire_count_whichever_lead_was_red(string lost)
    {
        var f = Diagnose(
            "engine=RUNNING key=ON : sees \"charges\" = dead",
            "engine=RUNNING key=ON : V G1.+ G1.- = 13.0V",
            $"engine=RUNNING key=ON : drop w12 = {lost}"
        );
        Share(f, "w12").ShouldBeGreaterThan(0.8);
        f.Verdicts[2].Judgement.ShouldBe(Judgement.High);
    }

    [Theory]
    [InlineData("12A", Judgement.Ok)]
    [InlineData("-12A", Judgement.Ok)]
    public void Amps_count_whichever_way_the_clamp_was_put_on(string amps, Judgement judged)
    {
        const string lamps = """
            sheet "lamps"
            nominal 12V dc
            part G1 battery emf=12.5V internal=10mohm
            part H1 lamp 12V 144W
            path H1.1 -[w1]- G1.+
            path H1.2 -[w2]- G1.-
            function "lights": H1
            """;
        var circuit = SheetReader.Read(lamps).Value.ShouldNotBeNull();
        var f = Diagnostician.Diagnose(new FaultSpace(new Machine(circuit)), [DemoSheets.Line(circuit, $" : clamp w1 = {amps}")]);
        f.Verdicts[0].Judgement.ShouldBe(judged);
    }

    /// <summary>A starter that runs on would have been the complaint.</summary>
    [Fact]
    public void What_runs_by_itself_would_have_been_said()
    {
        var f = Diagnose(
            "engine=RUNNING key=ON : sees \"charges\" = dead",
            "engine=RUNNING key=ON : V G1.+ G1.- = 12.3V",
            "engine=RUNNING key=ON : V G2.15 = 12.1V"
        );
        f.Suspects[0].Faults[0].Target.ShouldBe("G2");
        (Share(f, "K1") + Share(f, "M1") + Share(f, "S1")).ShouldBeLessThan(0.15);
        // Where it was said, it leads.
        var said = Diagnose("engine=RUNNING key=ON : sees \"engine cranks\" = stuck-on", "engine=RUNNING key=ON : V M1.S = 12V");
        (Share(said, "K1") + Share(said, "S1")).ShouldBeGreaterThan(0.7);
    }

    /// <summary>A second proof is one that could overturn the first: at the switch itself, and not whether something else works.</summary>
    [Fact]
    public void A_second_proof_is_about_what_leads()
    {
        const string setup = "key=ON seat=DOWN lever=OUT";
        var f = Diagnose($"{setup} : sees \"hydraulics work\" = dead", $"{setup} : V S2.1 = 12.2V", $"{setup} : V S2.2 = 0.1V");
        f.Solved.ShouldBeFalse();
        f.Suspects[0].Faults[0].Target.ShouldBe("S2");
        f.Next[0].Kind.ShouldBe(AdviceKind.Confirm);
        f.Next[0].Test.Probe.ShouldNotBeOfType<Probe.Sees>();
        f.Next[0].Test.Probe.Tips.Select(t => t.Tag).ShouldBeSubsetOf(["S2", "S3", "F3", "Y1"]);
    }

    [Theory]
    [InlineData("path G2.+ - G1.-", "reference G2.-")]
    [InlineData("path G1.+ - G2.-", null)]
    public void A_reference_in_the_middle_of_batteries_in_series_is_told(string series, string? mend)
    {
        var ends = mend is null ? ("G2.+", "G1.-") : ("G1.+", "G2.-");
        var text = $"""
            sheet "pair"
            nominal 24V dc
            part G1 battery 12V
            part G2 battery 12V
            part H1 lamp 24V 24W
            {series}
            path {ends.Item1} - H1 - {ends.Item2}
            function "lights": H1
            """;
        var told = SheetChecker
            .Check(SheetReader.Read(text).Value.ShouldNotBeNull(), text)
            .SingleOrDefault(p => p.Message.Contains("series", StringComparison.Ordinal));
        (told?.Suggestion?.EndsWith(mend ?? "-", StringComparison.Ordinal)).ShouldBe(mend is null ? null : true);
        if (told is null)
            return;
        var mended = text.Replace("part G1", told.Replacement, StringComparison.Ordinal);
        SheetReader.Read(mended).Value.ShouldNotBeNull().ReferencePoint.ToString().ShouldBe("G2.-");
    }
}
