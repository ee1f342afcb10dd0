using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Safety;

/// <summary>
/// What to say before a step, one line each, the most pressing first: from what really moves or heats in this setup, from the volts at the
/// tips and in the same place. Common practice unless a source stands beside it; local codes and licensed practice come first.
/// </summary>
public static class Cautions
{
    /// <summary>Cautions for a machine as a whole.</summary>
    public static IEnumerable<string> For(Circuit circuit) =>
        MakeSafe.Items(circuit).Where(i => i.Need is SafetyNeed.Any).Select(i => i.Say);

    /// <summary>Cautions that one test calls for.</summary>
    /// <param name="sound">The sound machine in the test's setup: what runs in it.</param>
    /// <param name="isolated">True where the machine is proved dead already: how to isolate is not said again.</param>
    public static IReadOnlyList<string> For(Circuit circuit, Test test, OperatingPoint sound, bool wet = false, bool isolated = false)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        ArgumentNullException.ThrowIfNull(sound);
        var all = new List<string>();
        var plan = IsolationPlan.Of(circuit);
        if (plan.IsOff(test.Setup))
        {
            if (!isolated && (test.Probe.SendsCurrent || test.Probe is Probe.Volts))
                all.AddRange(plan.Supplies.Select(s => s.Say));
            foreach (var (part, energy) in plan.Stored.Where(s => IsAt(circuit, test, s.Part)).Take(2))
                all.Add($"{part.Spoken} holds energy with the source off ({energy}).");
        }
        else
        {
            if (TestRules.IsDangerouslyLive(circuit, test, wet))
                all.Add(
                    $"Live, up to {Bridges.Said(TestRules.ExposureOf(circuit, test))}: only people permitted to, one hand, "
                        + $"insulated tips (IEC 61010-031)."
                );
            else if (TestRules.IsLive(circuit, test) && Beside(circuit, test, wet) is { } beside)
                all.Add(beside);
            all.AddRange(Running(circuit, test, sound));
            if (test.Setup.Interventions.OfType<Intervention.Unplug>().Any(u => circuit.FindPart(u.Tag)?.Kind is Module))
                all.Add("Key off and battery lead off before a control unit is unplugged.");
        }
        if (
            !plan.IsOff(test.Setup)
            && test.Setup.AfterSeconds >= 60
            && circuit.Parts.Any(p => p.ModuleLines.OfType<ModuleLine.Sleeps>().Any())
        )
            all.Add("Leave key, doors and switches alone: what wakes a module starts the wait anew, and a fuse put back does too.");
        foreach (var i in test.Setup.Interventions)
            if (i is Intervention.Unplug u && circuit.FindPart(u.Tag) is { } s && SafetyParts.IsSafety(circuit, s))
                all.Add($"{s.Spoken} is a safety device: measure it, never bridge it.");
        if (
            !plan.IsOff(test.Setup)
            && test.Setup.Steps.SelectMany(s => s).Any(m => circuit.FindControl(m.Control) is { } c && c.Held.Contains(m.Position))
        )
            all.Add("A second person holds the control; agree on the word to let go.");
        return all;
    }

    /// <summary>
    /// What turns, moves or heats on a sound machine in that setup, by name and place; a fault that comes and goes may let it go at any
    /// moment.
    /// </summary>
    private static IEnumerable<string> Running(Circuit circuit, Test test, OperatingPoint sound)
    {
        // Nothing is set and nothing runs: only what starts by itself is to be said.
        foreach (
            var part in circuit.Parts.Where(p => Bridges.Moves(p) && LoadState.Judge(sound, circuit.IndexOf(p.Tag)) != Answer.Dead).Take(2)
        )
            yield return $"{part.Spoken}{(part.Place is { } place ? $" ({place})" : "")} may turn: chock, stand clear.";
        if (test.Setup.Steps.Count > 0)
            foreach (
                var hot in circuit
                    .Parts.Where(p =>
                        p.Hazards.Contains("hot", StringComparer.OrdinalIgnoreCase)
                        && p.Model.Load is not null
                        && LoadState.Judge(sound, circuit.IndexOf(p.Tag)) != Answer.Dead
                    )
                    .Take(1)
            )
                yield return $"{hot.Spoken} gets hot in this setup.";
        if (circuit.Parts.FirstOrDefault(p => p.Hazards.Contains("self-start", StringComparer.OrdinalIgnoreCase)) is { } starter)
            yield return $"{starter.Spoken} may start it by itself.";
    }

    /// <summary>Dangerous points in the place where a harmless one is read.</summary>
    private static string? Beside(Circuit circuit, Test test, bool wet)
    {
        var nets = Nets.Of(circuit);
        var places = test.Probe.Tips.Select(t => circuit.FindPart(t.Tag)?.Place).OfType<string>().ToHashSet();
        foreach (var part in circuit.Parts.Where(p => p.Place is { } place && places.Contains(place)))
        {
            var volts = part.Model.Terminals.Aggregate(Exposure.None, (e, t) =>
                Exposure.Largest(e, nets.FindSection(Connectivity.At(part, t))?.Own ?? Exposure.None)
            );
            if (SafetyLimits.IsDangerous(volts, wet))
                return $"{Bridges.Said(volts)} stands in the same place, at {part.Spoken}: covers on, hands clear.";
        }
        return null;
    }

    private static bool IsAt(Circuit circuit, Test test, Part part) =>
        test.Probe.Tips.Any(t => t.Tag == part.Tag || part.Place is { } place && circuit.FindPart(t.Tag)?.Place == place);
}
