using Zoltric.Core.Checking;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>Modules, timers, chargers and potentiometers by their stated behaviour.</summary>
public class ModuleTests
{
    private const string Controller = """
        sheet "controller"
        nominal 24V dc
        control key: OFF*, RUN
        control man: OFF*, ON
        part G1 battery 24V
        part F1 fuse 10A
        part S1 switch
          closed 1-2 when key=RUN
        part B1 limit
          closed 1-2 when man=ON
        part A1 module "controller"
          supply 1,5 ground 9 from=18V
          input 7 high>6V
          output 14 high 50mohm when powered and in7 and key=RUN
          output 15 low when powered and not in7
          sleeps after 10min at 8mA
        part K1 relay 24V 300ohm
        part H1 lamp 24V 21W
        part H2 lamp 24V 5W
        part SP1 splice
        path G1.+ - F1 - SP1
        path SP1 - S1 - A1.1
        path S1.2 - A1.5
        path SP1 - B1 - A1.7
        path A1.14 - K1.86>85 -[w9]- G1.-
        path A1.9 -[w8]- G1.-
        path SP1 - H2 - A1.15
        path SP1 - K1.30>87 - H1 - G1.-
        function "work lamp": H1 when key=RUN and man=ON
        function "idle lamp": H2 when key=RUN and man=OFF
        """;

    private static string Shows(string sheet, string line, params string[] faults)
    {
        var c = DemoSheets.Read(sheet);
        return Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test, [.. faults.Select(f => DemoSheets.Fault(c, f))]).Text;
    }

    [Theory]
    [InlineData("key=RUN man=ON : sees \"work lamp\"", "", "works")]
    [InlineData("key=RUN : sees \"idle lamp\"", "", "works")]
    [InlineData("key=RUN man=ON : sees H2", "", "dead")]
    [InlineData("man=ON : sees H1", "", "dead")]
    [InlineData("key=RUN man=ON : sees \"work lamp\"", "A1 output 14 dead", "dead")]
    [InlineData("key=RUN : sees \"work lamp\"", "A1 output 14 stuck-on", "stuck-on")]
    [InlineData("key=RUN man=ON : sees \"work lamp\"", "A1 dead", "dead")]
    [InlineData("key=RUN man=ON : sees \"work lamp\"", "w8 open", "dead")]
    [InlineData("key=RUN man=ON : sees \"work lamp\"", "G1 flat 17V", "dead")]
    public void A_module_drives_what_its_lines_say(string line, string fault, string shown) =>
        Shows(Controller, line, fault.Length == 0 ? [] : [fault]).ShouldBe(shown);

    /// <summary>25.2 V over two 200 Ω supplies is 252 mA awake; asleep 8 mA at nominal is 8.4 mA at 25.2 V.</summary>
    [Fact]
    public void It_draws_its_supply_current_and_falls_asleep()
    {
        var c = DemoSheets.Read(Controller);
        var m = new Machine(c);
        Meter.Read(m, DemoSheets.Line(c, "key=RUN man=ON : clamp w8").Test).Value!.Value.ShouldBe(0.252, 0.002);
        Meter
            .Read(m, DemoSheets.Line(c, "key=RUN man=ON, after 10min : clamp w8").Test)
            .Value!.Value.ShouldBe(0.0084 + 0.00025, 0.0001, "and 25 V over the input's 100 kΩ");
        SheetChecker.Check(c, Controller).ShouldBeEmpty();
        DemoSheets.Read(SheetWriter.Write(c)).ShouldBe(c);
    }

    [Fact]
    public void A_timer_waits_and_time_passes_only_in_after()
    {
        const string sheet = """
            sheet "timer"
            nominal 24V dc
            control on: OFF*, ON
            part G1 psu 24V
            part S1 switch
              closed 1-2 when on=ON
            part K1 timer 24V on-delay 5s
            part H1 lamp 24V 5W
            path G1.+ - S1 - K1.86>85 - G1.-
            path G1.+ - K1.30>87 - H1 - G1.-
            """;
        Shows(sheet, "on=ON : sees H1").ShouldBe("dead");
        Shows(sheet, "on=ON, after 4s : sees H1").ShouldBe("dead");
        Shows(sheet, "on=ON, after 10s : sees H1").ShouldBe("works");
        Shows(sheet, "on=ON, on=OFF, after 10s : sees H1").ShouldBe("dead");
        DemoSheets.Read(SheetWriter.Write(DemoSheets.Read(sheet))).ShouldBe(DemoSheets.Read(sheet));
    }

    /// <summary>
    /// Charging by side: 14.2 V at the charger and about 1.1 V lost on the way leaves 13.1 V at the post (common practice, no source).
    /// </summary>
    [Fact]
    public void A_charger_gives_while_its_condition_holds_and_a_bad_joint_eats_its_volts()
    {
        const string sheet = """
            sheet "charging"
            nominal 12V dc
            given engine: STOPPED*, RUNNING
            part G1 battery 12V charge=50%
            part G2 charger 14.2V internal=20mohm when engine=RUNNING
            part D1 diode
            part R1 sensor 10kohm wiper=25%
            path G2.+ -[w1 10mm2 1m]- G1.+
            path G1.- -[w2 10mm2 1m]- G2.-
            path G1.+ - D1 - R1 - G1.-
            function "charges": V G1.+ G1.- >= 13.5V when engine=RUNNING
            """;
        var c = DemoSheets.Read(sheet);
        var m = new Machine(c);
        double Volts(string line, params string[] f) =>
            Meter.Read(m, DemoSheets.Line(c, line).Test, [.. f.Select(x => DemoSheets.Fault(c, x))]).Value!.Value;
        Volts(" : V G1.+ G1.-").ShouldBe(12.2, 0.01);
        Volts("engine=RUNNING : V G1.+ G1.-").ShouldBe(14.1, 0.05);
        // 14.2 V − 12.2 V over 0.5 Ω taking and 0.61 Ω in the way: 1.8 A, so about 1.1 V is lost.
        Volts("engine=RUNNING : V G2.+ G1.+", "w1 resists 0.61ohm").ShouldBe(1.09, 0.03);
        Volts("engine=RUNNING : V G1.+ G1.-", "w1 resists 0.61ohm").ShouldBe(13.08, 0.03);
        Meter.Read(m, DemoSheets.Line(c, "engine=RUNNING : sees \"charges\"").Test).Text.ShouldBe("works");
        Meter
            .Read(m, DemoSheets.Line(c, "engine=RUNNING : sees \"charges\"").Test, [DemoSheets.Fault(c, "w1 resists 0.61ohm")])
            .Text.ShouldBe("dead");
        // 0.65 V over the diode, the wiper a quarter of the way down the rest.
        Volts(" : V R1.1").ShouldBe(12.2 - 0.65, 0.01);
        Volts(" : V R1.3").ShouldBe(0.75 * (12.2 - 0.65), 0.01);
    }

    /// <summary>
    /// β 3950 and 10 kΩ at 25 °C: the common table of such thermistors says 3.59 kΩ at 50 °C and 32.6 kΩ at 0 °C within 4 %; written from
    /// memory.
    /// </summary>
    [Theory]
    [InlineData(25, 10000)]
    [InlineData(50, 3590)]
    [InlineData(0, 32650)]
    public void A_thermistor_follows_its_beta(double celsius, double ohms)
    {
        var c = DemoSheets.Read(
            $"""
            sheet "thermistor"
            nominal 5V dc
            part U1 psu 5V
            part B1 sensor 10kohm beta=3950 temp={celsius}C
            path U1.+ - B1 - U1.-
            """
        );
        Meter.Read(new Machine(c), DemoSheets.Line(c, "off U1, unplug B1 : ohm B1.1 B1.2").Test).Value!.Value.ShouldBe(ohms, 0.045 * ohms);
    }
}
