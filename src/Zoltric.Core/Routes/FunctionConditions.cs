using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Routes;

/// <summary>One thing a function needs, and whether it is so now.</summary>
/// <param name="What">Control, contact, coil, fuse or wire, as a person says it.</param>
/// <param name="Needed">What it has to be: ON, closed, pulled in.</param>
/// <param name="Now">What it is.</param>
/// <param name="Target">Tag of the part, or name of the control.</param>
public sealed record FunctionCondition(string What, string Needed, string Now, bool Met, string Target, bool IsControl, bool Safety);

/// <summary>
/// Answers "what stops this function?": the controls its condition names, the interlocks that stop it, and every contact and fuse on the
/// lanes of its current, against a state of the machine.
/// </summary>
public static class FunctionConditions
{
    /// <summary>Conditions in the order the current meets them, controls first.</summary>
    /// <param name="healthy">The machine as drawn, which shows what the function needs.</param>
    /// <param name="now">The state asked about.</param>
    public static IReadOnlyList<FunctionCondition> For(Machine healthy, MachineFunction function, OperatingPoint now)
    {
        ArgumentNullException.ThrowIfNull(healthy);
        ArgumentNullException.ThrowIfNull(function);
        ArgumentNullException.ThrowIfNull(now);
        var circuit = healthy.Circuit;
        var found = new List<FunctionCondition>();
        if (FunctionSetups.SetupFor(circuit, function) is not { } setup)
            return found;
        var working = healthy.Run(setup);
        var interlocks = circuit
            .Interlocks.Where(i => i.Stops == function.Name)
            .SelectMany(i => i.When.Leaves())
            .OfType<Condition.Position>()
            .ToList();
        var named = (function.When?.Leaves() ?? [])
            .OfType<Condition.Position>()
            .Concat(interlocks)
            .Select(p => p.Control)
            .Concat(setup.Steps.SelectMany(s => s).Select(m => m.Control))
            .Distinct(StringComparer.OrdinalIgnoreCase);
        foreach (var name in named)
        {
            if (circuit.FindControl(name) is not { } control)
                continue;
            var at = now.Position(control.Name);
            // Of a control that the condition leaves free, or that may be in several positions, every one will do that stops nothing.
            var good = control.Positions.Where(p => Allows(p)).ToList();
            if (good.Count == control.Positions.Count)
                continue;
            found.Add(
                new FunctionCondition(
                    control.Name,
                    string.Join(" or ", good),
                    at,
                    good.Contains(at, StringComparer.OrdinalIgnoreCase),
                    control.Name,
                    true,
                    interlocks.Exists(i => i.Control.Equals(control.Name, StringComparison.OrdinalIgnoreCase))
                )
            );

            bool Allows(string p)
            {
                string At(string n) => n.Equals(control.Name, StringComparison.OrdinalIgnoreCase) ? p : working.Position(n);
                if (circuit.Interlocks.Any(i => i.Stops == function.Name && i.When.Holds(At, _ => true)))
                    return false;
                return function.When?.Holds(At, _ => true) ?? p.Equals(working.Position(control.Name), StringComparison.OrdinalIgnoreCase);
            }
        }
        var seen = new HashSet<(string, string)>();
        foreach (var lane in LaneFinder.Find(healthy, function))
        foreach (var step in lane.Stations.Select(s => s.Via).OfType<LaneStep>())
        {
            if (step.Tag is not { } tag || step.IsLoad || !seen.Add((tag, step.Link!)))
                continue;
            var index = circuit.IndexOf(tag);
            var part = circuit.Parts[index];
            var link = part.Model.LinkIndex(step.Link!);
            if (link < 0 || part.Model.Links[link] is not (Link.Contact or Link.Fuse))
                continue;
            var open = now.LinkOpen(index, link);
            var fuse = part.Model.Links[link] is Link.Fuse;
            found.Add(
                new FunctionCondition(
                    part.Model.Links.Count(l => l is Link.Contact or Link.Fuse) > 1 ? $"{part.Spoken}, {step.Link}" : part.Spoken,
                    fuse ? "whole" : "closed",
                    open ? "open"
                        : fuse ? "whole"
                        : "closed",
                    !open,
                    tag,
                    false,
                    part.Safety
                )
            );
        }
        return found;
    }
}
