using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>A guard of two channels and a switch without contacts, traced (common practice, no source).</summary>
public class GuardCircuitTests
{
    private static readonly Circuit Press = DemoSheets.Read(
        """
        sheet "bale press"
        nominal 24V dc
        drawn from maker
        reference U1.-
        control estop: OUT*, PUSHED
        given lid: SHUT*, OPEN
        part T0 mains 230V
        part F1 fuse 4A
        part U1 psu 230V:24V
        part S1 button safety
          closed 11-12 when estop=OUT
          closed 21-22 when estop=OUT
        part K1 safetyrelay 24V
        part B1 proximity 24V pnp when lid=SHUT
        part K2 relay din 24V
        part H1 lamp 24V 3W
        part H2 lamp 24V 3W
        path T0.L - F1 - U1.L
        path U1.N - T0.N
        path U1.+ -[w1]- K1.A1
        path K1.A2 -[w2]- U1.-
        path K1.S11 -[w3]- S1.11>12 -[w4]- K1.S12
        path K1.S21 -[w5]- S1.21>22 -[w6]- K1.S22
        path U1.+ -[w7]- K1.13>14 -[w8]- H1 -[w9]- U1.-
        path U1.+ -[w10]- B1.1
        path B1.3 -[w11]- U1.-
        path B1.4 -[w12]- K2.A1>A2 -[w13]- U1.-
        path U1.+ -[w14]- K2.11>14 -[w15]- H2 -[w16]- U1.-
        function "ready lamp lights": H1 when estop=OUT
        function "lid lamp lights": H2 when lid=SHUT
        """
    );

    private static Findings Of(params string[] lines) =>
        Diagnostician.Diagnose(new FaultSpace(new Machine(Press)), [.. lines.Select(l => DemoSheets.Line(Press, l))]);

    private static double On(Findings f, params string[] units) =>
        f.Suspects.Where(g => g.Faults.All(x => units.Contains(x.Target))).Sum(g => g.Share);

    [Fact]
    public void A_relay_of_two_channels_is_silent_for_either_and_a_sound_channel_points_to_the_other()
    {
        var found = Of(
            " : sees \"ready lamp lights\" = dead",
            " : sees \"lid lamp lights\" = works",
            " : hears K1 = silent",
            " : V K1.S12 = 23.9V"
        );
        On(found, "w5", "S1", "w6").ShouldBeGreaterThan(0.5);
        On(found, "w3", "w4").ShouldBeLessThan(0.05);
    }

    [Fact]
    public void Nobody_is_sent_to_listen_at_what_makes_no_sound()
    {
        var space = new FaultSpace(new Machine(Press));
        var readings = new List<Reading> { DemoSheets.Line(Press, " : sees \"lid lamp lights\" = dead") };
        for (var n = 0; n < 12 && Diagnostician.Diagnose(space, readings).Next is [var next, ..]; n++)
        {
            if (next.Test.Probe is Probe.Hears { Tag: var tag })
                Press.FindPart(tag)!.Model.Clicks.ShouldBeTrue(tag);
            var shown = Meter.Read(new Machine(Press), next.Test, [DemoSheets.Fault(Press, "B1 dead")]);
            readings.Add(DemoSheets.Line(Press, $"{next.Test} = {shown.Text}"));
        }
        new[] { "U1", "B1", "T0" }.ShouldAllBe(t => !Press.FindPart(t)!.Model.Clicks);
    }
}
