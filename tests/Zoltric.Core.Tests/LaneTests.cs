using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests;

/// <summary>Lanes read off the demo sheets by eye.</summary>
public class LaneTests
{
    private static IReadOnlyList<Lane> Lanes(string sheet, int function = 0)
    {
        var machine = new Machine(DemoSheets.Circuit(sheet));
        return LaneFinder.Of(machine, machine.Circuit.Functions[function]);
    }

    private static string Road(Lane l) => string.Join(' ', l.Stations.Select(s => s.Terminal));

    [Fact]
    public void Coil_solenoid_and_motor_of_a_cranking_string_have_a_lane_each()
    {
        var lanes = Lanes("PR-3");
        lanes.Select(l => $"{l.Part} {l.Link}").ShouldBe(["K1 coil", "M1 solenoid", "M1 motor"], ignoreOrder: true);
        lanes[0].IsControl.ShouldBeTrue("control comes before load");
        var coil = lanes.Single(l => l.Part == "K1");
        Road(coil).ShouldBe("G1.+ Q1.1 Q1.2 M1.B F1.1 F1.2 X3:1a X3:1b S1.B S1.S X3:4a X3:4b X5:1a X5:1b S2.1 S2.2 X5:2a X5:2b S3.1 S3.2 S4.1 S4.2 K1.86 K1.85 GND1 G1.-");
        coil.Stations[coil.LoadEnds].Terminal.ToString().ShouldBe("K1.85");
        Road(lanes.Single(l => l.Link == "solenoid")).ShouldBe("G1.+ Q1.1 Q1.2 M1.B F2.1 F2.2 K1.30 K1.87 M1.S M1.G GND1 G1.-");
        Road(lanes.Single(l => l.Link == "motor")).ShouldBe("G1.+ Q1.1 Q1.2 M1.B M1.G GND1 G1.-");
    }

    [Fact]
    public void A_contactor_held_in_has_its_own_contact_on_its_lane()
    {
        // "pump keeps running": after the push, the coil's current comes by 13-14.
        var coil = Lanes("BP-2", 1).Single(l => l.Part == "K1");
        coil.Stations.ShouldContain(s => s.Via != null && s.Via.CoilTag == "K1");
        Road(coil).ShouldContain("K1.13 K1.14");
    }

    [Fact]
    public void A_lane_behind_a_transformer_begins_at_its_winding()
    {
        var coil = Lanes("GH-2").Single();
        Road(coil).ShouldStartWith("T1.S1 F2.1 F2.2 X1:1a X1:1b S0.1 S0.2");
        Road(coil).ShouldEndWith("K2.A1 K2.A2 SP0 T1.S2");
    }
}
