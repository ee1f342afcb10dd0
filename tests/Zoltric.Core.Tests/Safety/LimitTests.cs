using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>
/// Every number on which safety hangs, at its boundary: each of these fails when the number is changed by 5 %. HD 60364-4-41, 414.4.5: 25 V
/// AC and 60 V DC in the dry, 12 V and 30 V in the wet (from memory). EN 61243-3: testers up to 1000 V AC, 1500 V DC (from memory).
/// </summary>
public class LimitTests
{
    [Theory]
    [InlineData(25, 0, false, false)]
    [InlineData(25.1, 0, false, true)]
    [InlineData(0, 60, false, false)]
    [InlineData(0, 60.1, false, true)]
    [InlineData(12, 0, true, false)]
    [InlineData(12.1, 0, true, true)]
    [InlineData(0, 30, true, false)]
    [InlineData(0, 30.1, true, true)]
    public void Dangerous(double ac, double dc, bool wet, bool dangerous) =>
        SafetyLimits.IsDangerous(new Exposure(ac, dc), wet).ShouldBe(dangerous);

    [Theory]
    [InlineData(0.99, true)]
    [InlineData(-0.99, true)]
    [InlineData(1.0, false)]
    [InlineData(1.1, false)]
    [InlineData(-1.1, false)]
    public void Dead(double volts, bool dead) => SafetyLimits.IsDead(volts).ShouldBe(dead);

    [Theory]
    [InlineData(1000, 0, false)]
    [InlineData(1010, 0, true)]
    [InlineData(0, 1500, false)]
    [InlineData(0, 1510, true)]
    public void Beyond_the_tester(double ac, double dc, bool beyond) => SafetyLimits.IsBeyondTester(new Exposure(ac, dc)).ShouldBe(beyond);

    [Theory]
    [InlineData("60V dc", "battery 60V emf=60V", null)]
    [InlineData("62V dc", "battery 62V emf=62V", "62 V DC")]
    public void A_jumper_is_refused_by_the_volts_at_its_points_not_by_the_header(string nominal, string battery, string? why)
    {
        var circuit = SafetySheets.Read(
            $"""
            sheet "limit"
            nominal {nominal}
            part G1 {battery}
            part F1 fuse 10A
            part H1 lamp 20W
            path G1.+ -[w1]- F1 -[w2]- H1 -[w3]- G1.-
            """
        );
        var refused = Bridges.Forbidden(new Machine(circuit), ReadingReader.ReadSetup(circuit, "jumper F1.1 F1.2").Value!);
        if (why is null)
            refused.ShouldBeNull();
        else
            refused.ShouldNotBeNull().Why.ShouldContain(why);
    }

    /// <summary>A point is proved under load from half of the healthy current on; estimate.</summary>
    [Theory]
    [InlineData(5.0, true)]
    [InlineData(4.9, false)]
    public void Carrying(double amps, bool carries) => Judge.IsCarrying(amps, 10).ShouldBe(carries);

    /// <summary>
    /// Ohms are refused above a tenth of a volt at the points: what a meter's own current would be lost in. Common practice, no source.
    /// </summary>
    [Theory]
    [InlineData(0.099, false)]
    [InlineData(0.104, true)]
    public void Near_zero_for_ohms(double volts, bool refused)
    {
        var circuit = SafetySheets.Read(
            FormattableString.Invariant(
                $"""
                sheet "near zero"
                nominal 12V dc
                part G1 battery 12V emf={volts}V
                part R1 resistor 1kohm
                path G1.+ - R1 - G1.-
                """
            )
        );
        Meter.Read(new Machine(circuit), ReadingReader.Read(circuit, " : ohm R1").Value!.Test).Refused.ShouldBe(refused);
    }

    [Theory]
    [InlineData(11.8, true)]
    [InlineData(11.79, false)]
    [InlineData(12.6, true)]
    [InlineData(12.61, false)]
    public void Band_of_a_verification(double volts, bool passes) =>
        new VerificationItem("x", VerificationKind.Reading, "", null, new HealthyBand(11.8, 12.2, 12.6, Dimension.Volt, ""))
            .Passes(new Reading(new Test(Setup.Rest, new Probe.Code("1")), new ReadingResult.Number(volts, Dimension.Volt)))
            .ShouldBe(passes);

    /// <summary>ISO 10133 annex A, column for 105 °C insulation (from memory): 2.5 mm² behind 30 A and no more.</summary>
    [Theory]
    [InlineData("30A", false)]
    [InlineData("31.5A", true)]
    public void Wire_against_fuse(string fuse, bool tooSmall)
    {
        var text = $"""
            sheet "wire and fuse"
            nominal 12V dc
            part G1 battery 12V
            part F1 fuse {fuse}
            part H1 lamp 20W
            path G1.+ -[w1 10mm2 1m]- F1 -[w2 2.5mm2 1m]- H1 -[w3 10mm2 1m]- G1.-
            """;
        SheetChecker
            .Check(SafetySheets.Read(text), text)
            .Any(p => p.Message.Contains("too small", StringComparison.Ordinal))
            .ShouldBe(tooSmall);
    }
}
