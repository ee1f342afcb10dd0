using Zoltric.Core.Circuits;

namespace Zoltric.Core.Routes;

/// <summary>
/// The road of one current, from the source through a load and back: numbered stations with what lies between them.
/// </summary>
/// <param name="Part">Tag of the load whose current this is.</param>
/// <param name="Link">Name of the link in it: 1-2, coil, solenoid, motor.</param>
/// <param name="Title">What the current does, "what pulls K1 in".</param>
/// <param name="Amps">Current when all is well, A; 0 where it is a meter's.</param>
public sealed record Lane(string Part, string Link, string Title, double Amps, bool IsControl, IReadOnlyList<Station> Stations)
{
    /// <summary>Index of the first station past the load: what follows is the way back.</summary>
    public int LoadEnds { get; init; }

    /// <summary>True when the current is a meter's between two points of a dead machine, not the machine's own.</summary>
    public bool IsMeter { get; init; }

    public int IndexOf(Terminal t)
    {
        for (var i = 0; i < Stations.Count; i++)
            if (Stations[i].Terminal == t)
                return i;
        return -1;
    }

    /// <summary>True when the wire, pin, stud or part lies on this lane.</summary>
    public bool Holds(string element) =>
        Stations.Any(s => s.Via?.Is(element) == true || s.Terminal.Tag == element && s.Terminal.Name.Length == 0);
}

/// <summary>A point on a lane that a probe can touch, and how the current gets there from the station before.</summary>
/// <param name="Via">Null at the first station.</param>
public sealed record Station(Terminal Terminal, LaneStep? Via);

/// <summary>What lies between two stations.</summary>
/// <param name="WireId">Set for a wire.</param>
/// <param name="Tag">Set for a way through a part.</param>
/// <param name="Link">Link name when through a part: pin number, 30-87, coil.</param>
/// <param name="CoilTag">The part whose coil closes this contact, or null.</param>
public sealed record LaneStep(
    string? WireId,
    string? Tag,
    string? Link,
    bool IsContact = false,
    string? CoilTag = null,
    bool IsLoad = false
)
{
    /// <summary>Metal to metal.</summary>
    public static LaneStep Metal { get; } = new(null, null, null);

    public bool IsMetal => WireId is null && Tag is null;

    /// <summary>True when the fault target (wire, pin X3:4, tag) is this step.</summary>
    public bool Is(string element) => WireId is { } w ? w == element : Tag is { } t && (t == element || $"{t}:{Link}" == element);
}
