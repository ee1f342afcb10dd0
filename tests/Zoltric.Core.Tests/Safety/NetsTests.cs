using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>
/// The volts a net is said to be able to have are never less than what the solver finds in any state, with any single fault.
/// </summary>
public class NetsTests
{
    public static TheoryData<string> Sheets => [.. DemoSheets.All, "mixed", "traction", "conveyor"];

    internal static Circuit CircuitOf(string name) =>
        name switch
        {
            "mixed" => SafetySheets.Read(SafetySheets.Mixed),
            "traction" => SafetySheets.Read(SafetySheets.Traction),
            "conveyor" => SafetySheets.Read(SafetySheets.Conveyor),
            _ => DemoSheets.Circuit(name),
        };

    /// <summary>
    /// Loads switched off and capacity of nothing: the solver is resistive, so a little above the source is rounding alone.
    /// </summary>
    private const double Rounding = 1.0001;

    [Theory, MemberData(nameof(Sheets))]
    public void No_state_and_no_single_fault_goes_over_the_bound(string name)
    {
        var circuit = CircuitOf(name);
        var (machine, nets) = (new Machine(circuit), Nets.Of(circuit));
        var points = nets
            .Connectivity.Terminals.Where(t => nets.Connectivity.From(t).Any(e => e.Part is null))
            .DistinctBy(nets.NetOf)
            .ToList();
        var setups = circuit
            .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
            .OfType<Setup>()
            .Append(Setup.Rest)
            .Distinct()
            .ToList();
        var suspects = FaultCatalogue.Suspects(machine);
        var random = new Random(17);
        var compared = 0;
        for (var n = 0; n < 60; n++)
        {
            var suspect = suspects[random.Next(suspects.Count)];
            // A source turned up is no state of this machine.
            if (circuit.FindPart(suspect.Template.Target) is { Kind.IsSource: true })
                continue;
            var fault = suspect.Values.Count == 0 ? suspect.Template : suspect.With(suspect.Values[random.Next(suspect.Values.Count)]);
            var op = machine.Run(setups[random.Next(setups.Count)], [fault]);
            for (var k = 0; k < 40; k++)
            {
                var (p, q) = (points[random.Next(points.Count)], points[random.Next(points.Count)]);
                if (nets.SectionOf(p) != nets.SectionOf(q))
                    continue;
                var (bound, i, j) = (nets.At(p), op.Node(p), op.Node(q));
                Math.Abs(op.Volts(i) - op.Volts(j))
                    .ShouldBeLessThanOrEqualTo((bound.DcVolts * Rounding) + 1e-3, $"{fault}: {p} to {q}, direct");
                op.AcVolts(i, j)
                    .Magnitude.ShouldBeLessThanOrEqualTo((bound.AcVolts * Rounding) + 1e-3, $"{fault}: {p} to {q}, alternating");
                compared++;
            }
        }
        compared.ShouldBeGreaterThan(50);
    }

    [Fact]
    public void A_source_behind_a_fuse_that_is_open_still_counts()
    {
        var nets = Nets.Of(CircuitOf("mixed"));
        // Behind an open contactor, with everything off: what can be put there is what counts.
        nets.At(new Terminal("M1", "1")).AcVolts.ShouldBe(230, 0.1);
        nets.Feeders(new Terminal("M1", "1")).ShouldContain("T1");
    }

    [Theory]
    [InlineData(false, 230)]
    [InlineData(true, 0)]
    public void One_fault_across_a_supply_counts_unless_it_is_separated(bool separated, double ac)
    {
        var nets = Nets.Of(SafetySheets.Read(separated ? SafetySheets.MixedSeparated : SafetySheets.Mixed));
        var at = nets.At(new Terminal("K1", "A1"));
        at.AcVolts.ShouldBe(ac, 0.1);
        at.DcVolts.ShouldBe(24, 0.1);
        SafetyLimits.IsDangerous(at).ShouldBe(!separated);
    }

    [Fact]
    public void Volts_of_a_three_phase_feed_a_split_feed_and_two_batteries_in_series_are_those_between_their_outer_ends()
    {
        Nets.Of(CircuitOf("conveyor")).At(new Terminal("M1", "U")).AcVolts.ShouldBe(400, 0.5);
        Nets.Of(DemoSheets.Circuit("TD-2")).At(new Terminal("E1", "1")).AcVolts.ShouldBe(240, 0.5);
        // Four 12 V batteries in two pairs, and a charger of 28.4 V on the same bars: not 76 V.
        Nets.Of(DemoSheets.Circuit("BT-7")).At(new Terminal("K1", "86")).DcVolts.ShouldBeInRange(25, 30);
    }

    [Fact]
    public void Neighbouring_pins_of_two_voltages_are_one_fault_apart()
    {
        var sheet = SafetySheets
            .MixedSeparated.Replace("part M1 motor", "part X1 strip 4 at \"panel\"\npart M1 motor", StringComparison.Ordinal)
            .Replace("- M1 -", "- X1:1 -[w15 BN 1mm2 1m]- M1 -", StringComparison.Ordinal)
            .Replace("- B1 -", "- X1:2 -[w16 RD 1mm2 1m]- B1 -", StringComparison.Ordinal);
        var nets = Nets.Of(SafetySheets.Read(sheet));
        nets.UnseparatedPins.Count.ShouldBe(1);
        SafetyLimits.IsDangerous(nets.At(new Terminal("K1", "A1"))).ShouldBeTrue();
        SafetyLimits
            .IsDangerous(
                Nets.Of(SafetySheets.Read(sheet.Replace("strip 4", "strip 4 separated", StringComparison.Ordinal)))
                    .At(new Terminal("K1", "A1"))
            )
            .ShouldBeFalse();
    }
}
