using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>What the diagnosis makes of reading lines on a sheet.</summary>
internal static class Diagnosing
{
    public static Findings Diagnose(string sheet, params string[] lines) =>
        Diagnose(new FaultSpace(new Machine(SheetReader.Read(sheet).Value.ShouldNotBeNull())), lines);

    public static Findings Diagnose(FaultSpace space, params string[] lines) =>
        Diagnostician.Diagnose(space, [.. lines.Select(l => DemoSheets.Line(space.Circuit, l))]);

    /// <summary>Share of the groups at these parts, wires and pins together.</summary>
    public static double Share(Findings f, params string[] units) => f.Suspects.Where(g => units.Contains(g.Unit)).Sum(g => g.Share);
}
