using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What is complained of, and what is not, tells one lamp's wire from the feed of them all (common practice, no source).</summary>
public class ComplaintTests
{
    private static readonly Circuit Lamps = DemoSheets.Read(
        """
        sheet "three lamps"
        nominal 12V dc
        drawn from traced
        reference G1.-
        control key: OFF*, ON
        part G1 battery 12V
        part S1 switch
          closed 1-2 when key=ON
        part H1 lamp 12V 21W
        part H2 lamp 12V 21W
        part H3 lamp 12V 21W
        part SP1 splice
        part GND1 stud
        path G1.+ -[w1]- S1 -[w2]- SP1 -[w3]- H1 -[w4]- GND1 -[w5]- G1.-
        path SP1 -[w6]- H2 -[w7]- GND1
        path SP1 -[w8]- H3 -[w9]- GND1
        function "one lights": H1 when key=ON
        function "two lights": H2 when key=ON
        function "three lights": H3 when key=ON
        """
    );

    private static double Share(string unit, params string[] lines)
    {
        var findings = Diagnostician.Diagnose(new FaultSpace(new Machine(Lamps)), [.. lines.Select(l => DemoSheets.Line(Lamps, l))]);
        return findings.Suspects.Where(g => g.Faults.Any(f => f.Target == unit)).Sum(g => g.Share);
    }

    private const string One = "key=ON : sees \"one lights\" = dead",
        Two = "key=ON : sees \"two lights\" = dead",
        Three = "key=ON : sees \"three lights\" = dead";

    [Fact]
    public void One_dead_lamp_of_three_speaks_for_its_own_wire()
    {
        // w2 stops all three and w3 one; alike as wires, they would hold the same. One of three was named: the root of a third.
        var ratio = Share("w2", One) / Share("w3", One);
        ratio.ShouldBe(Math.Sqrt(1 / 3.0), 0.02);
    }

    [Fact]
    public void All_three_named_the_feed_is_as_it_was()
    {
        // A wire of the feed is then as likely as the wires beside it.
        Share("w2", One, Two, Three).ShouldBe(Share("w1", One, Two, Three), 1e-3);
        Share("w2", One, Two, Three).ShouldBeGreaterThan(20 * Share("w3", One, Two, Three));
        // The order in which they are named says nothing.
        Share("w2", One, Two, Three).ShouldBe(Share("w2", Three, One, Two), 1e-3);
    }

    [Fact]
    public void What_is_seen_after_a_reading_is_a_test_and_no_complaint()
    {
        const string volts = "key=ON : V S1.2 = 12.6V";
        var looked = Share("w2", One, volts, Two) / Share("SP1", One, volts, Two);
        var named = Share("w2", One, Two, volts) / Share("SP1", One, Two, volts);
        looked.ShouldBe(named, 0.02 * named);
    }
}
