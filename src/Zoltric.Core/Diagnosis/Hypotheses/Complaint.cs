using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>What a job is about.</summary>
public static class Complaint
{
    /// <summary>The function complained of: the last one seen not to work, else the sheet's first.</summary>
    public static MachineFunction? FunctionOf(Circuit circuit, IReadOnlyList<Reading> readings)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var complained = readings.FirstOrDefault(r =>
            r.Test.Probe is Probe.Sees { IsFunction: true } && r.Result is ReadingResult.Word { Answer: not Answer.Works }
        );
        return complained?.Test.Probe is Probe.Sees s ? circuit.FindFunction(s.What)
            : circuit.Functions.Count > 0 ? circuit.Functions[0]
            : null;
    }
}
