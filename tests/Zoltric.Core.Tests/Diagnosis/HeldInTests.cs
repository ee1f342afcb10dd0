using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Contacts that stay where they were, contacts that fail together, and figures of what pulses, on invented circuits. One blade never
/// reaches both make and break (a change-over contact, IEC 60947-5-1, from memory); the rest common practice, no source.
/// </summary>
public class HeldInTests
{
    /// <summary>A motor that goes both ways by two change-over relays: at rest both its ends lie on the way home.</summary>
    private const string Cover = """
        sheet "Chip wagon CW-2: cover"
        nominal 24V dc
        control key: OFF*, ON
        control cover: REST*, OPEN held, SHUT held
        part G1 battery 24V internal=15mohm
        part F1 fuse 40A
        part S1 switch "cover switch"
          closed C-O when cover=OPEN
          closed C-S when cover=SHUT
        part S2 switch "key"
          closed 1-2 when key=ON
        part K1 relay 24V 300ohm "open relay"
        part K2 relay 24V 300ohm "shut relay"
        part M1 motor 24V 18A "cover motor"
        path G1.+ -[w1 10mm2 2m]- F1 -[w2 10mm2 1m]- K1.87
        path F1.2 -[w3 10mm2 1m]- K2.87
        path K1.30 -[w4 6mm2 4m]- M1 -[w5 6mm2 4m]- K2.30
        path K1.87a -[w6 10mm2 1m]- G1.-
        path K2.87a -[w7 10mm2 1m]- G1.-
        path F1.2 -[w8 1mm2 4m]- S2 -[w9 1mm2 1m]- S1.C
        path S1.O -[w10 1mm2 4m]- K1.86>85 -[w11 1mm2 1m]- G1.-
        path S1.S -[w12 1mm2 4m]- K2.86>85 -[w13 1mm2 1m]- G1.-
        function "cover opens": M1 when key=ON and cover=OPEN
        function "cover shuts": M1 when key=ON and cover=SHUT
        """;

    private static Core.Circuits.MeterReading Shown(string sheet, string line, string fault)
    {
        var machine = new Core.Solving.Machine(SheetReader.Read(sheet).Value!);
        var test = ReadingReader.Read(machine.Circuit, line).Value!.Test;
        return Meter.Read(machine, test, fault.Length == 0 ? [] : FaultReader.Read(machine.Circuit, fault).Value!);
    }

    [Theory]
    [InlineData("K1 welded 30-87", " : V M1.1", 23.0, 24.6)]
    [InlineData("K1 welded 30-87", " : V K1.87a", -0.1, 0.6)]
    [InlineData("K1 welded 30-87a", "key=ON cover=OPEN : V M1.1", -0.1, 0.3)]
    public void A_welded_blade_does_not_reach_the_other_side(string fault, string line, double low, double high)
    {
        Shown(Cover, line, fault).Value!.Value.ShouldBeInRange(low, high);
    }

    [Fact]
    public void A_motor_that_runs_by_itself_is_a_welded_relay_of_its_two()
    {
        var f = Diagnose(Cover, ": sees \"cover opens\" = stuck-on", ": V M1.1 = 24.1V", ": V M1.2 = 0.3V", ": V K1.86 = 0V");
        Share(f, "K1").ShouldBeGreaterThan(0.9);
    }

    /// <summary>
    /// A part has no condition of its own, and a function that is started by hand has none at rest: that they run unasked was met by no
    /// fault at all.
    /// </summary>
    [Theory]
    [InlineData("sees M1 = stuck-on")]
    [InlineData("sees M1 = works")]
    [InlineData("sees \"saw runs\" = stuck-on")]
    public void A_motor_that_runs_on_unasked_is_its_contactor_held_in(string said)
    {
        const string saw = """
            sheet "Cross-cut saw CC-1"
            nominal 24V dc
            control start: RELEASED*, PRESSED held
            control stop: RELEASED*, PRESSED held
            part L1 mains 400V 3ph
            part G1 psu 230V:24V 5A separated
            part S1 button "stop"
              open 1-2 when stop=PRESSED
            part S2 button "start"
              closed 1-2 when start=PRESSED
            part K1 contactor 24V 90ohm
            part M1 motor3 400V 1.5kW star
            path L1.L1 -[w1]- K1.1>2 -[w2]- M1.U
            path L1.L2 -[w3]- K1.3>4 -[w4]- M1.V
            path L1.L3 -[w5]- K1.5>6 -[w6]- M1.W
            path L1.L1 -[w7]- G1.L
            path G1.N -[w8]- L1.N
            path G1.+ -[w9]- S1 -[w10]- S2 -[w11]- K1.A1>A2 -[w12]- G1.-
            path S1.2 -[w13]- K1.13>14 -[w14]- K1.A1
            function "saw runs": M1 after press start, release start
            """;
        var f = Diagnose(saw, $" : {said}", "stop=PRESSED : sees M1 = stuck-on", "stop=PRESSED : V K1.A1 K1.A2 = 0V");
        Share(f, "K1").ShouldBeGreaterThan(0.8);
        f.Suspects[0].Faults[0].ToString().ShouldBe("K1 welded");
    }

    private const string Belt = """
        sheet "Waste belt WB-1"
        nominal 24V dc
        control main: OFF*, ON
        control run: OFF*, ON
        part L1 mains 400V 3ph
        part Q1 isolator 3pole
          closed 1-2 when main=ON
        part G1 psu 230V:24V 5A separated
        part S1 switch
          closed 1-2 when run=ON
        part K1 contactor 24V 90ohm
        part M1 motor3 400V 1.5kW star
        part H1 lamp 24V 3W
        path L1.L1 -[w1]- Q1.1>2 -[w2]- K1.1>2 -[w3]- M1.U
        path L1.L2 -[w4]- Q1.3>4 -[w5]- K1.3>4 -[w6]- M1.V
        path L1.L3 -[w7]- Q1.5>6 -[w8]- K1.5>6 -[w9]- M1.W
        path L1.L1 -[w10]- G1.L
        path G1.N -[w11]- L1.N
        path G1.+ -[w12]- S1 -[w13]- K1.A1>A2 -[w14]- G1.-
        path G1.+ -[w15]- K1.13>14 -[w16]- H1 -[w17]- G1.-
        function "belt runs": M1 when main=ON and run=ON
        """;

    /// <summary>One pole alone runs no motor; the bridge of all of them does, and its helping contact is made with it.</summary>
    [Fact]
    public void A_contactor_that_stays_in_holds_all_its_poles()
    {
        var f = Diagnose(Belt, "main=ON : sees \"belt runs\" = stuck-on", "main=ON : V K1.A1 K1.A2 = 0V", "main=ON : sees H1 = stuck-on");
        Share(f, "K1").ShouldBeGreaterThan(0.5);
        Share(f, "S1", "Q1", "M1").ShouldBeLessThan(0.05);
        f.Suspects[0].Faults[0].ToString().ShouldBe("K1 welded");
    }

    [Fact]
    public void Two_contacts_of_one_terminal_fail_with_it()
    {
        var f = Diagnose(
            Cover,
            "key=ON cover=OPEN : sees \"cover opens\" = dead",
            "key=ON cover=SHUT : sees \"cover shuts\" = dead",
            "key=ON cover=OPEN : V S1.C = 24.5V",
            "key=ON cover=OPEN : V S1.O = 0V",
            "key=ON cover=SHUT : V S1.S = 0V"
        );
        Share(f, "S1").ShouldBeGreaterThan(0.85);
    }

    private const string Pulsed = """
        sheet "Post driver PD-1: spark"
        nominal 12V dc
        control key: OFF*, RUN
        part G1 battery 12V emf=12.6V internal=20mohm
        part F1 fuse 10A
        part S1 switch
          closed 1-2 when key=RUN
        part X1 connector 1
        part L1 coil 12V 3ohm
        part A1 module
          supply 1 ground 2
          output 3 low pulsed 50% when powered
        path G1.+ -[w1 4mm2 1m]- F1 -[w2 1.5mm2 1m]- S1 -[w3 1.5mm2 2m]- X1:1 -[w4 1.5mm2 1m]- L1 -[w5 1.5mm2 1m]- A1.3
        path F1.2 -[w6 1mm2 1m]- A1.1
        path A1.2 -[w7 1.5mm2 1m]- G1.-
        function "sparks": L1 when key=RUN
        """;

    /// <summary>
    /// 12.6 V over 2.5 and 3 Ω in a row leave 6.9 V while the output is on (Ohm's law): 7.3 V as the least of a watch are a weak feed, and
    /// no battery that a starter pulls down. In the mean it would read 9.7 V.
    /// </summary>
    [Fact]
    public void The_least_volts_of_what_pulses_tell_of_its_feed()
    {
        var f = Diagnose(Pulsed, "key=RUN : sees \"sparks\" = weak", "key=RUN : V L1.1 min = 7.3V", "key=RUN : V A1.1 min = 12.4V");
        Share(f, "F1", "w2", "S1", "w3", "X1:1", "w4").ShouldBeGreaterThan(0.9);
        f.Verdicts[1].Judgement.ShouldBe(Judgement.Low);
    }

    /// <summary>A coil and a lamp on one plug, read before and after the diode beside them came off: nothing here has other
    /// windings.</summary>
    [Fact]
    public void A_load_with_one_winding_is_not_measured_by_another()
    {
        const string sheet = """
            sheet "Gate GT-1"
            nominal 24V dc
            control gate: OFF*, ON
            part G1 battery 24V
            part S1 switch
              closed 1-2 when gate=ON
            part X1 connector 2
            part Y1 coil 24V 18ohm
            part H1 lamp 24V 21W
            part D1 diode
            path G1.+ -[w1]- S1 -[w2]- X1:1 -[w3]- Y1 -[w4]- X1:2< -[w5]- G1.-
            path X1:1b -[w6]- H1 -[w7]- X1:2b
            path Y1.2 -[w8]- D1 -[w9]- Y1.1
            function "latch": Y1 when gate=ON
            """;
        var f = Diagnose(sheet, "off G1, unplug X1 : ohm X1:1b X1:2b = 0.4ohm", "off G1, unplug X1, unplug D1 : ohm X1:1b X1:2b = 2.3ohm");
        f.Verdicts.ShouldAllBe(v => !v.Meaning.Contains("motor"));
        Share(f, "D1").ShouldBeGreaterThan(0.8);
    }

    /// <summary>A hoist whose brake springs hold shut: fed without it, the motor hums on a held rotor.</summary>
    private const string Hoist = """
        sheet "Bale hoist BH-2"
        nominal 24V dc
        control main: OFF*, ON
        control lift: OFF*, ON
        part L1 mains 400V 3ph
        part Q1 isolator 3pole
          closed 1-2 when main=ON
        part G1 psu 230V:24V 5A separated
        part S1 switch
          closed 1-2 when lift=ON
        part K1 contactor 24V 90ohm
        part F1 overload 6A
        part M1 motor3 400V 5A star "hoist motor"
        part Y1 coil 24V 20ohm "hoist brake"
        path L1.L1 -[w1]- Q1.1>2 -[w2]- K1.1>2 -[w3]- F1.1>2 -[w4]- M1.U
        path L1.L2 -[w5]- Q1.3>4 -[w6]- K1.3>4 -[w7]- F1.3>4 -[w8]- M1.V
        path L1.L3 -[w9]- Q1.5>6 -[w10]- K1.5>6 -[w11]- F1.5>6 -[w12]- M1.W
        path L1.L1 -[w13]- G1.L
        path G1.N -[w14]- L1.N
        path G1.+ -[w15]- S1 -[w16]- K1.A1>A2 -[w17]- G1.-
        path G1.+ -[w18]- K1.13>14 -[w19]- Y1 -[w20]- G1.-
        function "hoist lifts": M1 when main=ON and lift=ON
        """;

    [Fact]
    public void A_motor_whose_brake_stays_shut_hums()
    {
        Shown(Hoist, "main=ON lift=ON : sees \"hoist lifts\"", "").Text.ShouldBe("works");
        Shown(Hoist, "main=ON lift=ON : sees \"hoist lifts\"", "w19 open").Text.ShouldBe("dead");
        Shown(Hoist, "main=ON lift=ON : hears M1", "w19 open").Text.ShouldBe("hums");
        const string on = "main=ON lift=ON";
        var f = Diagnose(
            Hoist,
            $"{on} : sees \"hoist lifts\" = dead",
            $"{on} : hears K1 = clicks",
            $"{on} : hears M1 = hums",
            $"{on} : V Y1.1 Y1.2 = 23.9V",
            "off L1, unplug Y1 : ohm Y1 = OL"
        );
        Share(f, "Y1").ShouldBeGreaterThan(0.9);
        f.OffSheet.ShouldBeLessThan(0.05);
    }
}
