using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;

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

    /// <summary>The next step in a sentence; null where no fuse is blown in all that is left.</summary>
    public static string? Trial(Circuit circuit, IReadOnlyList<FaultGroup> groups, IReadOnlyList<Reading> readings)
    {
        if (WentAgain(circuit, groups, readings) is var (again, first, rest))
            return $"The new {again.Spoken} went as well. Leave {first.Spoken} off, put one more in and try it. It holds: it was "
                + $"{first.Tag}. It goes: {Reasons.List([.. rest.Select(r => r.Tag)], "or")}.";
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
        return $"No reading tells what blew {fuse.Spoken}. Put one new one in, of the same rating, and try the machine as it was "
            + "complained of. It holds: it was the fuse by itself. It goes again: "
            + $"{(causes.Count > 0 ? Reasons.List(causes, "or") : "something behind it draws too much")}.";
    }

    /// <summary>A fuse whose new one was seen blown, and the loads that may have blown both, likeliest first.</summary>
    public static (Part Fuse, Part First, IReadOnlyList<Part> Others)? WentAgain(
        Circuit circuit,
        IReadOnlyList<FaultGroup> groups,
        IReadOnlyList<Reading> readings
    )
    {
        if (BlownAgain.After(circuit, readings) is not [.., var tag])
            return null;
        var loads = groups
            .Where(g => g.Share >= MayBe && g.Faults.Any(f => f.Kind is FaultKind.Shorted or FaultKind.Grounded))
            .Select(g => circuit.FindPart(g.Unit))
            .OfType<Part>()
            .Where(p => p.Kind is { Unplugs: true, IsSource: false })
            .Distinct()
            .ToList();
        return loads.Count > 1 ? (circuit.FindPart(tag)!, loads[0], loads[1..]) : null;
    }

    /// <summary>Share from which a load is left off by turns; estimate.</summary>
    private const double MayBe = 0.05;
}
