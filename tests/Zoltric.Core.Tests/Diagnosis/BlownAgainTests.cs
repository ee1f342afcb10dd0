using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// A fuse that is found blown, renewed and goes again when one thing is turned on; a breaker that will not stay in; what is drawn after a
/// module should sleep. Common practice, no source.
/// </summary>
public sealed class BlownAgainTests
{
    private const string Mower = """
        sheet "Bank mower"
        nominal 12V dc
        control key: OFF*, RUN, START held
        control deck: OFF*, ON
        control lamps: OFF*, ON
        part G1 battery 12V at "frame"
        part F1 fuse 15A at "frame"
        part S1 switch "key switch" at "dash"
          closed B-R when key=RUN or key=START
          closed B-S when key=START
        part S2 switch "deck switch" at "dash"
          closed 1-2 when deck=ON
        part S3 switch "lamp switch" at "dash"
          closed 1-2 when lamps=ON
        part Y1 coil 12V 3.4ohm "deck clutch" at "deck"
        part Y2 coil 12V 12ohm "fuel valve" at "engine"
        part H1 lamp 12V 35W "work lamp" at "hood"
        part M1 starter 12V 120A "starter" at "engine"
        part GND1 stud at "engine"
        path G1.+ -[w1 25mm2 1m]- M1.B
        path G1.+ -[w2 2.5mm2 1m]- F1 -[w3 2.5mm2 1m]- S1.B
        path S1.S -[w4 2.5mm2 2m]- M1.S
        path M1.G = GND1 -[w5 25mm2 1m]- G1.-
        path S1.R -[w6 1.5mm2 1m]- S2 -[w7 1.5mm2 2m]- Y1 -[w8 1.5mm2 1m]- GND1
        path S1.R -[w9 1.5mm2 1m]- S3 -[w10 1.5mm2 2m]- H1 -[w11 1.5mm2 1m]- GND1
        path S1.R -[w12 1mm2 1m]- Y2 -[w13 1mm2 1m]- GND1
        function "engine cranks": M1 when key=START
        function "deck turns": Y1 when key=RUN and deck=ON
        function "lamp lights": H1 when key=RUN and lamps=ON
        function "fuel flows": Y2 when key=RUN
        """;

    private const string Pump = """
        sheet "Sump pump"
        nominal 400V ac
        control run: OFF*, ON
        part T0 mains 400V 3ph at "wall"
        part Q1 breaker 3pole 10A at "panel"
        part S1 switch at "panel"
          closed 1-2 when run=ON
          closed 3-4 when run=ON
          closed 5-6 when run=ON
        part M1 motor3 400V 3A star "pump" at "sump"
        path T0.L1 - Q1.1>2 - S1.1>2 -[w1]- M1.U
        path T0.L2 - Q1.3>4 - S1.3>4 -[w2]- M1.V
        path T0.L3 - Q1.5>6 - S1.5>6 -[w3]- M1.W
        function "pump turns": M1 when run=ON
        """;

    private const string Chiller = """
        sheet "Glaze chiller"
        nominal 230V ac
        control run: OFF*, ON
        part T0 mains 230V at "wall"
        part Q1 breaker 16A at "panel"
        part K1 contactor 230V 8W at "panel"
        part S1 switch at "panel"
          closed 1-2 when run=ON
        part F1 overload 9A at "panel"
        part M1 motor1 230V 7A run=2ohm start=7ohm "compressor" at "roof"
        part C1 capacitor 35uF 440V at "roof"
        path T0.L - Q1 - K1.1>2 -[w1]- F1.1>2 -[w2]- M1.R
        path M1.R -[w3]- C1 -[w4]- M1.S
        path M1.C -[w5]- T0.N
        path Q1.2 - S1 - F1.95>96 -[w6]- K1.A1>A2 -[w7]- T0.N
        function "compressor runs": M1 when run=ON
        """;

    private static double On(Findings f, params string[] tags) =>
        f.Suspects.Where(g => g.Faults.All(x => tags.Contains(x.Target))).Sum(g => g.Share);

    /// <summary>Whether the second look is said with the switch on, or alone right after it was turned on.</summary>
    [Theory]
    [InlineData("key=RUN deck=ON : looks F1 = bad")]
    [InlineData("key=RUN deck=ON : sees \"deck turns\" = dead", ": looks F1 = bad")]
    public void A_new_fuse_that_goes_with_one_switch_names_what_that_switch_feeds(params string[] again)
    {
        var f = Diagnose(
            Mower,
            [
                "key=RUN deck=ON : sees \"deck turns\" = dead",
                ": looks F1 = bad",
                ": replaced F1",
                "key=RUN : sees \"fuel flows\" = works",
                .. again,
            ]
        );
        On(f, "w7", "Y1", "w6", "S2").ShouldBeGreaterThan(0.5);
        f.Suspects[0].Faults[0].Target.ShouldNotBe("F1");
    }

    /// <summary>One that is new and goes before anything is tried has its short on what is always fed.</summary>
    [Fact]
    public void A_new_fuse_that_goes_by_itself_has_its_short_before_the_key()
    {
        var f = Diagnose(Mower, "key=RUN : sees \"fuel flows\" = dead", ": looks F1 = bad", ": replaced F1", ": looks F1 = bad");
        f.Suspects[0].Faults[0].Target.ShouldBe("w3");
    }

    /// <summary>A new fuse that holds with one thing unplugged, where two went with it joined: what was unplugged blew them.</summary>
    [Fact]
    public void A_new_fuse_that_holds_with_the_load_off_tells_the_load_from_its_wires()
    {
        string[] twice =
        [
            "key=RUN deck=ON : sees \"deck turns\" = dead",
            ": looks F1 = bad",
            ": replaced F1",
            "key=RUN deck=ON : looks F1 = bad",
            ": replaced F1",
        ];
        var f = Diagnose(Mower, [.. twice, "unplug Y1, key=RUN deck=ON : looks F1 = good"]);
        f.Suspects[0].Faults[0].Target.ShouldBe("Y1");
        // Until then its wires are as likely.
        On(Diagnose(Mower, twice), "Y1").ShouldBeLessThan(2 * On(Diagnose(Mower, twice), "w6", "w7"));
        On(f, "Y1").ShouldBeGreaterThan(5 * On(f, "w6", "w7"));
        f.Verdicts[^1].Meaning.ShouldContain("The new one holds");
        // One that was not switched on since it was put in has not shown that it holds.
        Diagnose(Mower, [.. twice, ": looks F1 = good"]).Verdicts[^1].Meaning.ShouldNotContain("holds");
    }

    /// <summary>
    /// A solenoid of two windings whose contact stays open keeps its pull-in winding at work, and a small fuse goes behind it (20 A here,
    /// 24 V over 1 ohm): who finds that fuse blown after a start has not found the end of it.
    /// </summary>
    [Fact]
    public void A_start_that_blows_its_fuse_points_to_the_starter_too()
    {
        const string tug = """
            sheet "Yard tug"
            nominal 24V dc
            control key: OFF*, RUN, START held
            part G1 battery 24V at "frame"
            part F1 fuse 15A at "cab"
            part S1 switch "key switch" at "cab"
              closed B-S when key=START
              closed B-R when key=RUN or key=START
            part Y1 coil 24V 30ohm "fuel valve" at "engine"
            part M1 starter 24V 150A solenoid=2.4ohm pullwinding=1ohm "starter" at "engine"
            path G1.+ -[w1 50mm2 1m]- M1.B
            path G1.+ -[w2 4mm2 2m]- F1 -[w3 2.5mm2 1m]- S1.B
            path S1.S -[w4 2.5mm2 3m]- M1.S
            path S1.R -[w6 1mm2 3m]- Y1 -[w7 1mm2 1m]- G1.-
            path M1.G -[w5 50mm2 1m]- G1.-
            function "engine cranks": M1 when key=START
            function "fuel flows": Y1 when key=RUN
            """;
        string[] blown = ["key=START : sees \"engine cranks\" = dead", ": looks F1 = bad"];
        On(Diagnose(tug, blown), "M1").ShouldBeGreaterThan(0.1);
        var again = Diagnose(tug, [.. blown, ": replaced F1", "key=START : looks F1 = bad"]);
        On(again, "M1").ShouldBeGreaterThan(0.3);
        On(again, "F1").ShouldBeLessThan(0.05);
        // From then on it is open, and volts that are missing behind it at rest are no news.
        string[] gone = [.. blown, ": replaced F1", "key=START : looks F1 = bad", ": V F1.2 = 0V", "key=RUN : V Y1.1 = 0V"];
        On(Diagnose(tug, gone), "M1").ShouldBe(On(again, "M1"), 0.05);
        // The same where nobody looked: what blows it at the start has it open in what is read next.
        string[] unseen = [.. blown, ": replaced F1", "key=START : sees \"engine cranks\" = dead", "key=RUN : V F1.2 = 0V"];
        On(Diagnose(tug, unseen), "M1").ShouldBe(On(again, "M1"), 0.15);
        // Nothing is ordered that would need a third.
        Diagnose(tug, gone)
            .Next.Where(a => a.Kind != AdviceKind.ProveDead)
            .ShouldAllBe(a => $"{a.Test.Setup}".Contains("pull F1", StringComparison.Ordinal));
        // Ohms on the dead side still tell a wire that touches the frame.
        On(Diagnose(tug, [.. gone, "off G1 : ohm S1.S G1.- = 0.1ohm"]), "w4").ShouldBeGreaterThan(0.4);
        // What else the new fuse feeds is no such suspect.
        On(Diagnose(tug, ["key=RUN : sees \"fuel flows\" = dead", ": looks F1 = bad"]), "M1").ShouldBeLessThan(0.1);
    }

    /// <summary>
    /// A new fuse is whole before the machine is tried and gone after it: two readings of one point that differ are no slip then.
    /// </summary>
    [Fact]
    public void What_was_live_behind_the_new_fuse_and_is_dead_now_was_no_slip()
    {
        var f = Diagnose(
            Mower,
            "key=RUN deck=ON : sees \"deck turns\" = dead",
            "key=RUN : V F1.2 = 0V",
            ": replaced F1",
            "key=RUN : V F1.2 = 12.5V",
            "key=RUN deck=ON : sees \"deck turns\" = dead",
            "key=RUN : V F1.2 = 0V"
        );
        On(f, "Y1", "w6", "w7").ShouldBeGreaterThan(0.4);
        On(f, "Y1", "w6", "w7").ShouldBeGreaterThan(On(f, "G1", "w2"));
    }

    /// <summary>An engine that does not crank is not run for a test; once it does, it may be.</summary>
    [Fact]
    public void Nobody_is_sent_to_a_running_engine_while_it_does_not_crank()
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit("TT-4")));
        bool Runs(params string[] lines) =>
            new Candidates(space, [.. lines.Select(l => DemoSheets.Line(space.Circuit, l))], Limits.None).Setups.Any(s =>
                $"{s}".Contains("engine=RUNNING", StringComparison.Ordinal)
            );
        Runs("key=START gear=NEUTRAL : sees \"engine cranks\" = dead").ShouldBeFalse();
        Runs("key=START gear=NEUTRAL : sees \"engine cranks\" = dead", "key=START gear=NEUTRAL : sees \"engine cranks\" = works")
            .ShouldBeTrue();
        Runs("lights=ON : sees \"left headlamp lights\" = dead").ShouldBeTrue();
    }

    /// <summary>Its meter shows what a real one would: a fuse that went at the start is open at rest, until a new one is in.</summary>
    [Fact]
    public void A_simulated_machine_keeps_its_blown_fuse()
    {
        var circuit = DemoSheets.Read(Mower);
        var machine = new SimulatedMachine(new Machine(circuit), [DemoSheets.Fault(circuit, "w4 grounded")]);
        Test At(string line) => DemoSheets.Line(circuit, line).Test;
        double Volts(string setup)
        {
            machine.Stand(At($"{setup} : V F1.2").Setup);
            machine.Touch(At(" : V F1.2").Probe);
            return machine.Shows(MeterFunction.DcVolts)!.Value!.Value;
        }
        Volts("").ShouldBeGreaterThan(12);
        Volts("key=START").ShouldBeLessThan(0.5);
        Volts("").ShouldBeLessThan(0.5);
        machine.Renew("F1").ShouldBeTrue();
        Volts("").ShouldBeGreaterThan(12);
        Volts("key=START").ShouldBeLessThan(0.5);
        machine.Renew("M1").ShouldBeFalse();
    }

    /// <summary>What runs with everything at rest is as sure a complaint as what does not run.</summary>
    [Fact]
    public void A_load_that_is_seen_running_by_itself_is_no_slip()
    {
        var f = Diagnose(Mower, "key=RUN : sees Y1 = works", "key=RUN : V S2.2 = 12.4V");
        On(f, "S2", "w7").ShouldBeGreaterThan(0.9);
    }

    /// <summary>
    /// A starter that cannot turn draws on and holds its solenoid; one that lets go and is pulled in again has a supply that gives way.
    /// </summary>
    [Fact]
    public void What_chatters_on_few_volts_is_the_battery_and_no_seized_starter()
    {
        var f = Diagnose(
            Mower,
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears M1 = chatters",
            ": V G1.+ G1.- = 12.5V",
            "key=START : V G1.+ G1.- = 6.9V"
        );
        On(f, "G1").ShouldBeGreaterThan(3 * On(f, "M1"));
    }

    /// <summary>One fuse, renewed, and all works: nothing else is looked for.</summary>
    [Fact]
    public void A_new_fuse_that_holds_was_the_trouble()
    {
        var f = Diagnose(
            Mower,
            "key=RUN deck=ON : sees \"deck turns\" = dead",
            ": looks F1 = bad",
            ": replaced F1",
            "key=RUN deck=ON : sees \"deck turns\" = works"
        );
        // The rest is what would blow it in a setting that was not tried since.
        On(f, "F1").ShouldBeGreaterThan(0.6);
        f.Suspects[0].Faults[0].Target.ShouldBe("F1");
    }

    /// <summary>Two phases of a star that touch: one of the three readings between its terminals differs, and the breaker goes at
    /// once.</summary>
    [Fact]
    public void A_motor_shorted_from_phase_to_phase()
    {
        var f = Diagnose(
            Pump,
            "run=ON : sees \"pump turns\" = dead",
            "run=ON : looks Q1 = bad",
            "off T0, unplug M1 : ohm M1.U M1.V = 9.1ohm",
            "off T0, unplug M1 : ohm M1.V M1.W = 1.6ohm",
            "off T0, unplug M1 : ohm M1.U M1.W = 9.0ohm"
        );
        f.Suspects[0].Faults[0].Target.ShouldBe("M1");
        On(f, "M1").ShouldBeGreaterThan(0.5);
    }

    /// <summary>What hums is read in the seconds before its overload and its breaker open.</summary>
    [Fact]
    public void A_compressor_that_hums_has_no_capacitor_or_is_stuck()
    {
        var f = Diagnose(Chiller, "run=ON : sees \"compressor runs\" = dead", "run=ON : hears M1 = hums", "run=ON : clamp w2 = 34A");
        On(f, "C1", "w3", "w4", "M1").ShouldBeGreaterThan(0.9);
        f.OffSheet.ShouldBeLessThan(0.1);
        f.Verdicts[1].Meaning.ShouldContain("does not turn");
        var silent = Diagnose(Chiller, "run=ON : sees \"compressor runs\" = dead", "run=ON : hears M1 = silent", "run=ON : clamp w2 = 0A");
        On(silent, "C1").ShouldBeLessThan(0.3);
    }

    /// <summary>One contact that loses volts is likelier than four joints that would each give off a hundred watts.</summary>
    [Fact]
    public void A_pump_that_is_slow_behind_one_burnt_contact()
    {
        const string sheet = """
            sheet "Tail lift"
            nominal 24V dc
            control lift: OFF*, UP held
            part G1 battery 24V emf=25.2V internal=10mohm
            part F1 fuse 150A at "frame"
            part Q1 isolator at "frame"
            part K1 contactor 24V 40ohm at "pack"
            part S1 button at "rear"
              closed 1-2 when lift=UP
            part M1 motor 24V 1200W "lift pump" at "pack"
            part SP1 splice at "pack"
            path G1.+ - F1 -[w1]- Q1 -[w2]- K1.1>2 -[w3]- M1 -[w4]- SP1 -[w5]- G1.-
            path Q1.2 -[w6]- S1 -[w7]- K1.A1>A2 -[w8]- SP1
            function "lift rises": M1 when lift=UP
            """;
        var f = Diagnose(sheet, "lift=UP : sees \"lift rises\" = weak", "lift=UP : V G1.+ G1.- = 24.8V", "lift=UP : drop K1.1>2 = 3.1V");
        f.Suspects[0].Faults[0].Target.ShouldBe("K1");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.6);
    }

    /// <summary>A jammed pump draws its locked amps on all three.</summary>
    [Fact]
    public void A_pump_that_is_jammed()
    {
        var f = Diagnose(
            Pump.Replace("Q1.1>2 -", "Q1.1>2 -[w0]-", StringComparison.Ordinal),
            "run=ON : sees \"pump turns\" = dead",
            "run=ON : clamp w1 = 17A",
            "run=ON : clamp w2 = 17.5A",
            "run=ON : clamp w3 = 16.8A"
        );
        f.Suspects[0].Faults[0].Words.ShouldBe("seized");
    }

    private const string Gantry = """
        sheet "Sluice hoist SH-2: up and down"
        nominal 24V dc
        drawn from traced
        control key: OFF*, ON
        control lever: CENTRE*, UP held, DOWN held
        part G1 battery 24V internal=15mohm at "box"
        part F1 fuse 10A blade at "box"
        part S1 switch "key" at "desk"
          closed 1-2 when key=ON
        part S2 switch "lever" at "desk"
          closed 1-2 when lever=UP
          closed 1-3 when lever=DOWN
        part Y1 coil 24V 24W "up valve" at "hoist"
        part Y2 coil 24V 24W "down valve" at "hoist"
        part H1 lamp 24V 5W "ready lamp" at "desk"
        part GND1 stud at "frame"
        path G1.+ -[w1 4mm2 1m]- F1 -[w2 2.5mm2 2m]- S1 -[w3 1.5mm2 1m]- S2.1
        path S2.2 -[w4 1mm2 6m]- Y1 -[w5 1mm2 1m]- GND1
        path S2.3 -[w6 1mm2 6m]- Y2 -[w7 1mm2 1m]- GND1
        path S1.2 -[w8 1mm2 1m]- H1 -[w9 1mm2 1m]- GND1
        path GND1 -[w10 4mm2 1m]- G1.-
        function "hoist rises": Y1 when key=ON and lever=UP
        function "hoist lowers": Y2 when key=ON and lever=DOWN
        function "ready lamp lights": H1 when key=ON
        """;

    /// <summary>
    /// What blew the fuse lies behind a lever that was let go since: with the fuse whole it would explain none of the readings, and it is
    /// suspected all the same, however many they are. (Seen: after six readings it was no suspect any more, and the fuse alone was found.)
    /// </summary>
    [Fact]
    public void What_blew_the_fuse_at_another_setting_stays_suspected_however_much_is_read()
    {
        string[] lines =
        [
            "key=ON lever=UP : sees \"hoist rises\" = dead",
            "key=ON : sees \"ready lamp lights\" = dead",
            "key=ON lever=DOWN : sees \"hoist lowers\" = dead",
            "key=ON : V S2.1 = 0V",
            "key=ON : V S1.1 = 0V",
            "key=ON : drop F1 = 25.2V",
            " : V F1.2 = 0V",
            "key=ON : V F1.2 = 0V",
            " : V F1.1 = 25.2V",
        ];
        Share(Diagnose(Gantry, lines), "w4", "Y1", "w6", "Y2").ShouldBeGreaterThan(0.05);
        var f = Diagnose(Gantry, [.. lines, "off G1 : ohm S2.2 GND1 = 0.4ohm"]);
        Share(f, "w4", "Y1").ShouldBeGreaterThan(0.9);
        f.Suspects[0].Also.ShouldContain(a => a.Target == "F1");
    }
}
