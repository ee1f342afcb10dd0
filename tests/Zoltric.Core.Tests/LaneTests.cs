using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests;

/// <summary>Lanes read off the demo sheets by eye.</summary>
public class LaneTests
{
    private static IReadOnlyList<Lane> Lanes(string sheet, int function = 0)
    {
        var machine = new Machine(DemoSheets.Circuit(sheet));
        return LaneFinder.Find(machine, machine.Circuit.Functions[function]);
    }

    private static string Road(Lane l) => string.Join(' ', l.Stations.Select(s => s.Terminal));

    [Fact]
    public void Coil_solenoid_and_motor_of_a_cranking_string_have_a_lane_each()
    {
        var lanes = Lanes("PR-3");
        lanes.Select(l => $"{l.Part} {l.Link}").ShouldBe(["K1 coil", "M1 solenoid", "M1 motor"], ignoreOrder: true);
        lanes[0].IsControl.ShouldBeTrue("control comes before load");
        var coil = lanes.Single(l => l.Part == "K1");
        Road(coil)
            .ShouldBe(
                "G1.+ Q1.1 Q1.2 M1.B F1.1 F1.2 X3:1a X3:1b S1.B S1.S X3:4b X3:4a X5:1a X5:1b S2.1 S2.2 X5:2b X5:2a S3.1 S3.2 "
                    + "S4.1 S4.2 K1.86 K1.85 GND1 G1.-"
            );
        coil.Stations[coil.LoadEnds].Terminal.ToString().ShouldBe("K1.85");
        Road(lanes.Single(l => l.Link == "solenoid")).ShouldBe("G1.+ Q1.1 Q1.2 M1.B F2.1 F2.2 K1.30 K1.87 M1.S M1.G GND1 G1.-");
        Road(lanes.Single(l => l.Link == "motor")).ShouldBe("G1.+ Q1.1 Q1.2 M1.B M1.M M1.G GND1 G1.-");
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

    [Fact]
    public void A_bus_has_a_lane_by_each_terminator_and_a_charger_one_to_its_battery()
    {
        var lanes = Lanes("PH-1", 11);
        lanes.Select(l => l.Part).ShouldBe(["E1", "E2"], ignoreOrder: true);
        Road(lanes.Single(l => l.Part == "E2")).ShouldBe("X9:6a SPH X1:11a X1:11b A2.20 E2.H E2.L A2.21 X1:12b X1:12a SPL X9:14a");
        lanes.ShouldAllBe(l => l.IsMeter && l.Amps == 0);
        var charging = Lanes("LT-1", 2).Single();
        Road(charging).ShouldBe("G2.+ F1.2 F1.1 M1.B Q1.2 Q1.1 G1.+ G1.- GND1 GND2");
        charging.Stations[charging.LoadEnds].Terminal.ToString().ShouldBe("G1.-");
    }

    /// <summary>
    /// With everything off: next to nothing along the fuses, OL behind the open contactor of a lane on mains; half of two 120 Ω on a bus
    /// (ISO 11898-2).
    /// </summary>
    [Fact]
    public void Ohms_of_a_lane_mount_up_as_the_parts_say()
    {
        static MarkedLane Ohms(string sheet, string complaint, string part, out MarkedLane volts, params string[] more)
        {
            var circuit = DemoSheets.Circuit(sheet);
            var space = new FaultSpace(new Machine(circuit));
            var findings = Diagnostician.Diagnose(space, [.. more.Prepend(complaint).Select(l => ReadingReader.Read(circuit, l).Value!)]);
            volts = LaneMarks.Mark(space, findings).First(l => l.Lane.Part == part);
            return LaneMarks.Ohms(space, findings, volts);
        }

        var heater = Ohms(
            "DO-4",
            "heat=LOW : sees \"low bank heats\" = dead",
            "E1",
            out var mains,
            "off T0, heat=LOW : ohm T0.L1 F1.2 = OL"
        );
        double? At(string t) => heater.Stations.Single(s => s.Station.Terminal.ToString() == t).Healthy.Nominal;
        At("F1.2")!.Value.ShouldBeInRange(0, 0.1);
        heater.Stations.Single(s => s.Station.Terminal.ToString() == "K1.2").Healthy.Text.ShouldBe("OL");
        heater.Stations.Single(s => s.Station.Terminal.ToString() == "F1.2").Read.ShouldBe(double.PositiveInfinity);
        mains.Stations.ShouldAllBe(s => s.Read == null);
        var bus = Ohms("PH-1", ": sees \"bus\" = dead", "E1", out var levels, "off G1, off G2 : ohm X9:6 X9:14 = 120ohm");
        bus.Stations.ShouldAllBe(s => s.Healthy.Nominal > 58 && s.Healthy.Nominal < 62);
        bus.Stations[0].Read.ShouldBe(120);
        // Levels of a bus at work: dominant and recessive make some 2.5 to 2.9 V high and 2.3 to 2.5 V low.
        levels.Stations[0].Healthy.Nominal!.Value.ShouldBeInRange(2.5, 2.9);
        levels.Stations[^1].Healthy.Nominal!.Value.ShouldBeInRange(2.2, 2.5);
    }
}
