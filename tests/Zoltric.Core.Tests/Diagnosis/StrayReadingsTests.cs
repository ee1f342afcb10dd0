using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Readings as machines and people give them, on invented circuits. Common practice, no source, unless a row says otherwise.
/// </summary>
public class StrayReadingsTests
{
    private const string Fan = """
        sheet "Drying loft fan LF-1"
        nominal 12V dc
        drawn from maker
        control key: OFF*, RUN
        control fan: OFF*, ON
        part G1 battery 12V emf=12.7V internal=10mohm "battery" at "box"
        part F1 fuse 20A blade "main fuse" at "box"
        part S1 switch "key switch" at "dash"
          closed 1-2 when key=RUN
        part S2 switch "fan switch" at "post"
          closed 1-2 when fan=ON
        part X1 connector 2 "fan plug" at "loft"
        part K1 relay 12V 85ohm "fan relay" at "box"
        part M1 motor 12V 8A "fan motor" at "loft" good 1..2ohm
        part H1 lamp 12V 3W "run lamp" at "dash"
        path G1.+ -[w1 6mm2 1m]- F1 -[w2 4mm2 1m]- S1 -[w3 2.5mm2 1m]- S2 -[w4 1mm2 2m]- K1.86>85 -[w5 1mm2 1m]- G1.-
        path F1.2 -[w6 4mm2 1m]- K1.30>87 -[w7 2.5mm2 4m]- X1:1 -[w8 2.5mm2 1m]- M1 -[w9 2.5mm2 1m]- X1:2< -[w10 2.5mm2 4m]- G1.-
        path S1.2 -[w11 1mm2 1m]- H1 -[w12 1mm2 1m]- G1.-
        function "fan turns": M1 when key=RUN and fan=ON
        function "run lamp lights": H1 when key=RUN
        """;

    private static double Show(string sheet, string line, params string[] faults)
    {
        var circuit = SheetReader.Read(sheet).Value.ShouldNotBeNull();
        return Meter
            .Read(
                new Machine(circuit),
                ReadingReader.Read(circuit, line).Value!.Test,
                [.. faults.SelectMany(f => FaultReader.Read(circuit, f).Value!)]
            )
            .Value
            ?? double.NaN;
    }

    /// <summary>
    /// Pulled, the fuse reads as a fuse; in its place the volts stop at it: the clips. Common practice, no source.
    /// </summary>
    [Fact]
    public void A_good_fuse_with_volts_across_it_is_its_holder()
    {
        var f = Diagnose(
            Fan,
            """key=RUN fan=ON : sees "fan turns" = dead""",
            """key=RUN : sees "run lamp lights" = dead""",
            "key=RUN fan=ON : V F1.1 = 12.5V",
            "key=RUN fan=ON : V F1.2 = 0.2V",
            "off G1, pull F1 : ohm F1 = 0.2ohm"
        );
        Share(f, "F1").ShouldBeGreaterThan(0.6);
        f.Suspects[0].Faults[0].Words.ShouldBe("holder resists");
    }

    /// <summary>
    /// What a part shows by itself has nothing to do with how the machine is drawn: bad, it is the part; good, it is not.
    /// </summary>
    [Theory]
    [InlineData("off G1, unplug M1 : ohm M1 = OL", 0.9, 1, 0.05)]
    [InlineData("off G1, unplug M1 : ohm M1 = 1.7ohm", 0, 0.2, 1)]
    public void A_part_read_by_itself_says_nothing_of_the_drawing(string line, double least, double most, double offSheet)
    {
        var f = Diagnose(
            Fan,
            """key=RUN fan=ON : sees "fan turns" = dead""",
            "key=RUN fan=ON : hears K1 = clicks",
            "key=RUN fan=ON : V M1.1 M1.2 = 12.4V",
            line
        );
        Share(f, "M1").ShouldBeInRange(least, most);
        f.OffSheet.ShouldBeLessThan(offSheet);
    }

    /// <summary>
    /// Nothing is written of a plug, and the meter shows no path: read in the circuit, the lamp beside the valve would be seen through it.
    /// Who writes that down had the plug off; a motor whose common is gone likewise. Common practice, no source.
    /// </summary>
    [Fact]
    public void Over_limit_across_a_part_with_a_path_beside_it_was_read_off_its_plug()
    {
        const string sheet = """
            sheet "Silo fan"
            nominal 230V ac
            drawn from maker
            reference T0.N
            control on: OFF*, ON
            part T0 mains 230V
            part S1 switch
              closed 1-2 when on=ON
            part M1 motor1 230V 4A run=5ohm start=15ohm locked=20A "fan"
            part C1 capacitor 20uF 440V
            part Y1 coil 230V 700ohm "shutter"
            path T0.L -[w1 1.5mm2 2m]- S1 -[w2 1.5mm2 2m]- M1.R -[w3 1mm2 1m]- C1 -[w4 1mm2 1m]- M1.S
            path M1.C -[w5 1.5mm2 2m]- T0.N
            path S1.2 -[w6 1mm2 1m]- Y1 -[w7 1mm2 1m]- T0.N
            function "fan runs": M1 when on=ON
            function "shutter opens": Y1 when on=ON
            """;
        string[] dead = ["on=ON : sees \"fan runs\" = dead", "on=ON : sees \"shutter opens\" = works"];
        var f = Diagnose(sheet, [.. dead, "off T0 : ohm M1.R M1.S = 20ohm", "off T0 : ohm M1.C M1.R = OL", "off T0 : ohm M1.C M1.S = OL"]);
        f.Suspects[0].Words.First().ShouldStartWith("M1 open C");
        f.OffSheet.ShouldBeLessThan(0.2);
        f = Diagnose(sheet, "on=ON : sees \"shutter opens\" = dead", "on=ON : sees \"fan runs\" = works", "off T0 : ohm Y1 = OL");
        f.Suspects[0].Words.First().ShouldStartWith("Y1 open");
        f.OffSheet.ShouldBeLessThan(0.1);
    }

    /// <summary>A third below the maker's range is no matter of tolerance, whatever the complaint; without that range it may be.</summary>
    [Fact]
    public void Below_the_makers_range_is_no_matter_of_tolerance()
    {
        string[] lines = ["key=RUN fan=ON : sees \"fan turns\" = weak", "off G1, unplug M1 : ohm M1 = 0.6ohm"];
        var stated = Diagnose(Fan, lines);
        stated.Suspects[0].Unit.ShouldBe("M1");
        Share(stated, "M1")
            .ShouldBeGreaterThan(2 * Share(Diagnose(Fan.Replace(" good 1..2ohm", "", StringComparison.Ordinal), lines), "M1"));
    }

    private const string Link = """
        sheet "Pan tender PT-4: bus"
        nominal 24V dc
        drawn from maker
        control key: OFF*, RUN
        part G1 battery 24V emf=25.2V "battery" at "box"
        part S1 switch "key switch" at "dash"
          closed 1-2 when key=RUN
        part A1 module "engine controller" at "engine"
          supply 1 ground 2 from=18V
          bus 3,4
        part A2 module "dash display" at "dash"
          supply 1 ground 2 from=18V
          bus 3,4
        part T1 terminator at "engine"
        part T2 terminator at "dash"
        path G1.+ - S1 -[w1]- A1.1
        path S1.2 -[w2]- A2.1
        path A1.2 -[w3]- G1.-
        path A2.2 -[w4]- G1.-
        path T1.H -[w5]- A1.3 -[w6]- A2.3 -[w7]- T2.H
        path T1.L -[w8]- A1.4 -[w9]- A2.4 -[w10]- T2.L
        function "bus": ohm A2.3 A2.4 in 55..65ohm
        """;

    /// <summary>
    /// Healthy averages: high 2.5 to 2.8 V, low 2.2 to 2.5 V, whatever the traffic and the machine's own volts. Common practice, no source;
    /// rest at 2.5 V: ISO 11898-2. The limits are held at their boundaries.
    /// </summary>
    [Theory]
    [InlineData("A2.3", 2.39, Judgement.Low)]
    [InlineData("A2.3", 2.41, Judgement.Ok)]
    [InlineData("A2.3", 2.8, Judgement.Ok)]
    [InlineData("A2.3", 2.99, Judgement.Ok)]
    [InlineData("A2.3", 3.01, Judgement.High)]
    [InlineData("A2.4", 1.99, Judgement.Low)]
    [InlineData("A2.4", 2.01, Judgement.Ok)]
    [InlineData("A2.4", 2.2, Judgement.Ok)]
    [InlineData("A2.4", 2.59, Judgement.Ok)]
    [InlineData("A2.4", 2.61, Judgement.High)]
    [InlineData("A2.3", 0.1, Judgement.Low)]
    public void Bus_levels_are_held_to_what_buses_show(string point, double volts, Judgement judgement)
    {
        var v = Diagnose(Link, FormattableString.Invariant($"key=RUN : V {point} = {volts}V")).Verdicts[0];
        v.Judgement.ShouldBe(judgement, v.Meaning);
        v.Meaning.ShouldContain(judgement == Judgement.Ok ? "healthy level" : "healthy bus level");
    }

    /// <summary>Ends of 120 Ω side by side: 120 over their number (Ohm's law); two belong there (ISO 11898-2).</summary>
    [Theory]
    [InlineData(60, "2 terminators, as drawn")]
    [InlineData(121, "one terminator where 2 are drawn")]
    [InlineData(40, "one too many")]
    [InlineData(2, "touch")]
    [InlineData(9000, "no terminator")]
    public void Ohms_on_a_bus_say_how_many_ends_there_are(double ohms, string says) =>
        Diagnose(Link, FormattableString.Invariant($"off G1 : ohm A2.3 A2.4 = {ohms}ohm")).Verdicts[0].Meaning.ShouldContain(says);

    /// <summary>The pair may touch anywhere along it, which no meter tells: one suspect to the repair.</summary>
    [Fact]
    public void The_two_wires_of_a_bus_may_touch()
    {
        var f = Diagnose(Link, """: sees "bus" = dead""", "off G1 : ohm A2.3 A2.4 = 1.2ohm");
        f.Suspects[0].Faults[0].Kind.ShouldBe(FaultKind.Shorts);
        f.Suspects[0].Share.ShouldBeGreaterThan(0.5);
        Show(Link, "off G1 : ohm A2.3 A2.4", "w6 shorts A2.4 1.2ohm").ShouldBe(1 / (1 / 1.2 + 2 / 120.0), 0.02);
    }

    /// <summary>With both its ends off, a wire that does not beep is that wire. Common practice, no source.</summary>
    [Fact]
    public void A_wire_with_both_ends_off_is_read_by_itself()
    {
        var f = Diagnose(Fan, """key=RUN fan=ON : sees "fan turns" = dead""", "off G1, unplug S2, unplug K1 : beep w4 = silent");
        Share(f, "w4").ShouldBeGreaterThan(0.5);
        f.OffSheet.ShouldBeLessThan(0.1);
    }

    /// <summary>What modules leave of ohms, with both ends gone, is over limit to a meter in a low range.</summary>
    [Fact]
    public void Over_limit_is_tens_of_kiloohms_to_a_low_range()
    {
        var f = Diagnose(Link, """: sees "bus" = dead""", "off G1 : ohm A2.3 A2.4 = 120ohm", "off G1, unplug T2 : ohm A2.3 A2.4 = OL");
        Share(f, "T2", "w7", "w10").ShouldBeLessThan(0.05);
        Share(f, "T1", "w5", "w6", "w8", "w9").ShouldBeGreaterThan(0.85);
    }

    /// <summary>
    /// Dead, alive while one place is moved, dead again: it falls back when it is let go. The other places were moved for nothing.
    /// </summary>
    [Fact]
    public void What_lives_only_while_one_place_is_moved_is_there()
    {
        var f = Diagnose(
            Fan,
            """key=RUN fan=ON : sees "fan turns" = dead""",
            """key=RUN fan=ON, move "post" : sees "fan turns" = works""",
            """key=RUN fan=ON, move "loft" : sees "fan turns" = dead""",
            """key=RUN fan=ON, move "post" : sees "fan turns" = flickers"""
        );
        Share(f, "S2", "w3", "w4").ShouldBeGreaterThan(0.75);
        f.OffSheet.ShouldBeLessThan(0.15);
    }

    /// <summary>A draw that ends with the charger isolated is the charger's: its leak goes with it.</summary>
    [Fact]
    public void A_draw_that_ends_with_a_source_off_is_that_source()
    {
        const string sheet = """
            sheet "Works lorry WL-8: at rest"
            nominal 12V dc
            drawn from maker
            given engine: STOPPED*, RUNNING
            control lamps: OFF*, ON
            part G1 battery 12V "battery" at "frame"
            part G2 charger 14.2V when engine=RUNNING "alternator" at "engine"
            part S1 switch "lamp switch" at "dash"
              closed 1-2 when lamps=ON
            part H1 lamp 12V 55W "work lamp" at "roof"
            path G1.+ -[w1 25mm2 1m]- G2.+
            path G2.- -[w2 25mm2 1m]- G1.-
            path G1.+ -[w3 2.5mm2 2m]- S1 -[w4 2.5mm2 2m]- H1 -[w5 2.5mm2 2m]- G1.-
            function "lamp lights": H1 when lamps=ON
            """;
        var f = Diagnose(sheet, ": clamp w1 = 0.55A", "off G2 : clamp w1 = 0A");
        Share(f, "G2").ShouldBeGreaterThan(0.9);
        Show(sheet, ": clamp w1", "G2 leaks 24ohm").ShouldBe(12.6 / 24, 0.02);
        Show(sheet, "off G2 : clamp w1", "G2 leaks 24ohm").ShouldBe(0, 0.001);
    }

    /// <summary>
    /// What a leak of four ohms draws is volts over ohms, whatever a module behind it does as its supply falls; computed.
    /// </summary>
    [Fact]
    public void A_leak_before_a_module_draws_by_its_ohms()
    {
        const string sheet = """
            sheet "Works van VN-2: at rest"
            nominal 12V dc
            drawn from maker
            part G1 battery 12V emf=12.6V "battery" at "bay"
            part F1 fuse 20A blade "heater fuse" at "panel, slot 1"
            part F2 fuse 10A blade "radio fuse" at "panel, slot 2"
            part A1 module "heater control" at "rear"
              supply 1 ground 2
              sleeps after 6min at 12mA
            part A2 module "radio" at "dash"
              supply 1 ground 2
              sleeps after 5min at 5mA
            part GND1 stud "body ground" at "bay"
            path G1.+ -[w1 RD 4mm2 1m]- F1 -[w2 RD 2.5mm2 4m]- A1.1
            path A1.2 -[w3 BN 2.5mm2 4m]- GND1
            path F1.1 -[w4 RD 4mm2 0.2m]- F2 -[w5 RD 1mm2 2m]- A2.1
            path A2.2 -[w6 BN 1mm2 2m]- GND1
            path GND1 -[w7 BK 35mm2 0.5m]- G1.-
            function "sleeps": clamp w7 <= 80mA after 15min
            """;
        Show(sheet, "after 15min : clamp w7", "w2 grounded 4.1ohm").ShouldBe(12.6 / 4.1, 0.1);
        var f = Diagnose(
            sheet,
            "after 15min : clamp w7 = 3.1A",
            "pull F1, after 15min : clamp w7 = 0.02A",
            "unplug A1, after 15min : clamp w7 = 3.1A"
        );
        Share(f, "w2").ShouldBeGreaterThan(0.7);
        f.OffSheet.ShouldBeLessThan(0.15);
    }

    [Fact]
    public void Half_a_volt_short_is_not_open()
    {
        var f = Diagnose(
            Fan,
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            "key=RUN fan=ON : V S2.2 = 11.9V",
            "key=RUN fan=ON : V K1.86 = 0V",
            "key=RUN fan=ON : hears K1 = silent"
        );
        f.Suspects[0].Unit.ShouldBe("w4");
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    [Fact]
    public void A_charger_that_was_put_on_is_no_second_fault()
    {
        var f = Diagnose(
            Fan,
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            " : V G1.+ G1.- = 12.1V",
            "key=RUN fan=ON : hears K1 = clicks",
            "key=RUN fan=ON : V K1.87 = 13.4V",
            "key=RUN fan=ON : V X1:1a = 0.02V"
        );
        Share(f, "w7").ShouldBeGreaterThan(0.7);
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    [Fact]
    public void A_motor_on_half_its_volts_is_dead_to_its_owner()
    {
        var f = Diagnose(
            Fan,
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            "key=RUN fan=ON : V M1.1 M1.2 = 6.1V",
            "key=RUN fan=ON : V K1.30 K1.87 = 6.2V"
        );
        f.Suspects[0].Unit.ShouldBe("K1");
        f.Suspects[0].Also.ShouldBeEmpty();
    }

    [Fact]
    public void A_contact_that_comes_and_goes_while_it_is_moved_is_the_finding()
    {
        var f = Diagnose(
            Fan,
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            "key=RUN : sees \"run lamp lights\" = works",
            "key=RUN fan=ON : drop S2 = 12.4V",
            "key=RUN fan=ON, move \"post\" : sees \"fan turns\" = works",
            "key=RUN fan=ON, move \"post\" : drop S2 = 0.05V",
            "key=RUN fan=ON : drop S2 = 12.5V"
        );
        f.Suspects[0].Words.First().ShouldBe("S2 intermittent");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.7);
    }

    [Fact]
    public void A_part_put_in_opens_a_period()
    {
        string[] before =
        [
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            "key=RUN fan=ON : V S2.1 = 12.4V",
            "key=RUN fan=ON : V S2.2 = 0.02V",
            " : replaced S2",
        ];
        var cured = Diagnose(Fan, [.. before, "key=RUN fan=ON : sees \"fan turns\" = works"]);
        cured.Suspects[0].Unit.ShouldBe("S2");
        cured.Verdicts[0].Meaning.ShouldNotContain("oubtful");
        // Still dead: the part was probably good, as far as the volts across it let one think so.
        var still = Diagnose(Fan, [before[0], before[3], before[0]]);
        Share(still, "S2").ShouldBeLessThan(0.3 * Share(Diagnose(Fan, before[0]), "S2"));
    }

    [Fact]
    public void A_bridge_that_makes_it_work_proves_what_it_goes_past()
    {
        var f = Diagnose(
            Fan,
            "key=RUN fan=ON : sees \"fan turns\" = dead",
            "key=RUN fan=ON : hears K1 = silent",
            "key=RUN, jumper S2.1 S2.2 : sees \"fan turns\" = works"
        );
        f.Suspects[0].Unit.ShouldBe("S2");
        f.Verdicts[^1].Judgement.ShouldBe(Judgement.Ok);
        f.Verdicts[^1].Meaning.ShouldContain("goes past");
    }

    /// <summary>Blade elements, typical data-sheet values (from memory): 4.2 mV across a 20 A fuse is about 1.3 A.</summary>
    [Fact]
    public void Millivolts_across_a_fuse_are_amps()
    {
        Defaults.FuseElementOhms(5).ShouldBe(0.017, 1e-9);
        Defaults.FuseElementOhms(15).ShouldBe(0.0046, 1e-9);
        (0.0042 / Defaults.FuseElementOhms(20)).ShouldBe(1.3, 0.05);
        var drain = Fan.Replace("function \"run lamp", "function \"sleeps\": A G1 <= 20mA\nfunction \"run lamp", StringComparison.Ordinal);
        var f = Diagnose(
            drain,
            " : A G1 = 0.42A",
            " : drop F1 = 1.35mV",
            "unplug X1 : A G1 = 0.42A",
            "unplug K1 : A G1 = 0.41A",
            "pull F1 : A G1 = 0A"
        );
        f.OffSheet.ShouldBeLessThan(0.3);
        Share(f, "w2", "w6", "S1").ShouldBeGreaterThan(0.6);
    }

    [Fact]
    public void A_rectifier_that_leaks_backwards_is_a_drain()
    {
        var charged = Fan.Replace(
                "part S1",
                "part G2 charger 14.2V when engine=RUNNING \"alternator\" at \"engine\"\npart S1",
                StringComparison.Ordinal
            )
            .Replace("control key", "given engine: STOPPED*, RUNNING\ncontrol key", StringComparison.Ordinal)
            .Replace("path S1.2", "path G2.+ -[w20 6mm2 1m]- G1.+\npath G2.- -[w21 6mm2 1m]- G1.-\npath S1.2", StringComparison.Ordinal)
            .Replace("function \"run lamp", "function \"sleeps\": A G1 <= 20mA\nfunction \"run lamp", StringComparison.Ordinal);
        Show(charged, " : A G1", "G2 leaks 30ohm").ShouldBe(12.7 / 30, 0.01);
        var f = Diagnose(charged, " : A G1 = 0.42A", "pull F1 : A G1 = 0.42A", "unplug G2 : A G1 = 0A");
        f.Suspects[0].Unit.ShouldBe("G2");
    }

    private static readonly string Oven = """
        sheet "Oven control"
        nominal 230V ac
        part T0 mains 230V
        part F1 fuse 1A
        part T1 transformer 230V:24V 50VA separated
        part H1 lamp 24V 5W
        path T0.L -[w1]- F1 -[w2]- T1.P1
        path T1.P2 -[w3]- T0.N
        path T1.S1 -[w4]- H1 -[w5]- T1.S2
        function "lamp lights": H1
        """;

    /// <summary>Iron that is not magnetised gives nothing; magnetised it takes 5 % of its volt-amperes (230² / 2.5 VA = 21 kΩ).</summary>
    [Fact]
    public void The_secondary_of_a_dead_primary_is_dead()
    {
        Show(Oven, " : VAC T1.S1 T1.S2").ShouldBe(24, 1.5);
        Show(Oven, " : VAC T1.S1 T1.S2", "F1 blown").ShouldBeLessThan(0.05);
        Show(Oven, " : VAC T1.P1", "F1 blown").ShouldBeLessThan(0.1);
    }

    [Fact]
    public void Leakage_does_not_lift_a_dead_point_before_a_diode()
    {
        const string sheet = """
            sheet "Steering diode"
            nominal 24V dc
            part G1 battery 24V
            part S1 switch
              closed 1-2 when on=YES
            part D1 diode
            part K1 relay 24V 300ohm
            control on: NO*, YES
            path G1.+ - S1 - D1.a>k - K1.86>85 - G1.-
            """;
        Show(sheet, " : V D1.a").ShouldBeLessThan(0.1);
        // Conducting, it takes its forward volts.
        Show(sheet, "on=YES : V D1.a D1.k").ShouldBe(0.65, 0.03);
    }

    /// <summary>A small lamp shorted in its socket reads as the leads do, far below a fiftieth of what it has.</summary>
    [Fact]
    public void A_dead_short_in_a_small_load_is_weighed() =>
        Share(
                Diagnose(
                    Fan,
                    "key=RUN : sees \"run lamp lights\" = dead",
                    "key=RUN : V F1.1 = 12.6V",
                    "key=RUN : V F1.2 = 0V",
                    "off G1, unplug H1 : ohm H1 = 0.4ohm",
                    "off G1, unplug H1 : ohm H1 = 0.4ohm"
                ),
                "H1"
            )
            .ShouldBeGreaterThan(0.75);

    /// <summary>The way home is written from the load, so that its half b is the loom's: who writes b and b has meant one side.</summary>
    [Fact]
    public void Tips_on_the_two_sides_of_a_parted_plug_are_asked_about()
    {
        var turned = Fan.Replace("X1:2< ", "X1:2 ", StringComparison.Ordinal);
        const string right = "off G1, unplug X1 : ohm X1:1b X1:2a = 1.6ohm";
        const string wrong = "off G1, unplug X1 : ohm X1:1b X1:2b = 1.6ohm";
        string[] before = ["key=RUN fan=ON : sees \"fan turns\" = dead", "key=RUN fan=ON : V X1:1a = 12.5V"];
        var f = Diagnose(turned, [.. before, wrong]);
        f.Verdicts[^1].Meaning.ShouldContain("X1:1b X1:2a");
        Diagnose(turned, [.. before, right]).Verdicts[^1].Meaning.ShouldNotContain("parted");
        f.OffSheet.ShouldBeLessThan(0.1);
    }
}

/// <summary>Every row of the table of verdict sentences says its own direction, and no other.</summary>
public class VerdictWordsTests
{
    private const string Sheet = """
        sheet "Verdicts"
        nominal 24V dc
        drawn from maker
        control key: OFF*, ON
        given engine: STOPPED*, RUNNING
        part G1 battery 24V emf=25V internal=15mohm
        part G2 charger 28.4V when engine=RUNNING
        part F1 fuse 20A blade
        part S1 switch
          closed 1-2 when key=ON
        part K1 contactor 24V 60ohm
        part M1 motor 24V 60A hazard rotating
        part Y1 coil 24V 20ohm good 18..22ohm
        path G1.+ -[w1 35mm2 1m]- K1.1>2 -[w2 35mm2 1m]- M1 -[w3 35mm2 1m]- G1.-
        path G1.+ -[w4 4mm2 1m]- F1 -[w5 2.5mm2 1m]- S1 -[w6 1.5mm2 1m]- K1.A1>A2 -[w7 1.5mm2 1m]- G1.-
        path S1.2 -[w8 1.5mm2 2m]- Y1 -[w9 1.5mm2 2m]- G1.-
        path G2.+ -[w10 16mm2 1m]- G1.+
        path G2.- -[w11 16mm2 1m]- G1.-
        function "winch turns": M1 when key=ON
        function "valve opens": Y1 when key=ON
        function "charges": V G1.+ G1.- >= 27.6V when engine=RUNNING
        """;

    [Theory]
    [InlineData("off G1, off G2, unplug Y1 : beep w8 = silent", Judgement.High, "Open", "Fewer|path to somewhere")]
    [InlineData("off G1, off G2, unplug Y1 : beep Y1.1 G1.- = beep", Judgement.Low, "path", "More ohms")]
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 0.2ohm", Judgement.Low, "leaks", "Volts are lost")]
    // 5 MΩ and more is sound (IEEE 43), 1 MΩ the least (IEC 60204-1), both from memory.
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 200Mohm", Judgement.Ok, "No leak", "leaks")]
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 5Mohm", Judgement.Ok, "No leak", "leaks")]
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 4.9Mohm", Judgement.Unsure, "Damp", "leaks")]
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 1Mohm", Judgement.Unsure, "Damp", "leaks")]
    [InlineData("off G1, off G2, unplug Y1 : insul Y1.1 G1.- = 0.99Mohm", Judgement.Low, "leaks", "Damp")]
    [InlineData("off G1, off G2 : insul Y1.1 S1.2 = 300Mohm", Judgement.High, "may be open", "leak")]
    [InlineData("off G1, off G2, unplug Y1 : ohm Y1 = 12ohm", Judgement.Low, "maker's range", "sound part")]
    [InlineData("off G1, off G2, unplug Y1 : ohm Y1 = OL", Judgement.High, "Open", "sound part")]
    [InlineData("engine=RUNNING : V G1.+ G1.- = 26.3V", Judgement.Low, "27.6 V", "sound part|volts held")]
    [InlineData("engine=RUNNING : V G1.+ G1.- = 28.1V", Judgement.Ok, "", "lost")]
    [InlineData("key=ON : drop K1.1>2 = 0.03V", Judgement.Ok, "", "are lost")]
    [InlineData("key=ON : drop K1.1>2 = 0.34V", Judgement.High, "are lost", "ittle is lost")]
    [InlineData("key=ON : drop Y1 = 24.6V", Judgement.Ok, "feed and its way home are good", "othing lost|ittle is lost")]
    [InlineData("key=ON : drop S1 = 24.9V", Judgement.High, "open", "ittle is lost")]
    public void A_row_says_its_direction(string line, Judgement judgement, string says, string never)
    {
        var circuit = SheetReader.Read(Sheet).Value.ShouldNotBeNull();
        var space = new FaultSpace(new Machine(circuit));
        var v = Diagnostician.Diagnose(space, [ReadingReader.Read(circuit, line).Value.ShouldNotBeNull(line)]).Verdicts[0];
        v.Judgement.ShouldBe(judgement, v.Meaning);
        v.Meaning.ShouldContain(says);
        v.Meaning.ShouldNotMatch(never);
    }

    /// <summary>What a closed contact may lose is held at its boundary: 0.2 V for a contactor.</summary>
    [Theory]
    [InlineData(0.199, false)]
    [InlineData(0.209, true)]
    public void The_trades_limit_of_a_contact(double volts, bool high)
    {
        var circuit = SheetReader.Read(Sheet).Value.ShouldNotBeNull();
        var v = Diagnostician
            .Diagnose(
                new FaultSpace(new Machine(circuit)),
                [ReadingReader.Read(circuit, FormattableString.Invariant($"key=ON : drop K1.1>2 = {volts}V")).Value!]
            )
            .Verdicts[0];
        (v.Judgement == Judgement.High).ShouldBe(high);
    }
}
