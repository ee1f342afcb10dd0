namespace Zoltric.Core.Circuits;

/// <summary>
/// Kinds of machine after <c>family</c>. Lift is said of things that are worked on in different ways: where it is known which, it is said.
/// </summary>
public static class MachineFamily
{
    public const string Lift = "lift",
        Elevator = "elevator",
        Platform = "platform",
        Hoist = "hoist",
        StairLift = "stairlift";

    public static IReadOnlyList<string> All { get; } =
    ["appliance", "industrial", Lift, Elevator, Platform, Hoist, StairLift, "truck", "offroad"];

    /// <summary>
    /// The family as it is known, however it is written: <c>Off-road</c>, <c>stair-lift</c>; what is not known stays as it is.
    /// </summary>
    public static string? Of(string? written) =>
        written?.Replace("-", "", StringComparison.Ordinal) is { } plain
            ? All.FirstOrDefault(f => f.Equals(plain, StringComparison.OrdinalIgnoreCase)) ?? written
            : null;

    /// <summary>True for what can come down by itself.</summary>
    public static bool IsLift(string? family) => family is Lift or Elevator or Platform or Hoist or StairLift;
}
