using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>Faults that the same repair mends and no test needs to tell apart, with what the readings leave them.</summary>
/// <param name="Faults">Members that carry weight, likeliest first, with their likeliest value.</param>
/// <param name="Share">Probability, 0 to 1.</param>
/// <param name="Ohms">Added resistance as the readings have it (10 %, 50 %, 90 %), when that is what is suspected.</param>
/// <param name="Unit">What is mended: wire, pin, stud, part.</param>
public sealed record FaultGroup(
    IReadOnlyList<Fault> Faults,
    double Share,
    (double Low, double Best, double High)? Ohms,
    string Unit,
    RepairSite Site,
    IReadOnlyList<string> Places
)
{
    /// <summary>What is wrong besides: the second of two faults, the fuse that the first has blown.</summary>
    public IReadOnlyList<Fault> Also { get; init; } = [];

    /// <summary>The other joints of an aged string, each with the ohms of the first.</summary>
    public IReadOnlyList<Fault> Together { get; init; } = [];

    /// <summary>Tag of the load or coil that an aged string starves.</summary>
    public string? Towards { get; init; }

    /// <summary>Each member as fault words, several at once joined by <c> + </c>.</summary>
    public IEnumerable<string> Words =>
        Faults.Select(f => string.Join(" + ", Together.Select(t => t with { Value = f.Value }).Prepend(f).Concat(Also)));
}

internal static class Groups
{
    /// <summary>A member with less of its group's share than this is not named.</summary>
    private const double LeastOfGroup = 0.05;

    /// <summary>An added resistance above this is as good as open and gets no figure.</summary>
    private const double MostOhmsNamed = 5e3;

    /// <summary>A range wider than this many times is no estimate.</summary>
    private const double MostSpread = 10;

    public static IReadOnlyList<FaultGroup> Form(Weights weights)
    {
        var space = weights.Space;
        var sites = Enumerable
            .Range(0, space.Suspects.Count)
            .Select(s => (Suspect: s, Share: weights.Weight(s)))
            .GroupBy(x => space.Sites[x.Suspect])
            .ToList();
        var made = new FaultGroup[sites.Count];
        WorkBudget.For(0, made.Length, i => made[i] = Make(weights, sites[i].OrderByDescending(x => x.Share).ToList(), sites[i].Key));
        return [.. made.OrderByDescending(g => g.Share)];
    }

    private static FaultGroup Make(Weights weights, List<(int Suspect, double Share)> members, RepairSite site)
    {
        var space = weights.Space;
        var share = members.Sum(m => m.Share);
        var named = members.Where(m => m.Share >= LeastOfGroup * share && m.Share > 0).ToList();
        if (named.Count == 0)
            named.Add(members[0]);
        // Read before a fuse opened or after, it is the same fault.
        named =
        [
            .. named.Where(m =>
                space.Suspects[m.Suspect] is not { Held.Count: > 0 } held
                || !named.Exists(o => space.Suspects[o.Suspect] is { Held.Count: 0, Also: null } plain && plain.Template == held.Template)
            ),
        ];
        (double Low, double Best, double High)? ohms = null;
        var faults = new List<Fault>();
        foreach (var (s, _) in named)
        {
            var suspect = space.Suspects[s];
            if (suspect.Values.Count == 0)
            {
                faults.Add(suspect.Template);
                continue;
            }
            var (low, best, high) = Quantiles(weights, s);
            faults.Add(suspect.With(Round(best)));
            if (s == named[0].Suspect && suspect.Template.Dimension == Dimension.Ohm && best < MostOhmsNamed && high < MostSpread * low)
                ohms = (Round(low), Round(best), Round(high));
        }
        var first = space.Suspects[members[0].Suspect];
        var (unit, also) = (first.RepairUnit, first.AlsoUnit);
        IEnumerable<string> places =
            first.Together.Count > 0
                ? first.Together.Prepend(first.Template).SelectMany(f => space.PlacesOf(f.Target))
                : space.PlacesOf(unit);
        // What blew a fuse may be shown with the fuse blown and whole: then both are members, and the fuse is named. Where it may have
        // blown either of two, the likelier is.
        var second = named.Select(m => space.Suspects[m.Suspect].Also).OfType<Fault>().Take(1).ToList();
        return new FaultGroup(
            faults.Distinct().ToList(),
            share,
            ohms,
            unit,
            site,
            [.. places.Concat(also is null ? [] : space.PlacesOf(also)).Distinct()]
        )
        {
            Also = first.AlsoUnit is null ? second : [first.Also!],
            Together = first.Together,
            Towards = first.String,
        };
    }

    private static (double Low, double Best, double High) Quantiles(Weights weights, int suspect)
    {
        var (count, total) = (weights.Space.FineCount(suspect), weights.Weight(suspect));
        double At(double share)
        {
            // Values that no reading has told apart weigh the same.
            if (weights.Partition.Times(suspect) == count)
                return weights.Space.ValueAt(suspect, Math.Max(0, (int)Math.Ceiling(share * count - 1e-6) - 1));
            var sum = 0.0;
            for (var i = 0; i < count; i++)
            {
                sum += weights.At(suspect, i);
                if (sum >= share * total)
                    return weights.Space.ValueAt(suspect, i);
            }
            return weights.Space.ValueAt(suspect, count - 1);
        }

        return (At(0.1), At(0.5), At(0.9));
    }

    private static double Round(double v)
    {
        if (v <= 0)
            return v;
        var scale = Math.Pow(10, Math.Floor(Math.Log10(v)) - 1);
        return Math.Round(v / scale) * scale;
    }
}
