using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Safety;

/// <summary>
/// Which parts guard people. A part is a safety part when the sheet marks it, or when its kind or its label says what it is. A person may
/// deny that, with name and reason, on a job. Common practice, no source, after the list of handbooks for machines: emergency stop, locks
/// of doors and guards, cut-outs, overloads, overtravel, slack rope, tilt and load limits.
/// </summary>
public static partial class SafetyParts
{
    /// <summary>True for a part of a safety string; <paramref name="denied"/> are tags that a person has said are none.</summary>
    public static bool IsSafety(Circuit circuit, Part part, IReadOnlySet<string>? denied = null)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Safety || denied?.Contains(part.Tag) != true && IsByWhatItIs(circuit, part);
    }

    /// <summary>True where kind or label says it, marked or not.</summary>
    public static bool IsByWhatItIs(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        if (part.Kind is Cutout or Rcd or SafetyRelay)
            return true;
        // A label names what a contact does; a lamp "emergency stop pressed" guards nobody.
        return part.Label is { } label
            && part.Model.Links.Any(l => l is Link.Contact or Link.Fuse)
            && (part.Model.Coil is null || part.Kind is Proximity)
            && (Guards().IsMatch(label) || circuit.Family is not ("truck" or "offroad") && Doors().IsMatch(label));
    }

    /// <summary>
    /// True for a switch of an interlock that is no safety part: neutral, seat, brake. It may be bridged for a test only with the load that
    /// moves disconnected.
    /// </summary>
    public static bool IsInterlock(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        var controls = ControlsOf(part).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return circuit.Interlocks.SelectMany(i => i.When.Leaves()).OfType<Condition.Position>().Any(c => controls.Contains(c.Control))
            || part.Label is { } label
                && part.Model.Coil is null
                && part.Model.Links.Any(l => l is Link.Contact)
                && Presence().IsMatch(label);
    }

    /// <summary>Controls that move a part's contacts.</summary>
    public static IEnumerable<string> ControlsOf(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part
            .Contacts.SelectMany(c => c.When?.Leaves() ?? [])
            .OfType<Condition.Position>()
            .Select(c => c.Control)
            .Distinct(StringComparer.OrdinalIgnoreCase);
    }

    // Lamps that go with a door or a brake guard nobody.
    [GeneratedRegex(
        @"^(?!.*\b(lamp|light|courtesy)\b).*\b(e-?stop|emergency|guard|interlock|slack[- "
            + @"]?rope|over-?travel|over-?load|over-?speed|over-?temp\w*"
            + @"|high[- ]limit|final limit|ultimate|cut-?out|thermal (fuse|link|trip)|tilt|load (limit|cell|sensing)"
            + @"|(door|gate|hatch|landing|lid|car)\b.*\b(lock|locked)|light curtain|pull[- ]?cord|safety)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Guards();

    // On a vehicle a door contact works a lamp; on a machine it stops it.
    [GeneratedRegex(
        @"^(?!.*\b(lamp|light|courtesy)\b).*\b(door|gate|hatch|lid|hood|cover)\b.*\b(contact|switch)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Doors();

    [GeneratedRegex(
        @"^(?!.*\b(lamp|light)\b).*\b(seat|neutral|brake|clutch|dead ?man|operator presence|park\w*)\b.*\b(switch|contact|interlock)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Presence();
}
