using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Figures;

/// <summary>Pins of a plug on a circuit of round numbers, worked by hand.</summary>
public sealed class PinTableTests
{
    private const string Sheet = """
        sheet "pins"
        nominal 12V dc
        control key: OFF*, ON
        part G1 battery emf=12V internal=1mohm
        part S1 switch "key"
          closed 1-2 when key=ON
        part X1 connector 3
        part H1 lamp "tail lamp" 12V 24W
        path G1.+ - S1 -[w1 RD 1.5mm2 1m]- X1:1 -[w2]- H1 -[w3]- X1:2< -[w4 BK 1.5mm2 1m]- G1.-
        function "lamp lights": H1 when key=ON
        """;

    /// <summary>
    /// 2 A through the lamp of 6 Ω: 12 V less some millivolts on pin 1 while plugged; with the plug out 12 V on its feed and nothing behind
    /// it; dead, the lamp and its way home are read from the lamp's half of pin 1.
    /// </summary>
    [Fact]
    public void Each_pin_shows_what_is_worked_by_hand()
    {
        var circuit = DemoSheets.Read(Sheet);
        var on = FunctionSetups.SetupFor(circuit, circuit.Functions[0]).ShouldNotBeNull();
        var pins = PinTable.Of(new Machine(circuit), circuit.FindPart("X1")!, on);
        pins.Count.ShouldBe(4, "pin 3 has no wire");
        var feed = pins.Single(p => p.Pin.Name == "1a");
        feed.Wires.ShouldBe(["w1 RD 1.5 mm²"]);
        feed.Ends[0].ShouldBe("key S1, terminal 2");
        feed.Plugged.Value!.Value.ShouldBe(11.97, 0.02);
        feed.Unplugged!.Low!.Value.ShouldBeInRange(11.5, 12);
        feed.Unplugged.High!.Value.ShouldBeInRange(12, 12.4);
        var lamp = pins.Single(p => p.Pin.Name == "1b");
        lamp.Unplugged!.High!.Value.ShouldBeLessThan(0.1);
        // Its way home is through the same plug, which is out.
        lamp.Dead!.Answer.ShouldBe(Answer.OverLimit);
        pins.ShouldAllBe(p => !p.Dangerous);
    }

    [Fact]
    public void Every_plug_and_module_of_the_demo_has_a_table_without_a_figure_that_is_none()
    {
        foreach (var name in DemoSheets.All)
        {
            var circuit = DemoSheets.Read(DemoSheets.Text(name));
            var machine = new Machine(circuit);
            foreach (var part in circuit.Parts.Where(p => PinTable.IsFor(circuit, p)))
            foreach (var pin in PinTable.Of(machine, part, Setup.Rest))
            {
                pin.Plugged.Refused.ShouldBeFalse($"{name} {pin.Pin}");
                (pin.Plugged.Value is { } v && !double.IsFinite(v)).ShouldBeFalse($"{name} {pin.Pin}");
                pin.Ends.Count.ShouldBe(pin.Wires.Count);
            }
        }
    }
}
