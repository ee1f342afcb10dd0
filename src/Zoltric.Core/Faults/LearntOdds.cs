using Zoltric.Core.Circuits;

namespace Zoltric.Core.Faults;

/// <summary>Closed jobs of one family of machines, as learning counts them.</summary>
/// <param name="Family">Empty for machines of none.</param>
/// <param name="Found">How many found each kind.</param>
/// <param name="Expected">How many the base odds of their sheets would have found in each kind.</param>
public sealed record FamilyCount(string Family, IReadOnlyDictionary<string, int> Found, IReadOnlyDictionary<string, double> Expected)
{
    public int Jobs => Found.Values.Sum();
}

/// <summary>How often a kind failed against how often the base odds would have it.</summary>
/// <param name="Found">Closed jobs that found it.</param>
/// <param name="Jobs">Closed jobs counted.</param>
/// <param name="Expected">Jobs that the base odds would have found it in.</param>
/// <param name="Factor">What its odds are multiplied by.</param>
public sealed record LearntKind(string Family, string Kind, int Found, int Jobs, double Expected, double Factor);

/// <summary>
/// What closed jobs shift: the odds of each kind are multiplied by (found + C) / (expected + C), over all machines and again within the
/// family against what that already expects. C of 5 jobs keeps few jobs from saying much. Source of the rule: the gamma–Poisson (empirical
/// Bayes) estimate of a rate against its expectation. Off means the base odds, exactly.
/// </summary>
public sealed class LearntOdds
{
    /// <summary>Jobs that the base odds are worth.</summary>
    public const double Worth = 5;

    private readonly Dictionary<(string Family, string Kind), LearntKind> _kinds;

    private LearntOdds(Dictionary<(string, string), LearntKind> kinds) => _kinds = kinds;

    /// <summary>Nothing learnt.</summary>
    public static LearntOdds None { get; } = new([]);

    public IEnumerable<LearntKind> Kinds => _kinds.Values.OrderBy(k => k.Family).ThenByDescending(k => k.Found).ThenBy(k => k.Kind);

    /// <param name="families">Each family once.</param>
    public static LearntOdds From(IReadOnlyList<FamilyCount> families)
    {
        ArgumentNullException.ThrowIfNull(families);
        var kinds = new Dictionary<(string, string), LearntKind>();
        Count("", families, _ => 1);
        foreach (var family in families.Where(f => f.Family.Length > 0))
            Count(family.Family, [family], k => kinds.TryGetValue(("", k), out var all) ? all.Factor : 1);
        return new LearntOdds(kinds);

        void Count(string family, IReadOnlyList<FamilyCount> of, Func<string, double> before)
        {
            var jobs = of.Sum(f => f.Jobs);
            foreach (var kind in of.SelectMany(f => f.Expected.Keys.Concat(f.Found.Keys)).Distinct())
            {
                var (found, expected) = (
                    of.Sum(f => f.Found.GetValueOrDefault(kind)),
                    before(kind) * of.Sum(f => f.Expected.GetValueOrDefault(kind))
                );
                kinds[(family, kind)] = new LearntKind(family, kind, found, jobs, expected, (found + Worth) / (expected + Worth));
            }
        }
    }

    /// <summary>What the odds of a kind are multiplied by on a machine of that family; 1 where nothing was learnt.</summary>
    public double Factor(string? family, string kind) =>
        (_kinds.TryGetValue(("", kind), out var all) ? all.Factor : 1)
        * (family is { Length: > 0 } && _kinds.TryGetValue((family, kind), out var own) ? own.Factor : 1);

    /// <summary>Kind of what would be mended: wire, pin, a part's kind, string for joints that aged together.</summary>
    public static string KindOf(Circuit circuit, string unit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(unit);
        if (circuit.FindWire(unit) is not null)
            return "wire";
        if (circuit.FindPart(unit.Split(':', '/')[0]) is not { } part)
            return "string";
        return part.Kind is Circuits.Kinds.PinRow ? "pin" : part.Kind.Word;
    }

    /// <summary>Share of the base odds that each kind has on a sheet.</summary>
    public static IReadOnlyDictionary<string, double> BaseShares(Circuit circuit, IEnumerable<Suspect> suspects)
    {
        var all = suspects.ToList();
        var total = all.Sum(s => s.Odds);
        return all.GroupBy(s => KindOf(circuit, s.RepairUnit)).ToDictionary(g => g.Key, g => g.Sum(s => s.Odds) / total);
    }

    /// <summary>As text, to be kept with a job: what it is judged with is not changed by what is learnt later.</summary>
    public string Write() =>
        string.Join(
            '\n',
            Kinds.Select(k => FormattableString.Invariant($"{k.Family}\t{k.Kind}\t{k.Found}\t{k.Jobs}\t{k.Expected:R}\t{k.Factor:R}"))
        );

    /// <summary>The odds that <see cref="Write"/> wrote; none for empty or foreign text.</summary>
    public static LearntOdds Read(string? text)
    {
        var kinds = new Dictionary<(string, string), LearntKind>();
        foreach (var line in (text ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            var f = line.Split('\t');
            if (
                f.Length != 6
                || !int.TryParse(f[2], out var found)
                || !int.TryParse(f[3], out var jobs)
                || !Number(f[4], out var expected)
                || !Number(f[5], out var factor)
                || factor <= 0
                || !double.IsFinite(factor)
            )
                return None;
            kinds[(f[0], f[1])] = new LearntKind(f[0], f[1], found, jobs, expected, factor);
        }
        return kinds.Count == 0 ? None : new LearntOdds(kinds);

        static bool Number(string s, out double v) =>
            double.TryParse(s, System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out v);
    }
}
