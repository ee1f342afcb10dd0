namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Turns the <c>closed</c> and <c>open</c> lines about one pair of terminals into its closing rule.</summary>
internal static class ContactRules
{
    public static ClosedRule Of(Part part, string a, string b)
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
}
