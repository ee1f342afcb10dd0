using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Routes;

/// <summary>What several dead functions share and no working one has proved.</summary>
/// <param name="Functions">The functions that are dead together.</param>
/// <param name="Elements">Wires by number, parts by tag, in the order the current meets them.</param>
/// <param name="From">First shared station, and the last.</param>
public sealed record SharedRoute(IReadOnlyList<string> Functions, IReadOnlyList<string> Elements, Terminal From, Terminal To);

/// <summary>Compares the lanes of functions seen dead with those seen working.</summary>
public static class Commonality
{
    /// <summary>Null with fewer than two dead functions, or when they share nothing that a working one does not use too.</summary>
    public static SharedRoute? Find(Machine machine, IReadOnlyList<MachineFunction> dead, IReadOnlyList<MachineFunction> working)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(dead);
        ArgumentNullException.ThrowIfNull(working);
        if (dead.Count < 2)
            return null;
        var proved = working.SelectMany(f => Steps(machine, f)).Select(s => s.Name).ToHashSet();
        var others = dead.Skip(1).Select(f => Steps(machine, f).Select(s => s.Name).ToHashSet()).ToList();
        var shared = Steps(machine, dead[0]).Where(s => others.TrueForAll(o => o.Contains(s.Name)) && !proved.Contains(s.Name)).ToList();
        return shared.Count == 0
            ? null
            : new SharedRoute([.. dead.Select(f => f.Name)], [.. shared.Select(s => s.Name).Distinct()], shared[0].From, shared[^1].To);
    }

    private static List<(string Name, Terminal From, Terminal To)> Steps(Machine machine, MachineFunction function)
    {
        var steps = new List<(string, Terminal, Terminal)>();
        foreach (var lane in LaneFinder.Find(machine, function).Reverse())
            for (var i = 1; i < lane.Stations.Count; i++)
                if (lane.Stations[i].Via is { IsMetal: false } via)
                    steps.Add(
                        (
                            via.WireId
                                ?? (
                                    machine.Circuit.FindPart(via.Tag!)!.Model.Links.Count > 1
                                        ? $"{via.Tag}{(lane.Stations[i].Terminal.IsPin ? ":" : " ")}{via.Link}"
                                        : via.Tag!
                                ),
                            lane.Stations[i - 1].Terminal,
                            lane.Stations[i].Terminal
                        )
                    );
        return steps;
    }
}
