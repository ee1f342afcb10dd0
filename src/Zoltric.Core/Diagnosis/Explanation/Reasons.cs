using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>Advice in a colleague's words, made from the actual suspects.</summary>
internal static class Reasons
{
    public static string Percent(double share) =>
        share >= 0.995 ? "over 99 %"
        : share < 0.005 ? "under 1 %"
        : (share * 100).ToString("0", CultureInfo.InvariantCulture) + " %";

    /// <summary>"S2, w22 or X5:1".</summary>
    public static string List(IReadOnlyList<string> names, string last) =>
        names.Count switch
        {
            0 => "nothing on the sheet",
            1 => names[0],
            _ => string.Join(", ", names.Take(names.Count - 1)) + $" {last} " + names[^1],
        };

    /// <summary>What an answer would leave, in a few words.</summary>
    /// <param name="suspects">One for each site with its share, likeliest first.</param>
    public static string Leaves(Circuit circuit, IReadOnlyList<(Suspect Suspect, double Share)> suspects, double offSheet)
    {
        if (offSheet > 0.5)
            return "points to something that is not on the drawing";
        var units = suspects
            .GroupBy(s => s.Suspect.RepairUnit)
            .Select(g => (Unit: g.Key, First: g.First().Suspect, Share: g.Sum(x => x.Share)))
            .OrderByDescending(u => u.Share)
            .ToList();
        if (units.Count > 0 && units[0].Share >= 0.9)
        {
            var part = units[0].First.Together.Count == 0 ? circuit.FindPart(units[0].First.Template.Target) : null;
            return $"leaves {part?.Spoken ?? units[0].Unit}";
        }
        var named = new List<string>();
        var sum = 0.0;
        foreach (var u in units)
        {
            named.Add(u.Unit);
            sum += u.Share;
            if (named.Count == 3 || sum > 0.9)
                break;
        }
        var rest = units.Count(u => u.Share > 0.02);
        return rest > named.Count ? $"leaves {string.Join(", ", named)} and {rest - named.Count} more" : $"leaves {List(named, "and")}";
    }

    public static string Say(Circuit circuit, FaultGroup g)
    {
        var fault = g.Faults[0];
        var name = circuit.FindPart(fault.Target) is { } p ? p.Spoken : fault.Target;
        var ohms = g.Ohms is { } o ? $", about {MeterReading.Format(o.Best, Dimension.Ohm)}" : "";
        if (g.Together.Count > 0)
            return $"the {g.Unit}, all {g.Together.Count + 1} of them aged{(ohms.Length > 0 ? ohms + " each" : "")}";
        return $"{name}: {fault.Words}{ohms}{string.Concat(g.Also.Select(a => $", with {a.Target} {a.Words}"))}";
    }

    public static string Why(
        AdviceKind kind,
        Circuit circuit,
        IReadOnlyList<FaultGroup> groups,
        IReadOnlyList<Outcome> outcomes,
        double bits,
        double minutes,
        Strategy strategy
    )
    {
        switch (kind)
        {
            case AdviceKind.ProveDead:
                return "Ohms come only after volts near zero have been read at the points, with every source off.";
            case AdviceKind.Proof:
                return $"{Say(circuit, groups[0])} holds {Percent(groups[0].Share)}. This would settle it before any part is bought.";
            case AdviceKind.Confirm when groups[0].Faults[0].ComesAndGoes:
                return $"{groups[0].Unit} is said to come and go and has not been seen to. Move it while it is read: what stays as "
                    + $"it is speaks for something that is not drawn.";
            case AdviceKind.Confirm:
                return $"One reading alone carries {groups[0].Unit}. This one does not lean on it.";
        }
        var likely = outcomes.OrderByDescending(o => o.Chance).Take(2).ToList();
        var parts = string.Join(" ", likely.Select(o => $"{Upper(o.Name)} {o.Leads}."));
        var worth =
            strategy == Strategy.BestValue
                ? ""
                : strategy switch
                {
                    Strategy.Forwards => "Next from the supply. ",
                    Strategy.Backwards => "Next from the dead load. ",
                    Strategy.SplitMiddle => "Nearest the middle of what is left. ",
                    _ => "Cheapest check that tells anything. ",
                };
        return worth + parts + (bits < 0.15 ? " It tells little, but nothing tells more for the time." : "");
    }

    private static string Upper(string s) => s.Length == 0 ? s : char.ToUpperInvariant(s[0]) + s[1..];
}
