using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Safety;

/// <summary>A lead or swap that must not be, and what it goes past.</summary>
/// <param name="Why">What is wrong, as a sentence.</param>
/// <param name="Past">Tags of the guards that it goes past; empty where the volts forbid it.</param>
public sealed record ForbiddenBridge(string Why, IReadOnlyList<string> Past);

/// <summary>
/// Jumpers, feeds, lamps and swaps. Never past a safety part, not even for a test; past an interlock only with the load that moves
/// disconnected; none where the volts are dangerous. Common practice; limits in <see cref="SafetyLimits"/>.
/// </summary>
public static class Bridges
{
    /// <summary>Why the test must not be made so, or null.</summary>
    public static ForbiddenBridge? Forbidden(Machine machine, Test test, SafetyFacts? facts = null)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(test);
        var wet = facts?.Wet == true;
        if (test.Probe is Probe.Lamp lamp)
        {
            var nets = Nets.Of(machine.Circuit);
            var volts = nets.Between(lamp.P, lamp.Q ?? machine.Circuit.ReferencePoint);
            if (SafetyLimits.IsDangerous(volts, wet))
                return new($"No test lamp here: up to {Said(volts)} can stand between the two points.", []);
        }
        return Forbidden(machine, test.Setup, facts);
    }

    /// <summary>Why the setup must not be made, or null.</summary>
    public static ForbiddenBridge? Forbidden(Machine machine, Setup setup, SafetyFacts? facts = null)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(setup);
        var circuit = machine.Circuit;
        if (!setup.Interventions.Any(i => i is Intervention.Jumper or Intervention.Feed or Intervention.Swap))
            return null;
        var (nets, wet) = (Nets.Of(circuit), facts?.Wet == true);
        foreach (var i in setup.Interventions)
        {
            var volts = i switch
            {
                Intervention.Jumper j => Exposure.Largest(nets.At(j.P), nets.At(j.Q)),
                Intervention.Feed f => Exposure.Largest(nets.At(f.P), nets.At(FaultEffects.SupplyPositive(circuit, f.P))),
                _ => Exposure.None,
            };
            if (SafetyLimits.IsDangerous(volts, wet))
                return new($"No {Word(i)} here: up to {Said(volts)} can stand on these points.", []);
        }
        var passed = Passed(circuit, setup);
        if (passed.Where(p => SafetyParts.IsSafety(circuit, p, facts?.Denied)).ToList() is { Count: > 0 } safety)
            return new(
                $"{safety[0].Spoken} is a safety device: never bridged, fed past or swapped, not even for a test.",
                [.. safety.Select(p => p.Tag)]
            );
        if (passed.Where(p => SafetyParts.IsInterlock(circuit, p)).ToList() is { Count: > 0 } locks && !LoadDisconnected(machine, setup))
            return new(
                $"{locks[0].Spoken} is an interlock: go past it only with the load that moves disconnected and its lead "
                    + $"insulated. Lift that lead or unplug it in the same line.",
                [.. locks.Select(p => p.Tag)]
            );
        return null;
    }

    /// <summary>
    /// Guards that the setup goes past, whatever was done to the load: safety parts and interlocks. Each has to be shown to stop the
    /// machine before the job closes.
    /// </summary>
    public static IReadOnlyList<Part> Guards(Circuit circuit, Setup setup, IReadOnlySet<string>? denied = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(setup);
        if (!setup.Interventions.Any(i => i is Intervention.Jumper or Intervention.Feed or Intervention.Swap))
            return [];
        return [.. Passed(circuit, setup).Where(p => SafetyParts.IsSafety(circuit, p, denied) || SafetyParts.IsInterlock(circuit, p))];
    }

    /// <summary>Volts as they are said: alternating, direct, or both.</summary>
    public static string Said(Exposure e) =>
        string.Join(
            " and ",
            new[]
            {
                e.AcVolts > 0 ? FormattableString.Invariant($"{e.AcVolts:0} V AC") : "",
                e.DcVolts > 0 ? FormattableString.Invariant($"{e.DcVolts:0} V DC") : "",
            }.Where(x => x.Length > 0)
        );

    private static string Word(Intervention i) =>
        i is Intervention.Feed ? "feed"
        : i is Intervention.Swap ? "swap"
        : "jumper";

    /// <summary>Parts that the leads of a setup go past, and those swapped.</summary>
    private static HashSet<Part> Passed(Circuit circuit, Setup setup)
    {
        var (bypass, passed) = (new Bypass(circuit), new HashSet<Part>());
        foreach (var i in setup.Interventions)
            switch (i)
            {
                case Intervention.Jumper j:
                    passed.UnionWith(bypass.Between(j.P, j.Q));
                    break;
                case Intervention.Feed f:
                    passed.UnionWith(bypass.Between(FaultEffects.SupplyPositive(circuit, f.P), f.P));
                    break;
                case Intervention.Swap s:
                    foreach (var tag in new[] { s.Tag, s.With })
                        if (circuit.FindPart(tag) is { } part)
                            passed.Add(part);
                    break;
            }
        return passed;
    }

    /// <summary>Parts that move something a person can be hurt by.</summary>
    public static bool Moves(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind is Motor or Motor3 or Starter
            || part.Hazards.Any(h =>
                h.Equals("rotating", StringComparison.OrdinalIgnoreCase) || h.Equals("moving", StringComparison.OrdinalIgnoreCase)
            );
    }

    /// <summary>True where a moving load's lead is off and no other moving load would run on a sound machine in that setup.</summary>
    private static bool LoadDisconnected(Machine machine, Setup setup)
    {
        var circuit = machine.Circuit;
        var moving = circuit.Parts.Where(Moves).Select(p => p.Tag).ToHashSet(StringComparer.Ordinal);
        if (
            !setup.Interventions.Any(i =>
                i is Intervention.Lift l && moving.Contains(l.P.Tag) || i is Intervention.Unplug u && moving.Contains(u.Tag)
            )
        )
            return false;
        var op = machine.Run(setup);
        return !moving.Any(tag => LoadState.Judge(op, circuit.IndexOf(tag)) != Answer.Dead);
    }
}
