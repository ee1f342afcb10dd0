using System.Buffers;

namespace Zoltric.Core.Solving;

/// <summary>Potentials of many machines that share states, worked out together.</summary>
internal static class SideBySide
{
    /// <summary>
    /// Potentials of many machines of one network, V: node by node, the machines of a node side by side. Those that are changes on one
    /// state are solved for together.
    /// </summary>
    /// <returns>Rented from the shared pool, and so longer than it need be.</returns>
    public static float[] Volts(OperatingPoint[] machines)
    {
        if (machines.Length == 0)
            return [];
        var volts = ArrayPool<float>.Shared.Rent(machines[0].Nodes * machines.Length);
        var blocks = Enumerable
            .Range(0, machines.Length)
            .GroupBy(i => (machines[i].BaseState, Solved: machines[i].OwnVolts is null))
            .SelectMany(g => g.Chunk(AtOnce))
            .ToList();
        WorkBudget.ForEach(blocks, of => Write(machines, of, volts));
        return volts;
    }

    /// <summary>Right sides that are solved for together: few enough to stay near the processor.</summary>
    private const int AtOnce = 64;

    private static void Write(OperatingPoint[] machines, int[] of, float[] volts)
    {
        var (baseState, nodes, step) = (machines[of[0]].BaseState, machines[of[0]].Nodes, of.Length);
        var taken = ArrayPool<double>.Shared.Rent(nodes * step);
        if (machines[of[0]].OwnVolts is null)
        {
            Array.Clear(taken, 0, nodes * step);
            for (var k = 0; k < step; k++)
                machines[of[k]].Update!.AddTaken(taken.AsSpan(k), step);
            baseState.Factor.SolveSideBySide(taken.AsSpan(0, nodes * step), step);
        }
        for (var node = 0; node < nodes; node++)
        for (var k = 0; k < step; k++)
            volts[node * machines.Length + of[k]] = (float)(
                machines[of[k]].OwnVolts is { } own ? own[node] : baseState.Volts[node] - taken[node * step + k]
            );
        ArrayPool<double>.Shared.Return(taken);
    }
}
