namespace Zoltric.Core.Solving;

/// <summary>A branch as a fault leaves it: conductance, S, and volts behind it.</summary>
internal readonly record struct ChangedLink(int Branch, double G, double Emf);
