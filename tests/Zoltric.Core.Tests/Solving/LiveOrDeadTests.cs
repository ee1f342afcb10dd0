using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>
/// Where an ohmmeter may be laid on a machine with mains: not where they stand, whatever the sheet is counted from; and where only what
/// leaks through an open contact stands, it may.
/// </summary>
public class LiveOrDeadTests
{
    private static MeterReading Read(Circuit c, string line) => Meter.Read(new Machine(c), DemoSheets.Line(c, line).Test);

    /// <summary>Mains that nothing ties to the battery from which the volts are counted.</summary>
    private const string Apart = """
        sheet "two circuits apart"
        nominal 24V dc
        reference G1.-
        control main: OFF*, ON
        part G1 battery 24V
        part F9 fuse 5A
        part H9 lamp 24V 5W
        part T0 mains 230V
        part Q1 isolator
          closed 1-2 when main=ON
        part F1 fuse 10A
        part E1 heater 230V 1kW
        path G1.+ - F9 - H9 - G1.-
        path T0.L - Q1 - F1 - E1 - T0.N
        function "heats": E1 when main=ON
        """;

    [Theory]
    [InlineData("main=ON : ohm F1")]
    [InlineData("main=ON : ohm E1")]
    [InlineData("main=OFF : ohm T0.L Q1.1")]
    [InlineData("main=OFF : insul Q1.1 T0.PE")]
    [InlineData(" : ohm F9")]
    public void Mains_apart_from_the_reference_are_live(string line) => Read(DemoSheets.Read(Apart), line).Refused.ShouldBeTrue();

    /// <summary>230 V and 1 kW are 52.9 Ω.</summary>
    [Fact]
    public void Behind_an_open_isolator_they_are_dead()
    {
        var c = DemoSheets.Read(Apart);
        Read(c, "main=OFF : ohm E1").Value.ShouldNotBeNull().ShouldBe(52.9, 0.6);
        Read(c, "main=OFF : ohm F1").Value.ShouldNotBeNull().ShouldBe(0, 0.1);
        Read(c, "off T0, main=ON : ohm E1").Value.ShouldNotBeNull().ShouldBe(52.9, 0.6);
    }

    [Theory]
    [InlineData("DR-6", "main=OFF : ohm M1.U M1.V")]
    [InlineData("DR-6", "main=OFF : insul M1.U T0.PE")]
    [InlineData("DR-6", "main=OFF, unplug M1 : insul M1.U T0.PE")]
    [InlineData("DO-4", "main=OFF : ohm M1.U M1.V")]
    public void What_leaks_through_open_contacts_is_not_live(string sheet, string line) =>
        Read(DemoSheets.Circuit(sheet), line).Refused.ShouldBeFalse();

    [Theory]
    [InlineData("DR-6", "main=OFF : ohm T0.L1 Q1.1")]
    [InlineData("DR-6", "main=ON : ohm F1")]
    [InlineData("DO-4", "main=ON : ohm T0.L1 T0.L2")]
    public void What_is_fed_is_live(string sheet, string line) => Read(DemoSheets.Circuit(sheet), line).Refused.ShouldBeTrue();
}
