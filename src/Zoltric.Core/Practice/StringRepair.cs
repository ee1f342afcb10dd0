using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Practice;

/// <summary>One way to mend an aged string, with what the machine would show after it.</summary>
/// <param name="Volts">Across the load or coil, V; for a relay, at the end of the string.</param>
public sealed record RepairOption(string What, double Volts, bool Works);

/// <summary>
/// Ways to mend a string whose joints have all aged, compared by running the machine with each: as it is, joints renewed, or a relay near
/// the load so that the string carries a coil's current only. The relay takes nothing out of the string: every interlock in it stays in
/// charge.
/// </summary>
public static class StringRepair
{
    /// <summary>Current of a small relay's coil, A; common practice, no source.</summary>
    private const double CoilAmps = 0.1;

    /// <summary>Share of nominal at which a relay surely pulls in; ISO 7588-1 asks for less than two thirds.</summary>
    private const double PullIn = 0.67;

    public static IReadOnlyList<RepairOption> Options(Machine machine, MachineFunction function, FaultGroup group)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(function);
        ArgumentNullException.ThrowIfNull(group);
        if (
            group.Together.Count == 0
            || group.Towards is not { } tag
            || FunctionSetups.SetupFor(machine.Circuit, function) is not { } setup
        )
            return [];
        var faults = group.Together.Select(t => t with { Value = group.Faults[0].Value }).Prepend(group.Faults[0]).ToList();
        var options = new List<RepairOption> { Try("as it is", faults) };
        foreach (var renewed in new[] { 1, (faults.Count + 1) / 2, faults.Count }.Distinct())
            options.Add(
                Try(
                    renewed == faults.Count ? "all joints renewed"
                        : renewed == 1 ? $"the worst joint renewed, {faults.Count - 1} left"
                        : $"{renewed} joints renewed, {faults.Count - renewed} left",
                    [.. faults.Skip(renewed)]
                )
            );
        var part = machine.Circuit.FindPart(tag)!;
        var link = part.Model.Coil?.Link ?? part.Model.Load?.Link ?? 0;
        var coil = machine.Circuit.NominalVolts / CoilAmps;
        if (
            !machine.Circuit.Alternating
            && part.Model.Faults.Any(m => m.Kind == FaultKind.Resists && m.Effect is FaultEffect.Series)
            && part.Model.Links[link].Ohms < coil / 3
        )
        {
            // The load with a coil's ohms before it draws what the coil would; the volts across both are the coil's.
            var op = machine.Run(setup, [.. faults, new Fault(tag, "resists", coil - part.Model.Links[link].Ohms, Dimension.Ohm)]);
            var volts = Math.Abs(
                op.Volts(op.Node(new Terminal(tag, part.Model.Links[link].A)))
                    - op.Volts(op.Node(new Terminal(tag, part.Model.Links[link].B)))
            );
            options.Add(
                new RepairOption(
                    "a relay near the load; the string, with every interlock, switches its coil",
                    volts,
                    volts >= PullIn * machine.Circuit.NominalVolts
                )
            );
        }
        return options;

        RepairOption Try(string what, IReadOnlyList<Fault> left)
        {
            var op = machine.Run(setup, left);
            var index = machine.Circuit.IndexOf(tag);
            var at = machine.Circuit.Parts[index].Model;
            return new RepairOption(
                what,
                Math.Abs(op.LinkVolts(index, at.Coil?.Link ?? at.Load?.Link ?? 0)),
                FunctionState.Judge(op, function) == Answer.Works
            );
        }
    }
}
