using Zoltric.Core.Circuits;

namespace Zoltric.Core.Practice;

/// <summary>
/// What to say before a step, briefly. Common practice unless a source stands beside it; local codes and licensed practice come first.
/// </summary>
public static class Cautions
{
    /// <summary>Cautions for a machine as a whole, from the hazards its sheet names.</summary>
    public static IEnumerable<string> For(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var hazards = circuit.Parts.SelectMany(p => p.Hazards).ToHashSet();
        if (hazards.Contains("self-start")) yield return "It may start by itself (float, timer, remote). Keep hands clear of the driven end.";
        if (hazards.Contains("rotating")) yield return "Chock it, and stand clear of belts, drums and wheels whenever a control is operated.";
        if (hazards.Contains("acid")) yield return "Battery: ground lead off first and on last, no sparks, no metal jewellery.";
        if (circuit.Alternating || circuit.NominalVolts > 60) yield return "Dangerous voltage: only people permitted to, one hand, insulated tips (IEC 61010-031).";
        yield return "Local codes and licensed practice come first.";
    }

    /// <summary>Cautions that one test calls for, the most pressing first.</summary>
    public static IReadOnlyList<string> For(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var all = new List<string>();
        var off = test.Setup.Interventions.Any(i => i is Intervention.Off);
        if (off)
        {
            var sources = string.Join(", ", test.Setup.Interventions.OfType<Intervention.Off>().Select(o => o.Tag));
            all.Add($"Isolate {sources} and lock it. Prove the tester on a live point before and after (OSHA 29 CFR 1910.333, EN 50110-1).");
        }
        else
        {
            if (test.Probe is not (Probe.Sees or Probe.Hears or Probe.Looks) && (circuit.Alternating || circuit.NominalVolts > 60))
                all.Add($"Live {circuit.NominalVolts:0} V: only people permitted to, meter of the right category, one hand, insulated tips (IEC 61010-031).");
            var moves = test.Setup.Steps.Any(s => s.Any());
            if (moves && circuit.Parts.FirstOrDefault(p => p.Hazards.Contains("rotating")) is { } turning)
                all.Add($"{turning.Spoken} may turn: chock, stand clear.");
            if (circuit.Parts.FirstOrDefault(p => p.Hazards.Contains("self-start")) is { } starter)
                all.Add($"{starter.Spoken} may start it by itself.");
        }
        if (!off && test.Setup.AfterSeconds >= 60 && circuit.Parts.Any(p => p.ModuleLines.OfType<ModuleLine.Sleeps>().Any()))
            all.Add("Leave key, doors and switches alone: what wakes a module starts the wait anew, and a fuse put back does too.");
        foreach (var i in test.Setup.Interventions)
            if (i is Intervention.Unplug u && circuit.FindPart(u.Tag) is { Safety: true } s) all.Add($"{s.Spoken} is a safety device: measure it, never bridge it.");
        if (!off && test.Setup.Steps.SelectMany(s => s).Any(m => circuit.FindControl(m.Control) is { } c && c.Held.Contains(m.Position)))
            all.Add("A second person holds the control; agree on the word to let go.");
        return all;
    }
}
