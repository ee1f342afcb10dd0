using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>Worked examples from open textbooks and the trade, each typed as a sheet.</summary>
public class WorkedNetworkTests
{
    private static double Read(string sheet, string line, params string[] faults)
    {
        var c = DemoSheets.Read(sheet);
        var shown = Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test, [.. faults.Select(f => DemoSheets.Fault(c, f))]);
        return shown.Value ?? throw new InvalidOperationException(shown.Text);
    }

    /// <summary>
    /// The 28 V / 7 V network with 4, 2 and 1 Ω solved by branch currents in Kuphaldt, Lessons in Electric Circuits, DC, chapter 10: 5 A, 4
    /// A, 1 A.
    /// </summary>
    [Fact]
    public void Two_sources_and_three_resistors()
    {
        const string sheet = """
            sheet "two sources"
            nominal 28V dc
            part B1 battery 28V emf=28V internal=0.5ohm
            part B2 battery 7V emf=7V internal=0.5ohm
            part R1 resistor 3.49ohm
            part R2 resistor 2ohm
            part R3 resistor 0.49ohm
            path B1.+ -[w1]- R1 -[w2]- R2 -[w3]- B1.-
            path R2.1 -[w4]- R3 -[w5]- B2.+
            path B2.- = B1.-
            """;
        // Wires of 5 mΩ make up the missing hundredths: 4 Ω and 1 Ω in all.
        Math.Abs(Read(sheet, " : clamp w1")).ShouldBe(5, 0.01);
        Math.Abs(Read(sheet, " : clamp w3")).ShouldBe(4, 0.01);
        Math.Abs(Read(sheet, " : clamp w4")).ShouldBe(1, 0.01);
    }

    /// <summary>Trade examples of the handbook, common practice, no source: an added 22 Ω, an equal divider, a meter's own load.</summary>
    [Fact]
    public void Drops_dividers_and_the_meter_itself()
    {
        const string motor = """
            sheet "motor"
            nominal 5V dc
            part U1 psu 5V internal=1mohm
            part R1 resistor 22ohm
            part M1 motor 38.45ohm
            path U1.+ - R1 - M1 - U1.-
            """;
        Read(motor, " : drop R1").ShouldBe(1.82, 0.005);
        Read(motor, " : clamp U1.+~R1.1").ShouldBe(0.0827, 0.0002);
        Read(motor, " : drop M1").ShouldBe(3.18, 0.005);
        const string divider = """
            sheet "divider"
            nominal 12V dc
            part G1 battery 12V emf=12.8V
            part R1 resistor 500ohm
            part R2 resistor 500ohm
            path G1.+ - R1 - R2 - G1.-
            """;
        Read(divider, " : drop R2").ShouldBe(6.4, 0.001);
        // 12.8 V through 5 kΩ into nothing but a 10 MΩ meter: 12.79 V.
        Read(divider.Replace("R1 resistor 500ohm", "R1 resistor 5kohm", StringComparison.Ordinal), "unplug R2 : V R2.1")
            .ShouldBe(12.79, 0.005);
        // Two 120 Ω side by side: 60 Ω (ISO 11898-2 termination).
        const string pair = """
            sheet "pair"
            nominal 12V dc
            part G1 battery 12V
            part R1 resistor 120ohm
            part R2 resistor 120ohm
            path G1.+ - R1 - G1.-
            path R1.1 - R2 - R1.2
            """;
        Read(pair, "off G1 : ohm R1").ShouldBe(60, 0.02);
    }

    /// <summary>
    /// Hold-in: pulled in by the push, held by its own contact, gone with the stop; with the holding contact open it falls with the push.
    /// </summary>
    [Fact]
    public void A_contactor_holds_itself_in()
    {
        var c = DemoSheets.Circuit("BP-2");
        var m = new Machine(c);
        string Sees(string line, params string[] faults) =>
            Meter.Read(m, DemoSheets.Line(c, line).Test, [.. faults.Select(f => DemoSheets.Fault(c, f))]).Text;
        Sees("press start, release start : sees M1").ShouldBe("works");
        Sees("press start : sees M1", "K1 contact 13-14 open").ShouldBe("works");
        Sees("press start, release start : sees M1", "K1 contact 13-14 open").ShouldBe("dead");
        Sees("press start, release start, press stop, release stop : sees M1").ShouldBe("dead");
        Sees("press start, release start, level=LOW, level=HIGH : sees M1").ShouldBe("dead");
    }

    /// <summary>A relay that cuts its own feed never comes to rest.</summary>
    [Fact]
    public void A_buzzer_chatters()
    {
        var c = DemoSheets.Read(
            """
            sheet "buzzer"
            nominal 12V dc
            part G1 battery 12V
            part K1 relay 12V 85ohm
            path G1.+ - K1.30>87a - K1.86>85 - G1.-
            """
        );
        var op = new Machine(c).Run(Setup.Rest);
        op.Chattering.ShouldBe(["K1"]);
        Meter.Read(op, DemoSheets.Line(c, " : hears K1").Test).Text.ShouldBe("chatters");
        // A meter that settles in tenths of a second shows the middle of what the coil gets and loses; its marks hold both ends.
        Meter.Read(op, DemoSheets.Line(c, " : V K1.86").Test).Value!.Value.ShouldBe(6.3, 0.1);
        Meter.Read(op, DemoSheets.Line(c, " : V K1.86 max").Test).Value!.Value.ShouldBe(12.6, 0.2);
        Meter.Read(op, DemoSheets.Line(c, " : V K1.86 min").Test).Value!.Value.ShouldBe(0, 0.1);
    }

    /// <summary>What the terminals of a part mean once it is apart: the part for ohms, the loom for volts.</summary>
    [Theory]
    [InlineData("off G1, unplug S2 : ohm S2", 0.001, 0.0005)]
    [InlineData("key=START, unplug S2 : V S2.1", 12.57, 0.03)]
    [InlineData("key=START, unplug S2 : V S2.2", 0, 0.01)]
    [InlineData("off G1, pull F1 : ohm F1", 0.0046, 0.0001)]
    [InlineData("pull F1 : V F1.2", 0, 0.01)]
    [InlineData("key=START, lift M1.S, jumper X3:4a K1.86 : V K1.87", 12.5, 0.1)]
    [InlineData("key=START, jumper S2.1 S2.2 gear=ENGAGED : V K1.86", 10.9, 0.3)]
    [InlineData("feed K1.86, lift M1.S : V K1.87", 12.6, 0.1)]
    [InlineData("key=RUN, pull F1 : A F1", 0.3232, 0.003)]
    [InlineData("off G1 : V M1.B", 0, 0.001)]
    public void Setup_words_mean_what_the_notation_says(string line, double expected, double within)
    {
        var c = DemoSheets.Circuit("PR-3");
        Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test).Value!.Value.ShouldBe(expected, within);
    }

    /// <summary>
    /// Conductors: 1/58 Ω·mm²/m (IEC 60028); AWG sizes (ASTM B258), areas of 14 and 10 AWG from memory; never above the IEC 60228 class 2
    /// maxima, from memory.
    /// </summary>
    [Fact]
    public void Conductors_follow_the_published_tables()
    {
        Conductor.Ohms(1, 58).ShouldBe(1, 1e-12);
        Conductor.AwgSquareMillimetres(14).ShouldBe(2.08, 0.005);
        Conductor.AwgSquareMillimetres(10).ShouldBe(5.26, 0.005);
        Conductor.AwgSquareMillimetres(-3).ShouldBe(107.2, 0.1);
        foreach (var (mm2, most) in new[] { (1.5, 12.1), (2.5, 7.41), (4.0, 4.61), (6.0, 3.08), (10.0, 1.83), (16.0, 1.15), (50.0, 0.387) })
            Conductor.Ohms(mm2, 1000).ShouldBeInRange(0.88 * most, most);
    }

    /// <summary>
    /// Ω per km at 75 °C, uncoated copper, stranded (14 AWG solid): NFPA 70 chapter 9 table 8, written from memory. Lay and stranding add
    /// up to 3 %.
    /// </summary>
    [Theory]
    [InlineData(14, 10.1)]
    [InlineData(12, 6.50)]
    [InlineData(10, 4.07)]
    [InlineData(8, 2.551)]
    [InlineData(4, 1.010)]
    [InlineData(0, 0.399)]
    [InlineData(-3, 0.1996)]
    public void Conductors_at_75_degrees_follow_the_table(double gauge, double ohmsPerKilometre)
    {
        var ours = Conductor.Ohms(Conductor.AwgSquareMillimetres(gauge), 1000, 75);
        ours.ShouldBeInRange(0.965 * ohmsPerKilometre, 1.005 * ohmsPerKilometre);
    }

    /// <summary>
    /// Open-circuit volts of a 12 V lead-acid battery by charge: the battery trade's table 12.6 / 12.4 / 12.2 / 12.0 V, written from
    /// memory.
    /// </summary>
    [Theory]
    [InlineData("", 12.6)]
    [InlineData("charge=75%", 12.4)]
    [InlineData("charge=50%", 12.2)]
    [InlineData("charge=25%", 12.0)]
    [InlineData("emf=12.1V", 12.1)]
    public void A_battery_shows_its_charge_at_rest(string words, double volts)
    {
        var c = DemoSheets.Read(
            $"sheet \"b\"\nnominal 12V dc\npart G1 battery 12V {words}\npart R1 resistor 1kohm\npath G1.+ - R1 - G1.-\n"
        );
        Meter.Read(new Machine(c), DemoSheets.Line(c, " : V G1.+ G1.-").Test).Value!.Value.ShouldBe(volts, 0.01);
    }
}
