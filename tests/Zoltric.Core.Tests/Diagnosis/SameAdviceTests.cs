using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>The same readings give the same advice, word for word, whichever thread was first.</summary>
public class SameAdviceTests
{
    [Theory]
    [InlineData("QS-5")]
    [InlineData("PR-3")]
    public void Suspects_order_and_outcomes_do_not_depend_on_the_threads(string sheet)
    {
        var circuit = DemoSheets.Circuit(sheet);
        var f = circuit.Functions[0];
        var line = $"{FunctionSetups.SetupFor(circuit, f)} : sees \"{f.Name}\" = dead";
        var said = Enumerable
            .Range(0, 6)
            .Select(_ =>
            {
                var findings = Diagnostician.Diagnose(new FaultSpace(new Machine(circuit)), [DemoSheets.Line(circuit, line)]);
                return string.Join('\n', findings.Suspects.SelectMany(g => g.Words))
                    + string.Join('\n', findings.Next.Select(n => $"{n.Test} {n.Gain:0.000000} {n.Why}"));
            })
            .ToList();
        said.ShouldAllBe(s => s == said[0]);
    }
}
