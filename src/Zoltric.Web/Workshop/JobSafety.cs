using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Practice;
using Zoltric.Store;

namespace Zoltric.Web.Workshop;

/// <summary>What was said, locked and proved dead on a job, as it counts for one person: nobody's word or lock stands for another's.</summary>
public sealed class JobSafety(Circuit circuit, IReadOnlyList<SafetyRow> rows, string who)
{
    /// <summary>Most volts that count as dead: near nothing on a tester; some of it may be induced.</summary>
    private const double DeadVolts = 3;

    private readonly IReadOnlyList<SafetyRow> _mine = [.. rows.Where(r => r.Author == who)];

    public IReadOnlyList<SafetyItem> Items { get; } = MakeSafe.Of(circuit);

    public bool IsSaid(SafetyItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return item.Id == "locked" ? IsLocked : _mine.Any(r => r.Kind == "said" && r.Item == item.Id);
    }

    /// <summary>What must still be said before a test.</summary>
    public IReadOnlyList<SafetyItem> Unsaid(Test test) => [.. MakeSafe.Needed(circuit, test).Where(i => !IsSaid(i))];

    /// <summary>Number of this person's lock; null while none is on.</summary>
    public string? Lock => _mine.LastOrDefault(r => r.Kind is "lock" or "unlock") is { Kind: "lock" } on ? on.Item : null;

    private IEnumerable<SafetyRow> SinceLock => Lock is null ? [] : _mine.Skip(_mine.ToList().FindLastIndex(r => r.Kind == "lock") + 1);

    /// <summary>True when the tester was shown live after the lock and before the readings.</summary>
    public bool TesterBefore => SinceLock.Any(r => r is { Kind: "tester", Item: "before" });

    /// <summary>Reading between two points since the lock and the tester, as it was written; null for none.</summary>
    public string? Read(Terminal p, Terminal q) => SinceLock.SkipWhile(r => r is not { Kind: "tester", Item: "before" }).LastOrDefault(r => r.Kind == "dead" && r.Item == $"{p} {q}")?.Result;

    public static bool IsDead(string? volts) => double.TryParse(volts, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && Math.Abs(v) <= DeadVolts;

    public bool AllDead => MakeSafe.ToProveDead(circuit).All(x => IsDead(Read(x.P, x.Q)));

    /// <summary>True when the tester was shown live again after the last reading.</summary>
    public bool TesterAfter => AllDead && SinceLock.Reverse().TakeWhile(r => r.Kind != "dead").Any(r => r is { Kind: "tester", Item: "after" });

    /// <summary>Live–dead–live with a lock on (OSHA 29 CFR 1910.333, EN 50110-1).</summary>
    public bool IsLocked => Lock is not null && TesterBefore && AllDead && TesterAfter;

    /// <summary>Locks that are on, by person.</summary>
    public IReadOnlyList<(string Who, string Number)> Locks =>
        [.. rows.Where(r => r.Kind is "lock" or "unlock").GroupBy(r => r.Author).Select(g => g.Last()).Where(r => r.Kind == "lock").Select(r => (r.Author, r.Item))];
}
