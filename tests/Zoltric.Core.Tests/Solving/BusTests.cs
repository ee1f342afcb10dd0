using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>
/// A two-wire bus by ISO 11898-2: 60 Ω with both terminators, 120 Ω with one, 40 Ω with one too many; at rest 2.5 V on both wires, driven
/// to 3.5 and 1.5 V, so that a meter's mean lies by the share of traffic above and below 2.5 V.
/// </summary>
public class BusTests
{
    private const string Sheet = """
        sheet "bus"
        nominal 24V dc
        control key: OFF*, ON
        part G1 battery 24V
        part S1 switch
          closed 1-2 when key=ON
        part A1 module
          supply 1 ground 2
          bus 3,4 traffic=8%
        part A2 module
          supply 1 ground 2
          bus 3,4 traffic=4%
          sleeps after 10min at 5mA
        part E1 terminator
        part E2 terminator
        part E3 terminator
        part X9 connector 16
        part SH splice
        part SL splice
        path G1.+ - S1 - A1.1
        path S1.2 - A2.1
        path A1.2 -[w8]- G1.-
        path A2.2 -[w9]- G1.-
        path A1.3 -[w1]- SH -[w2]- A2.3
        path A1.4 -[w3]- SL -[w4]- A2.4
        path E1.H - A1.3
        path E1.L - A1.4
        path E2.H -[w5]- A2.3
        path E2.L - A2.4
        path SH - X9:6
        path SL - X9:14
        path E3.H -[w6]- X9:6b
        part S2 switch
          closed 1-2 when key=OFF
        part H1 lamp 24V 5W
        path G1.+ -[w7]- S2 = H1 = G1.-
        function "bus": ohm X9:6 X9:14 in 55..65ohm
        """;

    private static (string Text, double? Value) Shows(string line, params string[] faults)
    {
        var c = DemoSheets.Read(Sheet);
        var shown = Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test, [.. faults.Select(f => DemoSheets.Fault(c, f))]);
        return (shown.Text, shown.Value);
    }

    [Theory]
    [InlineData("", 60)]
    [InlineData("w5 open", 120)]
    [InlineData("E1 open", 120)]
    [InlineData("E3 shorted 0.5ohm", 60)] // the third one hangs on one wire only
    public void Ohms_between_the_wires_count_the_terminators(string fault, double ohms) =>
        Shows(" : ohm X9:6 X9:14", fault.Length == 0 ? [] : [fault]).Value!.Value.ShouldBe(ohms, 0.4);

    [Fact]
    public void A_third_terminator_makes_forty_ohms() => Shows("jumper E3.L X9:14 : ohm X9:6 X9:14").Value!.Value.ShouldBe(40, 0.2);

    [Theory]
    [InlineData("key=ON : V X9:6", "", 2.62)] // 2.5 + (8 % + 4 %) · 1 V
    [InlineData("key=ON : V X9:14", "", 2.38)]
    [InlineData(" : V X9:6", "", 0)]
    // One asleep holds its wires at ground through as much as the other holds them at 2.5 V: half of it, and 8 % of 3.5 V.
    [InlineData("key=ON, after 15min : V X9:6", "", 1.43)]
    // The pair hangs near ground but for what two drivers lift through 45 Ω against the terminators, 12 % · 5 V · 60 / (45 + 60).
    [InlineData("key=ON : V X9:6", "w3 grounded 0.1ohm", 0.343)]
    public void Mean_volts_follow_the_traffic(string line, string fault, double volts) =>
        Shows(line, fault.Length == 0 ? [] : [fault]).Value!.Value.ShouldBe(volts, 0.006);

    [Fact]
    public void A_pair_shorted_shows_the_same_on_both_wires()
    {
        var high = Shows("key=ON : V X9:6", "X9:6 shorts X9:14 0.1ohm").Value!.Value;
        high.ShouldBe(Shows("key=ON : V X9:14", "X9:6 shorts X9:14 0.1ohm").Value!.Value, 0.003);
        high.ShouldBe(2.5, 0.02);
    }

    [Theory]
    [InlineData("", "works")]
    [InlineData("E2 open", "dead")]
    public void A_function_in_ohms_is_judged_without_the_sources(string fault, string state)
    {
        Shows("key=ON : sees \"bus\"", fault.Length == 0 ? [] : [fault]).Text.ShouldBe(state);
        Shows("key=ON : ohm X9:6 X9:14").Text.ShouldContain("Live");
    }

    /// <summary>
    /// How far a reading moves with the supply, against the same machine with a battery 1 % higher: a bus hardly, a feed by all of it.
    /// </summary>
    [Theory]
    [InlineData("", "V X9:6")]
    [InlineData("", "V X9:14 A1.2")]
    [InlineData("", "V A1.1")]
    [InlineData("w9 resists 40ohm", "V X9:6")]
    [InlineData("w5 resists 300ohm", "V A2.3 A2.1")]
    [InlineData("w2 to-supply 4ohm", "V X9:6")]
    [InlineData("w7 open", "V G1.+ H1.1")]
    [InlineData("w7 open", "V G1.+")]
    public void What_modules_drive_does_not_grow_with_the_supply(string fault, string probe)
    {
        MeterReading Read(double volts)
        {
            var c = DemoSheets.Read(
                Sheet.Replace("battery 24V", FormattableString.Invariant($"battery {volts}V"), StringComparison.Ordinal)
            );
            return Meter.Read(
                new Machine(c),
                DemoSheets.Line(c, $"key=ON : {probe}").Test,
                fault.Length == 0 ? [] : [DemoSheets.Fault(c, fault)]
            );
        }
        var (now, more) = (Read(24), Read(24.24));
        // What a driver takes of it in its share of time is left out.
        var moves = (more.Value!.Value - now.Value!.Value) / 0.01;
        (now.Value.Value - now.Fixed).ShouldBe(moves, 0.02 + 0.05 * Math.Abs(moves));
    }
}
