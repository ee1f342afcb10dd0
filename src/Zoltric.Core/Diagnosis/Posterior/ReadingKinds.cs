using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>What a reading is evidence of, whatever it shows: the complaint, a part by itself, a load that is fed.</summary>
internal static class ReadingKinds
{
    /// <summary>True for a dead check that read dead.</summary>
    public static bool IsProofOfDead(Circuit circuit, Reading reading) =>
        TestRules.IsDeadCheck(circuit, reading.Test)
        && reading.Result switch
        {
            ReadingResult.Number n => SafetyLimits.IsDead(n.Value),
            ReadingResult.Range r => SafetyLimits.IsDead(r.Low) && SafetyLimits.IsDead(r.High),
            _ => false,
        };

    /// <summary>
    /// True for volts in the gap between a source's post and the lead lifted off it: the meter's own ohms carry what flows, so that its
    /// figure cannot be turned into amps (common practice, no source; by Ohm's law 1 µA through 10 MΩ shows 10 V).
    /// </summary>
    public static bool IsSeriesScreen(Circuit circuit, Test test) =>
        test.Probe is Probe.Volts { P: var p, Q: { } q }
        && p.Bare == q.Bare
        && p != q
        && test.Setup.Interventions.OfType<Intervention.Lift>().Any(l => l.P.Bare == p.Bare)
        && circuit.FindPart(p.Tag) is { Kind.IsSource: true };

    /// <summary>True where both tips are on one load and most of the supply stands across it.</summary>
    public static bool IsFedAndDead(Circuit circuit, Reading reading) =>
        reading is { Doubtful: false, Result: ReadingResult.Number { Dimension: Dimension.Volt } n }
        && reading.Test.Probe.Tips is [var p, var q]
        && p.Tag == q.Tag
        && circuit.FindPart(p.Tag) is { Kind.IsSource: false, Model.Load: not null }
        && Math.Abs(n.Value) > FedShare * circuit.NominalVolts;

    private const double FedShare = 0.75;

    /// <summary>
    /// True where ohms are read on a part that was unplugged or pulled, across it or to the frame, or on a wire with both its ends off:
    /// whatever the machine is built like.
    /// </summary>
    public static bool IsPartByItself(Circuit circuit, Test test)
    {
        if (test.Probe is not (Probe.Ohms or Probe.Beep or Probe.Insulation))
            return false;
        var tips = test.Probe.Tips;
        // So is a wire, with what hangs on both its ends off.
        if (
            (
                test.Probe is Probe.Ohms o ? o.X.Text
                : test.Probe is Probe.Beep b ? b.X.Text
                : null
            )
                is { } text
            && circuit.FindWire(text) is { } wire
            && IsOff(wire.From)
            && IsOff(wire.To)
        )
            return true;
        return test.Setup.Interventions.Any(i =>
            (
                i is Intervention.Unplug u ? u.Tag
                : i is Intervention.Pull p ? p.Tag
                : null
            )
                is { } tag
            && circuit.FindPart(tag) is { Kind: not Circuits.Kinds.PinRow and not Circuits.Kinds.Module, Model.IsPoint: false }
            && tips.Any(t => IsOn(t, tag))
            && tips.All(t => IsOn(t, tag) || t.Bare == circuit.FrameFor(t) || t.Name == "PE")
        );

        bool IsOff(Terminal t) =>
            test.Setup.Interventions.Any(i =>
                i switch
                {
                    Intervention.Unplug u => u.Tag == t.Tag,
                    Intervention.Pull p => p.Tag == t.Tag,
                    Intervention.Lift l => l.P.Bare == t,
                    _ => false,
                }
            );

        static bool IsOn(Terminal t, string tag) => t.Tag == tag && t.Side is TerminalSide.None or TerminalSide.Part;
    }

    /// <summary>True for what a job begins with: a function that fails, a limit of the sheet passed, a draw that was read.</summary>
    public static bool IsComplaint(FaultSpace space, int before, Reading reading) =>
        before == 0
        && (
            reading.Test.Probe is Probe.Amps or Probe.Clamp
            || Slips.Probability(space, before, reading) == Slips.MeasuredSymptom
            || reading
                is {
                    Test.Probe: Probe.Sees { IsFunction: true },
                    Result: ReadingResult.Word { Answer: Answer.Dead or Answer.Weak or Answer.StuckOn or Answer.Flickers }
                }
        );

    /// <summary>
    /// True for what is weighed against what each fault would show. Volts read dead with every source off are proof and no evidence.
    /// </summary>
    public static bool NeedsCurves(FaultSpace space, Reading reading) =>
        reading.Result is not null
        && reading.Test.Probe is not (Probe.Replaced or Probe.Code) and not { Statistic: Statistic.Ripple }
        && !IsSeriesScreen(space.Circuit, reading.Test)
        && !IsProofOfDead(space.Circuit, reading);
}
