using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// Tests that are never offered, and what must be read before some of them may be. Removed before any ranking, not merely penalised.
/// </summary>
internal static class ForbiddenTests
{
    /// <summary>Most volts that count as near zero when a circuit is proved dead.</summary>
    public const double NearZeroVolts = 0.5;

    /// <summary>Parts whose hazards forbid ohms and leads altogether.</summary>
    public static readonly string[] NeverOhms = ["airbag", "pyrotechnic", "fire-suppression"];

    /// <summary>True when the test must never be made on this circuit, whatever was read.</summary>
    public static bool Never(Circuit circuit, Test test)
    {
        foreach (var i in test.Setup.Interventions)
            if (i is Intervention.Jumper or Intervention.Feed or Intervention.Swap) return true;
        return test.Probe switch
        {
            // Series amps break into a live circuit; a lamp loads it. Neither is ever needed to find the stretch.
            Probe.Amps or Probe.Lamp => true,
            Probe.Ohms or Probe.Beep or Probe.Insulation => !AllOff(circuit, test.Setup) || Tips(test).Any(t => circuit.FindPart(t.Tag)!.Hazards.Any(NeverOhms.Contains)),
            _ => false,
        };
    }

    /// <summary>Above 50 V AC or 120 V DC, the limits of extra-low voltage (IEC 61140).</summary>
    public static bool IsDangerous(Circuit circuit) => circuit.NominalVolts > (circuit.Alternating ? 50 : 120);

    /// <summary>True for a test with tips on a machine that is not isolated.</summary>
    public static bool IsLive(Circuit circuit, Test test) => test.Probe is not (Probe.Sees or Probe.Hears or Probe.Looks) && !AllOff(circuit, test.Setup);

    public static bool AllOff(Circuit circuit, Setup setup) =>
        circuit.Sources.All(s => setup.Interventions.Any(i => i is Intervention.Off off && off.Tag == s.Tag));

    /// <summary>
    /// For an ohms test: the volts that must be read near zero first, with the sources off and everything else still plugged. Between the
    /// points follows from each against the reference. Source: the order live–dead–live of OSHA 29 CFR 1910.333 and EN 50110-1.
    /// </summary>
    public static IEnumerable<Test> ToProveDead(Circuit circuit, Islands islands, Test test, IEnumerable<Reading> readings)
    {
        if (test.Probe is not (Probe.Ohms or Probe.Beep or Probe.Insulation)) yield break;
        var done = readings.ToList();
        var off = new Setup(circuit.SourcesOff, []);
        foreach (var tip in Tips(test).Distinct())
        {
            if (tip == circuit.ReferencePoint || done.Exists(r => ProvesDead(circuit, r, tip))) continue;
            yield return new Test(off, new Probe.Volts(tip, islands.CommonOf(tip), circuit.VoltsFunction));
        }
    }

    private static bool ProvesDead(Circuit circuit, Reading r, Terminal tip) =>
        !r.Doubtful && r.Test.Probe is Probe.Volts v && v.P == tip && AllOff(circuit, r.Test.Setup) && r.Result switch
        {
            ReadingResult.Number n => Math.Abs(n.Value) < NearZeroVolts,
            ReadingResult.Range x => Math.Max(Math.Abs(x.Low), Math.Abs(x.High)) <= NearZeroVolts,
            _ => false,
        };

    public static IEnumerable<Terminal> Tips(Test test) => test.Probe switch
    {
        Probe.Volts v => v.Q is { } q ? [v.P, q] : [v.P],
        Probe.Drop d => [d.X.P.Terminal, d.X.Q.Terminal],
        Probe.Ohms o => [o.X.P.Terminal, o.X.Q.Terminal],
        Probe.Beep b => [b.X.P.Terminal, b.X.Q.Terminal],
        Probe.Insulation i => [i.P, i.Q],
        Probe.Lamp l => l.Q is { } q ? [l.P, q] : [l.P],
        _ => [],
    };
}
