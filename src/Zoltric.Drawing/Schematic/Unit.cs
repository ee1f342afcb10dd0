using Zoltric.Core.Circuits;

namespace Zoltric.Drawing.Schematic;

/// <summary>Which edge of a unit a port is on: current is drawn entering at the top and leaving at the bottom.</summary>
public enum Side
{
    Top,
    Bottom,
}

/// <summary>What a unit is drawn as.</summary>
public enum UnitShape
{
    /// <summary>A glyph with one port above and one below.</summary>
    Single,

    /// <summary>One common port, several throws below it.</summary>
    Changeover,

    /// <summary>A pin of a connector or strip.</summary>
    Pin,

    /// <summary>A wire between two points, which has no part of its own.</summary>
    Bare,

    /// <summary>A box with named pins: modules, machines of three phases, transformers, starters, mains.</summary>
    Box,
}

/// <summary>A point of a unit where wires arrive.</summary>
public sealed record Port(Terminal Terminal, Side Side);

/// <summary>
/// One piece of a part as the drawing shows it: a relay's coil is one unit and each of its contacts another, each pin of a connector is
/// one.
/// </summary>
/// <param name="Links">Indices of the part's links that this piece shows.</param>
public sealed record Unit(int Index, Part Part, UnitShape Shape, IReadOnlyList<Port> Ports, IReadOnlyList<int> Links)
{
    /// <summary>True when this piece is the coil of a part that has contacts elsewhere on the drawing.</summary>
    public bool IsCoil { get; init; }

    /// <summary>The wire of a <see cref="UnitShape.Bare"/> unit; null for metal to metal.</summary>
    public Wire? Wire { get; init; }

    /// <summary>True when this piece is a contact that a coil of the same part moves.</summary>
    public bool IsCoilContact { get; init; }

    public IEnumerable<Port> On(Side side) => Ports.Where(p => p.Side == side);

    /// <summary>Widest row of ports.</summary>
    public int Width =>
        Shape is UnitShape.Single or UnitShape.Bare or UnitShape.Pin
            ? 1
            : Math.Max(1, Math.Max(On(Side.Top).Count(), On(Side.Bottom).Count()));
}
