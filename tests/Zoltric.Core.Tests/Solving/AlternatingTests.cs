using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>Phasors against published relations and against ngspice's AC analysis.</summary>
public class AlternatingTests
{
    private static double Read(string sheet, string line, params string[] faults)
    {
        var c = DemoSheets.Read(sheet);
        var shown = Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test, [.. faults.Select(f => DemoSheets.Fault(c, f))]);
        return shown.Value ?? throw new InvalidOperationException($"{line}: {shown.Text}");
    }

    private static string ThreePhase(string connection) =>
        $"""
            sheet "three phases"
            nominal 400V ac
            part T1 mains 400V 3ph internal=1mohm
            part E1 heater3 400V 9kW {connection}
            path T1.L1 -[w1 50mm2 1m]- E1.U
            path T1.L2 -[w2 50mm2 1m]- E1.V
            path T1.L3 -[w3 50mm2 1m]- E1.W
            function "heats": E1
            """;

    /// <summary>
    /// Heat left with one element open: star 50 %, delta 67 % (relation of the handbook, computed from I²R); line current 9 kW / (√3 · 400
    /// V) = 13.0 A.
    /// </summary>
    [Theory]
    [InlineData("star", "E1 open U", 0.50)]
    [InlineData("delta", "E1 open U-V", 2.0 / 3)]
    public void One_element_open(string connection, string fault, double left)
    {
        var sheet = ThreePhase(connection);
        Read(sheet, " : VAC T1.L1 T1.L2").ShouldBe(400, 0.1);
        Read(sheet, " : VAC T1.L1").ShouldBe(400 / Math.Sqrt(3), 0.1);
        Read(sheet, " : clamp w1").ShouldBe(9000 / (Math.Sqrt(3) * 400), 0.02);
        double Heat(params string[] f)
        {
            var c = DemoSheets.Read(sheet);
            var op = new Machine(c).Run(Setup.Rest, [.. f.Select(x => DemoSheets.Fault(c, x))]);
            var e = c.Parts.ToList().FindIndex(p => p.Tag == "E1");
            return Enumerable.Range(0, 3).Sum(l => Math.Abs(op.LinkAmps(e, l) * op.LinkVolts(e, l)));
        }

        Heat().ShouldBe(9000, 10);
        (Heat(fault) / Heat()).ShouldBe(left, 0.002);
        var circuit = DemoSheets.Read(sheet);
        Meter
            .Read(new Machine(circuit), DemoSheets.Line(circuit, " : sees \"heats\"").Test, [DemoSheets.Fault(circuit, fault)])
            .Text.ShouldBe("weak");
    }

    /// <summary>
    /// Split phase: 240 V across the legs; one leg lost leaves 120 V to neutral at both ends and nothing across (computed).
    /// </summary>
    [Fact]
    public void One_leg_lost()
    {
        const string sheet = """
            sheet "dryer heater"
            nominal 240V ac
            part T1 mains 120/240V split
            part E1 heater 240V 5.4kW
            path T1.L1 -[w1]- E1 -[w2]- T1.L2
            """;
        Read(sheet, " : VAC E1.1 E1.2").ShouldBe(240, 2.5);
        Read(sheet, " : VAC E1.1", "T1 lost L2").ShouldBe(120, 0.5);
        Read(sheet, " : VAC E1.2", "T1 lost L2").ShouldBe(120, 0.5);
        Read(sheet, " : VAC E1.1 E1.2", "T1 lost L2").ShouldBe(0, 0.01);
    }

    /// <summary>Ratio at no load, regulation under load, and a control relay fed through it; direct current sees copper only.</summary>
    [Fact]
    public void A_control_transformer()
    {
        const string sheet = """
            sheet "control"
            nominal 230V ac
            control on: OFF*, ON
            part T0 mains 230V
            part T1 transformer 230V:24V 100VA impedance=0.5ohm
            part F1 fuse 6A
            part S1 switch
              closed 1-2 when on=ON
            part K1 contactor 24V 5W
            part R1 resistor 24V 4.6ohm
            path T0.L -[w1]- T1.P1
            path T1.P2 -[w2]- T0.N
            path T1.S1 -[w3]- F1 -[w4]- S1 -[w5]- K1.A1>A2 -[w6]- T1.S2
            path F1.2 -[w7]- K1.1>2 -[w8]- R1 -[w9]- T1.S2
            """;
        Read(sheet, " : VAC T1.S1 T1.S2").ShouldBe(24, 0.01);
        // 4.6 Ω and the coil's 115 Ω beside it behind 0.5 Ω: 24 · 4.42 / (4.42 + 0.5 + a few joints).
        Read(sheet, "on=ON : VAC T1.S1 T1.S2").ShouldBe(21.6, 0.1);
        Read(sheet, "on=ON : hears K1".Replace("hears K1", "VAC R1.1 R1.2", StringComparison.Ordinal)).ShouldBe(21.5, 0.15);
        Read(sheet, "off T0 : ohm T1.S1 T1.S2").ShouldBe(0.25, 0.01);
        Read(sheet, "on=ON : VAC R1.1 R1.2", "T1 open P1-P2").ShouldBe(0, 0.01);
        Read(sheet, " : V T1.S1 T1.S2").ShouldBe(0, 1e-6);
    }

    /// <summary>An unbalanced star with its neutral in place and lost, as ngspice's AC analysis has it.</summary>
    [Theory]
    [InlineData("")]
    [InlineData("w4 open")]
    public void An_unbalanced_star_agrees_with_ngspice(string fault)
    {
        const string sheet = """
            sheet "unbalanced"
            nominal 230V ac
            part T1 mains 400V 3ph internal=100mohm
            part R1 resistor 10ohm
            part R2 resistor 25ohm
            part R3 resistor 60ohm
            part SP1 splice
            path T1.L1 -[w1]- R1 -[w5]- SP1
            path T1.L2 -[w2]- R2 -[w6]- SP1
            path T1.L3 -[w3]- R3 -[w7]- SP1
            path SP1 -[w4]- T1.N
            """;
        var deck = $"""
            unbalanced
            V1 a 0 ac 230.9401077 0
            V2 b 0 ac 230.9401077 -120
            V3 c 0 ac 230.9401077 120
            Ra a a1 0.1
            Rb b b1 0.1
            Rc c c1 0.1
            Rw1 a1 a2 0.005
            Rw2 b1 b2 0.005
            Rw3 c1 c2 0.005
            R1 a2 a3 10
            R2 b2 b3 25
            R3 c2 c3 60
            Rl1 a3 n 0.0051
            Rl2 b3 n 0.0051
            Rl3 c3 n 0.0051
            Rn n 0 {(fault.Length == 0 ? "0.0051" : "1e9")}
            .control
            ac lin 1 50 50
            print vm(a2) vm(b2) vm(c2) vm(n)
            quit 0
            .endc
            .end
            """;
        var spice = Outside.NgspiceDeck.Print(deck);
        var c = DemoSheets.Read(sheet);
        var machine = new Machine(c);
        Fault[] faults = fault.Length == 0 ? [] : [DemoSheets.Fault(c, fault)];
        var op = machine.Run(Setup.Rest, faults);
        foreach (var (point, name) in new[] { ("R1.1", "vm(a2)"), ("R2.1", "vm(b2)"), ("R3.1", "vm(c2)"), ("SP1", "vm(n)") })
        {
            var at = point.IndexOf('.', StringComparison.Ordinal);
            var volts = op.AcVolts(op.Node(at < 0 ? new Terminal(point, "") : new Terminal(point[..at], point[(at + 1)..])), -1).Magnitude;
            volts.ShouldBe(spice[name], Math.Max(1e-3, 1e-3 * spice[name]), name);
        }
    }

    /// <summary>
    /// Mains to the frame comes home by the protective earth and opens the fuse, whatever the sheet reads its volts against.
    /// </summary>
    [Fact]
    public void A_short_to_frame_on_mains_comes_home_by_the_earth()
    {
        const string sheet = """
            sheet "panel"
            nominal 24V dc
            reference G1.-
            part G1 psu 24V separated
            part T1 mains 230V
            part F1 fuse 10A
            part E1 heater 230V 1kW
            part H1 lamp 24V 5W
            path T1.L -[w1 1.5mm2 1m]- F1 -[w2 1.5mm2 1m]- E1 -[w3 1.5mm2 1m]- T1.N
            path G1.+ -[w4 1mm2 1m]- H1 -[w5 1mm2 1m]- G1.-
            function "heats": E1
            """;
        Read(sheet, " : VAC E1.1 T1.N").ShouldBe(230, 2);
        Read(sheet, " : VAC E1.1 T1.N", "w2 grounded 0.1ohm").ShouldBeLessThan(1);
        // The other side keeps its own reference.
        Read(sheet, " : V H1.1", "w2 grounded 0.1ohm").ShouldBe(24, 0.5);
        Read(sheet, " : V H1.1", "w4 grounded 0.1ohm").ShouldBeLessThan(20);
    }

    /// <summary>
    /// A class 10 overload lets a start at five times its amps pass for seconds, and trips on a rotor that never turns (IEC 60947-4-1,
    /// from memory).
    /// </summary>
    [Theory]
    [InlineData("", "works", "good")]
    [InlineData("M1 seized", "dead", "bad")]
    [InlineData("C1 open", "dead", "bad")]
    public void Start_of_a_single_phase_motor_behind_its_overload(string fault, string motor, string overload)
    {
        var c = DemoSheets.Read(
            """
            sheet "compressor"
            nominal 230V ac
            control run: OFF*, ON
            part T0 mains 230V
            part S1 switch
              closed 1-2 when run=ON
            part F1 overload 10A
            part M1 motor1 230V 8A run=1.8ohm start=6ohm locked=40A
            part C1 capacitor 40uF 440V
            path T0.L - S1 - F1.1>2 - M1.R
            path M1.R - C1 - M1.S
            path M1.C - T0.N
            function "runs": M1 when run=ON
            """
        );
        Fault[] faults = fault.Length == 0 ? [] : [DemoSheets.Fault(c, fault)];
        string Says(string what) => Meter.Read(new Machine(c), DemoSheets.Line(c, "run=ON : " + what).Test, faults).Text;
        Says("sees \"runs\"").ShouldBe(motor);
        Says("looks F1").ShouldBe(overload);
    }

    /// <summary>The poles of a breaker are one mechanism (IEC 60898-1): an earth fault on one phase takes the others with it.</summary>
    [Fact]
    public void One_pole_of_a_breaker_takes_the_others_with_it()
    {
        const string sheet = """
            sheet "three poles"
            nominal 400V ac
            part T0 mains 400V 3ph
            part Q1 breaker 3pole 16A
            part M1 motor3 400V 4A star
            path T0.L1 - Q1.1>2 - M1.U
            path T0.L2 - Q1.3>4 - M1.V
            path T0.L3 - Q1.5>6 -[w1]- M1.W
            function "turns": M1
            """;
        Read(sheet, " : VAC Q1.2 Q1.4").ShouldBe(400, 1);
        Read(sheet, " : VAC Q1.2 Q1.4", "w1 grounded 0.5ohm").ShouldBeLessThan(1);
    }

    /// <summary>An isolator that does not open leaves the machine alive with its handle at off; only where some line opens it.</summary>
    [Fact]
    public void An_isolator_may_stay_closed()
    {
        const string sheet = """
            sheet "isolator"
            nominal 230V ac
            control main: OFF*, ON
            part T0 mains 230V
            part Q1 isolator 2pole
              closed 1-2 when main=ON
            part H1 lamp 230V 60W
            path T0.L - Q1.1>2 - H1 - Q1.4>3 - T0.N
            function "lights": H1 when main=ON
            """;
        Read(sheet, " : VAC H1.1 H1.2").ShouldBeLessThan(1);
        Read(sheet, " : VAC H1.1 H1.2", "Q1 stuck-closed").ShouldBe(230, 1);
        DemoSheets
            .Read(sheet.Replace("  closed 1-2 when main=ON\n", "", StringComparison.Ordinal))
            .FindPart("Q1")!
            .Model.Faults.ShouldNotContain(m => m.Words.StartsWith("stuck-closed", StringComparison.Ordinal));
    }
}
