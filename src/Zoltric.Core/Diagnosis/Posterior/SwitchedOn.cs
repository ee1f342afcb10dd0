using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>Where a machine is tried with what was put in: by a control that is moved, or as it stands where it is on at rest.</summary>
internal static class SwitchedOn
{
    /// <summary>True for a setting in which the machine of these readings is on.</summary>
    public static bool In(IReadOnlyList<Reading> all, Setup setup) => setup.Steps.Count > 0 || IsAtRest(all);

    /// <summary>What the job is about is due with every control where it lies.</summary>
    private static bool IsAtRest(IReadOnlyList<Reading> all) =>
        all is [{ Test: { Probe: Probe.Sees { IsFunction: true }, Setup.IsRest: true } }, ..];
}
