using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// A new fuse that was seen or measured blown like the one before it: nobody feeds a third to the same fault, so what is read from then on
/// is read with that fuse open, whatever the setting. It is taken as pulled, which is the same to every meter but one on the fuse itself.
/// </summary>
internal static class BlownAgain
{
    /// <summary>Fuses that are open after these readings: renewed, seen or measured blown, and not renewed since.</summary>
    public static IReadOnlyList<string> After(Circuit circuit, IEnumerable<Reading> readings)
    {
        var (renewed, open) = (new HashSet<string>(StringComparer.OrdinalIgnoreCase), new List<string>());
        foreach (var r in readings)
            Note(circuit, r, renewed, open);
        return open;
    }

    /// <summary>The readings after such a fuse with it pulled; the rest as they are.</summary>
    public static IEnumerable<Reading> Open(Circuit circuit, IEnumerable<Reading> readings)
    {
        var (renewed, open) = (new HashSet<string>(StringComparer.OrdinalIgnoreCase), new List<string>());
        foreach (var r in readings)
        {
            yield return open.Count == 0 || r.Test.Probe is Probe.Looks or Probe.Replaced or Probe.Code || OhmsFrom(r.Test, open)
                ? r
                : r with
                {
                    Test = Pulled(r.Test, open),
                };
            Note(circuit, r, renewed, open);
        }
    }

    /// <summary>
    /// True where a new fuse held in every setting that was tried with it and was blown later: what blows it comes and goes.
    /// </summary>
    public static bool WentLater(Circuit circuit, IReadOnlyList<Reading> all)
    {
        var tried = new Dictionary<string, List<(Setup Setup, bool Works)>>(StringComparer.OrdinalIgnoreCase);
        foreach (var r in all.Where(r => !r.Doubtful))
            if (r.Test.Probe is Probe.Replaced { Tag: var tag })
            {
                if (circuit.FindPart(tag)?.Kind is Circuits.Kinds.Fuse)
                    tried[tag] = [];
            }
            else if (r is { Test.Probe: Probe.Looks look, Result: ReadingResult.Word { Answer: Answer.Bad } })
            {
                if (tried.GetValueOrDefault(look.Tag) is { Count: > 0 } with && with.TrueForAll(t => t.Works || HeldIn(t.Setup, with)))
                    return true;
            }
            else if (r.Result is not null && r.Test.Setup.Interventions.Count == 0 && SwitchedOn.In(all, r.Test.Setup))
                foreach (var with in tried.Values)
                    with.Add((r.Test.Setup, r.Result is ReadingResult.Word { Answer: Answer.Works }));
        return false;

        static bool HeldIn(Setup setup, List<(Setup Setup, bool Works)> tried) => tried.Exists(t => t.Works && t.Setup == setup.Unmoved);
    }

    /// <summary>The test with these fuses pulled.</summary>
    public static Test Pulled(Test test, IReadOnlyList<string> fuses) =>
        Pulled(test.Setup, fuses) is var setup && setup == test.Setup ? test : test with { Setup = setup };

    /// <summary>The setup with these fuses pulled too.</summary>
    public static Setup Pulled(Setup setup, IReadOnlyList<string> fuses)
    {
        var more = fuses.Where(f => !setup.Interventions.Any(i => IsOut(i, f))).Select(f => (Intervention)new Intervention.Pull(f));
        Intervention[] all = [.. setup.Interventions, .. more];
        return all.Length == setup.Interventions.Count ? setup : setup with { Interventions = all };
    }

    /// <summary>True for a meter on one of these fuses, of which it is known that they are blown.</summary>
    public static bool IsOnTheFuse(Test test, IReadOnlyList<string> fuses) =>
        test.Probe.OhmsAcross is { } x && fuses.Any(f => IsOn(x.P.Terminal, f) && IsOn(x.Q.Terminal, f));

    /// <summary>True for a look at this fuse, and for a meter on it.</summary>
    public static bool IsAt(Test test, string fuse) =>
        test.Probe is Probe.Looks look ? look.Tag.Equals(fuse, StringComparison.OrdinalIgnoreCase) : IsOnTheFuse(test, [fuse]);

    /// <summary>
    /// True for ohms from a terminal of such a fuse: of one that is pulled they would be read on its own metal, so they are taken as they
    /// stand, and none are ordered there.
    /// </summary>
    public static bool OhmsFrom(Test test, IReadOnlyList<string> fuses) =>
        test.Probe.OhmsAcross is { } x && fuses.Any(f => IsOn(x.P.Terminal, f) || IsOn(x.Q.Terminal, f));

    /// <summary>On the fuse and not in its socket.</summary>
    private static bool IsOn(Terminal t, string fuse) =>
        t.Side != TerminalSide.Loom && t.Tag.Equals(fuse, StringComparison.OrdinalIgnoreCase);

    private static void Note(Circuit circuit, Reading r, HashSet<string> renewed, List<string> open)
    {
        if (r.Test.Probe is Probe.Replaced put)
        {
            renewed.Add(put.Tag);
            open.Remove(put.Tag);
        }
        else if (
            SeenOpen(r) is { } tag
            && renewed.Contains(tag)
            && !open.Contains(tag)
            && circuit.FindPart(tag)?.Kind is Circuits.Kinds.Fuse
        )
            open.Add(tag);
    }

    /// <summary>What was looked at and is bad, or measured by itself and is open.</summary>
    private static string? SeenOpen(Reading r) =>
        r switch
        {
            { Doubtful: true } => null,
            { Test.Probe: Probe.Looks look, Result: ReadingResult.Word { Answer: Answer.Bad } } => look.Tag,
            { Test.Probe.OhmsAcross: { } x, Result: ReadingResult.OverLimit }
                when x.P.Terminal.Tag == x.Q.Terminal.Tag && IsOnTheFuse(r.Test, [x.P.Terminal.Tag]) => x.P.Terminal.Tag,
            _ => null,
        };

    /// <summary>True where this takes the part out: pulled or unplugged.</summary>
    public static bool IsOut(Intervention i, string tag) =>
        i is Intervention.Pull p && p.Tag.Equals(tag, StringComparison.OrdinalIgnoreCase)
        || i is Intervention.Unplug u && u.Tag.Equals(tag, StringComparison.OrdinalIgnoreCase);
}
