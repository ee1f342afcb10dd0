using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Faults of what works several contacts at once, of a motor's leads and of insulation; looks at fuses, single codes and charge lamps as
/// people tell of them. Common practice, no source.
/// </summary>
public sealed class WorksOfOneSwitchTests
{
    private const string Tank = """
        sheet "Brine tank"
        nominal 230V ac
        control main: OFF*, ON
        given level: EMPTY*, FULL
        part T0 mains 230V at "wall"
        part Q1 switch "main switch" at "panel"
          closed 1-2 when main=ON
        part F1 fuse 16A at "panel"
        part F2 fuse 10A at "panel"
        part B1 switch "float switch" at "tank"
          closed 11-12 when level=EMPTY
          closed 11-14 when level=FULL
        part Y1 coil 230V 3500ohm "fill valve" at "inlet"
        part M1 motor 230V 550W "pump" at "base" hazard rotating
        part E1 heater 230V 2kW "heater" at "tank"
        path T0.L -[w1 2.5mm2 2m]- Q1 -[w2 2.5mm2 1m]- F1 -[w3 1.5mm2 2m]- B1.11
        path B1.12 -[w4 1mm2 2m]- Y1 -[w5 1mm2 2m]- T0.N
        path B1.14 -[w6 1.5mm2 2m]- M1 -[w7 1.5mm2 2m]- T0.N
        path Q1.2 -[w8 2.5mm2 1m]- F2 -[w9 1.5mm2 2m]- E1 -[w10 1.5mm2 2m]- T0.N
        function "fills": Y1 when main=ON and level=EMPTY
        function "pumps": M1 when main=ON and level=FULL
        function "heats": E1 when main=ON
        """;

    private const string Truck = """
        sheet "Brine lorry"
        nominal 24V dc
        frame GND1
        control key: OFF*, RUN
        control lights: OFF*, ON
        control rev: OFF*, ON
        given engine: STOPPED*, RUNNING
        part G1 battery 24V emf=25.4V internal=15mohm at "frame"
        part G2 charger 28.2V field D+ when engine=RUNNING at "engine"
        part F1 fuse 15A blade at "panel"
        part F2 fuse 10A blade at "panel"
        part F3 fuse 10A blade at "panel"
        part S1 switch "key" at "dash"
          closed 1-2 when key=RUN
        part S2 switch "light switch" at "dash"
          closed 1-2 when lights=ON
        part S3 switch "reverse switch" at "gearbox"
          closed 1-2 when rev=ON
        part X1 connector 8 at "rear"
        part H1 lamp 24V 21W "left light" at "rear left"
        part H2 lamp 24V 21W "right light" at "rear right"
        part H3 lamp 24V 21W "reverse lamp" at "rear"
        part H4 lamp 24V 3W "charge lamp" at "dash"
        part A1 module "brake module" at "rear"
          supply 1 ground 2 from=16V
          bus 3,4 traffic=5%
        part A2 module "cab module" at "dash"
          supply 1 ground 2 from=16V
          bus 3,4 traffic=5%
        part GND1 stud at "frame"
        part GND2 stud "rear ground" at "rear"
        path G1.+ -[w1 10mm2 3m]- F1 -[w2 4mm2 1m]- S1
        path F1.1 -[w3 2.5mm2 1m]- F2 -[w4 1.5mm2 1m]- S2 -[w5 1.5mm2 9m]- X1:1 -[w6 1mm2 1m]- H1 -[w7 1mm2 1m]- GND2
        path X1:1b -[w8 1mm2 1m]- H2 -[w9 1mm2 1m]- GND2
        path S1.2 -[w10 1.5mm2 1m]- F3 -[w11 1.5mm2 2m]- S3 -[w12 1.5mm2 9m]- X1:2 -[w13 1mm2 1m]- H3 -[w14 1mm2 1m]- GND2
        path S1.2 -[w15 1.5mm2 1m]- A2.1
        path A2.2 -[w16 1.5mm2 1m]- GND1
        path S1.2 -[w17 1.5mm2 9m]- X1:3 -[w18 1.5mm2 1m]- A1.1
        path A1.2 -[w19 1.5mm2 1m]- GND2
        path A2.3 -[w20 0.75mm2 9m]- A1.3
        path A2.4 -[w21 0.75mm2 9m]- A1.4
        path S1.2 -[w22 1mm2 1m]- H4 -[w23 1mm2 3m]- G2.D+
        path G2.+ -[w24 10mm2 2m]- G1.+
        path G2.- = GND1
        path GND2 -[w25 4mm2 8m]- GND1 -[w26 50mm2 1m]- G1.-
        function "left light": H1 when lights=ON
        function "right light": H2 when lights=ON
        function "reverse lamp": H3 when key=RUN and rev=ON
        function "charge lamp": H4 when key=RUN and engine=STOPPED
        function "charges": V G1.+ G1.- >= 27.6V when engine=RUNNING and key=RUN
        code 639-9 "brake module silent" about A1, w18, X1:3
        """;

    private const string Hoist = """
        sheet "Sack hoist"
        nominal 400V ac
        control up: OUT*, PRESSED held
        part T0 mains 400V 3ph at "wall"
        part F1 fuse 16A at "panel"
        part F2 fuse 16A at "panel"
        part F3 fuse 16A at "panel"
        part S1 button "up button" at "pendant"
          closed 13-14 when up=PRESSED
        part K1 contactor 230V 1kohm at "panel"
        part M1 motor3 400V 1.5kW "hoist motor" at "head"
        path T0.L1 -[w1]- F1 -[w2]- K1.1>2 -[w3]- M1.U
        path T0.L2 -[w4]- F2 -[w5]- K1.3>4 -[w6]- M1.V
        path T0.L3 -[w7]- F3 -[w8]- K1.5>6 -[w9]- M1.W
        path F1.2 -[w10]- S1 -[w11]- K1.A1>A2 -[w12]- T0.N
        function "hoist lifts": M1 when up=PRESSED
        """;

    private static double Share(Findings f, string start) =>
        f.Suspects.Where(g => g.Faults[0].ToString().StartsWith(start, StringComparison.Ordinal)).Sum(g => g.Share);

    /// <summary>A hanging float is one fault, though it shows at two contacts.</summary>
    [Fact]
    public void A_float_that_hangs_is_one_fault_of_two_contacts()
    {
        var found = Diagnose(
            Tank,
            "main=ON : sees \"fills\" = works",
            "main=ON level=FULL : sees \"fills\" = works",
            "main=ON level=FULL : sees \"pumps\" = dead"
        );
        found.Suspects[0].Faults.ShouldContain(f => f.Target == "B1");
        Share(found, "B1").ShouldBeGreaterThan(0.6);
    }

    [Fact]
    public void A_switch_stuck_in_a_position_is_said_and_reckoned()
    {
        var circuit = SheetReader.Read(Tank).Value.ShouldNotBeNull();
        var stuck = FaultReader.Read(circuit, "B1 stuck EMPTY").Value.ShouldNotBeNull();
        var full = new Machine(circuit).Run(DemoSheets.Line(circuit, "main=ON level=FULL : sees Y1 = works").Test.Setup, stuck);
        Metering.LoadState.Judge(full, circuit.IndexOf("Y1")).ShouldBe(Answer.Works);
        Metering.LoadState.Judge(full, circuit.IndexOf("M1")).ShouldBe(Answer.Dead);
    }

    /// <summary>Two of three readings open, one of copper: a star's winding, where nothing says how the motor is connected.</summary>
    [Fact]
    public void An_open_winding_of_a_star_is_found_where_no_connection_is_said()
    {
        var found = Diagnose(
            Hoist,
            "up=PRESSED : hears M1 = hums",
            "off T0, unplug M1 : ohm M1.U M1.V = 9ohm",
            "off T0, unplug M1 : ohm M1.V M1.W = OL",
            "off T0, unplug M1 : ohm M1.U M1.W = OL"
        );
        found.Suspects[0].Faults[0].ToString().ShouldBe("M1 open W");
        found.Suspects[0].Share.ShouldBeGreaterThan(0.9);
    }

    /// <summary>Cold, an element that trips its fuse hot may leak no more than a megohm does.</summary>
    [Fact]
    public void Poor_insulation_and_a_fuse_that_goes_again_are_one_fault()
    {
        var found = Diagnose(
            Tank,
            "looks F2 = bad",
            "replaced F2",
            "main=ON : looks F2 = bad",
            "off T0, unplug E1 : insul E1.1 T0.PE = 0.05Mohm"
        );
        found.Suspects[0].Faults[0].Target.ShouldBe("E1");
        Share(found, "E1").ShouldBeGreaterThan(0.6);
    }

    [Fact]
    public void A_motor_on_mains_hums_under_a_header_of_direct_volts_too()
    {
        var circuit = SheetReader.Read(Tank.Replace("nominal 230V ac", "nominal 24V dc", StringComparison.Ordinal)).Value.ShouldNotBeNull();
        var probe = new Probe.Hears("M1");
        probe.AnswersOn(circuit).ShouldContain(Answer.Hums);
        var found = Diagnose(
            Tank.Replace("nominal 230V ac", "nominal 24V dc", StringComparison.Ordinal),
            "main=ON level=FULL : hears M1 = hums",
            "main=ON level=FULL : VAC M1.1 M1.2 = 229V"
        );
        Share(found, "M1 seized").ShouldBeGreaterThan(0.4);
    }

    /// <summary>One stud that several lamps share, and not nine joints that would each have to take volts by themselves.</summary>
    [Fact]
    public void Lamps_that_dim_each_other_point_to_their_ground_and_not_to_a_string_of_joints()
    {
        var found = Diagnose(
            Truck,
            "lights=ON : sees \"left light\" = works",
            "key=RUN rev=ON : sees \"reverse lamp\" = works",
            "lights=ON key=RUN rev=ON : sees \"left light\" = weak",
            "lights=ON key=RUN rev=ON : V GND2 = 8V"
        );
        found.Suspects[0].Faults.ShouldContain(f => f.Target == "GND2" || f.Target == "w25" || f.Target == "GND1");
        found.Suspects.Where(g => g.Together.Count > 0).Sum(g => g.Share).ShouldBeLessThan(0.15);
    }

    /// <summary>It held with the key on and went in reverse: whose eyes saw it blown had seen it whole.</summary>
    [Fact]
    public void A_new_fuse_that_held_until_reverse_clears_what_is_fed_before()
    {
        var found = Diagnose(
            Truck,
            "key=RUN rev=ON : sees \"reverse lamp\" = dead",
            "looks F3 = bad",
            "replaced F3",
            "key=RUN : looks F3 = good",
            "key=RUN rev=ON : looks F3 = bad"
        );
        string[] beyond = ["w12", "w13", "H3", "X1:2"];
        found.Suspects[0].Faults.ShouldContain(f => beyond.Contains(f.Target));
        Share(found, "w11").ShouldBeLessThan(0.1);
    }

    /// <summary>
    /// A code that is all there is to go by is what has to be explained; other pins of the plug that it names are no part of it.
    /// </summary>
    [Fact]
    public void A_code_alone_leads_to_what_it_is_about()
    {
        var alone = Diagnose(Truck, "key=RUN : code 639-9 = active");
        string[] about = ["A1", "w18", "X1:3", "w17", "w19", "S1", "F1", "w1", "w2", "w25", "GND2", "w26", "GND1", "G1"];
        alone.Suspects.Where(g => g.Faults.Any(f => about.Contains(f.Target))).Sum(g => g.Share).ShouldBeGreaterThan(0.7);
        // Fed as it should be, it is the module or a wire of its bus.
        string[] left = ["A1", "w20", "w21"];
        var fed = Diagnose(Truck, "key=RUN : code 639-9 = active", "key=RUN : V A1.1 A1.2 = 25V").Suspects.Take(3);
        fed.ShouldAllBe(g => left.Contains(g.Faults[0].Target));
    }

    /// <summary>A ground that rises by a tenth under the other lamp is called nothing; the tip was on, and the wire is open.</summary>
    [Fact]
    public void Nothing_is_a_figure_that_was_rounded()
    {
        var found = Diagnose(
            Truck.Replace("GND2 -[w25 4mm2 8m]", "GND2 -[w25 2.5mm2 8m]", StringComparison.Ordinal),
            "lights=ON : sees \"left light\" = dead",
            "lights=ON : sees \"right light\" = works",
            "lights=ON : V X1:1 = 25V",
            "lights=ON : V H1.1 = 0V"
        );
        found.Suspects[0].Faults[0].Target.ShouldBe("w6");
        found.Suspects[0].Share.ShouldBeGreaterThan(0.7);
    }

    /// <summary>A wire of a bus that is open leaves its volts: its ohms jump as the plug is moved.</summary>
    [Fact]
    public void A_code_about_a_bus_is_upset_by_its_wires()
    {
        const string Twisted = "path A2.3 -[w20 0.75mm2 9m]- A1.3\npath A2.4 -[w21 0.75mm2 9m]- A1.4\n";
        Truck.ShouldContain(Twisted);
        var sheet = Truck.Replace(
            Twisted,
            "part R1 terminator at \"dash\"\npart R2 terminator at \"rear\"\npart X2 connector 4 \"bus plug\" at \"hitch\"\n"
                + "path A2.3 -[w20 0.75mm2 4m]- X2:1 -[w27 0.75mm2 5m]- A1.3\npath A2.4 -[w21 0.75mm2 4m]- X2:2 -[w28 0.75mm2 5m]- A1.4\n"
                + "path A2.3 - R1.H\npath A2.4 - R1.L\npath A1.3 - R2.H\npath A1.4 - R2.L\n",
            StringComparison.Ordinal
        );
        var found = Diagnose(sheet, "key=RUN : code 639-9 = active", "off G1, move \"hitch\" : ohm A2.3 A2.4 = 60..120ohm");
        string[] there = ["X2:1", "X2:2", "w20", "w21", "w27", "w28"];
        found.Suspects.Where(g => there.Contains(g.Faults[0].Target)).Sum(g => g.Share).ShouldBeGreaterThan(0.6);
    }

    /// <summary>
    /// The lamp starts the field and goes out once it charges: terminal D+ of DIN 72552, from memory. Half a watt starts nothing.
    /// </summary>
    [Theory]
    [InlineData("3W", Answer.Works)]
    [InlineData("0.5W", Answer.Dead)]
    public void A_charge_lamp_starts_the_alternator_and_goes_out(string lamp, Answer charges)
    {
        var circuit = SheetReader.Read(Truck.Replace("lamp 24V 3W", $"lamp 24V {lamp}", StringComparison.Ordinal)).Value.ShouldNotBeNull();
        Answer Of(string setup, string function) =>
            Metering.FunctionState.Judge(
                new Machine(circuit).Run(DemoSheets.Line(circuit, $"{setup} : sees \"{function}\" = works").Test.Setup),
                circuit.FindFunction(function)!
            );
        Of("key=RUN engine=RUNNING", "charges").ShouldBe(charges);
        if (charges != Answer.Works)
            return;
        Of("key=RUN", "charge lamp").ShouldBe(Answer.Works);
        Of("key=RUN engine=RUNNING", "charge lamp").ShouldBe(Answer.Dead);
    }

    [Fact]
    public void The_checker_tells_of_controls_and_interlocks_that_stop_nothing()
    {
        var text =
            Hoist.Replace("control up", "control key: OFF*, ON\ngiven gate: SHUT*, OPEN\ncontrol up", StringComparison.Ordinal)
            + " and key=ON and gate=SHUT\ninterlock gate=OPEN stops \"hoist lifts\"\n";
        var said = SheetChecker.Check(SheetReader.Read(text).Value.ShouldNotBeNull(), text).Select(p => p.Message).ToList();
        said.ShouldContain(m => m.StartsWith("“hoist lifts” works without key=ON", StringComparison.Ordinal));
        said.ShouldContain(m => m.StartsWith("With gate=OPEN “hoist lifts” works", StringComparison.Ordinal));
    }

    [Fact]
    public void A_colour_of_its_own_is_told_once()
    {
        var text = Hoist.Replace("-[w1]-", "-[w1 DB]-", StringComparison.Ordinal).Replace("-[w2]-", "-[w2 DB]-", StringComparison.Ordinal);
        SheetReader.Read(text).Problems.Count(p => p.Message.Contains("no colour code", StringComparison.Ordinal)).ShouldBe(1);
    }
}
