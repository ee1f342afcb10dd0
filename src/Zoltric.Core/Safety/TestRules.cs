using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>
/// What a test is, as far as safety goes: live or dead, at dangerous volts or not, and tests that are never ordered. One place for the
/// rules that advice, screens and the interface ask.
/// </summary>
public static class TestRules
{
    /// <summary>Words after <c>hazard</c> of parts on which ohms, jumpers and feeds are forbidden altogether.</summary>
    public static IReadOnlyList<string> NeverOhms { get; } = ["airbag", "pyrotechnic", "fire-suppression"];

    /// <summary>Words after <c>hazard</c> of parts that an insulation tester would destroy.</summary>
    private static readonly string[] Electronic = ["electronics"];

    /// <summary>True when the test must never be ordered on this circuit, whatever was read.</summary>
    public static bool IsNeverOrdered(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        if (test.Setup.Interventions.Any(i => i is Intervention.Jumper or Intervention.Feed or Intervention.Swap))
            return true;
        // Series amps break into a live circuit; a lamp loads it. Neither is ever needed to find the stretch.
        if (test.Probe.Loads)
            return true;
        return IsForbidden(circuit, test) is not null;
    }

    /// <summary>Why a test must not be made at all, whoever asks; null for one that may be.</summary>
    public static string? IsForbidden(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var plan = IsolationPlan.Of(circuit);
        var tips = test.Probe.Tips.ToList();
        if (tips.Find(plan.IsNeverMeasured) is { Tag: not null } beyond)
            return $"{Spoken(circuit, beyond.Tag)} can exceed what a tester is made for: never measured. Use the maker's discharge "
                + $"procedure; licensed practice only.";
        if (!test.Probe.SendsCurrent)
            return null;
        if (tips.Find(t => circuit.FindPart(t.Tag) is { } p && p.Hazards.Any(NeverOhms.Contains)) is { Tag: not null } never)
            return $"No ohms on {Spoken(circuit, never.Tag)}.";
        if (!plan.IsOff(test.Setup))
            return $"Live: ohms only with every source off ({string.Join(", ", circuit.SourcesOff)}).";
        if (tips.Find(t => plan.StaysLive.Contains(t) && SafetyLimits.IsDangerous(Nets.Of(circuit).At(t))) is { Tag: not null } live)
            return $"{live} stays live: it lies before "
                + $"{string.Join(", ", plan.Supplies.SelectMany(s => s.Devices).Select(d => d.Tag).Distinct())}. No ohms there.";
        if (
            test.Probe is Probe.Insulation
            && tips.Find(t => circuit.FindPart(t.Tag) is { } p && (p.Kind is Circuits.Kinds.Module || p.Hazards.Any(Electronic.Contains)))
                is { Tag: not null } electronic
        )
            return $"No insulation test on {Spoken(circuit, electronic.Tag)}: it would destroy electronics.";
        return null;
    }

    private static string Spoken(Circuit circuit, string tag) => circuit.FindPart(tag)?.Spoken ?? tag;

    /// <summary>True for a test with tips, clamp or lamp on a machine that is not isolated.</summary>
    public static bool IsLive(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe.TouchesMachine && !IsolationPlan.Of(circuit).IsOff(test.Setup);
    }

    /// <summary>True for a live test with a tip at dangerous volts.</summary>
    public static bool IsDangerouslyLive(Circuit circuit, Test test, bool wet = false) =>
        IsLive(circuit, test) && IsDangerous(circuit, test, wet);

    /// <summary>True where a tip or a clamp of the test is at a point on which dangerous volts can stand.</summary>
    public static bool IsDangerous(Circuit circuit, Test test, bool wet = false) =>
        SafetyLimits.IsDangerous(ExposureOf(circuit, test), wet);

    /// <summary>Most volts that the tips of a test can meet.</summary>
    public static Exposure ExposureOf(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var nets = Nets.Of(circuit);
        return test.Probe.Exposes(circuit).Aggregate(Exposure.None, (e, t) => Exposure.Largest(e, nets.At(t)));
    }

    /// <summary>True where any point of the machine is dangerous.</summary>
    public static bool HasDangerousVolts(Circuit circuit, bool wet = false)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return Nets.Of(circuit).Sections.Any(s => SafetyLimits.IsDangerous(s.Exposure, wet));
    }

    /// <summary>True for volts read with every source off: proof that a point is dead, and no evidence of what is wrong.</summary>
    public static bool IsDeadCheck(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe is Probe.Volts && IsolationPlan.Of(circuit).IsOff(test.Setup);
    }

    /// <summary>
    /// Why volts read with every source off prove nothing on this dial; null where they do, or where nothing is to be proved.
    /// </summary>
    public static string? WrongDial(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        if (!IsDeadCheck(circuit, test) || test.Probe is not Probe.Volts { Function: not VoltsFunction.LowImpedance } v)
            return null;
        var nets = Nets.Of(circuit);
        var own = test.Probe.Tips.Select(t => nets.FindSection(t)?.Own ?? Exposure.None).Aggregate(Exposure.None, Exposure.Largest);
        if (v.Function == VoltsFunction.Dc && own is { AcVolts: > 0, DcVolts: <= 0 })
            return "Alternating volts can be here: a DC reading is no proof. Read it with loz or VAC.";
        if (v.Function == VoltsFunction.Ac && own is { DcVolts: > 0, AcVolts: <= 0 })
            return "Direct volts can be here: an AC reading is no proof. Read it with V.";
        return null;
    }
}
