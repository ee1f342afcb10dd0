namespace Zoltric.Core.Solving;

/// <summary>A branch as a fault leaves it: conductance, S, and volts behind it.</summary>
internal readonly record struct ChangedLink(int Branch, double G, double Emf)
{
    /// <summary>Conductances with the changes in them, S; a copy.</summary>
    public static double[] Over(double[] conductances, List<ChangedLink> changes)
    {
        var g = (double[])conductances.Clone();
        foreach (var c in changes)
            g[c.Branch] = c.G;
        return g;
    }
}
