namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Turns the <c>closed</c> and <c>open</c> lines about one pair of terminals into its closing rule.</summary>
internal static class ContactRules
{
    public static ClosedRule Closed(Part part, string a, string b)
    {
        var lines = part.Contacts.Where(c => (c.A == a && c.B == b) || (c.A == b && c.B == a)).ToList();
        if (lines.Count == 0)
            return new ClosedRule.Always();
        var closed = lines.Where(l => l.Closed).Select(l => l.When).ToList();
        var open = lines.Where(l => !l.Closed && l.When is not null).Select(l => l.When!).ToList();
        // Only "open … when" lines: closed at all other times.
        if (closed.Count == 0 && open.Count > 0)
            closed.Add(null);
        return new ClosedRule.ByControls(closed, open);
    }

    /// <summary>Pairs of terminals that the part's lines speak of, each once, as first written.</summary>
    public static IReadOnlyList<(string A, string B)> Pairs(Part part)
    {
        var pairs = new List<(string A, string B)>();
        foreach (var line in part.Contacts)
            if (!pairs.Contains((line.A, line.B)) && !pairs.Contains((line.B, line.A)))
                pairs.Add((line.A, line.B));
        return pairs;
    }

    /// <summary>Two-digit terminals are auxiliary contacts, one-digit ones main poles (EN 50005, EN 50011).</summary>
    public static bool IsAuxiliary((string A, string B) pair) => pair.A.Length == 2 && pair.A.All(char.IsAsciiDigit);

    /// <summary>Function digits 3-4 make, 1-2 break; 7-8 and 5-6 are their delayed or special kin (EN 50005).</summary>
    public static bool Makes((string A, string B) pair) => pair.A[^1] is '3' or '7';

    /// <summary>Closed while the given contact is open.</summary>
    public static ClosedRule Inverse(ClosedRule rule)
    {
        if (rule is not ClosedRule.ByControls by)
            return new ClosedRule.ByControls([], []);
        // A null entry holds always: then only the open lines part it.
        var open = by.Open.Count > 0 ? by.Open.Aggregate((x, y) => new Condition.Or(x, y)) : null;
        if (by.Closed.Contains(null))
            return new ClosedRule.ByControls(open is null ? [] : [open], []);
        var closed = by.Closed.OfType<Condition>().Aggregate((x, y) => new Condition.Or(x, y));
        Condition parted = new Condition.Not(closed);
        return new ClosedRule.ByControls([open is null ? parted : new Condition.Or(parted, open)], []);
    }
}
