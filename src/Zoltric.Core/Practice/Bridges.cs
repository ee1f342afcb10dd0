using Zoltric.Core.Circuits;

namespace Zoltric.Core.Practice;

/// <summary>
/// Jumpers, feeds and swaps that are never allowed: across a safety part at all, across a part of an interlock unless the load that moves is
/// disconnected, and above 50 V AC or 120 V DC (the limits of extra-low voltage, IEC 61140).
/// </summary>
public static class Bridges
{
    /// <summary>Why the setup must not be made, or null.</summary>
    public static string? Forbidden(Circuit circuit, Setup setup)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(setup);
        foreach (var i in setup.Interventions)
        {
            var (word, p, q) = i switch
            {
                Intervention.Jumper j => ("jumper", (Terminal?)j.P, (Terminal?)j.Q),
                Intervention.Feed f => ("feed", f.P, null),
                Intervention.Swap => ("swap", null, null),
                _ => ("", null, null),
            };
            if (word.Length == 0) continue;
            if (circuit.NominalVolts > (circuit.Alternating ? 50 : 120)) return $"No {word} at {circuit.NominalVolts:0} V.";
            var tags = i is Intervention.Swap s ? [s.Tag, s.With] : Between(circuit, p, q);
            if (tags.Select(circuit.FindPart).OfType<Part>().FirstOrDefault(x => x.Safety) is { } safety)
                return $"{safety.Spoken} is a safety device: never bridged, fed past or swapped, not even for a test.";
            if (tags.Select(circuit.FindPart).OfType<Part>().FirstOrDefault(x => IsInterlock(circuit, x)) is { } lockPart && !LoadDisconnected(circuit, setup))
                return $"{lockPart.Spoken} is an interlock: bridge it only with the load that moves disconnected (lift its lead or unplug it in the same line).";
        }
        return null;
    }

    /// <summary>Parts that a lead between two points bypasses: those on any way between the points that avoids sources and loads.</summary>
    private static HashSet<string> Between(Circuit circuit, Terminal? p, Terminal? q)
    {
        var tags = new HashSet<string>();
        if (p is not { } from) return tags;
        tags.Add(from.Tag);
        if (q is not { } to)
        {
            // Fed from the supply: everything between the supply and the point is passed.
            to = new Terminal(circuit.Sources.First().Tag, circuit.Sources.First().Model.Terminals[0]);
        }
        else tags.Add(to.Tag);
        foreach (var part in circuit.Parts)
        {
            if (part.Kind.IsSource || part.Model.IsPoint || part.Kind is Circuits.Kinds.PinRow) continue;
            if (!Joined(circuit, from, to, part.Tag) && Joined(circuit, from, to, null)) tags.Add(part.Tag);
        }
        return tags;
    }

    private static bool Joined(Circuit circuit, Terminal from, Terminal to, string? without)
    {
        var seen = new HashSet<Terminal> { from };
        var queue = new Queue<Terminal>([from]);
        while (queue.TryDequeue(out var t))
        {
            if (t == to) return true;
            foreach (var next in Next(circuit, t, without)) if (seen.Add(next)) queue.Enqueue(next);
        }
        return false;
    }

    private static IEnumerable<Terminal> Next(Circuit circuit, Terminal t, string? without)
    {
        foreach (var w in circuit.Wires) { if (w.From == t) yield return w.To; if (w.To == t) yield return w.From; }
        foreach (var b in circuit.Bonds) { if (b.A == t) yield return b.B; if (b.B == t) yield return b.A; }
        if (circuit.FindPart(t.Tag) is not { } part || part.Tag == without) yield break;
        foreach (var link in part.Model.Links)
        {
            if (link is not (Link.Contact or Link.Fuse) && part.Kind is not Circuits.Kinds.PinRow) continue;
            if (link.A == t.Name) yield return t with { Name = link.B };
            if (link.B == t.Name) yield return t with { Name = link.A };
        }
    }

    /// <summary>A switch whose control an interlock of the sheet watches.</summary>
    public static bool IsInterlock(Circuit circuit, Part part)
    {
        var controls = part.Contacts.SelectMany(c => c.When?.Leaves() ?? []).OfType<Condition.Position>().Select(c => c.Control).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return circuit.Interlocks.SelectMany(i => i.When.Leaves()).OfType<Condition.Position>().Any(c => controls.Contains(c.Control));
    }

    private static bool LoadDisconnected(Circuit circuit, Setup setup)
    {
        var moving = circuit.Parts.Where(p => p.Hazards.Contains("rotating") || p.Kind is Circuits.Kinds.Motor or Circuits.Kinds.Starter).Select(p => p.Tag).ToHashSet();
        return moving.Count > 0 && setup.Interventions.Any(i => i is Intervention.Lift l && moving.Contains(l.P.Tag) || i is Intervention.Unplug u && moving.Contains(u.Tag));
    }
}
