using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Outside;

/// <summary>
/// The machine over time against ngspice's transient analysis of a netlist written by hand: peaks within 1 %, instants within 2 %. Ohms and
/// storage are written into the netlist as the models state them (docs/models.md).
/// </summary>
public sealed class TransientTests
{
    private const double PeakWithin = 0.01,
        TimeWithin = 0.02;

    private const string Head = """
        sheet "bench"
        nominal 12V dc
        control on: OFF*, ON
        part G1 battery 12V emf=12.6V internal=10mohm
        part S1 switch
          closed 1-2 when on=ON
        """;

    private static Machine Of(string sheet) => new(SheetReader.Read(Head + "\n" + sheet).Value.ShouldNotBeNull());

    private static Waveforms Run(Machine machine, double seconds, double step, string[] probes, params (double At, string Setup)[] moves) =>
        new TimeSimulation(machine, []) { Bounces = false }.Run(
            Setup.Rest,
            moves.Select(m => new TimedMove(
                m.At,
                [.. DemoSheets.Line(machine.Circuit, $"{m.Setup} : V G1.+ = 0V").Test.Setup.Steps.SelectMany(s => s)]
            )),
            seconds,
            step,
            [.. probes.Select(p => DemoSheets.Line(machine.Circuit, $" : {p} = 0{(p[0] == 'V' ? "V" : "A")}").Test.Probe)]
        );

    /// <summary>Instants and values of one vector of a transient.</summary>
    private static (double[] Seconds, double[] Values) Spice(string netlist, double seconds, double step, string vector)
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-transient");
        try
        {
            var (deck, data) = (Path.Combine(folder.FullName, "t.cir"), Path.Combine(folder.FullName, "t.data"));
            File.WriteAllText(
                deck,
                FormattableString.Invariant(
                    $"""
                    transient
                    {netlist}
                    .options reltol=1e-5 method=trap
                    .control
                    tran {step} {seconds} 0 {step} uic
                    wrdata {data} {vector}
                    quit
                    .endc
                    .end
                    """
                )
            );
            using var run = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", deck]) { RedirectStandardOutput = true, RedirectStandardError = true }
            )!;
            var said = run.StandardOutput.ReadToEndAsync();
            var wrong = run.StandardError.ReadToEndAsync();
            run.WaitForExit(60_000).ShouldBeTrue();
            File.Exists(data).ShouldBeTrue($"{said.Result}{wrong.Result}");
            var rows = File.ReadAllLines(data)
                .Select(l =>
                    l.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => double.Parse(x, CultureInfo.InvariantCulture)).ToArray()
                )
                .ToList();
            return ([.. rows.Select(r => r[0])], [.. rows.Select(r => r[1])]);
        }
        finally
        {
            folder.Delete(true);
        }
    }

    /// <summary>When a value is first reached, rising or falling, by a straight line between two instants.</summary>
    private static double Reached(double[] seconds, double[] values, double level, double from = 0)
    {
        for (var i = 1; i < values.Length; i++)
            if (seconds[i] >= from && values[i - 1] < level != values[i] < level)
                return seconds[i - 1] + (seconds[i] - seconds[i - 1]) * (level - values[i - 1]) / (values[i] - values[i - 1]);
        throw new InvalidOperationException($"{level} is never reached");
    }

    private static void Near(double ours, double theirs, double within) =>
        ours.ShouldBeInRange(theirs - within * Math.Abs(theirs), theirs + within * Math.Abs(theirs));

    private const string Valve = """
        part Y1 coil 12V 12ohm
        path G1.+ -[w1 1mm2 1m]- S1 -[w2 1mm2 1m]- Y1 -[w3 1mm2 1m]- G1.-
        """;

    /// <summary>Ohms of a wire of 1 mm² and 1 m and of a closed contact, as the machine has them.</summary>
    private static double Wire(Machine m, string id) => m.Circuit.FindWire(id)!.Ohms;

    /// <summary>
    /// A valve coil switched on: by the textbook (Kuphaldt, Lessons in Electric Circuits, DC, chapter 16) 63.2 % after L/R of the whole
    /// loop,
    /// and as ngspice has it; switched off again the damping takes twenty times its volts.
    /// </summary>
    [Fact]
    public void A_coil_rises_by_its_time_constant_and_kicks_when_it_is_cut_off()
    {
        var machine = Of(Valve);
        var wires = Wire(machine, "w1") + Wire(machine, "w2") + Wire(machine, "w3");
        var ours = Run(machine, 0.12, 2e-6, ["clamp w1", "V Y1.1"], (0.001, "on=ON"), (0.08, "on=OFF"));
        var (amps, volts) = (ours.Channels[0].Values, ours.Channels[1].Values);
        var loop = 12 + wires + 0.001 + 0.01;
        const double Henries = 12 * 8e-3;
        var final = 12.6 / loop;
        // The damping beside it passes its share at once.
        Near(Reached(ours.Seconds, amps, 12.6 / 240 + final * (1 - 1 / Math.E)) - 0.001, Henries / loop, TimeWithin);
        var deck = FormattableString.Invariant(
            $"""
            V1 1 0 12.6
            R1 1 2 {0.01 + wires}
            S1 2 3 c 0 sw
            .model sw sw vt=0.5 vh=0 ron=0.001 roff=1e9
            Vc c 0 pwl(0 0 0.001 0 0.0010001 1 0.08 1 0.0800001 0)
            L1 3 4 {Henries}
            R2 4 0 12
            R3 3 0 240
            """
        );
        var (t, i) = Spice(deck, 0.12, 1e-5, "-i(V1)");
        foreach (var share in new[] { 0.2, 0.5, 0.8, 0.95 })
            Near(Reached(ours.Seconds, amps, share * final) - 0.001, Reached(t, i, share * final) - 0.001, TimeWithin);
        Near(amps.Max(), i.Max(), PeakWithin);
        var (tv, v) = Spice(deck, 0.12, 1e-5, "v(3)");
        Near(volts.Min(), v.Min(), PeakWithin);
        var from = 0.08;
        Near(Reached(ours.Seconds, volts, v.Min() / 2, 0.0801) - from, Reached(tv, v, v.Min() / 2, 0.0801) - from, 0.05);
    }

    /// <summary>A starter stands when it is switched on and draws what its copper lets through; the battery sags and comes back.</summary>
    [Fact]
    public void A_battery_sags_under_a_starter_and_comes_back()
    {
        var machine = Of(
            """
            part M1 starter 12V 150A solenoid=0.6ohm
            path G1.+ -[w1 50mm2 1m]- M1.B
            path G1.+ -[w2 6mm2 1m]- S1 -[w3 6mm2 1m]- M1.S
            path M1.G -[w4 50mm2 1m]- G1.-
            """
        );
        var ours = Run(machine, 0.5, 1e-4, ["V G1.+ G1.-", "clamp w1"], (0.001, "on=ON"));
        var volts = ours.Channels[0].Values;
        const double Ohms = 12.0 / 150;
        const double Copper = 0.3 * Ohms,
            Back = 0.7 * Ohms;
        var farads = 60e-3 * Ohms / (Copper * Back);
        // From the instant at which its contact has closed.
        var closed = Reached(ours.Seconds, ours.Channels[1].Values, 50);
        var deck = FormattableString.Invariant(
            $"""
            V1 1 0 12.6
            R1 1 2 0.01
            Rb 2 3 {Wire(machine, "w1")}
            S1 3 4 c 0 sw
            .model sw sw vt=0.5 vh=0 ron={((Link.Contact)machine.Circuit.FindPart("M1")!.Model.Links[1]).ClosedOhms} roff=1e9
            Vc c 0 pwl(0 0 {closed} 0 {closed + 1e-6} 1)
            Rc 4 5 {Copper}
            Rx 5 6 {Back}
            C1 5 6 {farads}
            Rg 6 0 {Wire(machine, "w4")}
            Rs 2 7 {Wire(machine, "w2") + Wire(machine, "w3") + 0.001}
            Rsol 7 6 0.6
            """
        );
        var (t, v) = Spice(deck, 0.5, 1e-4, "v(2)");
        Near(volts.Min(), v.Where((_, k) => t[k] > closed).Min(), PeakWithin);
        Near(volts[^1], v[^1], PeakWithin);
        var middle = (v[^1] + v.Where((_, k) => t[k] > closed).Min()) / 2;
        Near(Reached(ours.Seconds, volts, middle, closed + 0.005) - closed, Reached(t, v, middle, closed + 0.005) - closed, TimeWithin);
    }

    /// <summary>A capacitor charges through a resistor: RC, by ngspice and by the textbook.</summary>
    [Fact]
    public void A_capacitor_charges_by_its_time_constant()
    {
        var machine = Of(
            """
            part R1 resistor 1kohm
            part C1 capacitor 100uF
            path G1.+ -[w1]- S1 -[w2]- R1 -[w3]- C1 -[w4]- G1.-
            """
        );
        var ours = Run(machine, 0.6, 1e-4, ["V C1.1 C1.2"], (0.01, "on=ON"));
        var volts = ours.Channels[0].Values;
        Near(Reached(ours.Seconds, volts, 12.6 * (1 - 1 / Math.E)) - 0.01, 0.1, 0.005);
        var (t, v) = Spice(
            """
            V1 1 0 12.6
            S1 1 2 c 0 sw
            .model sw sw vt=0.5 vh=0 ron=0.001 roff=1e9
            Vc c 0 pwl(0 0 0.01 0 0.010001 1)
            R1 2 3 1k
            C1 3 0 100u
            """,
            0.6,
            1e-4,
            "v(3)"
        );
        Near(Reached(ours.Seconds, volts, 9) - 0.01, Reached(t, v, 9) - 0.01, TimeWithin);
        Near(volts[^1], v[^1], PeakWithin);
    }

    /// <summary>An output that pulses a valve 100 times a second: mean, and how far the current goes up and down once it has come to
    /// rest.</summary>
    [Fact]
    public void A_pulsed_coil_has_the_ripple_that_ngspice_gives_it()
    {
        var machine = Of(
            """
            part A1 module
              supply 1 ground 2 from=8V
              input 3 high>6V 10kohm
              output 4 low pulsed 40% 50mohm when powered and in3
            part Y1 coil 12V 12ohm
            part D1 diode
            path G1.+ -[w1]- A1.1
            path A1.2 -[w2]- G1.-
            path G1.+ -[w3]- S1 -[w4]- A1.3
            path G1.+ -[w5]- Y1 -[w6]- A1.4
            path Y1.2 - D1.a>k - Y1.1
            """
        );
        var ours = Run(machine, 0.3, 2e-5, ["clamp w5"], (0.01, "on=ON"));
        var late = ours.Channels[0].Values.Where((_, k) => ours.Seconds[k] > 0.2).ToArray();
        var coil = Run(machine, 0.3, 2e-5, ["V Y1.1 Y1.2"], (0.01, "on=ON"));
        var (t, i) = Spice(
            FormattableString.Invariant(
                $"""
                V1 1 0 12.6
                R1 1 2 {0.01 + Wire(machine, "w5")}
                L1 2 3 {12 * 8e-3}
                R2 3 4 12
                R3 2 4 240
                Rw 4 5 {Wire(machine, "w6")}
                S1 5 0 c 0 sw
                .model sw sw vt=0.5 vh=0 ron=0.05 roff=1e9
                Vc c 0 pulse(0 1 0.01 1u 1u 4m 10m)
                D1 4 2 dm
                .model dm d(is=1e-12 n=1 rs=0.05)
                """
            ),
            0.3,
            2e-5,
            "-i(V1)"
        );
        var theirs = i.Where((_, k) => t[k] > 0.2).ToArray();
        Near(late.Max(), theirs.Max(), PeakWithin);
        coil.Channels[0].Values.Min().ShouldBeInRange(-1.2, -0.5);
    }

    /// <summary>
    /// Two relays, one after the other: the second gets its volts when the first one's current has come to pull-in, which ngspice times,
    /// and its armature has travelled.
    /// </summary>
    [Fact]
    public void A_chain_of_relays_takes_field_and_travel_of_each()
    {
        var machine = Of(
            """
            part K1 relay 12V 85ohm
            part K2 relay 12V 85ohm
            part H1 resistor 12ohm
            path G1.+ -[w1]- S1 -[w2]- K1.86>85 -[w3]- G1.-
            path G1.+ -[w4]- K1.30>87 -[w5]- K2.86>85 -[w6]- G1.-
            path G1.+ -[w7]- K2.30>87 -[w8]- H1 -[w9]- G1.-
            """
        );
        var ours = Run(machine, 0.06, 1e-5, ["V K2.86", "V H1.1"], (0.001, "on=ON"));
        var coil = machine.Circuit.FindPart("K1")!.Model.Coil!;
        var (tau, travel) = (Storage.FieldSeconds(coil), Storage.TravelSeconds(coil));
        var (t, i) = Spice(
            FormattableString.Invariant(
                $"""
                V1 1 0 12.6
                R1 1 2 0.026
                L1 2 3 {85 * tau}
                R2 3 0 85
                """
            ),
            0.06,
            1e-5,
            "i(L1)"
        );
        var each = Reached(t, i, coil.PullInVolts / 85) + travel;
        Near(Reached(ours.Seconds, ours.Channels[0].Values, 6) - 0.001, each, TimeWithin);
        Near(Reached(ours.Seconds, ours.Channels[1].Values, 6) - 0.001, 2 * each, TimeWithin);
        // At rated volts field and travel together are the stated operate time.
        Near(each, coil.OperateMs / 1000, 0.06);
    }

    /// <summary>Settled for a while, every demo machine of direct current stands where the settled solution has it.</summary>
    [Theory]
    [InlineData("PR-3", "key=START")]
    [InlineData("DO-4", null)]
    [InlineData("BT-7", null)]
    [InlineData("TT-4", null)]
    public void After_a_while_it_stands_as_the_settled_machine_does(string name, string? setup)
    {
        var circuit = DemoSheets.Circuit(name);
        var machine = new Machine(circuit);
        var function = circuit.Functions[0];
        var due = setup is null
            ? FunctionSetups.SetupFor(circuit, function)!
            : DemoSheets.Line(circuit, $"{setup} : sees \"{function.Name}\" = works").Test.Setup;
        if (machine.IsAlternating)
        {
            Should.Throw<ArgumentException>(() => new TimeSimulation(machine, []).Run(due, [], 1, 0.1, []));
            return;
        }
        var probes = circuit.Wires.Select(w => new Probe.Volts(w.From, null)).Cast<Probe>().ToList();
        var over = new TimeSimulation(machine, []).Run(
            Setup.Rest,
            due.Steps.Select((s, i) => new TimedMove(0.001 + i, [.. s])),
            due.Steps.Count + 2,
            1e-3,
            probes
        );
        var settled = machine.Run(due);
        for (var k = 0; k < probes.Count; k++)
            over.Channels[k]
                .Values[^50..]
                .Average()
                .ShouldBe(settled.Volts(settled.Node(((Probe.Volts)probes[k]).P)), 0.02 * circuit.NominalVolts, probes[k].ToString());
    }
}
