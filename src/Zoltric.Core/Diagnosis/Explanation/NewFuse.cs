using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>
/// What a new fuse tells where no reading does: whether the old one opened by itself, and which of the loads behind it takes it along. A
/// cold filament and a short read the same ohms.
/// </summary>
internal static class NewFuse
{
    /// <summary>Share of all suspicion that must have the fuse blown, and of a cause from which it is named; estimates.</summary>
    private const double InAll = 0.95,
        Named = 0.01;

    /// <summary>The next step in a sentence, and as a line; null where no fuse is blown in all that is left.</summary>
    public static (string Said, Test PutIn)? Trial(Machine machine, IReadOnlyList<FaultGroup> groups, IReadOnlyList<Reading> readings)
    {
        var circuit = machine.Circuit;
        if (WentAgain(machine, groups, readings) is var (again, first, others))
            return (
                $"The new {again.Spoken} went as well. Leave {first.Spoken} off, put one more in and try it. It holds: it was "
                    + $"{first.Tag}. It goes: "
                    + $"{(others.Count > 0 ? Reasons.List([.. others.Select(r => r.Tag)], "or") : "something else behind it")}.",
                new Test(new Setup([new Intervention.Unplug(first.Tag)], []), new Probe.Replaced(again.Tag))
            );
        var blown = groups
            .SelectMany(g => g.Faults.Concat(g.Also).Where(f => f.Kind == FaultKind.Blown).Select(f => (f.Target, g)).Distinct())
            .GroupBy(x => x.Target, x => x.g)
            .FirstOrDefault(x => x.Sum(g => g.Share) >= InAll);
        if (
            blown is null
            || circuit.FindPart(blown.Key) is not { Kind: Circuits.Kinds.Fuse } fuse
            || readings.Any(r => r.Test.Probe is Probe.Replaced put && put.Tag == fuse.Tag)
        )
            return null;
        var causes = blown.Where(g => g.Unit != fuse.Tag && g.Share >= Named).Select(g => g.Unit).Distinct().Take(3).ToList();
        return (
            $"No reading tells what blew {fuse.Spoken}. Put one new one in, of the same rating, and try the machine as it was "
                + "complained of. It holds: it was the fuse by itself. It goes again: "
                + $"{(causes.Count > 0 ? Reasons.List(causes, "or") : "something behind it draws too much")}.",
            new Test(Setup.Rest, new Probe.Replaced(fuse.Tag))
        );
    }

    /// <summary>Readings with figures from which on a part put in is a step of the search and not something told at the start.</summary>
    private const int OfTheSearch = 2;

    /// <summary>
    /// What is tried with a new fuse just in: the complaint, or with a load left off the fuse itself, looked at with the machine on. Null
    /// where the last line is no fuse put in, or the fuse is not what was suspected.
    /// </summary>
    public static (Test Test, string Why, IReadOnlyList<Outcome> Outcomes)? Try(
        Circuit circuit,
        IReadOnlyList<FaultGroup> groups,
        IReadOnlyList<Reading> readings
    )
    {
        if (
            readings is not [{ Test: { Probe: Probe.Sees { IsFunction: true }, Setup: var on } complaint }, .., var last]
            || last.Test.Probe is not Probe.Replaced { Tag: var tag }
            || circuit.FindPart(tag) is not { Kind: Circuits.Kinds.Fuse } fuse
            || readings.Count(r => r.Result is ReadingResult.Number or ReadingResult.OverLimit) < OfTheSearch
            || !groups.Any(g => g.Share >= MayBe && g.Faults.Any(f => f.Kind is FaultKind.Blown or FaultKind.Shorted or FaultKind.Grounded))
        )
            return null;
        var off = last.Test.Setup.Interventions;
        if (off.Count == 0)
            return (
                complaint,
                $"The new {fuse.Spoken} is in: try it.",
                [
                    new Outcome("works", Answer.Works.Text(), 0.5, $"leaves {fuse.Tag}, blown by itself"),
                    new Outcome("dead", Answer.Dead.Text(), 0.5, "has the new one looked at"),
                ]
            );
        return (
            new Test(on with { Interventions = off }, new Probe.Looks(tag)),
            $"The new {fuse.Spoken} is in, with {string.Join(", ", off)}: switch on, then look at it.",
            [
                new Outcome("good", Answer.Good.Text(), 0.5, "leaves what was left off"),
                new Outcome("bad", Answer.Bad.Text(), 0.5, "clears what was left off"),
            ]
        );
    }

    /// <summary>
    /// A fuse whose new one went, seen or beyond reasonable doubt, and the loads that may have blown both, likeliest first.
    /// </summary>
    public static (Part Fuse, Part First, IReadOnlyList<Part> Others)? WentAgain(
        Machine machine,
        IReadOnlyList<FaultGroup> groups,
        IReadOnlyList<Reading> readings
    )
    {
        var circuit = machine.Circuit;
        if ((BlownAgain.After(circuit, readings) is [.., var seen] ? seen : Inferred(machine, groups, readings)) is not { } tag)
            return null;
        var loads = groups
            .Where(g => g.Share >= MayBe && g.Faults.Any(f => f.Kind is FaultKind.Shorted or FaultKind.Grounded))
            .Select(g => circuit.FindPart(g.Unit))
            .OfType<Part>()
            .Where(p => p.Kind is { Unplugs: true, IsSource: false })
            .Distinct()
            .ToList();
        // What was left off already has had its turn; the last one has its own, as the proof.
        var first = loads.Find(p =>
            !readings.Any(r => r.Test.Probe is Probe.Replaced && r.Test.Setup.Interventions.Any(i => BlownAgain.IsOut(i, p.Tag)))
        );
        return first is null ? null : (circuit.FindPart(tag)!, first, [.. loads.Where(p => p != first)]);
    }

    /// <summary>
    /// The fuse that was put in last, where the machine did not work with it and all that is left has it blown, or blows it there.
    /// </summary>
    private static string? Inferred(Machine machine, IReadOnlyList<FaultGroup> groups, IReadOnlyList<Reading> readings)
    {
        var since = readings.Reverse().TakeWhile(r => r.Test.Probe is not Probe.Replaced).ToList();
        if (
            since.Count == readings.Count
            || readings[^(since.Count + 1)].Test.Probe is not Probe.Replaced { Tag: var tag }
            || machine.Circuit.FindPart(tag)?.Kind is not Circuits.Kinds.Fuse
            || since.Find(r => r.Test.Probe is Probe.Sees && r.Result is ReadingResult.Word { Answer: Answer.Dead or Answer.Weak })
                is not { Test.Setup: var tried }
        )
            return null;
        bool IsTheFuse(string t) => t.Equals(tag, StringComparison.OrdinalIgnoreCase);
        bool Blows(Fault f) =>
            f.Kind is FaultKind.Shorted or FaultKind.Grounded && machine.Run(tried, [f]).Blown.Any(b => IsTheFuse(b.Tag));
        return groups.Where(g => g.Faults.Any(f => f.Kind == FaultKind.Blown && IsTheFuse(f.Target) || Blows(f))).Sum(g => g.Share) >= InAll
            ? tag
            : null;
    }

    /// <summary>Share from which a load is left off by turns; estimate.</summary>
    private const double MayBe = 0.05;
}
