using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;

namespace Zoltric.Core.Safety;

/// <summary>
/// Which tests a meter may take by itself. Extra-low voltage only; never the proof of dead; ohms only on a machine that is proved dead;
/// never amps.
/// </summary>
public static class HandsFree
{
    /// <summary>Why this test is read by hand; null for one that may be taken hands-free.</summary>
    public static string? WhyByHand(Circuit circuit, Test test, IsolationState isolation, bool wet = false)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        ArgumentNullException.ThrowIfNull(isolation);
        if (MeterFunctions.Of(circuit, test.Probe) is not { } function)
            return "This is not read with two tips of a volt or ohm meter.";
        if (TestRules.IsDangerous(circuit, test, wet))
            return "Dangerous volts can stand there. A meter takes its readings by itself at extra-low voltage only.";
        if (TestRules.IsDeadCheck(circuit, test))
            return "Proof of dead is read by a person, never by itself.";
        return function.Reads() == Dimension.Ohm && !isolation.IsProvedDead
            ? "Ohms come by themselves only where the machine is proved dead."
            : null;
    }
}
